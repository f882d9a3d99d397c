"""Refit: an outline in another proportion, with nothing stretched that should keep its form.

Each part is anchored as `anchoring` says. Radii, borders, teeth, gaps, margins and lettering
keep their sizes.
"""

import math
from typing import Any, Final, TypeAlias

from msgspec.structs import replace

import outline
from outline import Matrix, OutlineError
from outline.curves.bands import Shares, moved_by, shared_out
from sheet.document.errors import SheetError
from sheet.document.kinds import EdgeRun, Plain, plain_of
from sheet.document.model import CutList, Group, Hold, Holds, Item, Panes, Photo, Piece, Sheet
from sheet.document.tree import with_members
from sheet.reading.lengths import show_length

from . import geometry, gradients, placing
from .anchor_plan import Anchor, AnchorPlan, given, inner_of, parts_of, plans, was_guessed
from .anchoring import (
    along,
    band_groups,
    bands_of,
    free_on_sheet,
    keeps_form,
    lengthens,
    line_of,
    turned_by,
)
from .covering import least_scale
from .geometry import Box, covers
from .panes import cut_anew

__all__ = ["TooSmall", "changed_shapes", "refitted", "shapes_and_holes"]

Outer: TypeAlias = tuple[Shares | None, Shares | None]
"""Along x and y, the bands of an item's container."""
NO_OUTER: Final[Outer] = (None, None)


class TooSmall(SheetError):
    """Something cannot be that small along an axis: `least` (px) is its least length, and `why` the reason."""

    def __init__(self, name: str, least: float, axis: int, why: str, shown: str = ""):
        self.name, self.least, self.axis, self.why = name, least, axis, why
        word, field = (("wide", "width"), ("high", "height"))[axis]
        self.size = f"{shown or f'{math.ceil(least)} px'} {word}"
        super().__init__(
            f"“{name}” can’t be less than {self.size}: {why}.",
            "Choose a larger size, or anchor its parts another way.",
            field,
        )

    def shown(self, unit: str, resolution: float) -> "TooSmall":
        """Return the error with its length in a sheet's unit."""
        return TooSmall(
            self.name, self.least, self.axis, self.why, f"{show_length(self.least, unit, resolution)} {unit}"
        )


def _longer(piece: Piece, axis: int, by: float, outer: Shares | None = None) -> Piece:
    """Return a plain piece `by` longer (px) along an axis, its left or top end fixed: across the bands of its
    container if possible, unless it has bands of its own. Raises SheetError."""
    line, turned = line_of(piece.shape), turned_by(piece.placing)
    bands = bands_of(piece, axis)
    if line is None or turned is None or not bands:
        raise SheetError(
            f"“{piece.name}” has no straight part that could stretch.",
            "Add a band to it, or let it scale.",
            "bands",
        )
    own = axis ^ turned
    factor, off = along(piece, axis)
    given = piece.holds is not None and (piece.holds.x_bands, piece.holds.y_bands)[axis]
    path = geometry.own_path(line)
    longer: list[float] | float = by / abs(factor)
    shares = None if given or outer is None else _shares_within(piece, axis, by, outer)
    if shares is not None:
        bands = tuple(((a - off) / factor, (b - off) / factor) for (a, b), _ in shares)
        longer = [each / abs(factor) for _, each in shares]
    elif by < 0 and not given:
        own_shares = shared_out(band_groups(line, own), by / abs(factor))
        bands, longer = tuple(band for band, _ in own_shares), [each for _, each in own_shares]
        least = geometry.box_of(piece)[axis + 2] - geometry.box_of(piece)[axis] + sum(longer) * abs(factor)
        if sum(longer) > by / abs(factor) * (1 - 1e-9):
            raise TooSmall(piece.name, least, axis, "its straight runs are too short")
    try:
        path, now = outline.lengthened(path, own, bands, longer)
    except OutlineError as error:
        raise SheetError(f"“{piece.name}” cannot be that small: {error}.", "Choose a larger size.", "width") from None
    made = plain_of(path)
    shape = replace(piece.shape, base=made) if isinstance(piece.shape, EdgeRun) else made
    held = piece.holds if not given else replace(piece.holds or Holds(), **{("x_bands", "y_bands")[axis]: now})
    longer_piece = replace(piece, shape=shape, holds=held)
    # a mirrored piece grew to the other side
    line_was = geometry.own_path(line).transform(piece.placing).bounds
    line_now = path.transform(piece.placing).bounds
    assert line_now is not None and line_was is not None
    moved = line_was[axis] - line_now[axis]
    return _at(longer_piece, *((moved, 0.0) if axis == 0 else (0.0, moved)))


def _shares_within(piece: Piece, axis: int, by: float, outer: Shares) -> Shares | None:
    """Return the bands that a piece can lengthen across, if they make it that much longer."""
    box = geometry.box_of(piece)
    near = 1e-9 * (1 + box[axis + 2] - box[axis])
    free = free_on_sheet(piece, axis)
    own = [
        (band, each) for band, each in outer if each and any(a - near <= band[0] < band[1] <= b + near for a, b in free)
    ]
    return own if own and abs(sum(each for _, each in own) - by) <= 1e-6 * (1 + abs(by)) else None


def _fitted_parts(item: Item, box: Box, longer: Box, outer: Outer) -> list[Item]:
    """Return the parts of an item whose box `box` becomes `longer`: lengthened along the bands of the item's
    container, if these make it that much longer."""
    both = plans(item)
    by = [longer[k + 2] - longer[k] - (box[k + 2] - box[k]) for k in (0, 1)]
    shares = [_shares(item, box, axis, by[axis], outer[axis]) for axis in (0, 1)]
    out = []
    for k, part in enumerate(inner_of(item)):
        now = geometry.box_of(part)
        ends = [_target(plan, plan.anchors[k], now[i], now[i + 2], by[i], shares[i]) for i, plan in enumerate(both)]
        out.append(_fitted_part(part, now, ends, [plan.anchors[k] for plan in both], shares))
    return out


def _shares(item: Item, box: Box, axis: int, by: float, outer: Shares | None) -> Shares:
    """Return how much of a difference in length each band takes (px). Raises SheetError if they cannot take it all."""
    plan = plans(item)[axis]
    if outer is not None:
        near = 1e-6 * (1 + box[axis + 2] - box[axis])
        within = [
            (band, each) for band, each in outer if box[axis] - near <= band[0] and band[1] <= box[axis + 2] + near
        ]
        if abs(sum(each for _, each in within) - by) <= near:
            return within
    least = plan.least()
    if by < 0 and plan.high - plan.low + by < least * (1 - 1e-9):
        raise TooSmall(item.name, least, axis, _narrowest(item, axis))
    return plan.shares(by)


def _narrowest(item: Item, axis: int) -> str:
    """Return what would run out of space first, at any depth."""
    number, name = plans(item)[axis].narrowest() if inner_of(item) else (None, "")
    if name:
        return f"“{name}” would not fit"
    return f"nothing of “{item.name}” would be left" if number is None else _narrowest(inner_of(item)[number], axis)


def _target(plan: AnchorPlan, anchor: Anchor, a: float, b: float, by: float, shares: Shares) -> tuple[float, float]:
    """Return the new place of a part from a to b."""
    if (
        anchor.hold == "scale"
        and anchor.low != anchor.high
        and anchor.low[0] == plan.low
        and anchor.high[0] == plan.high
    ):
        factor = 1 + by / (plan.high - plan.low) if plan.high > plan.low else 1.0
        return plan.low + (a - plan.low) * factor, plan.low + (b - plan.low) * factor
    low, high = (sum(moved_by(shares, at) for at in places) / 2 for places in (anchor.low, anchor.high))
    if anchor.hold in ("both", "scale"):
        # a hidden edge keeps its distance to the visible one, unless that would make it visible
        low = moved_by(shares, a) if plan.low <= a and a + low < plan.low else low
        high = moved_by(shares, b) if b <= plan.high and b + high > plan.high + by else high
    return a + low, b + high


def _fitted_part(
    item: Item, box: Box, ends: list[tuple[float, float]], anchors: list[Anchor], shares: list[Shares]
) -> Item:
    for axis, (anchor, (a, b)) in enumerate(zip(anchors, ends, strict=True)):
        if b - a <= 0 < box[axis + 2] - box[axis]:
            raise SheetError(
                f"Nothing of “{item.name}” would be left.", "Choose a larger size, or anchor it to one side.", "width"
            )
        if anchor.inside is not None:
            low, high = anchor.inside
            space = high + moved_by(shares[axis], high) - low - moved_by(shares[axis], low)
            if anchor.size > high - low + 1e-9 * (1 + anchor.size) or anchor.size <= space + 1e-9 * (1 + anchor.size):
                continue
            raise SheetError(
                f"“{item.name}” needs {anchor.size:.6g} px across there, and would have {space:.6g} px.",
                "Choose a larger size, or make it smaller first.",
                ("width", "height")[axis],
            )
    target = (ends[0][0], ends[1][0], ends[0][1], ends[1][1])
    holds = Holds(anchors[0].hold, anchors[1].hold)
    outer = tuple(s if a.hold == "both" else None for s, a in zip(shares, anchors, strict=True))
    made = _fitted(item, box, target, holds, (outer[0], outer[1]))
    if isinstance(made, Photo) or isinstance(item, Photo):
        return made
    was = item.holds or Holds()
    guessed: Any = "".join(axis for axis in "xy" if getattr(was, axis) is None or axis in was.guessed)
    return replace(made, holds=replace(made.holds or holds, x=holds.x, y=holds.y, guessed=guessed))


def _fitted(item: Item, box: Box, target: Box, holds: Holds, outer: Outer = NO_OUTER) -> Item:
    """Return an item with the box `box` mapped to `target`: lengthened, or scaled along the axes set to scale."""
    near = 1e-9 * max(abs(v) for v in (*box, *target))
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
        return _fitted_bare(item, box, target, by, outer)
    made = _fitted_bare(replace(item, photos=()), box, target, by, outer)
    assert isinstance(made, Piece)
    # whatever happens to its parts, a gradient is mapped from box to box
    paint = gradients.fitted(item.paint, box, target)
    return replace(made, paint=paint, photos=tuple(_reseated(p, item, made) for p in item.photos))


def _fitted_bare(item: Item, box: Box, target: Box, by: list[float], outer: Outer) -> Item:
    """Return an item without photos of its own, scaled by a factor along either axis, lengthened if that is 1."""
    if by != [1.0, 1.0]:
        if isinstance(item, Piece) and isinstance(item.shape, Plain) and turned_by(item.placing) is not None:
            item = _stretched(item, box, by)
        else:
            item = placing.moved(item, Matrix.resize(by[0], by[1], box[:2]))
        box = geometry.box_of(item)
    ends = [box[k + 2] if by[k] != 1 else box[k] + target[k + 2] - target[k] for k in (0, 1)]
    longer = (box[0], box[1], ends[0], ends[1])
    item = _lengthened(item, box, longer, outer)
    off = (target[0] - longer[0], target[1] - longer[1])
    return placing.moved(item, Matrix.move(*off)) if off != (0.0, 0.0) else item


def _stretched(piece: Piece, box: Box, by: list[float]) -> Piece:
    """Return a plain piece scaled by a factor along either axis, except for what is inside its outer contour and would
    lose its form."""
    for axis in (0, 1):
        if by[axis] == 1:
            continue
        own = axis ^ (turned_by(piece.placing) or 0)
        path = outline.stretched(geometry.own_path(piece.shape), own, by[axis])
        piece = replace(piece, shape=plain_of(path))
        now = geometry.box_of(piece)
        piece = _at(piece, box[0] - now[0], box[1] - now[1])
    return piece


def _lengthened(item: Item, box: Box, longer: Box, outer: Outer) -> Item:
    """Return an item with the box `box` lengthened to `longer`, which begins at the same point."""
    if box == longer or isinstance(item, Photo):
        return item
    if isinstance(item, Group):
        if item.panes is not None:
            return _panes_fitted(item, item.panes, longer[2] - box[2], longer[3] - box[3])
        return replace(item, items=tuple(_fitted_parts(item, box, longer, outer)))
    return (
        _cuts_lengthened(item, box, longer, outer)
        if isinstance(item.shape, CutList)
        else _own(item, box, longer, outer)
    )


def _cuts_lengthened(item: Piece, box: Box, longer: Box, outer: Outer) -> Piece:
    cuts = item.shape
    assert isinstance(cuts, CutList)
    # a part that is switched off moves with the rest
    cuts = with_members(cuts, _fitted_parts(item, box, longer, outer))
    choice = cuts.choice
    if choice is not None:
        # a point in a cell only tells cells apart
        by = [longer[k + 2] - longer[k] - (box[k + 2] - box[k]) for k in (0, 1)]
        x, y = (_shares(item, box, axis, by[axis], outer[axis]) for axis in (0, 1))
        cells = (
            replace(c, at=(c.at[0] + moved_by(x, c.at[0]), c.at[1] + moved_by(y, c.at[1]))) if c.at else c
            for c in choice.cells
        )
        choice = replace(choice, cells=tuple(cells))
    return replace(item, shape=replace(cuts, choice=choice))


def _own(item: Piece, box: Box, longer: Box, outer: Outer) -> Piece:
    """Return a piece without a cut list lengthened: by its bands if it is a path, else by its own sizes."""
    if not isinstance(item.shape, EdgeRun):
        return _grown(item, longer[2] - box[2], longer[3] - box[3], box, outer)
    # the line takes all of the difference, since teeth keep their height; if these do not come out even, they are
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


def _grown(item: Piece, dx: float, dy: float, box: Box, outer: Outer = NO_OUTER) -> Piece:
    """Return a piece whose outline, or the line it runs along, had the box `box`, that much wider and higher (px)."""
    if line_of(item.shape) is None or turned_by(item.placing) is None:
        made = placing.moved(item, _between(box, (box[0], box[1], box[2] + dx, box[3] + dy)))
        assert isinstance(made, Piece)
        return made
    for axis, by in enumerate((dx, dy)):
        # less than the engine can distinguish
        if abs(by) > 1e-9 * (box[axis + 2] - box[axis]):
            item = _longer(item, axis, by, outer[axis])
    return item


def _between(old: Box, new: Box) -> Matrix:
    """Return the map that takes one box to another."""
    sx = (new[2] - new[0]) / (old[2] - old[0]) if old[2] > old[0] else 1.0
    sy = (new[3] - new[1]) / (old[3] - old[1]) if old[3] > old[1] else 1.0
    return Matrix(sx, 0.0, 0.0, sy, new[0] - sx * old[0], new[1] - sy * old[1])


def _reseated(photo: Photo, was: Piece, now: Piece) -> Photo:
    """Return a photo placed in an outline of another form: at the same scale over the least that covers it,
    and with the same shares cropped on either side."""
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
    """Return the share of a photo's cropped length that comes before the window; a half if nothing is cropped."""
    left = size - (high - low)
    return low / left if left > 1e-9 * size else 0.5


def _panes_fitted(group: Group, cut: Panes, dx: float, dy: float) -> Group:
    """Return panes that much wider and higher in all (px), split anew: gaps, margin and bleed keep their sizes."""
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
    # the frame keeps its place on the whole's box, whichever way it is turned
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
    """Return a pane's given side (px) with its part of the difference, 0 if it follows from the whole."""
    if size and size + by <= 0:
        raise SheetError("Nothing of the panes would be left.", "Choose a larger size.", "width")
    return size and size + by


def _pane_reseated(was: Item | None, now: Item, old: Piece, new: Piece) -> Item:
    """Return a pane with its photo placed anew: over the whole if it covered that, else in the pane alone."""
    if not isinstance(now, Piece) or not isinstance(was, Piece):
        return now
    photos = tuple(_reseated(p, *((old, new) if covers(old, p) else (was, now))) for p in now.photos)
    return replace(now, photos=photos)


def _fitted_whole(item: Item, new: Box) -> Item:
    """Return an item fitted to a box: it lengthens if it can, whatever its own anchors are."""
    whole: list[Hold] = ["both" if not isinstance(item, Piece) or lengthens(item, axis) else "scale" for axis in (0, 1)]
    return _fitted(item, geometry.box_of(item), new, Holds(whole[0], whole[1]))


def check_refits(item: Item) -> None:
    """Raise SheetError for what has one proportion only, a photo or lettering, and for what has no area."""
    if keeps_form(item):
        word = "photo" if isinstance(item, Photo) else "lettering"
        raise SheetError(f"“{item.name}” is a {word}, which has one proportion.", "Select a frame or an outline.", "id")
    x0, y0, x1, y1 = geometry.box_of(item)
    if x1 <= x0 or y1 <= y0:
        raise SheetError(f"“{item.name}” has no area to refit.", "Select an outline with one.", "id")


def refitted(item: Item, width: float, height: float, *, may_change: bool = False) -> Item:
    """Return a piece, frame, outline, panes or group `width` wide and `height` high (px), its left and top fixed.

    Its parts' anchors are stored, so that the next refit uses the same. Raises
    SheetError for a photo, for lettering, if a part would have nothing left, and,
    unless they `may_change`, if shapes or holes would merge, come apart or vanish.
    """
    check_refits(item)
    x0, y0, x1, y1 = geometry.box_of(item)
    made = _fitted_whole(item, (x0, y0, x0 + width, y0 + height))
    now = geometry.box_of(made)
    for axis, wanted in ((0, width), (1, height)):
        came = now[axis + 2] - now[axis]
        # its own anchors are not a reason to refuse
        if abs(came - wanted) > 1e-6 * (1 + wanted) and not _was_said(item, axis):
            if came > wanted:
                part = _sticking_out(made, axis, (x0, y0)[axis], wanted)
                raise TooSmall(item.name, came, axis, f"{part} would stick out")
            word, field = (("wide", "width"), ("high", "height"))[axis]
            raise SheetError(
                f"“{item.name}” would not be as {word} as that: its edge would be cut away.",
                "Choose another size, or anchor what cuts it another way.",
                field,
            )
    why = "" if may_change else changed_shapes(item, made)
    if why:
        field = "width" if abs(width - (x1 - x0)) > abs(height - (y1 - y0)) else "height"
        raise SheetError(why, "Choose a larger size, or anchor its parts another way.", field)
    return made


def changed_shapes(item: Item, made: Item) -> str:
    """Return in words that shapes or holes merge, come apart or vanish in a refit; empty if none do."""
    had, has = shapes_and_holes(item), shapes_and_holes(made)
    if has == had:
        return ""
    return f"At that size “{item.name}” is {_counted(*has)}, not {_counted(*had)}."


def shapes_and_holes(item: Item) -> tuple[int, int]:
    """Return the number of shapes and holes of an item's outlines."""
    areas = [a for p in geometry.pieces_of(item) for a in outline.union([geometry.outline_of(p)]).loop_areas().tolist()]
    return sum(a > 0 for a in areas), sum(a < 0 for a in areas)


def _counted(shapes: int, holes: int) -> str:
    return f"{shapes} shape{'s' * (shapes != 1)} with {holes} hole{'s' * (holes != 1)}"


def _sticking_out(made: Item, axis: int, low: float, size: float) -> str:
    """Return the part of an item that reaches farthest beyond a size along an axis, in words."""
    parts = inner_of(made)
    if isinstance(made, Piece) and isinstance(made.shape, CutList) and made.shape.choice is None:
        # what is cut away may reach beyond
        adding = [s.member for s in made.shape.steps if s.on and s.operation in ("union", "exclude")]
        parts = (made.shape.base, *adding)
    boxes = [(p.name, geometry.box_of(p)) for p in parts]
    over = {name: max(low - box[axis], box[axis + 2] - low - size) for name, box in boxes}
    return f"its part “{max(over, key=lambda name: over[name])}”" if over else "one of its parts"


def _was_said(item: Item, axis: int) -> bool:
    """Return whether an item, or a part of it, was anchored by hand along an axis."""
    own = isinstance(item, Piece) and item.holds is not None and (item.holds.x_bands, item.holds.y_bands)[axis]
    return bool(own) or any(given(p.item, axis) and not was_guessed(p.item, axis) for p in parts_of(item))
