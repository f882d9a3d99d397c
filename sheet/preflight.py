"""What to look at before something goes out: each warning with what it is about and the way to mend it."""

from dataclasses import dataclass
from typing import Final

from . import geometry
from .gauge import px_per_inch
from .model import Item, Photo, Sheet
from .tree import photos_of

__all__ = ["HAND", "LOW", "Remark", "is_low", "remarks_on", "wanted"]

LOW: Final = 150
"""Px per inch below which a photo looks soft even on a poster (common practice)."""
HAND: Final = 300
"""Px per inch that print in the hand takes (common practice)."""
HELD: Final = 420.0
"""The longer side of what is held in the hand at most (mm): that of A3, ISO 216."""


@dataclass(frozen=True, slots=True)
class Remark:
    """What is the matter, the item it is about, and what to do."""

    words: str
    item: str
    remedy: str


def wanted(sheet: Sheet) -> int:
    """Return the px per inch a photo should have on this sheet: never more than the sheet's own."""
    longer = max(sheet.width, sheet.height) / sheet.resolution * 25.4
    least = LOW if sheet.unit == "px" or longer > HELD else HAND
    return round(min(least, sheet.resolution))


def is_low(sheet: Sheet, photo: Photo) -> bool:
    """Tell whether a photo has too few px per inch where it is placed."""
    return px_per_inch(sheet, photo) < wanted(sheet)


def remarks_on(sheet: Sheet, only: Item | None = None) -> list[Remark]:
    """Return remarks on the sheet, or on one item of it: photos with too few px, items off the sheet or hidden."""
    items = sheet.items if only is None else (only,)
    found = []
    for photo in photos_of(items, hidden=False):
        if is_low(sheet, photo):
            words = f"“{photo.name}” has {px_per_inch(sheet, photo)} px per inch as placed."
            found.append(Remark(words, photo.id, "Make it smaller, or use a larger photo."))
    for item in items if only is None else ():
        if item.hidden:
            found.append(Remark(f"“{item.name}” is hidden, and does not go out.", item.id, "Show it in the stack."))
            continue
        x0, y0, x1, y1 = geometry.box_of(item)
        if x1 <= 0 or y1 <= 0 or x0 >= sheet.width or y0 >= sheet.height:
            found.append(Remark(f"“{item.name}” lies off the sheet.", item.id, "Move it onto the sheet."))
    return found
