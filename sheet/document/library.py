"""What the server knows and a page cannot say: the metadata of a photo's file, and what was copied elsewhere."""

from typing import Protocol

import msgspec

from outline import Path

from .errors import SheetError
from .kinds import Tracing
from .limits import Count, File, Index, Name
from .model import Item

__all__ = ["Brought", "Library", "Nothing", "PhotoFacts", "Shelved"]


class PhotoFacts(msgspec.Struct, frozen=True):
    """A photo's file by its SHA-256, its name, its size in px, and whether it has transparent px.

    `shown` is the box (px) of what is not transparent, None for the whole photo.
    """

    file: File
    name: Name
    width: Count
    height: Count
    alpha: bool = False
    shown: tuple[Index, Index, Count, Count] | None = None


class Brought(msgspec.Struct, frozen=True):
    """The contents of a drawing's file: its name, items in sheet px, the box it fills, and a count of what was
    not understood."""

    name: Name
    items: tuple[Item, ...]
    box: tuple[float, float, float, float]
    unknown: dict[str, int]


class Shelved(msgspec.Struct, frozen=True):
    """An outline of the shelf in one variant: its name, its newest version, and the item of the earlier version that
    was asked for, None if that is not known any more. Both have their box at the origin."""

    name: Name
    version: int
    item: Item
    before: Item | None = None


class Library(Protocol):
    """Where a command looks up what it knows only by name."""

    def photo(self, file: str) -> PhotoFacts:
        """Return the metadata of a person's own photo. Raises SheetError if there is none."""
        ...

    def copied(self, project: int, revision: int, ids: list[str]) -> tuple[tuple[Item, ...], float]:
        """Return items as they were in a revision of a person's project, and its px per inch.

        Raises SheetError if they are gone.
        """
        ...

    def drawing(self, file: str, scale: float) -> Brought:
        """Return a person's own drawing, `scale` sheet px for each of its px. Raises SheetError."""
        ...

    def shelved(self, item: str, variant: str, version: int = 0) -> Shelved:
        """Return an outline of a person's own shelf, and its earlier `version`. Raises SheetError if it is gone."""
        ...

    def silhouette(self, file: str, tracing: Tracing) -> Path:
        """Return the silhouette of a person's own photo, in its px.

        Raises SheetError if the photo is missing, or there is nothing, or too much, to trace.
        """
        ...


class Nothing:
    """A library without photos and without projects."""

    def photo(self, file: str) -> PhotoFacts:
        """Raise SheetError."""
        raise SheetError("Photo not found.", "Bring it in again.", "files")

    def copied(self, project: int, revision: int, ids: list[str]) -> tuple[tuple[Item, ...], float]:
        """Raise SheetError."""
        raise SheetError("What was copied is no longer there.", "Copy it again.", "ids")

    def silhouette(self, file: str, tracing: Tracing) -> Path:
        """Raise SheetError."""
        raise SheetError("Photo not found.", "Bring it in again.", "id")

    def drawing(self, file: str, scale: float) -> Brought:
        """Raise SheetError."""
        raise SheetError("Drawing not found.", "Bring it in again.", "file")

    def shelved(self, item: str, variant: str, version: int = 0) -> Shelved:
        """Raise SheetError."""
        raise SheetError("That is no longer on the shelf.", "Choose another outline.", "item")
