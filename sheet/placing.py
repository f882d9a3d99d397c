"""Moving items by affine maps, and seating photos in boxes."""

import math

from msgspec.structs import replace

from outline import Matrix

from . import geometry
from .geometry import Box
from .model import CutList, Ellipse, Item, Photo, Piece, Rectangle, Step

__all__ = ["moved", "sized", "angle_of", "covering", "settled", "boxes_meet"]


def _is_similarity(m: Matrix) -> bool:
    """Tell whether `m` keeps proportions: its columns are as long and at right angles."""
    size = abs(m.determinant)
    return abs(m.a * m.c + m.b * m.d) <= 1e-9 * size and abs(m.a**2 + m.b**2 - m.c**2 - m.d**2) <= 1e-9 * size


def _photo_map(photo: Photo, m: Matrix) -> Matrix:
    """Return the map for a photo: `m`, or where that would distort, an even scaling that goes along."""
    if _is_similarity(m):
        return m
    scale = max(math.hypot(m.a, m.b), math.hypot(m.c, m.d))
    cx, cy = photo.placing(photo.width / 2, photo.height / 2)
    tx, ty = m(cx, cy)
    return Matrix.move(tx, ty) @ Matrix.resize(scale, scale) @ Matrix.move(-cx, -cy)


def moved(item: Item, m: Matrix, part: str = "both") -> Item:
    """Return the item mapped by `m`; part "outline" leaves the photos of a frame where they lie.

    Rectangles and ellipses take a scaling along their own sides into their width and
    height, so that radii and strokes keep their sizes.
    """
    if isinstance(item, Photo):
        return replace(item, matrix=(_photo_map(item, m) @ item.placing).numbers())
    photos = item.photos
    if part == "both":
        photos = tuple(replace(p, matrix=(_photo_map(p, m) @ p.placing).numbers()) for p in photos)
    if isinstance(item.shape, CutList):
        cuts = item.shape
        base = moved(cuts.base, m)
        assert isinstance(base, Piece)
        steps = []
        for step in cuts.steps:
            member = moved(step.member, m)
            assert isinstance(member, Piece)
            steps.append(Step(step.operation, member, step.on))
        return replace(item, shape=CutList(base, tuple(steps)), photos=photos)
    n = m @ item.placing
    shape = item.shape
    if isinstance(shape, Rectangle | Ellipse):
        sx, sy = math.hypot(n.a, n.b), math.hypot(n.c, n.d)
        upright = abs(n.a * n.c + n.b * n.d) <= 1e-9 * sx * sy
        if upright and (abs(sx - 1) > 1e-12 or abs(sy - 1) > 1e-12):
            shape = replace(shape, width=shape.width * sx, height=shape.height * sy)
            n = Matrix(n.a / sx, n.b / sx, n.c / sy, n.d / sy, n.e, n.f)
    return replace(item, shape=shape, matrix=n.numbers(), photos=photos)


def angle_of(items: list[Item]) -> float:
    """Return the turn of a single item in degrees; 0 for several, whose box is upright."""
    if len(items) != 1:
        return 0.0
    return geometry.local_frame(items[0])[2].angle


def sized(items: list[Item], box: Box, field: str, value: float, keep: bool) -> Matrix:
    """Return the map that makes the box of `items` `value` wide or high, from its upper left corner.

    A single turned item is stretched along its own sides only where that is the same
    thing; else the whole box is scaled.
    """
    x0, y0, x1, y1 = box
    now = (x1 - x0) if field == "width" else (y1 - y0)
    factor = value / now if now > 0 else 1.0
    if keep or all(isinstance(i, Photo) for i in items):
        return Matrix.resize(factor, factor, (x0, y0))
    return Matrix.resize(factor, 1, (x0, y0)) if field == "width" else Matrix.resize(1, factor, (x0, y0))


def boxes_meet(a: Box, b: Box) -> bool:
    """Tell whether two boxes share some area."""
    return a[0] < b[2] and b[0] < a[2] and a[1] < b[3] and b[1] < a[3]


def settled(photo: Photo, box: Box, how: str) -> Photo:
    """Return the photo upright in the middle of `box`: covering it, or fitting inside ("fit")."""
    x0, y0, x1, y1 = box
    scales = ((x1 - x0) / photo.width, (y1 - y0) / photo.height)
    scale = max(scales) if how == "cover" else min(scales)
    x = (x0 + x1 - scale * photo.width) / 2
    y = (y0 + y1 - scale * photo.height) / 2
    return replace(photo, matrix=(scale, 0.0, 0.0, scale, x, y))


def covering(photo: Photo, box: Box) -> Photo:
    """Return the photo as it lies where it meets `box`, else brought there to cover it."""
    if boxes_meet(geometry.box_of(photo), box):
        return photo
    return settled(photo, box, "cover")
