"""Taking photos in, and giving them to the renderers."""

import hashlib
import os
import tempfile
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.files.uploadedfile import UploadedFile
from PIL import Image

from picture import photos as reader
from picture.errors import PictureError
from picture.raster import Loader
from picture.svgread import MAX_SVG
from sheet import SheetError
from sheet.limits import clean_name
from sheet.model import Photo

from .models import PhotoFile

__all__ = ["drawing_of", "keep_drawing", "originals", "previews", "take_in", "take_in_data", "take_in_path"]


def _store(path: Path, data: bytes | Path) -> None:
    """Write a file so that it is there whole or not at all."""
    path.parent.mkdir(parents=True, exist_ok=True)
    handle, name = tempfile.mkstemp(dir=path.parent)
    with os.fdopen(handle, "wb") as out:
        if isinstance(data, bytes):
            out.write(data)
        else:
            with data.open("rb") as source:
                while chunk := source.read(1 << 20):
                    out.write(chunk)
        out.flush()
        os.fsync(out.fileno())
    Path(name).replace(path)


def take_in(owner: Any, upload: UploadedFile) -> PhotoFile:
    """Store an uploaded photo with its preview, once per person. Raises PictureError; nothing is kept then."""
    name = clean_name(Path(upload.name or "photo").name, 200) or "photo"
    size = upload.size or 0
    if size > reader.MAX_BYTES:
        reader.inspect(upload.file, name, size)
    Path(settings.MEDIA_ROOT).mkdir(parents=True, exist_ok=True)
    handle, temporary = tempfile.mkstemp(dir=settings.MEDIA_ROOT)
    try:
        with os.fdopen(handle, "wb") as out:
            for chunk in upload.chunks():
                out.write(chunk)
        return take_in_path(owner, Path(temporary), name)
    finally:
        Path(temporary).unlink(missing_ok=True)


def take_in_path(owner: Any, source: Path, name: str) -> PhotoFile:
    """Store the photo in file `source`. Raises PictureError."""
    size = source.stat().st_size
    info = reader.inspect(source, name, size)
    with source.open("rb") as file:
        sha256 = hashlib.file_digest(file, "sha256").hexdigest()
    known = PhotoFile.objects.filter(owner=owner, sha256=sha256).first()
    if known and known.original.exists() and known.preview.exists():
        if known.name != name:
            known.name = name
            known.save(update_fields=["name"])
        return known
    small, shown = reader.preview(source, name, info)
    facts = {
        "name": name,
        "format": info.format,
        "width": info.width,
        "height": info.height,
        "size": size,
        "resolution": info.resolution,
        "has_alpha": info.has_alpha,
        "shown": shown,
    }
    photo = known or PhotoFile(owner=owner, sha256=sha256)
    _store(photo.preview, small)
    _store(photo.original, source)
    # two that bring the same photo in at once have one
    photo, _ = PhotoFile.objects.update_or_create(owner=owner, sha256=sha256, defaults=facts)
    return photo


def take_in_data(owner: Any, data: bytes, name: str) -> PhotoFile:
    """Store the photo in some bytes. Raises PictureError."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "photo"
        path.write_bytes(data)
        return take_in_path(owner, path, name)


def _drawing(owner: Any, sha256: str) -> Path:
    return Path(settings.MEDIA_ROOT) / "drawings" / str(owner.pk) / sha256


def keep_drawing(owner: Any, upload: UploadedFile) -> tuple[str, str]:
    """Keep an SVG file of a person until it is brought in; return its SHA-256 and name. Raises PictureError."""
    name = clean_name(Path(upload.name or "drawing").stem, 200) or "drawing"
    if (upload.size or 0) > MAX_SVG:
        raise PictureError(f"“{name}” has more than {MAX_SVG / 1e6:.0f} MB.", "Simplify it where it was made.")
    data = upload.read()
    sha256 = hashlib.sha256(data).hexdigest()
    _store(_drawing(owner, sha256), data)
    _store(_drawing(owner, sha256).with_suffix(".name"), name.encode())
    return sha256, name


def drawing_of(owner: Any, sha256: str) -> tuple[str, Path]:
    """Return name and place of a person's own drawing. Raises SheetError where there is none such."""
    path = _drawing(owner, sha256)
    if not path.exists():
        raise SheetError("That drawing is not here.", "Bring it in again.", "file")
    return path.with_suffix(".name").read_text(), path


def _file(owner: Any, photo: Photo) -> PhotoFile:
    file = PhotoFile.objects.filter(owner=owner, sha256=photo.file).first()
    if file is None or not file.original.exists():
        raise PictureError(f"The file of “{photo.name}” is missing.", "Bring the photo in again.")
    return file


def originals(owner: Any) -> Loader:
    """Return a loader that samples the untouched files."""

    return _Originals(owner)


class _Originals:
    """The untouched files of one person."""

    def __init__(self, owner: Any):
        self.owner = owner

    def __call__(self, photo: Photo, at_least: float) -> Image.Image:
        return reader.open_upright(_file(self.owner, photo).original, photo.name, at_least)

    def encoded(self, photo: Photo) -> bytes | None:
        """Return the file itself where it is a JPEG that needs no turning and no other colours."""
        return reader.plain_jpeg(_file(self.owner, photo).original, photo.name)


def previews(owner: Any) -> Loader:
    """Return a loader that uses the small copies, for pictures of projects."""

    def load(photo: Photo, at_least: float) -> Image.Image:
        full = max(photo.width, photo.height)
        share = min(1.0, at_least * full / min(full, reader.PREVIEW_SIDE))
        return reader.open_upright(_file(owner, photo).preview, photo.name, share)

    return load
