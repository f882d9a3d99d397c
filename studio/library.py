"""What commands look up: a person's own photos and projects."""

from typing import Any

from outline import Path
from sheet import SheetError
from sheet.kinds import Tracing
from sheet.library import PhotoFacts
from sheet.limits import clean_name
from sheet.model import Item
from sheet.tree import find

from . import labour
from .models import PhotoFile, Revision

__all__ = ["Owned"]


class Owned:
    """The library of one person; long work is done under `key`, by which it can be stopped."""

    def __init__(self, owner: Any, key: str = ""):
        self.owner = owner
        self.key = key

    def photo(self, file: str) -> PhotoFacts:
        """Return the facts of the person's own photo. Raises SheetError where there is none such."""
        photo = PhotoFile.objects.filter(owner=self.owner, sha256=file).first()
        if photo is None:
            raise SheetError("That photo is not here.", "Bring it in again.", "files")
        name = clean_name(photo.name, 200) or "photo"
        shown = tuple(photo.shown) if photo.shown else None
        return PhotoFacts(file, name, photo.width, photo.height, photo.has_alpha, shown)

    def silhouette(self, file: str, tracing: Tracing) -> Path:
        """Return the silhouette of the person's own photo, traced by a labourer. Raises SheetError."""
        photo = PhotoFile.objects.filter(owner=self.owner, sha256=file).first()
        if photo is None:
            raise SheetError("That photo is not here.", "Bring it in again.", "id")
        size = (photo.width, photo.height)
        made: Path = labour.do("studio.tracing:traced", photo.original, photo.name, size, tracing, key=self.key)
        return made

    def copied(self, project: int, revision: int, ids: list[str]) -> tuple[tuple[Item, ...], float]:
        """Return items as they were in a revision of the person's project, and its px per inch.

        Raises SheetError where they are gone.
        """
        found = Revision.objects.filter(project_id=project, project__owner=self.owner, number=revision).first()
        try:
            if found is not None:
                return tuple(find(found.sheet, i) for i in ids), found.sheet.resolution
        except SheetError:
            pass
        raise SheetError("What was copied is no longer there.", "Copy it again.", "ids")
