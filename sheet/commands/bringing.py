"""Bringing photos in: the page names files, the server knows the rest."""

from typing import Annotated

from msgspec import Meta
from msgspec.structs import replace

from ..errors import SheetError
from ..library import Library, PhotoFacts
from ..limits import File, MaybeId
from ..limits import Place as Coordinate
from ..making import fresh
from ..model import Photo, Sheet
from ..placing import on_step
from .base import Command, Outcome, names, register, room
from .framing import PutIn

__all__ = ["Place", "Placed"]


@register
class Place(Command, frozen=True):
    """Bring photos in by their files, each about a point (px) or, without one, in the middle of the sheet; or `into`
    an outline."""

    command = "place"
    files: Annotated[list[File], Meta(max_length=1000)]
    x: Coordinate | None = None
    y: Coordinate | None = None
    into: MaybeId = ""

    def informed(self, library: Library, sheet: Sheet) -> Command:
        """Return the command with the facts of each file."""
        if not self.files:
            raise SheetError("No photo came with that.", "Choose one or more pictures.", "files")
        return Placed(tuple(library.photo(f) for f in self.files), self.x, self.y, self.into)


class Placed(Command, frozen=True):
    """Photos to place. One comes in as large as the sheet allows, never above one photo px per sheet px."""

    photos: tuple[PhotoFacts, ...]
    x: float | None = None
    y: float | None = None
    into: str = ""

    def run(self, sheet: Sheet) -> Outcome:
        room(sheet, len(self.photos))
        sheet, ids = fresh(sheet, len(self.photos))
        cx = sheet.width / 2 if self.x is None else self.x
        cy = sheet.height / 2 if self.y is None else self.y
        items = []
        step = min(sheet.width, sheet.height) * 0.03
        for k, (new, told) in enumerate(zip(ids, self.photos, strict=True)):
            scale = min(1.0, sheet.width / told.width, sheet.height / told.height)
            # on the step of the rounding, since what is drawn later snaps to its edges
            x = on_step(cx - scale * told.width / 2 + k * step, sheet.round_to)
            y = on_step(cy - scale * told.height / 2 + k * step, sheet.round_to)
            placing = (scale, 0.0, 0.0, scale, x, y)
            size = (told.width, told.height)
            items.append(Photo(new, told.name, told.file, *size, placing, alpha=told.alpha, shown=told.shown))
        # photos come in below the pieces, which are drawn over them, but never beneath another photo
        at = next((k for k, i in enumerate(sheet.items) if not isinstance(i, Photo)), len(sheet.items))
        at = max([at, *(k + 1 for k, i in enumerate(sheet.items) if isinstance(i, Photo))])
        merged = (*sheet.items[:at], *items, *sheet.items[at:])
        sheet = replace(sheet, items=merged)
        label = f"bring in {names(list(items))}"
        if not self.into:
            return Outcome(sheet, label, tuple(ids))
        return replace(PutIn([*ids, self.into]).run(sheet), label=label)
