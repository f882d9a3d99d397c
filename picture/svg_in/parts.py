"""Converting what SVG expresses by several elements and a sheet by one item, and the reverse."""

from typing import Any

import numpy as np
from msgspec.structs import replace

from outline import Path
from picture.draw.skiapath import MITER_LIMIT
from sheet.caching import cached
from sheet.document.kinds import Ellipse, Rectangle
from sheet.document.model import Item, Piece
from sheet.geometry.geometry import Box, box_of, outline_of
from sheet.geometry.visible import visible_box

__all__ = ["bordered", "cutting", "cutting_piece", "encloses", "has_miter", "whole"]


def cutting(clips: tuple[Path, ...], box: Box | None) -> tuple[Path, ...]:
    """Return the clips that cut something off a filled box: not the rectangles that contain all of it."""
    return () if box is None else tuple(c for c in clips if not _contains(c, box))


def cutting_piece(clips: tuple[Path, ...], piece: Piece) -> tuple[Path, ...]:
    """Return the clips that cut something off a piece or its border, which is measured only where they may."""
    paint = piece.paint
    if not clips or (paint.fill is None and paint.stroke is None):
        return ()
    far = paint.stroke_width * MITER_LIMIT if paint.stroke is not None else 0.0
    x0, y0, x1, y1 = box_of(piece)
    sure = cutting(clips, (x0, y0, x1, y1))
    if sure == cutting(clips, (x0 - far, y0 - far, x1 + far, y1 + far)):
        return sure
    return cutting(clips, visible_box(piece))


def _contains(clip: Path, box: Box) -> bool:
    whole = _rectangle_of(clip)
    if whole is None:
        return False
    x0, y0, x1, y1 = whole
    near = 1e-9 * max(x1 - x0, y1 - y0)
    return min(box[0] - x0, box[1] - y0, x1 - box[2], y1 - box[3]) >= -near


@cached(entries=256)
def _rectangle_of(clip: Path) -> Box | None:
    """Return the box of a clip, which often clips thousands, if it is an upright rectangle."""
    ctrl, kind, starts, _ = clip.arrays
    if len(starts) != 2 or kind.any() or clip.bounds is None:
        return None
    x0, y0, x1, y1 = clip.bounds
    # a polygon with the area of its box is that box
    (ax, ay), (bx, by) = ctrl[:, :2].T, ctrl[:, 6:].T
    area = abs(float((ax * by - bx * ay).sum())) / 2
    return clip.bounds if area >= (1 - 1e-9) * (x1 - x0) * (y1 - y0) else None


def encloses(piece: Piece) -> bool:
    """Return whether a fill would show: a line that goes there and back has none."""
    if isinstance(piece.shape, Rectangle | Ellipse):
        return True
    path = outline_of(piece)
    x0, y0, x1, y1 = path.bounds or (0.0, 0.0, 0.0, 0.0)
    return bool((np.abs(path.loop_areas()) > 1e-9 * (x1 - x0 + y1 - y0) ** 2).any()) or path.area > 0


def has_miter(path: Path, limit: float, other: float) -> bool:
    """Return whether a corner's miter, in border widths, is between two limits (SVG 2, 13.5.5)."""
    low, high = sorted((limit, other))
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


def _is_alike(one: Piece, other: Piece) -> bool:
    return one.shape == other.shape and one.matrix == other.matrix


def bordered(items: list[Item]) -> tuple[Item, ...]:
    """Return items with each frame merged with the fill below it and the border above it, if they are its outline.

    SVG has no picture with a border: it is drawn as several equal outlines.
    """
    out: list[Item] = []
    for item in items:
        last = out[-1] if out else None
        if isinstance(last, Piece) and isinstance(item, Piece) and _is_plain(last) and _is_alike(last, item):
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
