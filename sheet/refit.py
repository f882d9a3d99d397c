"""Refit: an outline in another proportion, in which nothing that should keep its form is stretched.

Each part holds, along each axis, to a side, to the middle, to both sides (it lengthens),
or is scaled. Radii, borders, teeth, gaps, margins and lettering keep their sizes.
"""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Final

from msgspec.structs import replace

import outline
from outline import Matrix, OutlineError, Path

from . import geometry, placing
from .covering import least_scale
from .errors import SheetError
from .geometry import Box, covers
from .kinds import EdgeRun, Ellipse, Freehand, Lettering, Plain, Polygon, Silhouette, Star, plain_of
from .model import CutList, Group, Hold, Holds, Item, Panes, Photo, Piece, Shape, Sheet, Step
from .panes import cut_anew

__all__ = [
    "Part",
    "bands_of",
    "bands_on_sheet",
    "can_hold",
    "crossed",
    "guessed",
    "has_bands",
    "holds_set",
    "parts_of",
    "proportion_of",
    "refitted",
    "slack",
    "variant_size",
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
    """A part of what is refitted: the piece, its box, and how it holds along x and y, as given or guessed.

    `depth` is how many outlines and groups it lies in.
    """

    item: Item
    box: Box
    holds: Holds
    depth: int


def _inner(item: Item) -> tuple[Item, ...]:
    """Return the parts of an item: of a group its items, of an outline the pieces of its cut list."""
    if isinstance(item, Group):
        return () if item.panes is not None else item.items
    if isinstance(item, Piece) and isinstance(item.shape, CutList):
        return (item.shape.base, *(s.member for s in item.shape.steps))
    return ()


def _keeps_form(item: Item) -> bool:
    return isinstance(item, Photo) or (isinstance(item, Piece) and isinstance(item.shape, Lettering))


def can_hold(item: Item) -> tuple[Hold, ...]:
    """Return how a part may hold: what cannot lengthen holds to a side or the middle, or is scaled."""
    return ("near", "middle", "far", "scale") if _keeps_form(item) else ("near", "middle", "far", "both", "scale")


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
    if _keeps_form(item):
        return None
    if not isinstance(item, Piece) or (_lengthens(item, axis) and not isinstance(item.shape, _REGULAR)):
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
    yield from _parts(item, geometry.box_of(item), 1)


def _parts(item: Item, box: Box, depth: int) -> Iterator[Part]:
    for inner in _inner(item):
        holds = guessed(inner, box)
        own = geometry.box_of(inner)
        yield Part(inner, own, holds, depth)
        if "both" in (holds.x, holds.y):
            yield from _parts(inner, own, depth + 1)


def holds_set(item: Item, given: dict[str, Holds]) -> Item:
    """Return an item whose parts hold as is said by their ids; the others as they did."""
    if isinstance(item, Photo):
        return item
    if item.id in given:
        item = replace(item, holds=given[item.id])
    if isinstance(item, Group):
        return replace(item, items=tuple(holds_set(i, given) for i in item.items))
    if not isinstance(item.shape, CutList):
        return item
    base, steps = holds_set(item.shape.base, given), []
    assert isinstance(base, Piece)
    for step in item.shape.steps:
        member = holds_set(step.member, given)
        assert isinstance(member, Piece)
        steps.append(Step(step.operation, member, step.on))
    return replace(item, shape=replace(item.shape, base=base, steps=tuple(steps)))


# -- what lengthens, and across which bands


def _turned(m: Matrix) -> int | None:
    """Return 0 where a map keeps the axes, 1 where it swaps them, None where it leans them."""
    near = 1e-9 * (abs(m.a) + abs(m.b) + abs(m.c) + abs(m.d))
    if abs(m.b) <= near and abs(m.c) <= near:
        return 0
    return 1 if abs(m.a) <= near and abs(m.d) <= near else None


def _line_of(shape: Shape) -> Plain | None:
    """Return the plain path that a shape is, or runs along."""
    if isinstance(shape, EdgeRun):
        shape = shape.base
    return shape if isinstance(shape, Plain) else None


def bands_of(piece: Piece, axis: int) -> tuple[tuple[float, float], ...]:
    """Return the bands, in its own coordinates, across which a plain piece lengthens along an axis of the sheet:
    those given, or those found; none where it has no straight run across."""
    turned = _turned(piece.placing)
    line = _line_of(piece.shape)
    if line is None or turned is None:
        return ()
    if piece.holds is not None:
        given = (piece.holds.x_bands, piece.holds.y_bands)[axis]
        if given:
            return given
    return outline.find_bands(geometry.own_path(line), axis ^ turned)


def _along(piece: Piece, axis: int) -> tuple[float, float]:
    """Return factor and offset that take a plain piece's own coordinates along an axis of the sheet to it."""
    m = piece.placing
    factor = (m.a, m.d)[axis] if _turned(m) == 0 else (m.c, m.b)[axis]
    return factor, (m.e, m.f)[axis]


def bands_on_sheet(piece: Piece, axis: int) -> list[tuple[float, float]]:
    """Return the bands of a plain piece along an axis, in px of the sheet."""
    factor, off = _along(piece, axis)
    return sorted(
        (min(p, q), max(p, q)) for p, q in ((a * factor + off, b * factor + off) for a, b in bands_of(piece, axis))
    )


def has_bands(item: Item) -> bool:
    """Tell whether an item is one plain path, which lengthens by bands."""
    return isinstance(item, Piece) and _line_of(item.shape) is not None and _turned(item.placing) is not None


def with_bands(item: Item, axis: int, bands: Iterable[tuple[float, float]]) -> Item:
    """Return a plain piece with its bands along an axis set, in px of the sheet; none where they are to be found.

    Raises SheetError for what has no bands.
    """
    if not isinstance(item, Piece) or not has_bands(item):
        raise SheetError(f"“{item.name}” has parts that hold, and no bands.", "Click the pins of its parts.", "bands")
    factor, off = _along(item, axis)
    own = (((a - off) / factor, (b - off) / factor) for a, b in bands)
    told = tuple(sorted((min(b), max(b)) for b in own))
    if any(b - a <= 0 for a, b in told):
        raise SheetError("A band has a width greater than 0.", "Drag its edges apart.", "bands")
    return replace(item, holds=replace(item.holds or Holds(), **{("x_bands", "y_bands")[axis]: told}))


def _lengthens(piece: Piece, axis: int) -> bool:
    """Tell whether a piece can be longer along an axis without a part of it being stretched."""
    if isinstance(piece.shape, CutList):
        return True
    if isinstance(piece.shape, Freehand | Silhouette) or _turned(piece.placing) is None:
        return False
    return _line_of(piece.shape) is None or bool(bands_of(piece, axis))


def _longer(piece: Piece, axis: int, by: float) -> Piece:
    """Return a plain piece `by` longer (px) along an axis, its left or top end staying. Raises SheetError."""
    line, turned = _line_of(piece.shape), _turned(piece.placing)
    bands = bands_of(piece, axis)
    if line is None or turned is None or not bands:
        raise SheetError(
            f"“{piece.name}” has no straight run along which it could lengthen.",
            "Set a band on it, or let it be scaled.",
            "bands",
        )
    own = axis ^ turned
    factor, _ = _along(piece, axis)
    try:
        path, now = outline.lengthened(geometry.own_path(line), own, bands, by / abs(factor))
    except OutlineError as error:
        raise SheetError(f"“{piece.name}” cannot be that small: {error}.", "Choose a larger size.", "width") from None
    made = plain_of(path)
    shape = replace(piece.shape, base=made) if isinstance(piece.shape, EdgeRun) else made
    holds = replace(piece.holds or Holds(), **{("x_bands", "y_bands")[axis]: now})
    longer = replace(piece, shape=shape, holds=holds)
    # a mirrored one grew to the other side
    line_was = geometry.own_path(line).transform(piece.placing).bounds
    line_now = path.transform(piece.placing).bounds
    assert line_now is not None and line_was is not None
    off = line_was[axis] - line_now[axis]
    return _at(longer, *((off, 0.0) if axis == 0 else (0.0, off)))


# -- the refit itself


def _target(hold: Hold, low: float, high: float, now: tuple[float, float], a: float, b: float) -> tuple[float, float]:
    """Return where a part from a to b comes to lie in what reached from low to high, and reaches to `now`."""
    new_low, new_high = now
    if hold == "scale":
        by = (new_high - new_low) / (high - low) if high > low else 1.0
        return new_low + (a - low) * by, new_low + (b - low) * by
    if hold == "both":
        return new_low + (a - low), new_high - (high - b)
    if hold == "near":
        by = new_low - low
    elif hold == "far":
        by = new_high - high
    else:
        by = (new_low + new_high - low - high) / 2
    return a + by, b + by


def _fitted_part(item: Item, old: Box, new: Box) -> Item:
    """Return a part of what filled the box `old`, as it is where that fills `new`."""
    holds = guessed(item, old)
    x0, y0, x1, y1 = geometry.box_of(item)
    if _keeps_form(item):
        holds = replace(holds, **{k: "middle" for k in ("x", "y") if getattr(holds, k) == "both"})
    assert holds.x is not None and holds.y is not None
    left, right = _target(holds.x, old[0], old[2], (new[0], new[2]), x0, x1)
    top, bottom = _target(holds.y, old[1], old[3], (new[1], new[3]), y0, y1)
    if right - left <= 0 < x1 - x0 or bottom - top <= 0 < y1 - y0:
        raise SheetError(
            f"Nothing of “{item.name}” would be left.", "Choose a larger size, or let it hold to one side.", "width"
        )
    made = _fitted(item, (x0, y0, x1, y1), (left, top, right, bottom), holds)
    return made if isinstance(made, Photo) else replace(made, holds=replace(made.holds or holds, x=holds.x, y=holds.y))


def _fitted(item: Item, box: Box, target: Box, holds: Holds) -> Item:
    """Return an item that filled `box` as it fills `target`: lengthened, or scaled along the axes that say so."""
    near = 1e-12 * max(abs(v) for v in (*box, *target))
    grown = [target[k + 2] - target[k] - (box[k + 2] - box[k]) for k in (0, 1)]
    if all(abs(g) <= near for g in grown):
        return placing.moved(item, Matrix.move(target[0] - box[0], target[1] - box[1]))
    by = [
        (target[k + 2] - target[k]) / (box[k + 2] - box[k]) if hold == "scale" and abs(grown[k]) > near else 1.0
        for k, hold in enumerate((holds.x, holds.y))
    ]
    if _keeps_form(item):
        least = min(by)
        sized = placing.moved(item, Matrix.resize(least, least))
        now = geometry.box_of(sized)
        off_x, off_y = ((target[k] + target[k + 2] - now[k] - now[k + 2]) / 2 for k in (0, 1))
        return placing.moved(sized, Matrix.move(off_x, off_y))
    if not isinstance(item, Piece):
        return _fitted_bare(item, box, target, by)
    made = _fitted_bare(replace(item, photos=()), box, target, by)
    assert isinstance(made, Piece)
    return replace(made, photos=tuple(_reseated(p, item, made) for p in item.photos))


def _fitted_bare(item: Item, box: Box, target: Box, by: list[float]) -> Item:
    """Return an item without photos of its own, scaled by a factor along either axis, lengthened where that is 1."""
    if by != [1.0, 1.0]:
        item = placing.moved(item, Matrix.resize(by[0], by[1], box[:2]))
        box = geometry.box_of(item)
    ends = [box[k + 2] if by[k] != 1 else box[k] + target[k + 2] - target[k] for k in (0, 1)]
    longer = (box[0], box[1], ends[0], ends[1])
    item = _lengthened(item, box, longer)
    off = (target[0] - longer[0], target[1] - longer[1])
    return placing.moved(item, Matrix.move(*off)) if off != (0.0, 0.0) else item


def _lengthened(item: Item, box: Box, longer: Box) -> Item:
    """Return an item that filled `box` lengthened so that it fills `longer`, which begins where that does."""
    if box == longer or isinstance(item, Photo):
        return item
    if isinstance(item, Group):
        if item.panes is not None:
            return _panes_fitted(item, item.panes, longer[2] - box[2], longer[3] - box[3])
        return replace(item, items=tuple(_fitted_part(i, box, longer) for i in item.items))
    return _cuts_lengthened(item, box, longer) if isinstance(item.shape, CutList) else _own(item, box, longer)


def _cuts_lengthened(item: Piece, box: Box, longer: Box) -> Piece:
    cuts = item.shape
    assert isinstance(cuts, CutList)
    # a part that is switched off goes along
    base, *others = (_fitted_part(i, box, longer) for i in _inner(item))
    assert isinstance(base, Piece)
    steps = []
    for step, member in zip(cuts.steps, others, strict=True):
        assert isinstance(member, Piece)
        steps.append(replace(step, member=member))
    choice = cuts.choice
    if choice is not None:
        # a place in a cell goes along in proportion: it only tells cells apart
        along = _between(box, longer)
        choice = replace(choice, cells=tuple(replace(c, at=along(*c.at)) if c.at else c for c in choice.cells))
    return replace(item, shape=replace(cuts, base=base, steps=tuple(steps), choice=choice))


def _own(item: Piece, box: Box, longer: Box) -> Piece:
    """Return a piece without a cut list lengthened: by its bands where it is a path, else by its own sizes."""
    if not isinstance(item.shape, EdgeRun):
        return _grown(item, longer[2] - box[2], longer[3] - box[3], box)
    # the line takes all of the difference, since teeth keep their height; where they do not come out even, they are
    # a little larger or smaller, and so is the line
    made = item
    for _ in range(8):
        now = geometry.box_of(made)
        dx, dy = longer[2] - longer[0] - (now[2] - now[0]), longer[3] - longer[1] - (now[3] - now[1])
        if max(abs(dx), abs(dy)) <= 1e-12 * max(longer[2] - longer[0], longer[3] - longer[1]):
            break
        line = geometry.box_of(replace(made, shape=made.shape.base)) if isinstance(made.shape, EdgeRun) else now
        made = _grown(made, dx, dy, line)
    now = geometry.box_of(made)
    off_x, off_y = ((longer[k] + longer[k + 2] - now[k] - now[k + 2]) / 2 for k in (0, 1))
    return _at(made, off_x, off_y)


def _at(piece: Piece, dx: float, dy: float) -> Piece:
    return replace(piece, matrix=(Matrix.move(dx, dy) @ piece.placing).numbers())


def _grown(item: Piece, dx: float, dy: float, box: Box) -> Piece:
    """Return a piece whose outline, or the line it runs along, filled `box`, so much wider and higher (px)."""
    if _line_of(item.shape) is None or _turned(item.placing) is None:
        made = placing.moved(item, _between(box, (box[0], box[1], box[2] + dx, box[3] + dy)))
        assert isinstance(made, Piece)
        return made
    for axis, by in enumerate((dx, dy)):
        if by:
            item = _longer(item, axis, by)
    return item


def _between(old: Box, new: Box) -> Matrix:
    """Return the map that takes one box to another."""
    sx = (new[2] - new[0]) / (old[2] - old[0]) if old[2] > old[0] else 1.0
    sy = (new[3] - new[1]) / (old[3] - old[1]) if old[3] > old[1] else 1.0
    return Matrix(sx, 0.0, 0.0, sy, new[0] - sx * old[0], new[1] - sy * old[1])


def _reseated(photo: Photo, was: Piece, now: Piece) -> Photo:
    """Return a photo as it lies in an outline of another form: as much larger than the least that covers it as it was,
    and showing as much on either side of what is cut off."""
    before = geometry.window(was, photo)
    if before is None or geometry.window(now, photo) is None:
        return photo
    if not covers(was, photo):
        old, new = geometry.box_of(was), geometry.box_of(now)
        off = Matrix.move((new[0] + new[2] - old[0] - old[2]) / 2, (new[1] + new[3] - old[1] - old[3]) / 2)
        return replace(photo, matrix=(off @ photo.placing).numbers())
    by = least_scale(now, photo) / least_scale(was, photo)
    seated = replace(photo, matrix=(photo.placing @ Matrix.resize(by, by)).numbers())
    after = geometry.window(now, seated)
    assert after is not None
    off_x, off_y = (
        after[k] - (size - (after[k + 2] - after[k])) * _share(before[k], before[k + 2], size)
        for k, size in ((0, photo.width), (1, photo.height))
    )
    return replace(seated, matrix=(seated.placing @ Matrix.move(off_x, off_y)).numbers())


def _share(low: float, high: float, size: float) -> float:
    """Return which share of what a window leaves of a photo lies before it; a half where it leaves nothing."""
    left = size - (high - low)
    return low / left if left > 1e-9 * size else 0.5


def _panes_fitted(group: Group, cut: Panes, dx: float, dy: float) -> Group:
    """Return panes whose whole is wider and higher by so much (px), cut anew: gaps, margin and bleed keep theirs."""
    frame = Matrix(*cut.frame)
    turned = _turned(frame)
    old = geometry.box_of(replace(cut.base, photos=()))
    new = (old[0], old[1], old[2] + dx, old[3] + dy)
    if turned is None or cut.pane_width or cut.pane_height:
        made = placing.moved(group, _between(old, new))
        assert isinstance(made, Group)
        return made
    if new[2] <= new[0] or new[3] <= new[1]:
        raise SheetError(f"Nothing of “{group.name}” would be left.", "Choose a larger size.", "width")
    base = _fitted_whole(cut.base, new)
    assert isinstance(base, Piece)
    # the frame lies on the whole's box as it did, whichever way it is turned
    wide, high = (cut.width + dx, cut.height + dy) if turned == 0 else (cut.width + dy, cut.height + dx)
    corner = _between(old, new)(frame.e, frame.f)
    again = replace(cut, base=base, width=wide, height=high, frame=(frame.a, frame.b, frame.c, frame.d, *corner))
    _, made = cut_anew(Sheet(1, 1), group, again)
    was = {i.id: i for i in group.items}
    return replace(made, items=tuple(_pane_reseated(was.get(i.id), i, cut.base, base) for i in made.items))


def _pane_reseated(was: Item | None, now: Item, old: Piece, new: Piece) -> Item:
    """Return a pane with its photo seated anew: with all of the whole where it covers that, else in the pane alone."""
    if not isinstance(now, Piece) or not isinstance(was, Piece):
        return now
    photos = tuple(_reseated(p, *((old, new) if covers(old, p) else (was, now))) for p in now.photos)
    return replace(now, photos=photos)


def _fitted_whole(item: Item, new: Box) -> Item:
    """Return an item as it fills a box: it lengthens where it can, however it holds as a part of something."""
    whole: list[Hold] = [
        "both" if not isinstance(item, Piece) or _lengthens(item, axis) else "scale" for axis in (0, 1)
    ]
    return _fitted(item, geometry.box_of(item), new, Holds(whole[0], whole[1]))


def refitted(item: Item, width: float, height: float) -> Item:
    """Return a piece, frame, outline, panes or group `width` wide and `height` high (px), its left and top staying.

    How its parts hold is kept with them, so that they hold alike the next time. Raises
    SheetError for a photo, for lettering, and where a part would have nothing left.
    """
    if _keeps_form(item):
        word = "photo" if isinstance(item, Photo) else "lettering"
        raise SheetError(f"“{item.name}” is a {word}, which has one proportion.", "Choose a frame or an outline.", "id")
    x0, y0, x1, y1 = geometry.box_of(item)
    if x1 <= x0 or y1 <= y0:
        raise SheetError(f"“{item.name}” has no area to refit.", "Choose an outline with one.", "id")
    return _fitted_whole(item, (x0, y0, x0 + width, y0 + height))


def slack(item: Item) -> tuple[str, ...]:
    """Return the names of what is stretched where the item gets another proportion: parts that are scaled."""
    names = [p.item.name for p in parts_of(item) if "scale" in (p.holds.x, p.holds.y)]
    return tuple(dict.fromkeys(names))


def crossed(piece: Piece, axis: int) -> int:
    """Return how many curves of a plain piece lie across its bands along an axis, and would change their form."""
    line, turned = _line_of(piece.shape), _turned(piece.placing)
    bands = bands_of(piece, axis)
    if line is None or turned is None or not bands:
        return 0
    path: Path = geometry.own_path(line)
    return outline.curves_across(path, axis ^ turned, bands)


LONGER: Final = 1.5
"""How many times longer than high a landscape is where nothing else says so: common practice for photos."""


def proportion_of(width: float, height: float) -> str:
    """Return the word for a proportion: landscape, square or portrait."""
    ratio = width / height
    return "square" if 0.95 < ratio < 1.05 else "landscape" if ratio > 1 else "portrait"


def variant_size(width: float, height: float, variant: str) -> tuple[float, float]:
    """Return the size of a variant: the shorter side stays, the longer one is that of the source where it has one."""
    short, long = min(width, height), max(width, height)
    long = long if long / short > 1.05 else short * LONGER
    return {"landscape": (long, short), "square": (short, short), "portrait": (short, long)}[variant]
