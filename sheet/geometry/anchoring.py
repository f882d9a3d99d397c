"""How the parts of a frame hold when it gets another proportion, and across which bands a plain path lengthens.

Along each axis a part holds to a side, to the middle, to both sides (it lengthens), or
is scaled; as long as nothing is said, that is guessed.
"""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Final

from msgspec.structs import replace

import outline
from outline import Matrix
from sheet.document.errors import SheetError
from sheet.document.kinds import EdgeRun, Ellipse, Freehand, Lettering, Plain, Polygon, Silhouette, Star
from sheet.document.model import CutList, Group, Hold, Holds, Item, Photo, Piece, Shape, Step
from sheet.document.tree import members

from . import geometry
from .geometry import Box

__all__ = [
    "Part",
    "along",
    "bands_of",
    "bands_on_sheet",
    "can_anchor",
    "crossed",
    "guessed",
    "has_bands",
    "anchors_set",
    "inner_of",
    "keeps_form",
    "lengthens",
    "line_of",
    "parts_of",
    "slack",
    "turned_by",
    "with_bands",
]

EVEN: Final = 0.01
"""How much of the whole two margins may differ and still be called even."""
SPANS: Final = 0.5
"""The share of the whole from which a part spans it."""
WHOLE: Final = 0.9
"""The share of the whole, along both axes, from which a part is all of it; in the middle of it, `SPANS` is enough."""
_REGULAR: Final = (Ellipse, Polygon, Star)
"""Shapes whose form is all they have: longer along one axis, they are stretched."""


@dataclass(frozen=True, slots=True)
class Part:
    """A part of what is refitted: the piece, its box, and how it holds along x and y, as given or guessed."""

    item: Item
    box: Box
    holds: Holds


def inner_of(item: Item) -> tuple[Item, ...]:
    """Return the parts of an item: of a group its items, of an outline the pieces of its cut list."""
    if isinstance(item, Group):
        return () if item.panes is not None else item.items
    if isinstance(item, Piece) and isinstance(item.shape, CutList):
        return members(item.shape)
    return ()


def keeps_form(item: Item) -> bool:
    return isinstance(item, Photo) or (isinstance(item, Piece) and isinstance(item.shape, Lettering))


def can_anchor(item: Item) -> tuple[Hold, ...]:
    """Return how a part may hold: what cannot lengthen holds to a side or the middle, or is scaled."""
    return ("near", "middle", "far", "scale") if keeps_form(item) else ("near", "middle", "far", "both", "scale")


def _guess(low: float, high: float, a: float, b: float, spans: Hold | None) -> Hold:
    """Return how a part from a to b holds along an axis, in what reaches from low to high.

    `spans` is how one holds that spans it, None where it keeps its form.
    """
    whole = high - low
    before, after = a - low, high - b
    if spans is not None and b - a >= SPANS * whole:
        return spans
    if abs(before - after) <= EVEN * whole:
        return "middle"
    return "near" if before < after else "far"


def _spanning(item: Item, axis: int, all_of_it: bool) -> Hold | None:
    """Return how a part holds that spans an axis: it lengthens. What would be stretched by that keeps its form, unless
    it is as large as the whole."""
    if keeps_form(item):
        return None
    if not isinstance(item, Piece) or (lengthens(item, axis) and not isinstance(item.shape, _REGULAR)):
        return "both"
    if not all_of_it:
        return None
    return "both" if isinstance(item.shape, _REGULAR) else "scale"


def guessed(item: Item, within: Box) -> Holds:
    """Return how a part holds as long as nothing else is said: what spans the whole lengthens, what lies in the middle
    stays there, and the rest, and all that would be stretched, holds to the nearer side."""
    given = item.holds if isinstance(item, Piece | Group) and item.holds is not None else Holds()
    if given.x is not None and given.y is not None:
        return given
    x0, y0, x1, y1 = within
    a0, b0, a1, b1 = geometry.box_of(item)
    centred = abs(a0 - x0 - x1 + a1) <= EVEN * (x1 - x0) and abs(b0 - y0 - y1 + b1) <= EVEN * (y1 - y0)
    least = SPANS if centred else WHOLE
    all_of_it = a1 - a0 >= least * (x1 - x0) and b1 - b0 >= least * (y1 - y0)
    across = given.x or _guess(x0, x1, a0, a1, _spanning(item, 0, all_of_it))
    return replace(given, x=across, y=given.y or _guess(y0, y1, b0, b1, _spanning(item, 1, all_of_it)))


def parts_of(item: Item) -> Iterator[Part]:
    """Yield the parts of an item, and those of parts that lengthen; none of a plain piece."""
    box = geometry.box_of(item)
    for inner in inner_of(item):
        holds = guessed(inner, box)
        yield Part(inner, geometry.box_of(inner), holds)
        if "both" in (holds.x, holds.y):
            yield from parts_of(inner)


def anchors_set(item: Item, given: dict[str, Holds]) -> Item:
    """Return an item whose parts hold as is said by their ids; the others as they did."""
    if isinstance(item, Photo):
        return item
    if item.id in given:
        item = replace(item, holds=given[item.id])
    if isinstance(item, Group):
        return replace(item, items=tuple(anchors_set(i, given) for i in item.items))
    if not isinstance(item.shape, CutList):
        return item
    base, steps = anchors_set(item.shape.base, given), []
    assert isinstance(base, Piece)
    for step in item.shape.steps:
        member = anchors_set(step.member, given)
        assert isinstance(member, Piece)
        steps.append(Step(step.operation, member, step.on))
    return replace(item, shape=replace(item.shape, base=base, steps=tuple(steps)))


# -- what lengthens, and across which bands


def turned_by(m: Matrix) -> int | None:
    """Return 0 where a map keeps the axes, 1 where it swaps them, None where it leans them."""
    near = 1e-9 * (abs(m.a) + abs(m.b) + abs(m.c) + abs(m.d))
    if abs(m.b) <= near and abs(m.c) <= near:
        return 0
    return 1 if abs(m.a) <= near and abs(m.d) <= near else None


def line_of(shape: Shape) -> Plain | None:
    """Return the plain path that a shape is, or runs along."""
    if isinstance(shape, EdgeRun):
        shape = shape.base
    return shape if isinstance(shape, Plain) else None


def bands_of(piece: Piece, axis: int) -> tuple[tuple[float, float], ...]:
    """Return the bands, in its own coordinates, across which a plain piece lengthens along an axis of the sheet:
    those given, or those found; none where it has no straight run across."""
    turned = turned_by(piece.placing)
    line = line_of(piece.shape)
    if line is None or turned is None:
        return ()
    if piece.holds is not None:
        given = (piece.holds.x_bands, piece.holds.y_bands)[axis]
        if given:
            return given
    return outline.find_bands(geometry.own_path(line), axis ^ turned)


def along(piece: Piece, axis: int) -> tuple[float, float]:
    """Return factor and offset that take a plain piece's own coordinates along an axis of the sheet to it."""
    m = piece.placing
    factor = (m.a, m.d)[axis] if turned_by(m) == 0 else (m.c, m.b)[axis]
    return factor, (m.e, m.f)[axis]


def bands_on_sheet(piece: Piece, axis: int) -> list[tuple[float, float]]:
    """Return the bands of a plain piece along an axis, in px of the sheet."""
    factor, off = along(piece, axis)
    return sorted(
        (min(p, q), max(p, q)) for p, q in ((a * factor + off, b * factor + off) for a, b in bands_of(piece, axis))
    )


def has_bands(item: Item) -> bool:
    """Tell whether an item is one plain path, which lengthens by bands."""
    return isinstance(item, Piece) and line_of(item.shape) is not None and turned_by(item.placing) is not None


def with_bands(item: Item, axis: int, bands: Iterable[tuple[float, float]]) -> Item:
    """Return a plain piece with its bands along an axis set, in px of the sheet; none where they are to be found.

    Raises SheetError for what has no bands.
    """
    if not isinstance(item, Piece) or not has_bands(item):
        raise SheetError(
            f"“{item.name}” has parts with anchors, and no bands.", "Click the pins of its parts.", "bands"
        )
    factor, off = along(item, axis)
    own = (((a - off) / factor, (b - off) / factor) for a, b in bands)
    ordered = tuple(sorted((min(b), max(b)) for b in own))
    if any(b - a <= 0 for a, b in ordered):
        raise SheetError("A band has a width greater than 0.", "Drag its edges apart.", "bands")
    return replace(item, holds=replace(item.holds or Holds(), **{("x_bands", "y_bands")[axis]: ordered}))


def lengthens(piece: Piece, axis: int) -> bool:
    """Tell whether a piece can be longer along an axis without a part of it being stretched."""
    if isinstance(piece.shape, CutList):
        return True
    if isinstance(piece.shape, Freehand | Silhouette) or turned_by(piece.placing) is None:
        return False
    return line_of(piece.shape) is None or bool(bands_of(piece, axis))


def slack(item: Item) -> tuple[str, ...]:
    """Return the names of what is stretched where the item gets another proportion: parts that are scaled."""
    names = [p.item.name for p in parts_of(item) if "scale" in (p.holds.x, p.holds.y)]
    return tuple(dict.fromkeys(names))


def crossed(piece: Piece, axis: int) -> int:
    """Return how many curves of a plain piece lie across its bands along an axis, and would change their form."""
    line, turned = line_of(piece.shape), turned_by(piece.placing)
    bands = bands_of(piece, axis)
    if line is None or turned is None or not bands:
        return 0
    return outline.curves_across(geometry.own_path(line), axis ^ turned, bands)
