"""The outlines and boxes of items on the sheet, in sheet units."""

from typing import Final

import numpy as np

import outline
from outline import Matrix, Path, PlanarMap
from sheet.caching import cached
from sheet.document.kinds import kind_of
from sheet.document.limits import MAX_ITEMS
from sheet.document.model import CutList, Finish, Group, Item, Numbers, Paint, Photo, Piece, Shape

from .cells import chosen_faces

__all__ = [
    "NEAR",
    "Box",
    "border_box",
    "border_place",
    "box_of",
    "covers",
    "cell_map",
    "chosen_of",
    "cut",
    "fill_shows",
    "finish",
    "has_border",
    "is_line",
    "join_boxes",
    "open_ends",
    "local_frame",
    "outline_of",
    "own_path",
    "photo_quad",
    "photo_shown",
    "pieces_of",
    "result",
    "window",
]

Box = tuple[float, float, float, float]
"""x0, y0, x1, y1"""


def cut(first: Path, operation: str, second: Path) -> Path:
    """Return the outline after one step of a cut list."""
    if operation == "union":
        return outline.union([first, second])
    if operation == "subtract":
        return outline.subtract(first, [second])
    if operation == "intersect":
        return outline.intersect([first, second])
    return outline.exclude([first, second])


# twice what a sheet has, for moved copies: with fewer, each would be dropped before its next use
@cached(entries=2 * MAX_ITEMS)
def _path(shape: Shape, matrix: Numbers) -> Path:
    if isinstance(shape, CutList):
        return _finished(shape)
    return own_path(shape).transform(Matrix(*matrix))


@cached(entries=MAX_ITEMS)
def own_path(shape: Shape) -> Path:
    """Return the path of a shape in its own coordinates; for a cut list, its result on the sheet."""
    if isinstance(shape, CutList):
        return _finished(shape)
    return kind_of(shape).path(shape)


def finish(path: Path, step: Finish) -> Path:
    """Return the outline after one finish."""
    if not step.on or path.is_empty:
        return path
    if step.kind == "offset":
        return outline.offset(path, step.value, join=step.join)
    if step.kind == "round":
        return outline.round_corners(path, step.value)
    if step.kind == "simplify":
        return outline.simplify(path, step.value)
    return outline.cleaned(path, step.value**2)


def _finished(cuts: CutList) -> Path:
    path = result(cuts)
    for step in cuts.finishes:
        path = finish(path, step)
    return path


def cell_map(cuts: CutList) -> tuple[PlanarMap, list[int]]:
    """Return the map of a cut list's pieces, and the number of the piece for each of its paths.

    Open lines divide it, and pieces that are switched off are left out. Raises MapError.
    """
    pieces = [cuts.base, *(s.member for s in cuts.steps)]
    on = [True, *(s.on for s in cuts.steps)]
    lines = [k for k, p in enumerate(pieces) if on[k] and is_line(p)]
    areas = [k for k in range(len(pieces)) if on[k] and k not in lines]
    return PlanarMap([outline_of(pieces[k]) for k in areas], [outline_of(pieces[k]) for k in lines]), areas


def chosen_of(cuts: CutList, m: PlanarMap, numbers: list[int]) -> np.ndarray:
    """Return whether each face of a cut list’s `cell_map` is in its result: one bool per face."""
    if cuts.choice is not None:
        return chosen_faces(m, numbers, cuts.choice)
    inside = m.in_path(numbers.index(0)).copy() if 0 in numbers else np.zeros_like(m.in_any())
    for k, step in enumerate(cuts.steps, 1):
        if k not in numbers:
            continue
        within = m.in_path(numbers.index(k))
        if step.operation == "union":
            inside |= within
        elif step.operation == "subtract":
            inside &= ~within
        elif step.operation == "intersect":
            inside &= within
        else:
            inside ^= within
    inside[0] = False
    return inside


def result(cuts: CutList) -> Path:
    """Return the result of a cut list before its finishes."""
    if cuts.choice is not None:
        m, numbers = cell_map(cuts)
        return m.region(chosen_faces(m, numbers, cuts.choice))
    steps = [s for s in cuts.steps if s.on]
    first = outline_of(cuts.base)
    if not steps:
        return outline.union([first])
    kinds = {s.operation for s in steps}
    others = [outline_of(s.member) for s in steps]
    # equal steps in a row are answered from one map
    if kinds == {"union"}:
        return outline.union([first, *others])
    if kinds == {"subtract"}:
        return outline.subtract(first, others)
    if kinds == {"intersect"}:
        return outline.intersect([first, *others])
    if kinds == {"exclude"}:
        return outline.exclude([first, *others])
    for step, other in zip(steps, others, strict=True):
        first = cut(first, step.operation, other)
    return first


def outline_of(piece: Piece) -> Path:
    """Return the piece's outline on the sheet; a cut list is evaluated."""
    return _path(piece.shape, piece.matrix)


def is_line(piece: Piece) -> bool:
    """Return whether a piece is a line: open and without a fill. It divides, and has no area."""
    return piece.paint.fill is None and not outline_of(piece).is_closed


def pieces_of(item: Item) -> list[Piece]:
    """Return the piece itself, or the pieces of a group at any depth, lowest first; none for a photo."""
    if isinstance(item, Piece):
        return [item]
    return [p for i in item.items for p in pieces_of(i)] if isinstance(item, Group) else []


def photo_quad(photo: Photo) -> Path:
    """Return the rectangle of the photo on the sheet."""
    return outline.rectangle(photo.width, photo.height).transform(photo.placing)


def photo_shown(photo: Photo) -> Path:
    """Return the rectangle on the sheet of what is not wholly transparent of the photo."""
    if photo.shown is None:
        return photo_quad(photo)
    x0, y0, x1, y1 = photo.shown
    return outline.rectangle(x1 - x0, y1 - y0).transform(photo.placing @ Matrix.move(x0, y0))


NEAR = 1e-7
"""How much of a photo's size may be missing at its edge: rounding, and never visible."""


@cached(entries=4096)
def _window(shape: Shape, matrix: Numbers, photo: Numbers) -> Box | None:
    return _path(shape, matrix).transform(Matrix(*photo).inverse()).bounds


def window(frame: Piece, photo: Photo) -> Box | None:
    """Return the exact bounds of a frame's outline in px of the photo; None for an outline without area."""
    return _window(frame.shape, frame.matrix, photo.matrix)


def covers(frame: Piece, photo: Photo) -> bool:
    """Return whether a photo covers all of a frame's outline: a rectangle does if it contains its bounds."""
    a, b, c, d, _, _ = photo.matrix
    if a * d == b * c:
        return False
    box = window(frame, photo)
    if box is None:
        return True
    near = NEAR * max(photo.width, photo.height)
    return box[0] >= -near and box[1] >= -near and box[2] <= photo.width + near and box[3] <= photo.height + near


_FIRST: Final = Paint().fill


def fill_shows(piece: Piece) -> bool:
    """Return whether any of the fill shows: not if one opaque photo covers the whole outline.

    Drawing it all the same would leave a fringe along the clipped edge. The default fill of
    new pieces does not count: in a frame, what its photos leave empty is transparent.
    """
    if piece.paint.fill is None or (piece.photos and piece.paint.fill == _FIRST):
        return False
    return not any(covers(piece, p) for p in piece.photos if p.opacity >= 1 and not p.alpha and p.blend == "normal")


def has_border(piece: Piece) -> bool:
    """Return whether a piece has a visible border."""
    return piece.paint.stroke is not None and piece.paint.stroke_width > 0


def border_place(piece: Piece) -> str:
    """Return the position of the border: "inside", "centred" or "outside"; on an open line it is centred."""
    return piece.paint.place if outline_of(piece).is_closed else "centred"


def border_box(piece: Piece) -> Box | None:
    """Return the box of a piece's border; None if it has none."""
    path = outline_of(piece)
    if not has_border(piece) or path.is_empty:
        return None
    place, join = border_place(piece), piece.paint.join
    if place == "inside":
        return path.bounds
    # an outside border is the outer half of one twice as wide
    width = piece.paint.stroke_width * (2 if place == "outside" else 1)
    box = outline.stroke_bounds(path, width, miter_limit=4.0 if join == "miter" else 1.0)
    if join == "round" and path.is_closed and box is not None and path.bounds is not None:
        # it extends furthest at the outline's own extremes, around each of them
        x0, y0, x1, y1 = path.bounds
        by = width / 2
        box = join_boxes([box, (x0 - by, y0 - by, x1 + by, y1 + by)])
    if piece.paint.cap != "butt" and box is not None:
        ends = open_ends(path)
        # a square end reaches at most the diagonal of half the width
        by = width / 2 * (1 if piece.paint.cap == "round" else 2**0.5)
        boxes = [(x - by, y - by, x + by, y + by) for x, y in ends]
        box = join_boxes([box, *boxes])
    return box


def open_ends(path: Path) -> list[tuple[float, float]]:
    """Return the end points of the open lines of a path."""
    ctrl, _, starts, closed = path.arrays
    rows = [k for k, shut in enumerate(closed.tolist()) if not shut]
    first, last = starts[:-1][rows], starts[1:][rows] - 1
    return [tuple(p) for p in (*ctrl[first, :2].tolist(), *ctrl[last, 6:].tolist())]


def box_of(item: Item) -> Box:
    """Return the exact box of the item's outline; a point at the origin if it is empty."""
    if isinstance(item, Group):
        return join_boxes([box_of(i) for i in item.items])
    if isinstance(item, Photo):
        # its four corners
        a, b, c, d, e, f = item.matrix
        w, h = item.width, item.height
        x, y = (e, e + a * w, e + c * h, e + a * w + c * h), (f, f + b * w, f + d * h, f + b * w + d * h)
        return min(x), min(y), max(x), max(y)
    a, b, c, d, e, f = item.matrix
    if (a, b, c, d) == (1.0, 0.0, 0.0, 1.0) and not isinstance(item.shape, CutList):
        # one that is only moved needs no outline of its own
        box = own_path(item.shape).bounds
        return (box[0] + e, box[1] + f, box[2] + e, box[3] + f) if box else (0.0, 0.0, 0.0, 0.0)
    return outline_of(item).bounds or (0.0, 0.0, 0.0, 0.0)


def local_frame(item: Item) -> tuple[float, float, Matrix]:
    """Return (width, height, matrix): the upright box that, placed by the matrix, contains the item.

    Turned pieces keep a turned box; cut lists and skewed pieces have an upright one.
    """
    if isinstance(item, Photo):
        return float(item.width), float(item.height), item.placing
    if isinstance(item, Group):
        x0, y0, x1, y1 = box_of(item)
        return x1 - x0, y1 - y0, Matrix.move(x0, y0)
    if not isinstance(item.shape, CutList):
        size = kind_of(item.shape).box(item.shape)
        if size is not None:
            return *size, item.placing
        m = item.placing
        local = own_path(item.shape).bounds
        if local is not None and abs(m.a * m.c + m.b * m.d) <= 1e-9 * abs(m.determinant):
            x0, y0, x1, y1 = local
            return x1 - x0, y1 - y0, m @ Matrix.move(x0, y0)
    x0, y0, x1, y1 = box_of(item)
    return x1 - x0, y1 - y0, Matrix.move(x0, y0)


def join_boxes(boxes: list[Box]) -> Box:
    """Return the box around all `boxes`. Raises ValueError for none."""
    return (
        min(b[0] for b in boxes),
        min(b[1] for b in boxes),
        max(b[2] for b in boxes),
        max(b[3] for b in boxes),
    )
