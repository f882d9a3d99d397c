"""How the parts of a frame can be anchored for another proportion, and the bands in which a plain path lengthens.

Along each axis a part is anchored to a side, to the middle, to both sides (it lengthens), or
is scaled.
"""

from collections.abc import Iterable

from msgspec.structs import replace

import outline
from outline import Matrix
from outline.curves.bands import Groups, Interval
from sheet.caching import cached
from sheet.document.errors import SheetError
from sheet.document.kinds import EdgeRun, Freehand, Lettering, Plain, Silhouette
from sheet.document.model import CutList, Group, Hold, Holds, Item, Photo, Piece, Shape
from sheet.document.tree import map_members

from . import geometry

__all__ = [
    "along",
    "band_groups",
    "bands_of",
    "bands_on_sheet",
    "can_anchor",
    "crossed",
    "free_on_sheet",
    "guessed_anew",
    "has_bands",
    "anchors_set",
    "keeps_form",
    "lengthens",
    "line_of",
    "turned_by",
    "with_bands",
]


def keeps_form(item: Item) -> bool:
    return isinstance(item, Photo) or (isinstance(item, Piece) and isinstance(item.shape, Lettering))


def guessed_anew(item: Item) -> Item:
    """Return an item that was moved by itself, without the guesses about its anchors from where it was before."""
    if not isinstance(item, Piece | Group) or item.holds is None or not item.holds.guessed:
        return item
    return replace(item, holds=replace(item.holds, guessed="", **dict.fromkeys(item.holds.guessed)))


def can_anchor(item: Item) -> tuple[Hold, ...]:
    """Return the possible anchors of a part: without room to lengthen, a side or the middle, or scaling."""
    return ("near", "middle", "far", "scale") if keeps_form(item) else ("near", "middle", "far", "both", "scale")


def anchors_set(item: Item, given: dict[str, Holds]) -> Item:
    """Return an item with its parts' anchors set by their ids; the others keep theirs."""
    if isinstance(item, Photo):
        return item
    if item.id in given:
        item = replace(item, holds=given[item.id])
    if isinstance(item, Group):
        return replace(item, items=tuple(anchors_set(i, given) for i in item.items))
    if not isinstance(item.shape, CutList):
        return item
    return replace(item, shape=map_members(item.shape, lambda member: anchors_set(member, given)))


# -- what lengthens, and across which bands


def turned_by(m: Matrix) -> int | None:
    """Return 0 if a map keeps the axes, 1 if it swaps them, None if it leans them."""
    near = 1e-9 * (abs(m.a) + abs(m.b) + abs(m.c) + abs(m.d))
    if abs(m.b) <= near and abs(m.c) <= near:
        return 0
    return 1 if abs(m.a) <= near and abs(m.d) <= near else None


def line_of(shape: Shape) -> Plain | None:
    """Return the plain path that a shape is, or that it runs along."""
    if isinstance(shape, EdgeRun):
        shape = shape.base
    return shape if isinstance(shape, Plain) else None


@cached(entries=512)
def band_groups(line: Plain, axis: int) -> Groups:
    """Return the bands of a plain path along one of its axes, in the order in which they take a difference."""
    return outline.band_groups(geometry.own_path(line), axis)


@cached(entries=512)
def _free(line: Plain, axis: int) -> tuple[Interval, ...]:
    return outline.free_bands(geometry.own_path(line), axis)


def bands_of(piece: Piece, axis: int) -> tuple[tuple[float, float], ...]:
    """Return the bands, in its own coordinates, in which a plain piece lengthens along an axis of the sheet:
    those given, or those found; none if no straight run crosses."""
    turned = turned_by(piece.placing)
    line = line_of(piece.shape)
    if line is None or turned is None:
        return ()
    if piece.holds is not None:
        given = (piece.holds.x_bands, piece.holds.y_bands)[axis]
        if given:
            return given
    return next(iter(band_groups(line, axis ^ turned)), ())


def along(piece: Piece, axis: int) -> tuple[float, float]:
    """Return the factor and offset from a plain piece's own coordinates along an axis of the sheet to the sheet's."""
    m = piece.placing
    factor = (m.a, m.d)[axis] if turned_by(m) == 0 else (m.c, m.b)[axis]
    return factor, (m.e, m.f)[axis]


def bands_on_sheet(piece: Piece, axis: int) -> list[tuple[float, float]]:
    """Return the bands of a plain piece along an axis, in px of the sheet."""
    return _on_sheet(piece, axis, bands_of(piece, axis))


def free_on_sheet(piece: Piece, axis: int) -> list[tuple[float, float]]:
    """Return where a plain piece could lengthen along an axis, in px of the sheet: in the given bands, or wherever
    all runs are straight or repeat."""
    if piece.holds is not None and (piece.holds.x_bands, piece.holds.y_bands)[axis]:
        return bands_on_sheet(piece, axis)
    turned, line = turned_by(piece.placing), line_of(piece.shape)
    if line is None or turned is None:
        return []
    return _on_sheet(piece, axis, _free(line, axis ^ turned))


def _on_sheet(piece: Piece, axis: int, bands: Iterable[tuple[float, float]]) -> list[tuple[float, float]]:
    factor, off = along(piece, axis)
    return sorted((min(p, q), max(p, q)) for p, q in ((a * factor + off, b * factor + off) for a, b in bands))


def has_bands(item: Item) -> bool:
    """Return whether an item is a single plain path, which lengthens by bands."""
    return isinstance(item, Piece) and line_of(item.shape) is not None and turned_by(item.placing) is not None


def with_bands(item: Item, axis: int, bands: Iterable[tuple[float, float]]) -> Item:
    """Return a plain piece with its bands along an axis set, in px of the sheet; none to find them.

    Raises SheetError for an item without bands.
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
    """Return whether a piece can get longer along an axis with no part of it stretched."""
    if isinstance(piece.shape, CutList):
        return True
    if isinstance(piece.shape, Freehand | Silhouette) or turned_by(piece.placing) is None:
        return False
    return line_of(piece.shape) is None or bool(bands_of(piece, axis))


def crossed(piece: Piece, axis: int) -> int:
    """Return how many curves of a plain piece cross its bands along an axis, and would change their form."""
    line, turned = line_of(piece.shape), turned_by(piece.placing)
    bands = bands_of(piece, axis)
    if line is None or turned is None or not bands:
        return 0
    return outline.curves_across(geometry.own_path(line), axis ^ turned, bands)
