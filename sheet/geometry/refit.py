"""Refit: an outline in another proportion, in which nothing that should keep its form is stretched.

Each part holds as `holding` says. Radii, borders, teeth, gaps, margins and lettering
keep their sizes.
"""

from typing import Final

from msgspec.structs import replace

import outline
from outline import Matrix, OutlineError
from sheet.document.errors import SheetError
from sheet.document.kinds import EdgeRun, plain_of
from sheet.document.model import CutList, Group, Hold, Holds, Item, Panes, Photo, Piece, Sheet

from . import geometry, placing
from .anchoring import along, bands_of, guessed, inner_of, keeps_form, lengthens, line_of, turned_by
from .covering import least_scale
from .geometry import Box, covers
from .panes import cut_anew

__all__ = ["proportion_of", "refitted", "variant_size"]


def _longer(piece: Piece, axis: int, by: float) -> Piece:
    """Return a plain piece `by` longer (px) along an axis, its left or top end staying. Raises SheetError."""
    line, turned = line_of(piece.shape), turned_by(piece.placing)
    bands = bands_of(piece, axis)
    if line is None or turned is None or not bands:
        raise SheetError(
            f"“{piece.name}” has no straight run along which it could lengthen.",
            "Set a band on it, or let it be scaled.",
            "bands",
        )
    own = axis ^ turned
    factor, _ = along(piece, axis)
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
    if keeps_form(item):
        holds = replace(holds, **{k: "middle" for k in ("x", "y") if getattr(holds, k) == "both"})
    assert holds.x is not None and holds.y is not None
    left, right = _target(holds.x, old[0], old[2], (new[0], new[2]), x0, x1)
    top, bottom = _target(holds.y, old[1], old[3], (new[1], new[3]), y0, y1)
    if right - left <= 0 < x1 - x0 or bottom - top <= 0 < y1 - y0:
        raise SheetError(
            f"Nothing of “{item.name}” would be left.", "Choose a larger size, or anchor it to one side.", "width"
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
    if keeps_form(item):
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
    base, *others = (_fitted_part(i, box, longer) for i in inner_of(item))
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
    if line_of(item.shape) is None or turned_by(item.placing) is None:
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
    turned = turned_by(frame)
    old = geometry.box_of(replace(cut.base, photos=()))
    new = (old[0], old[1], old[2] + dx, old[3] + dy)
    if turned is None:
        made = placing.moved(group, _between(old, new))
        assert isinstance(made, Group)
        return made
    if new[2] <= new[0] or new[3] <= new[1]:
        raise SheetError(f"Nothing of “{group.name}” would be left.", "Choose a larger size.", "width")
    base = _fitted_whole(cut.base, new)
    assert isinstance(base, Piece)
    # the frame lies on the whole's box as it did, whichever way it is turned
    across, down = (dx, dy) if turned == 0 else (dy, dx)
    corner = _between(old, new)(frame.e, frame.f)
    again = replace(
        cut,
        base=base,
        width=cut.width + across,
        height=cut.height + down,
        frame=(frame.a, frame.b, frame.c, frame.d, *corner),
        pane_width=_pane_side(cut.pane_width, across / cut.columns),
        pane_height=_pane_side(cut.pane_height, down / cut.rows),
    )
    _, made = cut_anew(Sheet(1, 1), group, again)
    was = {i.id: i for i in group.items}
    return replace(made, items=tuple(_pane_reseated(was.get(i.id), i, cut.base, base) for i in made.items))


def _pane_side(size: float, by: float) -> float:
    """Return a pane's side that was set (px) with its part of the difference, 0 where it goes by the whole."""
    if size and size + by <= 0:
        raise SheetError("Nothing of the panes would be left.", "Choose a larger size.", "width")
    return size and size + by


def _pane_reseated(was: Item | None, now: Item, old: Piece, new: Piece) -> Item:
    """Return a pane with its photo seated anew: with all of the whole where it covers that, else in the pane alone."""
    if not isinstance(now, Piece) or not isinstance(was, Piece):
        return now
    photos = tuple(_reseated(p, *((old, new) if covers(old, p) else (was, now))) for p in now.photos)
    return replace(now, photos=photos)


def _fitted_whole(item: Item, new: Box) -> Item:
    """Return an item as it fills a box: it lengthens where it can, however it holds as a part of something."""
    whole: list[Hold] = ["both" if not isinstance(item, Piece) or lengthens(item, axis) else "scale" for axis in (0, 1)]
    return _fitted(item, geometry.box_of(item), new, Holds(whole[0], whole[1]))


def refitted(item: Item, width: float, height: float) -> Item:
    """Return a piece, frame, outline, panes or group `width` wide and `height` high (px), its left and top staying.

    How its parts hold is kept with them, so that they hold alike the next time. Raises
    SheetError for a photo, for lettering, and where a part would have nothing left.
    """
    if keeps_form(item):
        word = "photo" if isinstance(item, Photo) else "lettering"
        raise SheetError(f"“{item.name}” is a {word}, which has one proportion.", "Select a frame or an outline.", "id")
    x0, y0, x1, y1 = geometry.box_of(item)
    if x1 <= x0 or y1 <= y0:
        raise SheetError(f"“{item.name}” has no area to refit.", "Select an outline with one.", "id")
    return _fitted_whole(item, (x0, y0, x0 + width, y0 + height))


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
