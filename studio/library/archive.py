"""A project as one file, to store or to open elsewhere, and back: a zip, described in docs/file.md."""

import hashlib
import lzma
import re
import struct
import tempfile
import zipfile
import zlib
from pathlib import Path
from typing import IO, Any, Final

import msgspec

import sheet as sheets
from picture import PictureError, format_of
from picture.photos.probe import MAX_BYTES
from sheet import Photo, Sheet, SheetError
from sheet.document.limits import clean_name
from sheet.document.model import SCHEMA, VARIANTS
from sheet.document.store import LARGEST, as_json, of_json, photos_in
from sheet.document.tree import remembered
from sheet.export.order import Order, ordered
from studio.history import changes
from studio.models import PhotoFile, Project
from studio.storage import refuse_if_full

from . import fonts
from .photos import previews, take_in_path
from .thumbs import thumb

__all__ = [
    "FORM",
    "is_packed",
    "pack",
    "pack_sheet",
    "take_fonts",
    "take_photos",
    "unpack",
    "unpack_outline",
    "unpack_sheet",
]

FORM: Final = 1
"""Version of the zip's own layout; the sheet in it has its own schema version."""
MOST_FILES: Final = 3000
MOST_TEXT: Final = 1_000_000
MOST_BYTES: Final = 4_000_000_000
MOST_FONT: Final = 20_000_000
MOST_FONTS: Final = 24
"""The most fonts read from a file while it is opened: each takes a second."""

_PHOTO: Final = re.compile(r"photos/([0-9a-f]{64})\Z")


class Manifest(msgspec.Struct):
    """The manifest of the zip: its layout's version, the sheet's schema, the project's name, names of photos.

    An outline of the shelf has its `tags`, and its `variants` with whether they follow it; `fonts` are the names of
    the fonts in it.
    """

    gouge: int
    schema: int
    name: str = ""
    photos: dict[str, str] = {}
    tags: str = ""
    variants: dict[str, bool] = {}
    fonts: dict[str, str] = {}


def pack(project: Project, out: IO[bytes], with_fonts: bool = False) -> None:
    """Write the project at its head as a zip, with the person's own fonts only on request.

    Raises SheetError or PictureError if something of it is missing.
    """
    assert project.head is not None
    pack_sheet(project.head.sheet, project.name, project.owner, out, with_fonts=with_fonts)


def pack_sheet(
    sheet: Sheet,
    name: str,
    owner: Any,
    out: IO[bytes],
    tags: str = "",
    variants: dict[str, tuple[Sheet, bool]] | None = None,
    with_fonts: bool = False,
) -> None:
    """Write a sheet as a zip; for an outline of the shelf its tags and its variants, each with whether it follows.

    Raises SheetError or PictureError where something of it is missing.
    """
    variants = variants or {}
    text = as_json(sheet)
    named = sorted(photos_in(text))
    photos = {p.sha256: p for p in PhotoFile.objects.filter(owner=owner, sha256__in=named)}
    for file in named:
        if file not in photos or not photos[file].original.exists():
            lost = photos[file].name if file in photos else "a photo"
            raise PictureError(f"The file of “{lost}” is missing.", "Bring the photo in again.")
    follow = {variant: follows for variant, (_, follows) in variants.items()}
    sent = fonts.fonts_in(owner, text) if with_fonts else {}
    manifest = Manifest(FORM, SCHEMA, name, {file: photos[file].name for file in named}, tags, follow, sent)
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as box:
        box.writestr("manifest.json", msgspec.json.format(msgspec.json.encode(manifest)))
        box.writestr("sheet.json", text)
        for variant, (one, _) in variants.items():
            box.writestr(f"variants/{variant}.json", as_json(one))
        box.writestr("picture.png", thumb(sheet, owner))
        try:
            what = ordered(sheet, Order(what="sheet", extent="whole"))[0]
            box.writestr("sheet.svg", format_of("svg").write(sheet, what, previews(owner), Order(photos="whole")))
        except SheetError:
            pass  # a sheet too large to export is saved all the same
        for file in named:
            # photos are compressed already
            box.write(photos[file].original.local(), f"photos/{file}", zipfile.ZIP_STORED)
        for digest in sent:
            box.writestr(f"fonts/{digest}", fonts.find(digest) or b"")


def is_packed(source: IO[bytes]) -> bool:
    """Return whether a file is a zip."""
    found = zipfile.is_zipfile(source)
    source.seek(0)
    return found


def _read(box: zipfile.ZipFile, name: str, most: int) -> bytes:
    """Return a member's bytes. Raises SheetError if it is missing or too large."""
    try:
        with box.open(name) as member:
            data = member.read(most + 1)
    except KeyError:
        raise SheetError(
            "That isn’t a project file: it has no " + name + ".", "Choose a file saved by Gouge."
        ) from None
    if len(data) > most:
        raise SheetError(f"{name} in that file is too large.", "Choose a file saved by Gouge.")
    return data


def _checked(box: zipfile.ZipFile) -> None:
    members = box.infolist()
    if len(members) > MOST_FILES or sum(m.file_size for m in members) > MOST_BYTES:
        raise SheetError("That file has more in it than a project can have.", "Choose a file saved by Gouge.")
    for member in members:
        if member.filename.startswith(("/", "\\")) or ".." in Path(member.filename.replace("\\", "/")).parts:
            raise SheetError("That file would write outside of its folder.", "Choose a file saved by Gouge.")


def _manifest(box: zipfile.ZipFile) -> Manifest:
    try:
        manifest = msgspec.json.decode(_read(box, "manifest.json", MOST_TEXT), type=Manifest)
    except msgspec.MsgspecError:
        raise SheetError("That isn’t a project file: its manifest cannot be read.", "Choose another file.") from None
    newer = f"layout {manifest.gouge}" if manifest.gouge > FORM else f"schema {manifest.schema}"
    if manifest.gouge > FORM or manifest.schema > SCHEMA:
        raise SheetError(
            f"“{clean_name(manifest.name) or 'That file'}” was saved by a newer Gouge ({newer}).",
            "Update Gouge to open it.",
        )
    return manifest


def _taken_out(box: zipfile.ZipFile, file: str, name: str, folder: Path) -> Path:
    """Write a photo of the zip into a folder, and return its path. Raises SheetError."""
    path = folder / file
    digest, size = hashlib.sha256(), 0
    try:
        source = box.open(f"photos/{file}")
    except KeyError:
        raise SheetError(f"“{name}” is missing in that file.", "Save the project as a file once more.") from None
    with refuse_if_full(), source, path.open("wb") as out:
        while chunk := source.read(1 << 20):
            size += len(chunk)
            if size > MAX_BYTES:
                raise SheetError(f"“{name}” in that file is too large.", "Choose a file saved by Gouge.")
            digest.update(chunk)
            out.write(chunk)
    if digest.hexdigest() != file:
        raise SheetError(f"“{name}” in that file is damaged.", "Save the project as a file once more.")
    return path


def _fits(sheet: Sheet, photos: dict[str, PhotoFile]) -> None:
    """Raise SheetError if the sheet and a photo's file disagree about the photo."""
    for item, _ in remembered(sheet).values():
        if isinstance(item, Photo):
            file = photos[item.file]
            if (item.width, item.height) != (file.width, file.height):
                raise SheetError(f"“{item.name}” is not the photo that belongs there.", "Choose another file.")


def unpack_outline(source: IO[bytes]) -> tuple[Manifest, Sheet, dict[str, tuple[Sheet, bool]]]:
    """Return a file's manifest, its sheet, and its variants with whether they follow it; photos are skipped.

    Raises SheetError.
    """
    try:
        with zipfile.ZipFile(source) as box:
            _checked(box)
            manifest = _manifest(box)
            sheet = of_json(_read(box, "sheet.json", LARGEST))
            variants: dict[str, tuple[Sheet, bool]] = {
                variant: (of_json(_read(box, f"variants/{variant}.json", LARGEST)), follows)
                for variant, follows in manifest.variants.items()
                if variant in VARIANTS[1:]
            }
    except _DAMAGED as error:
        raise SheetError("That file is damaged, or not a project file.", "Choose a file saved by Gouge.") from error
    return manifest, sheet, variants


def take_photos(owner: Any, source: IO[bytes], sheet: Sheet, manifest: Manifest) -> None:
    """Import the photos of a file that a sheet names, including those that silhouettes were traced from.

    Raises SheetError or PictureError.
    """
    wanted = sorted(photos_in(as_json(sheet)))
    if not wanted:
        return
    source.seek(0)
    try:
        with zipfile.ZipFile(source) as box, tempfile.TemporaryDirectory() as folder:
            for file in wanted:
                name = _photo_name(manifest, file)
                take_in_path(owner, _taken_out(box, file, name, Path(folder)), name)
    except _DAMAGED as error:
        raise SheetError("That file is damaged.", "Save the outline as a file once more.") from error


_DAMAGED: Final = (
    zipfile.BadZipFile, zipfile.LargeZipFile, RuntimeError, NotImplementedError, EOFError, OSError,
    # the exceptions of reading damaged members and headers
    zlib.error, lzma.LZMAError, struct.error, ValueError, OverflowError,
)  # fmt: skip


def unpack_sheet(source: IO[bytes], folder: Path) -> tuple[Manifest, Sheet, dict[str, Path]]:
    """Write the photos of a file that `pack` wrote into a folder; return its manifest, its sheet and their paths.

    Raises SheetError.
    """
    try:
        with zipfile.ZipFile(source) as box:
            _checked(box)
            manifest = _manifest(box)
            sheet = of_json(_read(box, "sheet.json", LARGEST))
            named = sorted(photos_in(as_json(sheet)))
            paths = {f: _taken_out(box, f, _photo_name(manifest, f), folder) for f in named}
    except _DAMAGED as error:
        raise SheetError("That file is damaged, or not a project file.", "Choose a file saved by Gouge.") from error
    return manifest, sheet, paths


def take_fonts(owner: Any, source: IO[bytes], manifest: Manifest, sheet: Sheet) -> dict[str, str]:
    """Import the fonts of a file that its sheet uses; return the new digits of each by those in the file.

    Raises SheetError or PictureError.
    """
    used = fonts.named_in(as_json(sheet)) & set(manifest.fonts)
    if not used:
        return {}
    source.seek(0)
    try:
        with zipfile.ZipFile(source) as box:
            return {
                digest: fonts.add(
                    owner, _read(box, f"fonts/{digest}", MOST_FONT), f"{manifest.fonts[digest]}.ttf"
                ).digest
                for digest in sorted(used)[:MOST_FONTS]
            }
    except _DAMAGED as error:
        raise SheetError("That file is damaged.", "Save the project as a file once more.") from error


def _photo_name(manifest: Manifest, file: str) -> str:
    return clean_name(manifest.photos.get(file, ""), 200) or "photo"


def unpack(owner: Any, source: IO[bytes]) -> Project:
    """Make a project from a file that `pack` wrote, upgrading older ones. Raises SheetError or PictureError."""
    with tempfile.TemporaryDirectory() as folder:
        manifest, sheet, paths = unpack_sheet(source, Path(folder))
        sheet = fonts.claimed(owner, sheet, take_fonts(owner, source, manifest, sheet))
        photos = {f: take_in_path(owner, path, _photo_name(manifest, f)) for f, path in paths.items()}
    _fits(sheet, photos)
    sheets.dump(sheet)
    return changes.start(owner, clean_name(manifest.name) or "Untitled", sheet)
