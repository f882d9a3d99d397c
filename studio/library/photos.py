"""Importing photos, and loading them for the renderers."""

import hashlib
import tempfile
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.files.uploadedfile import TemporaryUploadedFile, UploadedFile
from django.utils import timezone
from PIL import Image

from picture.draw.raster import Loader
from picture.errors import PictureError
from picture.photos import decode as reader
from picture.photos import probe
from picture.photos.interest import interest_of
from picture.svg_in.plain import MAX_SVG
from picture.write.memory import preparing
from sheet import SheetError
from sheet.document.limits import clean_name
from sheet.document.model import Photo
from studio.models import PhotoFile
from studio.storage import Stored, photo_key, preview_key
from studio.work import queue
from studio.work.memory import reserved

__all__ = [
    "Originals",
    "any_originals",
    "begin_taking",
    "beside",
    "check_owned",
    "drawing_of",
    "here",
    "interest",
    "store_drawing",
    "originals",
    "prepared",
    "previews",
    "shown",
    "take_in",
    "take_in_data",
    "take_in_path",
    "taken",
]


def take_in(owner: Any, upload: UploadedFile) -> PhotoFile:
    """Store an uploaded photo with its preview, once per person. Raises PictureError, with nothing stored."""
    name = clean_name(Path(upload.name or "photo").name, 200) or "photo"
    size = upload.size or 0
    if size > probe.MAX_BYTES:
        probe.inspect(upload.file, name, size)
    if isinstance(upload, TemporaryUploadedFile):
        return take_in_path(owner, Path(upload.temporary_file_path()), name)
    return take_in_data(owner, upload.read(), name)


def _known(owner: Any, sha256: str, name: str) -> PhotoFile | None:
    """Return a person's photo if its files are complete, under its newest name."""
    known = PhotoFile.objects.filter(owner=owner, sha256=sha256).first()
    if known is None or not (_is_itself(known) and known.preview.is_whole()):
        # a file lost or cut short on the disk is stored again
        return None
    # it is in use again from now on
    known.name, known.created = name, timezone.now()
    known.save(update_fields=["name", "created"])
    return known


def _is_itself(photo: PhotoFile) -> bool:
    """Return whether the stored file is the one that was imported."""
    try:
        with photo.original.open() as file:
            return hashlib.file_digest(file, "sha256").hexdigest() == photo.sha256  # type: ignore[arg-type]
    except OSError:
        return False


def shown(photo: PhotoFile) -> Stored:
    """Return the small copy of a photo, made again if it is missing or cut short.

    Raises PictureError and SheetError if it cannot be made.
    """
    if not photo.preview.is_whole():
        prepared(here(photo.original, photo.name), photo.sha256, photo.name, patience=settings.GOUGE_SECONDS)
    return photo.preview


def _digest(source: Path) -> str:
    with source.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def take_in_path(owner: Any, source: Path, name: str) -> PhotoFile:
    """Store the photo in file `source`. Raises PictureError."""
    info = probe.inspect(source, name, source.stat().st_size)
    probe.completed(source)
    sha256 = _digest(source)
    known = _known(owner, sha256, name)
    if known is not None:
        return known
    facts = prepared(source, sha256, name, info, settings.GOUGE_SECONDS)
    Stored(photo_key(sha256)).write(source)
    return _taken(owner, sha256, facts)


def prepared(
    source: Path, sha256: str, name: str, info: probe.PhotoInfo | None = None, patience: float | None = None
) -> dict[str, Any]:
    """Make the small copy of a photo and return its metadata; uses no database.

    It waits for memory, at most `patience` seconds. Raises PictureError and SheetError.
    """
    size = source.stat().st_size
    info = info or probe.inspect(source, name, size)
    with reserved(preparing(source, name, info.width, info.height), patience):
        small, shown = reader.preview(source, name, info)
    Stored(preview_key(sha256)).write(small)
    info_fields = {k: getattr(info, k) for k in ("format", "width", "height", "resolution", "has_alpha")}
    with tempfile.NamedTemporaryFile() as copy:
        copy.write(small)
        copy.flush()
        interest = interest_of(Path(copy.name))
    return {"name": name, "size": size, "shown": shown, "interest": interest, **info_fields}


def interest(photo: PhotoFile) -> tuple[float, float]:
    """Return the point of interest of a photo, computing it if that was not done yet."""
    if photo.interest is None:
        try:
            photo.interest = interest_of(photo.preview.local())
        except OSError:
            return 0.5, 0.5
        PhotoFile.objects.filter(pk=photo.pk).update(interest=photo.interest)
    return photo.interest[0], photo.interest[1]


def _taken(owner: Any, sha256: str, facts: dict[str, Any]) -> PhotoFile:
    # two who import the same photo at once share one
    photo, _ = PhotoFile.objects.update_or_create(owner=owner, sha256=sha256, defaults=facts)
    return photo


def begin_taking(owner: Any, upload: UploadedFile) -> tuple[PhotoFile | None, str]:
    """Store one of many photos; return it if it is known, else the job that makes its small copy.

    Raises PictureError if its header is not a photo's.
    """
    name = clean_name(Path(upload.name or "photo").name, 200) or "photo"
    with tempfile.TemporaryDirectory() as folder:
        source = Path(folder) / "photo"
        if isinstance(upload, TemporaryUploadedFile):
            source = Path(upload.temporary_file_path())
        else:
            source.write_bytes(upload.read())
        probe.inspect(source, name, source.stat().st_size)
        probe.completed(source)
        sha256 = _digest(source)
        known = _known(owner, sha256, name)
        if known is not None:
            return known, ""
        Stored(photo_key(sha256)).write(source)
    (job,) = queue.put([queue.Job(owner.pk, "prepare", {"owner": owner.pk, "sha256": sha256, "name": name})])
    return None, job


def taken(owner: Any, jobs: list[str]) -> dict[str, PhotoFile | queue.Known]:
    """Return for each job its photo if it is done, else its state."""
    out: dict[str, PhotoFile | queue.Known] = {}
    for job, how in queue.known(jobs).items():
        mine = how.state == "done" and isinstance(how.result, dict) and how.result.get("owner") == owner.pk
        if mine:
            facts = {k: v for k, v in how.result.items() if k not in ("owner", "sha256")}
            out[job] = _taken(owner, how.result["sha256"], facts)
        else:
            out[job] = queue.Known("failed", why="Photo not found.") if how.state == "done" else how
    return out


def take_in_data(owner: Any, data: bytes, name: str) -> PhotoFile:
    """Store the photo in some bytes. Raises PictureError."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "photo"
        path.write_bytes(data)
        return take_in_path(owner, path, name)


def _drawing(owner: Any, sha256: str) -> Stored:
    return Stored(f"drawings/{owner.pk}/{sha256}")


def store_drawing(owner: Any, upload: UploadedFile) -> tuple[str, str]:
    """Store a person's SVG file until it is imported; return its SHA-256 and name. Raises PictureError."""
    name = clean_name(Path(upload.name or "drawing").stem, 200) or "drawing"
    if (upload.size or 0) > MAX_SVG:
        raise PictureError(f"“{name}” has more than {MAX_SVG / 1e6:.0f} MB.", "Simplify it where it was made.")
    data = upload.read()
    sha256 = hashlib.sha256(data).hexdigest()
    kept = _drawing(owner, sha256)
    kept.write(data)
    Stored(f"{kept.key}.name").write(name.encode())
    return sha256, name


def drawing_of(owner: Any, sha256: str) -> tuple[str, Path]:
    """Return name and local path of a person's own drawing. Raises SheetError if there is none."""
    kept = _drawing(owner, sha256)
    if not kept.exists():
        raise SheetError("Drawing not found.", "Bring it in again.", "file")
    return Stored(f"{kept.key}.name").read_bytes().decode(), kept.local()


def _file(owner: Any, photo: Photo) -> PhotoFile:
    file = PhotoFile.objects.filter(owner=owner, sha256=photo.file).first()
    if file is None or not file.original.exists():
        raise PictureError(f"The file of “{photo.name}” is missing.", "Bring the photo in again.")
    return file


def here(file: Stored, name: str) -> Path:
    """Return a photo's file on this machine. Raises SheetError if it is gone."""
    try:
        return file.local()
    except OSError:
        raise SheetError(f"The file of “{name}” is missing.", "Bring the photo in again.", "id") from None


def check_owned(owner: Any, photos: Iterable[Photo]) -> None:
    """Raise PictureError if one of the photos is not the person's own, or is gone."""
    for photo in {p.file: p for p in photos}.values():
        _file(owner, photo)


class Originals:
    """The originals, by their storage keys."""

    def __init__(self, at: Callable[[Photo], Stored | Path]):
        self.at = at

    def place(self, photo: Photo) -> Path:
        """Return a photo's file on this machine. Raises PictureError if it is missing."""
        try:
            found = self.at(photo)
            return found if isinstance(found, Path) else found.local()
        except (OSError, KeyError):
            raise PictureError(f"The file of “{photo.name}” is missing.", "Bring the photo in again.") from None

    def __call__(self, photo: Photo, at_least: float) -> Image.Image:
        return reader.open_upright(self.place(photo), photo.name, at_least)

    def unconverted(self, photo: Photo, at_least: float) -> Image.Image:
        """Return the photo in its own colours."""
        return reader.open_upright(self.place(photo), photo.name, at_least, unconverted=True)

    def profile(self, photo: Photo) -> bytes | None:
        """Return the profile in the file."""
        return reader.profile_of(self.place(photo), photo.name)

    def encoded(self, photo: Photo) -> bytes | None:
        """Return the file itself if it is a JPEG that needs no turning and no conversion."""
        return reader.plain_jpeg(self.place(photo), photo.name)


def originals(owner: Any) -> Originals:
    """Return a loader for the originals of one person."""
    return Originals(lambda photo: _file(owner, photo).original)


def any_originals() -> Originals:
    """Return a loader for work that was checked before (`check_owned`): it uses no database."""
    return Originals(lambda photo: Stored(photo_key(photo.file)))


def beside(files: dict[str, Path]) -> Originals:
    """Return a loader for files outside the storage, by their SHA-256."""
    return Originals(lambda photo: files[photo.file])


def previews(owner: Any) -> Loader:
    """Return a loader that uses the small copies, for pictures of projects."""

    def load(photo: Photo, at_least: float) -> Image.Image:
        full = max(photo.width, photo.height)
        share = min(1.0, at_least * full / min(full, reader.PREVIEW_SIDE))
        return reader.open_upright(_file(owner, photo).preview.local(), photo.name, share)

    return load
