"""Bands along an axis in which an outline gets longer or shorter: their order, and how much each takes."""

from collections.abc import Sequence
from typing import Final, TypeAlias

__all__ = ["EVEN", "Interval", "Groups", "Limit", "Shares", "moved_by", "most_shorter", "ordered_bands", "shared_out"]

Interval: TypeAlias = tuple[float, float]
"""A range along an axis: from, to."""
Groups: TypeAlias = tuple[tuple[Interval, ...], ...]
"""Bands in the order in which they take a difference: one by itself, or a mirrored pair."""
Shares: TypeAlias = list[tuple[Interval, float]]
"""Bands, and how much longer each gets."""
Limit: TypeAlias = tuple[Interval, float]
"""A range, and how much shorter all bands in it together may get."""

EVEN: Final = 0.01
"""How much two margins may differ, as a share of the whole, and still count as even."""
LARGE_SHARE: Final = 0.25
"""A band of at least this share of the whole is wide."""
NARROW: Final = 0.12
"""A band of up to this share of the whole is a margin, which keeps its size."""
FIRST: Final = 0.75
"""The share of themselves that the first bands give before others do."""
LEFT: Final = 0.02
"""The share of a band that stays when it gets narrower."""


def ordered_bands(free: Sequence[Interval], span: Interval) -> Groups:
    """Return the bands of an outline that extends over `span`, the best first.

    The one that contains the middle if it is wide, else two mirrored about
    it, so that what is in the middle stays there, else the widest. Narrow ones take
    part only if there is nothing else.
    """
    if not free:
        return ()
    low, high = span
    size, middle, even = high - low, (low + high) / 2, EVEN * (high - low)
    width = {band: band[1] - band[0] for band in free}
    widest = max(free, key=lambda band: (width[band], -band[0]))
    central = next((b for b in free if b[0] < middle < b[1]), None)
    pairs = [
        (p, q)
        for p in free
        for q in free
        if p[1] <= middle <= q[0] and abs(p[0] + q[1] - 2 * middle) <= even and abs(p[1] + q[0] - 2 * middle) <= even
    ]
    pair = max(pairs, key=lambda two: width[two[0]], default=None)
    first: tuple[Interval, ...] = (widest,)
    if central is not None and (width[central] >= LARGE_SHARE * size or width[central] >= 0.8 * width[widest]):
        first = (central,)
    elif pair is not None and 2 * width[pair[0]] >= width[widest]:
        first = pair
    others = [b for b in free if b not in first and width[b] >= NARROW * size]
    return (first, *((band,) for band in sorted(others, key=lambda b: (-width[b], b[0]))))


def shared_out(groups: Groups, by: float, limits: Sequence[Limit] = ()) -> Shares:
    """Return how much longer each band gets, `by` in all; if that is negative, as much as they can give.

    The first take all of an increase. Of a decrease they give most of
    themselves, and then all give equally.
    """
    if by >= 0:
        return [(band, by / len(groups[0])) for band in groups[0]]
    taken = [0.0] * len(groups)
    left, first = -by, True
    for _ in range(20):
        most = [_most(groups, k, taken, left, limits) for k in range(len(groups))]
        if first:
            most = [FIRST * most[0], *(0.0 for _ in most[1:])]
        share = min(1.0, left / sum(most)) if sum(most) > 0 else 0.0
        for k, each in enumerate(most):
            now = min(share * each, _most(groups, k, taken, left, limits), left)
            taken[k] += now
            left -= now
        if left <= 1e-12 * -by or (share == 0 and not first):
            break
        first = False
    return [(band, -t / len(group)) for group, t in zip(groups, taken, strict=True) for band in group]


def most_shorter(groups: Groups, span: Interval, limits: Sequence[Limit] = ()) -> float:
    """Return how much shorter all bands can get."""
    return -sum(each for _, each in shared_out(groups, span[0] - span[1], limits))


def _most(groups: Groups, number: int, taken: Sequence[float], left: float, limits: Sequence[Limit]) -> float:
    """Return how much shorter the bands of a group can get, after what the groups gave before."""
    group = groups[number]
    most = min((1 - LEFT) * (b - a) if b > a else left + taken[number] for a, b in group) * len(group) - taken[number]
    for (low, high), limit in limits:
        near = 1e-9 * (high - low)
        inside = [sum(a >= low - near and b <= high + near for a, b in g) / len(g) for g in groups]
        if inside[number]:
            used = sum(t * share for t, share in zip(taken, inside, strict=True))
            most = min(most, (limit - used) / inside[number])
    return max(0.0, most)


def moved_by(shares: Shares, at: float) -> float:
    """Return how far a position moves when bands grow; one inside a band moves in proportion."""
    total = 0.0
    for (a, b), each in shares:
        share = (at - a) / (b - a) if b > a else 0.5 if at == a else 1.0 if at > a else 0.0
        total += each * min(1.0, max(0.0, share))
    return total
