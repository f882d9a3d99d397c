"""An outline for the web: CSS clip-path, an SVG clipPath, or path data, as text to be copied.

CSS Masking 1 and CSS Shapes 1 and 2 (`path()`, `shape()`, `polygon()`), SVG 2 (`clipPath`).
"""

from typing import Final, Literal

import numpy as np

import outline
from outline import Path
from sheet.document.errors import SheetError
from sheet.document.model import Item, Sheet
from sheet.geometry import geometry
from sheet.reading.lengths import parse_length

__all__ = ["WEB", "Web", "web_outline"]

Web = Literal["path", "shape", "polygon", "clip", "data"]
WEB: Final[tuple[tuple[Web, str], ...]] = (
    ("path", "CSS path(), in px"),
    ("shape", "CSS shape(), in per cent"),
    ("polygon", "CSS polygon(), in per cent"),
    ("clip", "SVG clipPath, in its box"),
    ("data", "path data"),
)
MAX_LENGTH: Final = 4000
"""The most points of a polygon."""


def _boxed(sheet: Sheet, item: Item) -> tuple[Path, float, float]:
    """Return the region of an item from the corner of its box, and the box's size (px). Raises SheetError."""
    pieces = geometry.pieces_of(item)
    if not pieces:
        raise SheetError(f"“{item.name}” has no outline.", "Select a piece, an outline or a frame.", "what")
    region = outline.union([geometry.outline_of(p) for p in pieces])
    if region.bounds is None:
        raise SheetError(f"“{item.name}” has no area.", "Select a closed outline.", "what")
    x0, y0, x1, y1 = region.bounds
    return region.transform((1, 0, 0, 1, -x0, -y0)), x1 - x0, y1 - y0


def _number(value: float, digits: int) -> str:
    text = f"{value:.{digits}f}".rstrip("0").rstrip(".") if digits else f"{value:.0f}"
    return "0" if text in ("-0", "") else text


def web_outline(sheet: Sheet, item: Item, kind: Web, deviation: str = "0.5") -> tuple[str, float, float]:
    """Return the text, and the width and height (px) of the box it is for. Raises SheetError.

    `deviation` is how far a polygon may be from the outline, as typed (px without a unit).
    """
    region, width, height = _boxed(sheet, item)
    if kind == "data":
        return region.to_svg(2), width, height
    if kind == "path":
        return f'clip-path: path(evenodd, "{region.to_svg(2)}");', width, height
    if kind == "clip":
        d = region.transform((1 / width, 0, 0, 1 / height, 0, 0)).to_svg(5)
        text = (
            f'<clipPath id="{item.id}" clipPathUnits="objectBoundingBox"><path d="{d}" clip-rule="evenodd"/></clipPath>'
        )
        return text, width, height
    percent = region.transform((100 / width, 0, 0, 100 / height, 0, 0))
    if kind == "shape":
        return f"clip-path: shape({_shape(percent)});", width, height
    most = parse_length(deviation, "deviation", unit="px", resolution=sheet.resolution)
    if not 0.01 <= most <= max(width, height):
        raise SheetError("The deviation must be from 0.01 px to the size of it.", "Type 0.5, for example.", "deviation")
    return f"clip-path: polygon({_polygon(region, most, width, height)});", width, height


def _shape(path: Path) -> str:
    """Return the arguments of `shape()` for a region in per cent."""

    def at(x: float, y: float) -> str:
        return f"{_number(x, 3)}% {_number(y, 3)}%"

    words: list[str] = []
    for loop in path.subpaths:
        ctrl, kind, _, _ = loop.arrays
        start = at(*ctrl[0, :2].tolist())
        words.append(f"move to {start}" if words else f"evenodd from {start}")
        for k, row in zip(kind.tolist(), ctrl.tolist(), strict=True):
            end = at(*row[6:])
            words.append(f"line to {end}" if k == 0 else f"curve to {end} with {at(*row[2:4])} / {at(*row[4:6])}")
        words.append("close")
    return ", ".join(words)


def _polygon(region: Path, deviation: float, width: float, height: float) -> str:
    """Return the arguments of `polygon()`: one ring that goes to each further ring and back, which evenodd cancels."""
    rings = outline.flattened(region, deviation)
    count = sum(len(r) for r in rings)
    if count > MAX_LENGTH:
        raise SheetError(f"That polygon would have {count:,} points.", "Allow a larger deviation.", "deviation")
    points: list[np.ndarray] = []
    first = None
    for ring in rings:
        closed = ring if (ring[0] == ring[-1]).all() else np.concatenate([ring, ring[:1]])
        points.append(closed)
        if first is None:
            first = closed[:1]
        else:
            points.append(first)
    shares = np.concatenate(points) * (100 / width, 100 / height)
    return "evenodd, " + ", ".join(f"{_number(x, 3)}% {_number(y, 3)}%" for x, y in shares.tolist())
