"""What commands look up: a person's own photos and projects."""

from typing import Any

from msgspec.structs import replace

from outline import Matrix, Path
from picture import PictureError
from picture.svg_in.read import Drawing
from sheet import SheetError
from sheet.caching import Results
from sheet.document.kinds import Tracing
from sheet.document.library import Brought, PhotoFacts, Shelved
from sheet.document.limits import clean_name
from sheet.document.model import Group, Item, Photo
from sheet.document.tree import find
from studio.models import PhotoFile, Revision
from studio.work import worker_pool

from . import fonts, shelf
from .photos import drawing_of, here, take_in_data

__all__ = ["Owned"]

_TRACED: Results[tuple[str, Tracing], Path] = Results(8)
"""The last tracings, by photo and settings: a preview that is accepted is not traced again."""


def _known(item: Item, facts: dict[str, PhotoFacts]) -> Item:
    """Return an item of a drawing with the metadata of its pictures."""
    if isinstance(item, Photo):
        known = facts[item.file]
        by = Matrix.resize(item.width / known.width, item.height / known.height)
        placed = (item.placing @ by).numbers()
        size = {"width": known.width, "height": known.height, "matrix": placed}
        return replace(item, file=known.file, alpha=known.alpha, shown=known.shown, **size)
    if isinstance(item, Group):
        return replace(item, items=tuple(_known(i, facts) for i in item.items))
    return replace(item, photos=tuple(_known(p, facts) for p in item.photos)) if item.photos else item


class Owned:
    """The library of one person; long work runs under `key`, which can stop it."""

    def __init__(self, owner: Any, key: str = ""):
        self.owner = owner
        self.key = key

    def photo(self, file: str) -> PhotoFacts:
        """Return the metadata of the person's own photo. Raises SheetError if there is none."""
        photo = PhotoFile.objects.filter(owner=self.owner, sha256=file).first()
        if photo is None:
            raise SheetError("Photo not found.", "Bring it in again.", "files")
        name = clean_name(photo.name, 200) or "photo"
        shown = tuple(photo.shown) if photo.shown else None
        return PhotoFacts(file, name, photo.width, photo.height, photo.has_alpha, shown)

    def drawing(self, file: str, scale: float) -> Brought:
        """Return the person's own drawing, read by a worker, its pictures imported. Raises SheetError."""
        name, path = drawing_of(self.owner, file)
        own = {named.lower(): font for font, named, _ in fonts.listed(self.owner)}
        read: Drawing = worker_pool.do("studio.library.tracing:drawn", path, name, scale, own, key=self.key)
        try:
            taken = {sha: take_in_data(self.owner, data, "picture") for sha, data in read.pictures.items()}
        except PictureError as error:
            raise SheetError(error.message, error.remedy, "file") from error
        facts = {sha: self.photo(photo.sha256) for sha, photo in taken.items()}
        items = tuple(_known(item, facts) for item in read.items)
        return Brought(name, items, read.box, read.unknown)

    def shelved(self, item: str, variant: str, version: int = 0) -> Shelved:
        """Return an outline of the person's own shelf, and its earlier `version`. Raises SheetError."""
        return shelf.shelved(self.owner, item, variant, version)

    def silhouette(self, file: str, tracing: Tracing) -> Path:
        """Return the silhouette of the person's own photo, traced by a worker. Raises SheetError."""
        photo = PhotoFile.objects.filter(owner=self.owner, sha256=file).first()
        if photo is None:
            raise SheetError("Photo not found.", "Bring it in again.", "id")
        size = (photo.width, photo.height)

        def traced() -> Path:
            path = here(photo.original, photo.name)
            made: Path = worker_pool.do("studio.library.tracing:traced", path, photo.name, size, tracing, key=self.key)
            return made

        return _TRACED.get((file, tracing), traced)

    def copied(self, project: int, revision: int, ids: list[str]) -> tuple[tuple[Item, ...], float]:
        """Return items as they were in a revision of the person's project, and its px per inch.

        Raises SheetError if they are gone.
        """
        found = Revision.objects.filter(project_id=project, project__owner=self.owner, number=revision).first()
        try:
            if found is not None:
                return tuple(find(found.sheet, i) for i in ids), found.sheet.resolution
        except SheetError:
            pass
        raise SheetError("What was copied is no longer there.", "Copy it again.", "ids")
