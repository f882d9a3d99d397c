"""Converting what SVG expresses by several elements and a sheet by one item, and the reverse."""

from collections.abc import Sequence
from typing import Any

import numpy as np
from msgspec.structs import replace

from outline import Path, length
from sheet.document.model import Item, Piece
from sheet.geometry.geometry import Box

__all__ = ["bordered", "cutting", "has_many_dashes", "has_miter", "is_tangled", "whole"]

MOST_PAIRS = 40_000
"""Pairs of curves that may cross: the outline of a border with more takes over a second."""
_SAMPLE = 4000
MOST_DASHES = 3000
"""The outlines of more dashes take over a second."""


def cutting(clips: tuple[Path, ...], box: Box | None) -> tuple[Path, ...]:
    """Return the clips that cut something off a filled box: not the rectangles that contain all of it."""
    return () if box is None else tuple(c for c in clips if not _contains(c, box))


def _contains(clip: Path, box: Box) -> bool:
    if clip.bounds is None:
        return False
    x0, y0, x1, y1 = clip.bounds
    near = 1e-9 * max(x1 - x0, y1 - y0)
    if min(box[0] - x0, box[1] - y0, x1 - box[2], y1 - box[3]) < -near:
        return False
    ctrl, kind, starts, _ = clip.arrays
    if len(starts) != 2 or kind.any():
        return False
    # a polygon with the area of its box is that box
    (ax, ay), (bx, by) = ctrl[:, :2].T, ctrl[:, 6:].T
    return abs(float((ax * by - bx * ay).sum())) / 2 >= (1 - 1e-9) * (x1 - x0) * (y1 - y0)


def is_tangled(path: Path) -> bool:
    """Return whether more pairs of a line's curves may cross, by their boxes, than its border can be outlined for.

    Of many curves a part is looked at, and counted for the whole.
    """
    step = -(-len(path.arrays[0]) // _SAMPLE) or 1
    q = path.arrays[0][::step].reshape(-1, 4, 2)
    low, high = q.min(axis=1), q.max(axis=1)
    meet = np.ones((len(q), len(q)), bool)
    for k in range(2):
        meet &= low[:, None, k] <= high[None, :, k]
        meet &= high[:, None, k] >= low[None, :, k]
    # each with itself, and with the one that it goes on from
    return (int(meet.sum()) - 3 * len(q)) / 2 * step**2 > MOST_PAIRS


def has_many_dashes(path: Path, dashes: Sequence[float]) -> bool:
    """Return whether a line, and dashes in its px, come to more than can be outlined."""
    return bool(dashes) and length(path) * len(dashes) > 2 * MOST_DASHES * sum(dashes)


def has_miter(path: Path, low: float, high: float) -> bool:
    """Return whether a corner's miter is so many times the border's width (SVG 2, 13.5.5)."""
    ctrl, kind, starts, closed = path.arrays
    q = ctrl.reshape(-1, 4, 2)
    ways = []
    for order in (((1, 0), (2, 0), (3, 0)), ((3, 2), (3, 1), (3, 0))):
        way = q[:, 3] - q[:, 0]
        for a, b in order[1::-1]:
            # skip handles on their node, and lines, which have none
            one = q[:, a] - q[:, b]
            there = (np.hypot(*one.T) > 1e-9 * np.hypot(*way.T)) & (kind != 0)
            way = np.where(there[:, None], one, way)
        ways.append(way / np.maximum(np.hypot(*way.T), 1e-300)[:, None])
    out, into = ways
    for first, last, is_closed in zip(starts[:-1], starts[1:], closed, strict=True):
        ends = np.arange(first, last if is_closed else last - 1)
        begins = ends + 1
        begins[begins == last] = first
        half = np.sqrt(np.clip((1 + (into[ends] * out[begins]).sum(axis=1)) / 2, 1e-18, 1))
        if ((1 / half > low) & (1 / half <= high)).any():
            return True
    return False


def whole(item: Item, opacity: float, blend: Any, name: str) -> Item:
    """Return the only item of a group, with the group's own properties."""
    item = replace(item, name=name or item.name)
    if isinstance(item, Piece):
        mode = blend if item.paint.blend == "normal" else item.paint.blend
        return replace(item, paint=replace(item.paint, opacity=item.paint.opacity * opacity, blend=mode))
    return replace(item, opacity=item.opacity * opacity, blend=blend if item.blend == "normal" else item.blend)


def bordered(items: list[Item]) -> tuple[Item, ...]:
    """Return items with each frame merged with the fill below it and the border above it, if they are its outline.

    SVG has no picture with a border: it is drawn as several equal outlines.
    """
    out: list[Item] = []
    for item in items:
        last = out[-1] if out else None
        if isinstance(last, Piece) and isinstance(item, Piece) and _is_plain(last) and last.shape == item.shape:
            own, its = last.paint, item.paint
            if last.photos and not item.photos and its.fill is None and own.stroke is None:
                out[-1] = replace(last, paint=replace(its, fill=own.fill))
                continue
            if item.photos and not last.photos and own.stroke is None and item.paint.fill is None:
                out[-1] = replace(item, paint=replace(item.paint, fill=own.fill))
                continue
        out.append(item)
    return tuple(out)


def _is_plain(piece: Piece) -> bool:
    return piece.paint.opacity == 1 and piece.paint.blend == "normal"
