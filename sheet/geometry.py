"""The shape of items on the sheet: their outlines and boxes, in sheet units."""

from functools import lru_cache

import outline
from outline import Matrix, Path

from .model import CutList, Ellipse, Item, Numbers, Photo, Piece, Plain, Rectangle, Shape

__all__ = ["Box", "outline_of", "local_frame", "photo_quad", "fill_shows", "box_of", "join_boxes", "cut"]

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


@lru_cache(maxsize=4096)
def _path(shape: Shape, matrix: Numbers) -> Path:
    if isinstance(shape, CutList):
        return _result(shape)
    if isinstance(shape, Rectangle):
        path = outline.rectangle(shape.width, shape.height, shape.radii)
    elif isinstance(shape, Ellipse):
        rx, ry = shape.width / 2, shape.height / 2
        path = outline.ellipse(rx, ry, rx, ry)
    else:
        path = Path.from_svg(shape.d, shape.fill_rule)
    return path.transform(Matrix(*matrix))


def _result(cuts: CutList) -> Path:
    steps = [s for s in cuts.steps if s.on]
    first = outline_of(cuts.base)
    if not steps:
        return outline.union([first])
    kinds = {s.operation for s in steps}
    others = [outline_of(s.member) for s in steps]
    # equal steps are one question asked of one map
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
    """Return the piece's outline on the sheet; a cut list is worked out."""
    return _path(piece.shape, piece.matrix)


def photo_quad(photo: Photo) -> Path:
    """Return the photo's four borders on the sheet."""
    return outline.rectangle(photo.width, photo.height).transform(photo.placing)


def fill_shows(piece: Piece) -> bool:
    """Tell whether any of the fill can be seen: not where one opaque photo covers the whole outline.

    Drawing it all the same would leave a fringe of it along the clipped edge.
    """
    if piece.paint.fill is None:
        return False
    opaque = [p for p in piece.photos if p.opacity >= 1 and not p.alpha]
    path = outline_of(piece)
    return not any(outline.subtract(path, [photo_quad(p)]).is_empty for p in opaque)


def box_of(item: Item) -> Box:
    """Return the exact box of the item's outline; a point at the origin where it is empty."""
    path = photo_quad(item) if isinstance(item, Photo) else outline_of(item)
    return path.bounds or (0.0, 0.0, 0.0, 0.0)


def local_frame(item: Item) -> tuple[float, float, Matrix]:
    """Return (width, height, matrix): the upright box that, placed by the matrix, holds the item.

    Turned pieces keep a turned box; cut lists and skewed pieces have an upright one.
    """
    if isinstance(item, Photo):
        return float(item.width), float(item.height), item.placing
    if isinstance(item.shape, Rectangle | Ellipse):
        return item.shape.width, item.shape.height, item.placing
    if isinstance(item.shape, Plain):
        m = item.placing
        local = Path.from_svg(item.shape.d).bounds
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
