"""Where the parts of an outline go in another proportion: every visible edge gets one new place.

Along each axis the difference goes into bands between the visible edges, the best
first; what is on one side of a band moves with that side. So edges that met still meet,
and what was cut away stays away, because a hidden edge keeps its distance to the nearest
visible one. A part that keeps its form moves with what it is inside: with the middle if it is
centred, else with the nearer edge.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Final, TypeAlias

from outline import OutlineError
from outline.curves.bands import EVEN, Groups, Shares, most_shorter, ordered_bands, shared_out
from sheet.caching import cached
from sheet.document.kinds import Ellipse, Polygon, Rectangle, Star
from sheet.document.model import CutList, Group, Hold, Holds, Item, Photo, Piece
from sheet.document.tree import members

from . import geometry
from .anchoring import free_on_sheet, keeps_form, lengthens, turned_by
from .geometry import Box

__all__ = [
    "Anchor",
    "Part",
    "AnchorPlan",
    "given",
    "inner_of",
    "refitted_parts",
    "parts_of",
    "plans",
    "shown_box",
    "stretched",
    "was_guessed",
]

Span: TypeAlias = tuple[float, float]

SPANS: Final = 0.5
"""A part with at least this share of the whole's length spans it."""
LARGE_PART: Final = 0.25
"""A part off the middle with at least this share of the whole's length may span it."""
WHOLE: Final = 0.9
"""A part with this share of the whole along both axes is all of it; in the middle, `SPANS` is enough."""
REGULAR: Final = (Ellipse, Polygon, Star)
"""Shapes that are all form: longer along one axis, they are stretched."""


@dataclass(frozen=True, slots=True)
class Anchor:
    """How a part is anchored along an axis, and the places that its two edges follow: the mean of two for each.

    `inside` is what it must fit into, if it is inside something, with that one's visible `size`.
    """

    hold: Hold
    low: Span
    high: Span
    inside: Span | None = None
    size: float = 0.0


@dataclass(frozen=True, slots=True)
class AnchorPlan:
    """Along one axis: the visible range from `low` to `high`, bands in the order in which they take the difference, and
    the anchors of the parts. `limits` says how much shorter each range may get for what keeps its form to fit."""

    low: float
    high: float
    groups: Groups
    anchors: tuple[Anchor, ...]
    limits: tuple[tuple[Span, float, str], ...] = ()

    def least(self) -> float:
        """Return the least possible length (px)."""
        return _least(self)

    def shares(self, by: float) -> Shares:
        """Return the bands that take a difference in length (px), and the share of each, as far as they can."""
        return shared_out(self.groups, by, [(span, limit) for span, limit, _ in self.limits])

    def narrowest(self) -> tuple[int | None, str]:
        """Return what would be squeezed to nothing at the first band: the smallest part that lengthens there, or the
        name of what keeps its form in it."""
        near = 1e-6 * (self.high - self.low)
        low, high = self.groups[0][0][0] + near, self.groups[0][-1][1] - near
        most = 0.98 * sum(b - a for a, b in self.groups[0])
        names = [(limit, name) for (a, b), limit, name in self.limits if a <= low and high <= b and limit < most]
        if names:
            return None, min(names)[1]
        sizes = [
            (anchor.high[0] - anchor.low[0], k)
            for k, anchor in enumerate(self.anchors)
            if anchor.hold in ("both", "scale") and anchor.low[0] <= low and anchor.high[0] >= high
        ]
        return (min(sizes)[1] if sizes else None), ""


@cached(entries=512)
def _least(plan: AnchorPlan) -> float:
    if any(a == b for group in plan.groups for a, b in group):
        return 0.0
    numbers = [(span, limit) for span, limit, _ in plan.limits]
    return plan.high - plan.low - most_shorter(plan.groups, (plan.low, plan.high), numbers)


def inner_of(item: Item) -> tuple[Item, ...]:
    """Return the parts of an item: the items of a group, the pieces of an outline's cut list."""
    if isinstance(item, Group):
        return () if item.panes is not None else item.items
    if isinstance(item, Piece) and isinstance(item.shape, CutList):
        return members(item.shape)
    return ()


@dataclass(frozen=True, slots=True)
class Part:
    """A part of the refitted item: the piece, its box, and its anchors along x and y, as given or guessed."""

    item: Item
    box: Box
    holds: Holds


@dataclass(frozen=True, slots=True)
class _Shown:
    """A part, its box, the box of its visible border, and whether it adds area."""

    item: Item
    box: Box
    shown: Box
    adds: bool

    def span(self, axis: int) -> Span:
        return self.shown[axis], self.shown[axis + 2]


def shown_box(item: Item) -> Box:
    """Return the box of an item's parts, without what finishes add."""
    if isinstance(item, Piece) and isinstance(item.shape, CutList):
        return geometry.result(item.shape).bounds or geometry.box_of(item)
    return geometry.box_of(item)


@cached(entries=512)
def _shown(item: Item) -> tuple[_Shown, ...]:
    whole = shown_box(item)
    if not isinstance(item, Piece) or not isinstance(item.shape, CutList):
        boxes = [geometry.box_of(i) for i in inner_of(item)]
        return tuple(_Shown(i, box, box, True) for i, box in zip(inner_of(item), boxes, strict=True))
    cuts = item.shape
    adds = [True, *(s.operation != "subtract" for s in cuts.steps)]
    pieces = members(cuts)
    try:
        found, areas = geometry.cell_map(cuts)
        chosen = geometry.chosen_of(cuts, found, areas)
        shared = {k: found.shared_border(chosen, n) for n, k in enumerate(areas)}
    except OutlineError:
        shared = {}
    out = []
    for k, piece in enumerate(pieces):
        box = geometry.box_of(piece)
        seen = [b for p in shared.get(k, ()) if (b := p.bounds)]
        out.append(_Shown(piece, box, geometry.join_boxes(seen) if seen else _clipped(box, whole), adds[k]))
    return tuple(out)


def _clipped(box: Box, whole: Box) -> Box:
    x0, y0, x1, y1 = (min(max(v, whole[k % 2]), whole[k % 2 + 2]) for k, v in enumerate(box))
    return x0, y0, x1, y1


@cached(entries=512)
def plans(item: Item) -> tuple[AnchorPlan, AnchorPlan]:
    """Return where an item's parts go along x and y; nowhere for an item without parts."""
    return _planned(item, 0), _planned(item, 1)


def _planned(item: Item, axis: int) -> AnchorPlan:
    parts, whole = _shown(item), shown_box(item)
    low, high = whole[axis], whole[axis + 2]
    elastic = _elastic(parts, whole, axis)
    groups = _bands(parts, elastic, (low, high), axis)
    anchors = tuple(_anchor(k, parts, elastic, groups, whole, axis) for k in range(len(parts)))
    limits = tuple(_limits(parts, anchors, elastic, (low, high), axis))
    return AnchorPlan(low, high, groups, anchors, limits)


def given(item: Item, axis: int) -> Hold | None:
    """Return an item's given anchor along an axis; None to guess."""
    holds = item.holds if isinstance(item, Piece | Group) and item.holds is not None else Holds()
    return (holds.x, holds.y)[axis]


def was_guessed(item: Item, axis: int) -> bool:
    """Return whether an item's anchor along an axis is a guess of an earlier refit."""
    return isinstance(item, Piece | Group) and item.holds is not None and "xy"[axis] in item.holds.guessed


def _elastic(parts: Sequence[_Shown], whole: Box, axis: int) -> dict[int, Hold]:
    """Return the parts that get longer along an axis: they lengthen, or are scaled."""
    low, high = whole[axis], whole[axis + 2]
    size = high - low
    out: dict[int, Hold] = {}
    can: list[tuple[float, int]] = []
    for k, part in enumerate(parts):
        said = given(part.item, axis)
        a, b = part.span(axis)
        if said is not None:
            if said == "both" and not keeps_form(part.item):
                out[k] = "both"
            continue
        if keeps_form(part.item):
            continue
        if _lengthens(part.item, axis):
            even = abs((a - low) - (high - b)) <= EVEN * size
            if b - a >= (SPANS if even else LARGE_PART) * size:
                out[k] = "both"
            elif part.adds:
                can.append((a - b, k))
        elif _is_all(part.shown, whole) or (part.adds and b - a >= WHOLE * size):
            out[k] = "both" if isinstance(part.item, Piece) and isinstance(part.item.shape, REGULAR) else "scale"
    # what adds to the outline, and is all part of it, stays joined
    for _, k in sorted(can):
        if _covered([parts[j].span(axis) for j in out if parts[j].adds], low, high):
            break
        out[k] = "both"
    return out


def _lengthens(item: Item, axis: int) -> bool:
    """Return whether anything in an item can get longer along an axis without being stretched."""
    if inner_of(item):
        return any(anchor.hold in ("both", "scale") for anchor in plans(item)[axis].anchors)
    if isinstance(item, Group):
        return item.panes is not None
    return isinstance(item, Piece) and lengthens(item, axis) and not isinstance(item.shape, REGULAR)


def _is_all(box: Box, whole: Box) -> bool:
    sizes = [whole[k + 2] - whole[k] for k in (0, 1)]
    even = all(abs(box[k] - whole[k] - whole[k + 2] + box[k + 2]) <= EVEN * sizes[k] for k in (0, 1))
    return all(box[k + 2] - box[k] >= (SPANS if even else WHOLE) * sizes[k] for k in (0, 1))


def _covered(spans: list[Span], low: float, high: float) -> bool:
    near, at = 1e-6 * (high - low), low
    for a, b in sorted(spans):
        if a > at + near:
            return False
        at = max(at, b)
    return at >= high - near


def _free(item: Item, axis: int) -> list[Span]:
    """Return the ranges along an axis in which an item can lengthen without stretching anything."""
    box = geometry.box_of(item)
    whole = [(box[axis], box[axis + 2])]
    if isinstance(item, Photo) or (isinstance(item, Group) and item.panes is not None):
        return whole
    if isinstance(item, Group) or isinstance(item.shape, CutList):
        return [band for group in plans(item)[axis].groups for band in group]
    if isinstance(item.shape, Rectangle):
        turned = turned_by(item.placing)
        m = item.placing
        scale = abs((m.a, m.d)[axis] if turned == 0 else (m.c, m.b)[axis])
        round_ = max(item.shape.radii) * scale if turned is not None else 0.0
        return [(a + round_, b - round_) for a, b in whole if b - a > 2 * round_]
    return free_on_sheet(item, axis) or whole


def _bands(parts: Sequence[_Shown], elastic: dict[int, Hold], whole: Span, axis: int) -> Groups:
    """Return the bands between the visible edges, alone or as mirrored pairs, the best first."""
    low, high = whole
    near = 1e-6 * (high - low)
    edges, taken = {low, high}, []
    for k in elastic:
        a, b = parts[k].span(axis)
        edges |= {a, b}
        at, own = a, sorted(_free(parts[k].item, axis))
        edges |= {e for band in own for e in band if a < e < b}
        for p, q in own:
            if p > at:
                taken.append((at, min(p, b)))
            at = max(at, q)
        if at < b:
            taken.append((at, b))
    free = []
    ordered = sorted(e for e in edges if low <= e <= high)
    for a, b in pairwise(ordered):
        at = a
        for p, q in sorted(taken):
            if q <= at or p >= b:
                continue
            if p > at + near:
                free.append((at, p))
            at = max(at, q)
        if b > at + near:
            free.append((at, b))
    middle = (low + high) / 2
    if not free:
        return (((middle, middle),),)
    return ordered_bands(free, (low, high))


def _anchor(
    number: int,
    parts: Sequence[_Shown],
    elastic: dict[int, Hold],
    groups: Groups,
    whole: Box,
    axis: int,
) -> Anchor:
    part = parts[number]
    low, high = whole[axis], whole[axis + 2]
    a, b = part.span(axis)
    if number in elastic:
        return Anchor(elastic[number], (a, a), (b, b))
    said = given(part.item, axis)
    if said == "scale":
        return Anchor("scale", (low, low), (high, high))
    guess = _guessed_anchor(number, parts, elastic, groups, whole, axis)
    # what an earlier refit guessed is the same guess, to the edge that the part follows
    if said is None or (said == guess.hold and (was_guessed(part.item, axis) or guess.low == guess.inside)):
        return guess
    if said == "middle":
        return Anchor("middle", (low, high), (low, high))
    # whichever side it is anchored to, it stays in what it is inside
    side = low if said == "near" else high
    return Anchor(said, (side, side), (side, side), guess.inside, b - a)


def _guessed_anchor(
    number: int,
    parts: Sequence[_Shown],
    elastic: dict[int, Hold],
    groups: Groups,
    whole: Box,
    axis: int,
) -> Anchor:
    """Return the anchor that a part has from where it is: in the middle of what it is inside, else by the nearer
    edge."""
    part = parts[number]
    low, high = whole[axis], whole[axis + 2]
    a, b = part.span(axis)
    near = 1e-6 * (1 + high - low)
    even = EVEN * (high - low)
    longer = [
        box for k, p in enumerate(parts) if k in elastic and k != number for box in _longer(p.item, p.shown, axis)
    ]
    around = [
        (box[axis], box[axis + 2])
        for box in longer
        if all(box[i] <= part.shown[i] + near and box[i + 2] >= part.shown[i + 2] - near for i in (0, 1))
    ]
    around = sorted(around, key=lambda s: s[1] - s[0])
    for inside in ((low, high), *around):
        if abs((a - inside[0]) - (inside[1] - b)) <= even:
            return Anchor("middle", inside, inside, inside, b - a)
    other = 1 - axis
    crossed = [
        edge
        for box in longer
        if box[other] < part.shown[other + 2] and part.shown[other] < box[other + 2]
        for edge in (box[axis], box[axis + 2])
        if a + near < edge < b - near
    ]
    if crossed:
        ref, span = min(crossed, key=lambda edge: abs(edge - (a + b) / 2)), None
    else:
        span = (around or [(low, high)])[0]
        ref = span[0] if a - span[0] <= span[1] - b else span[1]
    return Anchor(_word(ref, groups[0]), (ref, ref), (ref, ref), span, b - a)


def _limits(
    parts: Sequence[_Shown], anchors: Sequence[Anchor], elastic: dict[int, Hold], whole: Span, axis: int
) -> Iterator[tuple[Span, float, str]]:
    """Yield each range, how much shorter it may get, and the part that limits it.

    What keeps its form stays inside its container, with its margin to its anchor and a quarter of that opposite, and
    does not run into others that keep theirs.
    """
    for k in elastic:
        if inner_of(parts[k].item):
            yield from plans(parts[k].item)[axis].limits
    longer = [box for k in elastic for box in _longer(parts[k].item, parts[k].shown, axis)]
    rigid = list(_rigid(parts, anchors, axis))
    for part, anchor in rigid:
        if anchor.inside is not None:
            (a, b), (low, high) = part.span(axis), anchor.inside
            margin = max(0.0, min(a - low, high - b))
            beside = 0.0 if anchor.hold == "middle" else 1.25 * margin
            if b - a <= high - low:
                yield anchor.inside, max(0.0, high - low - (b - a) - beside), part.item.name
        for box in longer:
            yield from _beside(part, anchor, box, axis)
    weight = {"near": 0.0, "middle": 0.5, "far": 1.0}
    other = 1 - axis
    for one, low_anchor in rigid:
        for two, high_anchor in rigid:
            more = weight[high_anchor.hold] - weight[low_anchor.hold]
            meets = one.shown[other] < two.shown[other + 2] and two.shown[other] < one.shown[other + 2]
            if more > 0 and meets and one.shown[axis + 2] <= two.shown[axis]:
                yield whole, 0.98 * (two.shown[axis] - one.shown[axis + 2]) / more, two.item.name


def _rigid(parts: Sequence[_Shown], anchors: Sequence[Anchor], axis: int) -> Iterator[tuple[_Shown, Anchor]]:
    """Yield what keeps its length along an axis, including parts of what lengthens."""
    for part, anchor in zip(parts, anchors, strict=True):
        if anchor.hold in ("near", "middle", "far"):
            yield part, anchor
        elif anchor.hold == "both" and inner_of(part.item):
            yield from _rigid(_shown(part.item), plans(part.item)[axis].anchors, axis)


def _beside(part: _Shown, anchor: Anchor, box: Box, axis: int) -> Iterator[tuple[Span, float, str]]:
    """Yield how near the edge of a part that lengthens may come to a part beside it: half the distance."""
    other, (ref, _) = 1 - axis, anchor.low
    if box[other] >= part.shown[other + 2] or part.shown[other] >= box[other + 2] or anchor.low[0] != anchor.low[1]:
        return
    a, b = part.span(axis)
    if box[axis + 2] <= a and ref > box[axis + 2]:
        yield (box[axis + 2], ref), (a - box[axis + 2]) / 2, part.item.name
    if box[axis] >= b and ref < box[axis]:
        yield (ref, box[axis]), (box[axis] - b) / 2, part.item.name


def _longer(item: Item, shown: Box, axis: int) -> Iterator[Box]:
    """Yield the box of a part that gets longer along an axis, and the boxes of its own parts that do."""
    yield shown
    for inner, anchor in zip(_shown(item), plans(item)[axis].anchors, strict=True) if inner_of(item) else ():
        if anchor.hold in ("both", "scale"):
            yield from _longer(inner.item, inner.shown, axis)


def _word(at: float, bands: tuple[Span, ...]) -> Hold:
    passed = sum(at >= b for _, b in bands)
    return "near" if passed == 0 else "far" if passed == len(bands) else "middle"


def parts_of(item: Item) -> Iterator[Part]:
    """Yield the parts of an item, and the parts of those that lengthen; nothing for a plain piece."""
    for inner, x, y in zip(inner_of(item), *(plan.anchors for plan in plans(item)), strict=True):
        yield Part(inner, geometry.box_of(inner), Holds(x.hold, y.hold))
        if "both" in (x.hold, y.hold):
            yield from parts_of(inner)


def refitted_parts(item: Item) -> Iterator[Part]:
    """Yield the parts of a refitted item, as `parts_of` does, with the anchors they had: nothing is guessed."""
    for inner in inner_of(item):
        holds = inner.holds if isinstance(inner, Piece | Group) else None
        if holds is None or holds.x is None or holds.y is None:
            yield from parts_of(item)
            return
    for inner in inner_of(item):
        assert isinstance(inner, Piece | Group) and inner.holds is not None
        yield Part(inner, geometry.box_of(inner), inner.holds)
        if "both" in (inner.holds.x, inner.holds.y):
            yield from refitted_parts(inner)


def stretched(item: Item, axis: int) -> Iterator[Item]:
    """Yield what changes its form when an item gets longer or shorter along an axis: parts that are scaled, and those
    without anything that could lengthen."""
    if inner_of(item):
        for inner, anchor in zip(inner_of(item), plans(item)[axis].anchors, strict=True):
            if anchor.hold == "scale":
                yield inner
            elif anchor.hold == "both":
                yield from stretched(inner, axis)
    elif isinstance(item, Piece) and (isinstance(item.shape, REGULAR) or not lengthens(item, axis)):
        yield item
