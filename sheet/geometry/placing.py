"""Moving items by affine maps, and fitting photos into boxes."""

import math

from msgspec.structs import replace

from outline import Matrix
from sheet.document.errors import SheetError
from sheet.document.kinds import kind_of
from sheet.document.limits import Numbers
from sheet.document.model import CutList, Group, Item, Panes, Photo, Piece, Shape, Sheet, ShelfLink
from sheet.document.tree import map_members

from . import geometry
from .geometry import Box

__all__ = [
    "is_similarity",
    "outline_over",
    "seatable",
    "usable",
    "moved",
    "needed_share",
    "photo_under",
    "reach",
    "sized",
    "angle_of",
    "skew_of",
    "skewing",
    "covering",
    "settled",
    "boxes_meet",
]


def on_step(value: float, step: float) -> float:
    """Return the multiple of `step` nearest to a value; the value itself if the step is 0."""
    return round(value / step) * step if step > 0 else value


def is_similarity(m: Matrix) -> bool:
    """Return whether `m` keeps proportions: its columns are equally long and at right angles."""
    size = abs(m.determinant)
    return abs(m.a * m.c + m.b * m.d) <= 1e-9 * size and abs(m.a**2 + m.b**2 - m.c**2 - m.d**2) <= 1e-9 * size


def needed_share(photo: Photo, scale: float) -> float:
    """Return the share of a photo's full size that is needed to show it with `scale` px for each sheet unit."""
    m = photo.placing
    return min(1.0, scale * max(math.hypot(m.a, m.b), math.hypot(m.c, m.d)))


def _photo_map(photo: Photo, m: Matrix) -> Matrix:
    """Return the map for a photo: `m`, or if that would distort it, a uniform scaling instead."""
    if is_similarity(m):
        return m
    scale = max(math.hypot(m.a, m.b), math.hypot(m.c, m.d))
    cx, cy = photo.placing(photo.width / 2, photo.height / 2)
    tx, ty = m(cx, cy)
    return Matrix.move(tx, ty) @ Matrix.resize(scale, scale) @ Matrix.move(-cx, -cy)


def _taken_in(shape: Shape, placing: Matrix, m: Matrix) -> tuple[Shape, Matrix]:
    """Return shape and matrix mapped by `m`, whose scaling along the shape's own sides is moved into its sizes.

    A scaling that the piece has had before stays, since radii and teeth are scaled with it.
    """
    n = m @ placing
    wide, high = math.hypot(n.a, n.b), math.hypot(n.c, n.d)
    sx, sy = wide / math.hypot(placing.a, placing.b), high / math.hypot(placing.c, placing.d)
    upright = abs(n.a * n.c + n.b * n.d) <= 1e-9 * wide * high
    if not upright or (abs(sx - 1) <= 1e-12 and abs(sy - 1) <= 1e-12):
        return shape, n
    rest = Matrix(n.a / sx, n.b / sx, n.c / sy, n.d / sy, n.e, n.f)
    taken = kind_of(shape).stretched(shape, sx, sy)
    return (shape, n) if taken is None else (taken, rest)


def _panes_moved(cut: Panes, m: Matrix, part: str, details: bool) -> Panes:
    """Return the split of panes that were all mapped: the lengths along the sides are scaled with them."""
    n = m @ Matrix(*cut.frame)
    sx, sy = math.hypot(n.a, n.b), math.hypot(n.c, n.d)
    base = moved(cut.base, m, part, details)
    assert isinstance(base, Piece)
    return replace(
        cut,
        base=base,
        frame=(n.a / sx, n.b / sx, n.c / sy, n.d / sy, n.e, n.f),
        width=cut.width * sx,
        height=cut.height * sy,
        gap_x=cut.gap_x * sx,
        gap_y=cut.gap_y * sy,
        spread_x=cut.spread_x * sx,
        spread_y=cut.spread_y * sy,
        pane_width=cut.pane_width * sx,
        pane_height=cut.pane_height * sy,
        margin=cut.margin * m.scale,
        bleed=cut.bleed * m.scale,
    )


def _brought(kept: ShelfLink | None, m: Matrix) -> ShelfLink | None:
    return kept and replace(kept, matrix=(m @ Matrix(*kept.matrix)).numbers())


def moved(item: Item, m: Matrix, part: str = "both", details: bool = False) -> Item:
    """Return the item mapped by `m`; part "outline" leaves the photos of a frame in place.

    Shapes with sizes take a scaling along their own sides into them, so that radii,
    teeth and strokes keep theirs; with `details` these are scaled by the mean scale of `m`.
    """
    if isinstance(item, Group):
        cut = item.panes and _panes_moved(item.panes, m, part, details)
        inner = tuple(moved(i, m, part, details) for i in item.items)
        return replace(item, items=inner, panes=cut, shelf_link=_brought(item.shelf_link, m))
    if isinstance(item, Photo):
        return replace(item, matrix=(_photo_map(item, m) @ item.placing).numbers())
    if item.shelf_link is not None:
        item = replace(item, shelf_link=_brought(item.shelf_link, m))
    photos = item.photos
    if part == "both" and (photos or item.tried):
        photos, tried = (
            tuple(replace(p, matrix=(_photo_map(p, m) @ p.placing).numbers()) for p in lot)
            for lot in (photos, item.tried)
        )
        item = replace(item, tried=tried) if tried else item
    paint = item.paint.moved(m)
    if details:
        dashes = tuple(d * m.scale for d in paint.dashes)
        paint = replace(paint, stroke_width=paint.stroke_width * m.scale, dashes=dashes)
    if isinstance(item.shape, CutList):
        cuts = map_members(item.shape, lambda member: moved(member, m, details=details))
        finishes = cuts.finishes
        if details:
            finishes = tuple(replace(f, value=f.value * m.scale) for f in finishes)
        choice = cuts.choice
        if choice is not None:
            cells = tuple(replace(c, at=m(*c.at)) if c.at is not None else c for c in choice.cells)
            choice = replace(choice, cells=cells)
        made = replace(cuts, finishes=finishes, choice=choice)
        return replace(item, shape=made, photos=photos, paint=paint)
    shape, n = _taken_in(item.shape, item.placing, m)
    if details:
        shape = kind_of(shape).grown(shape, m.scale)
    return replace(item, shape=shape, matrix=n.numbers(), photos=photos, paint=paint)


def reach(item: Item, m: Matrix) -> float:
    """Return a bound on how far from the sheet's corner the item reaches along either axis, mapped by `m` (px).

    It is the bound of a box around it, its own turned one if it has one, so that no outline is computed.
    """
    if isinstance(item, Group):
        return max(reach(i, m) for i in item.items)
    x0, y0 = 0.0, 0.0
    if isinstance(item, Photo):
        size: tuple[float, float] | None = (item.width, item.height)
    else:
        size = None if isinstance(item.shape, CutList) else kind_of(item.shape).box(item.shape)
    if size is None:
        x0, y0, x1, y1 = geometry.box_of(item)
    else:
        m = m @ item.placing
        x1, y1 = size
    return max(abs(v) for x in (x0, x1) for y in (y0, y1) for v in m(x, y))


def angle_of(items: list[Item]) -> float:
    """Return the angle of a single item in degrees; 0 for several, whose box is upright.

    Flipping across and flipping down differ by half a turn: for a flipped item it is the smaller angle.
    """
    if len(items) != 1:
        return 0.0
    m = geometry.local_frame(items[0])[2]
    if m.determinant > 0 or abs(m.angle) <= 90:
        return m.angle
    return m.angle - math.copysign(180.0, m.angle)


def sized(items: list[Item], box: Box, field: str, value: float, keep: bool, about: tuple[float, float]) -> Matrix:
    """Return the map that makes the box of `items` `value` wide or high; the point `about` stays."""
    x0, y0, x1, y1 = box
    now = (x1 - x0) if field == "width" else (y1 - y0)
    factor = value / now if now > 0 else 1.0
    if keep or all(isinstance(i, Photo) for i in items):
        return Matrix.resize(factor, factor, about)
    return Matrix.resize(factor, 1, about) if field == "width" else Matrix.resize(1, factor, about)


def skew_of(items: list[Item]) -> float:
    """Return the skew of a single item in degrees; 0 for several."""
    if len(items) != 1:
        return 0.0
    m = geometry.local_frame(items[0])[2]
    along, across = m.a * m.c + m.b * m.d, m.determinant
    return -math.degrees(math.atan2(along, abs(across))) if across else 0.0


def skewing(items: list[Item], degrees: float, about: tuple[float, float]) -> Matrix:
    """Return the map that skews a single item, or the box of several, to `degrees` in all about a point."""
    by = math.tan(math.radians(degrees)) - math.tan(math.radians(skew_of(items)))
    turn = angle_of(items)
    x, y = about
    lean = Matrix(1, 0, -by, 1, by * y, 0)
    return Matrix.turn(turn, (x, y)) @ lean @ Matrix.turn(-turn, (x, y))


def boxes_meet(a: Box, b: Box) -> bool:
    """Return whether two boxes overlap in some area."""
    return a[0] < b[2] and b[0] < a[2] and a[1] < b[3] and b[1] < a[3]


def photo_under(sheet: Sheet, item: Item) -> Photo | None:
    """Return the topmost loose photo that an item overlaps."""
    box = geometry.box_of(item)
    lying = (i for i in reversed(sheet.items) if isinstance(i, Photo))
    return next((p for p in lying if boxes_meet(geometry.box_of(p), box)), None)


def usable(numbers: Numbers) -> Matrix:
    """Return a matrix from a request. Raises SheetError if it would collapse an item."""
    m = Matrix(*numbers)
    if abs(m.determinant) < 1e-12:
        raise SheetError("That would flatten it to nothing.", "Make it a little larger.")
    return m


def seatable(numbers: Numbers) -> Numbers:
    """Return a photo's matrix from a request. Raises SheetError if it would distort the photo."""
    if not is_similarity(usable(numbers)):
        raise SheetError("A photo keeps its proportions.", "Put it into an outline, and stretch that one.")
    return numbers


def outline_over(sheet: Sheet, photo: Photo) -> Piece | None:
    """Return the outline without a photo over a photo of the sheet, if there is just one."""
    box = geometry.box_of(photo)
    at = next((k for k, i in enumerate(sheet.items) if i.id == photo.id), len(sheet.items))
    over = [
        i
        for i in sheet.items[at + 1 :]
        if isinstance(i, Piece) and not (i.photos or i.hidden or i.locked or geometry.is_line(i))
    ]
    found = [i for i in over if boxes_meet(geometry.box_of(i), box)]
    return found[0] if len(found) == 1 else None


def settled(photo: Photo, box: Box, how: str) -> Photo:
    """Return the photo upright in the middle of `box`: covering it, or fitting inside ("fit")."""
    x0, y0, x1, y1 = box
    scales = ((x1 - x0) / photo.width, (y1 - y0) / photo.height)
    scale = max(scales) if how == "cover" else min(scales)
    x = (x0 + x1 - scale * photo.width) / 2
    y = (y0 + y1 - scale * photo.height) / 2
    return replace(photo, matrix=(scale, 0.0, 0.0, scale, x, y))


def covering(photo: Photo, box: Box) -> Photo:
    """Return the photo as it is if it meets `box`, else moved there to cover it."""
    if boxes_meet(geometry.box_of(photo), box):
        return photo
    return settled(photo, box, "cover")
