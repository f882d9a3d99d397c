"""Checks before an export: each warning with the item it is about and the way to fix it."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, Final

import outline
from outline import Path
from sheet.caching import cached
from sheet.document.gradients import flat
from sheet.document.model import Group, Item, Photo, Piece, Sheet
from sheet.document.tree import photos_of
from sheet.geometry import geometry
from sheet.geometry.covering import uncovered
from sheet.reading.colours import contrast
from sheet.reading.lengths import px_per, show_length

from .dimensions import px_per_inch

__all__ = ["HAND", "LOW", "THIN", "Remark", "is_low", "remarks_on", "wanted"]

LOW: Final = 150
"""Px per inch below which a photo looks soft even on a poster (common practice)."""
HAND: Final = 300
"""Px per inch for print in the hand (common practice)."""
HELD: Final = 420.0
"""The longest side (mm) of something held in the hand: that of A3, ISO 216."""
THIN: Final = 0.25
"""The least width (pt) of a printed line (common practice)."""
SLIVER: Final = 0.25
"""A part of an outline smaller than a square of this side (mm) counts as a leftover."""
FAINT: Final = 1.25
"""A contrast ratio (WCAG 2.2) below which a border cannot be seen against the backdrop; from memory of what shows."""
MAX_WARNINGS: Final = 40
HEAVY: Final = 5000

Mend = tuple[str, str, dict[str, Any]]
"""The words of a button, and the command with its arguments that fixes it."""


@dataclass(frozen=True, slots=True)
class Remark:
    """What is wrong, the item it is about, what to do, and the fix in one press."""

    words: str
    item: str
    remedy: str
    mend: Mend | None = None


def wanted(sheet: Sheet) -> int:
    """Return the px per inch a photo should have on this sheet: never more than the sheet's own."""
    longer = max(sheet.width, sheet.height) / sheet.resolution * 25.4
    least = LOW if sheet.unit == "px" or longer > HELD else HAND
    return round(min(least, sheet.resolution))


def is_low(sheet: Sheet, photo: Photo) -> bool:
    """Return whether a photo has too few px per inch where it is placed."""
    return px_per_inch(sheet, photo) < wanted(sheet)


def _shown(items: tuple[Item, ...]) -> Iterator[Piece]:
    """Yield the visible pieces, at any depth."""
    for item in items:
        if item.hidden:
            continue
        if isinstance(item, Group):
            yield from _shown(item.items)
        elif isinstance(item, Piece):
            yield item


@cached(entries=1024)
def _leftovers(path: Path, side: float) -> int:
    """Return how many parts and holes of an outline are smaller than a square; 0 for one too large to check often."""
    parts = len(list(path.subpaths))
    if parts < 2 or path.node_count > HEAVY:
        return 0
    return max(0, parts - len(list(outline.cleaned(path, side).subpaths)))


def _of_piece(sheet: Sheet, piece: Piece) -> Iterator[Remark]:
    share = uncovered(piece) if piece.photos else 0.0
    if share > 0.0005:
        words = f"{max(1, round(100 * share))} % of “{piece.name}” is empty."
        fill = ("Fill the frame", "settle", {"ids": [piece.id], "how": "cover"})
        yield Remark(words, piece.id, "Move its photo, or", fill)
    thin = THIN * px_per("pt", sheet.resolution)
    if geometry.has_border(piece) and piece.paint.stroke_width < thin - 1e-9:
        width = show_length(piece.paint.stroke_width, "pt", sheet.resolution)
        mend = {"ids": [piece.id], "field": "stroke_width", "value": f"{THIN:g}pt"}
        words = f"The border of “{piece.name}” is {width} pt wide, and may break in print."
        yield Remark(words, piece.id, "", (f"Make it {THIN:g} pt", "paint", mend))
    ground = sheet.backdrop
    if ground and geometry.has_border(piece) and piece.paint.stroke:
        ratio = contrast(flat(piece.paint.stroke) or ground, ground)
        if ratio < FAINT:
            words = f"The border of “{piece.name}” hardly shows on the backdrop ({ratio:.1f} : 1)."
            yield Remark(words, piece.id, "Give it a darker colour.")
    side = SLIVER * px_per("mm", sheet.resolution)
    fewer = 0 if geometry.is_line(piece) else _leftovers(geometry.outline_of(piece), side)
    if fewer:
        what = "a leftover" if fewer == 1 else f"{fewer} leftovers"
        mend = {"id": piece.id, "kind": "clean", "value": f"{SLIVER:g}mm"}
        words = f"“{piece.name}” has {what} smaller than {SLIVER:g} mm."
        yield Remark(words, piece.id, "", ("Clear away", "add_finish", mend))


def _left_out(items: tuple[Item, ...]) -> Iterator[Remark]:
    """Warn of what is hidden, in groups too."""
    for item in items:
        if item.hidden:
            show = ("Show it", "mark", {"ids": [item.id], "field": "hidden", "on": False})
            yield Remark(f"“{item.name}” is hidden, so it isn’t exported.", item.id, "", show)
        elif isinstance(item, Group):
            yield from _left_out(item.items)


def _of_place(sheet: Sheet, item: Item) -> Iterator[Remark]:
    x0, y0, x1, y1 = geometry.box_of(item)
    if x1 <= 0 or y1 <= 0 or x0 >= sheet.width or y0 >= sheet.height:
        dx = max(0.0, -x0) - max(0.0, x1 - sheet.width) if x1 - x0 <= sheet.width else -x0
        dy = max(0.0, -y0) - max(0.0, y1 - sheet.height) if y1 - y0 <= sheet.height else -y0
        mend = {"ids": [item.id], "matrix": (1.0, 0.0, 0.0, 1.0, dx, dy)}
        yield Remark(f"“{item.name}” is off the sheet.", item.id, "", ("Move it onto the sheet", "transform", mend))
        return
    near = 0.5
    ends = [
        side
        for side, beyond in (("left", -x0), ("top", -y0), ("right", x1 - sheet.width), ("bottom", y1 - sheet.height))
        if -near <= beyond < sheet.bleed - near
    ]
    if sheet.bleed > 0 and ends:
        bleed = show_length(sheet.bleed, sheet.unit, sheet.resolution)
        words = f"“{item.name}” ends at the {' and '.join(ends)} edge, without bleed."
        yield Remark(words, item.id, f"Let it reach {bleed} {sheet.unit} beyond.")


def remarks_on(sheet: Sheet, only: tuple[Item, ...] = ()) -> list[Remark]:
    """Return warnings on the sheet, or on some items of it, the most serious kind first; 40 at most."""
    items = only or sheet.items
    found = []
    for photo in photos_of(items, hidden=False):
        if is_low(sheet, photo):
            words = f"“{photo.name}” has {px_per_inch(sheet, photo)} px per inch as placed."
            found.append(Remark(words, photo.id, "Make it smaller, or use a larger photo."))
    for piece in _shown(items):
        found += _of_piece(sheet, piece)
        if len(found) >= MAX_WARNINGS:
            return found[:MAX_WARNINGS]
    for item in () if only else items:
        if not item.hidden:
            found += _of_place(sheet, item)
    found += _left_out(items)
    return found[:MAX_WARNINGS]
