"""The size of an exported file: its box on the sheet, its px, its real size."""

import math
import re
from dataclasses import dataclass
from typing import Final

from sheet.document.errors import SheetError
from sheet.document.model import Item, Sheet
from sheet.geometry.geometry import Box
from sheet.reading.lengths import parse, parse_length, show_length

__all__ = ["MAX_PIXELS", "MAX_SIDE", "Exported", "part_of", "pixel_size", "read_resolution", "scale_of"]

MAX_SIDE: Final = 32_000
MAX_PIXELS: Final = 300_000_000
NOISE: Final = 0.01
"""A hundredth of a px more is float noise of a border's extent, and is not seen."""


@dataclass(frozen=True, slots=True)
class Exported:
    """One file: its items, none for the whole sheet; its box (sheet units) and its scale (px per sheet unit).

    `resolution` (px per inch) sets the file's real size; `width` and `height`
    are its size in px.
    """

    items: tuple[Item, ...]
    box: Box
    scale: float
    resolution: float
    width: int
    height: int

    @property
    def name(self) -> str:
        """The name of the item, empty for the sheet and for several."""
        return self.items[0].name if len(self.items) == 1 else ""

    def real(self, sheet: Sheet) -> str:
        """Return the real size at the file's px per inch: in the sheet's unit, or in mm if that is px."""
        unit = "mm" if sheet.unit == "px" else sheet.unit
        sides = (show_length(px, unit, self.resolution, 1 if unit == "mm" else 2) for px in (self.width, self.height))
        return f"{' × '.join(sides)} {unit}"


def pixel_size(box: Box, scale: float) -> tuple[int, int]:
    """Return the size in px of `box` (sheet units) at `scale` px per sheet unit, rounded up.

    Raises SheetError above 32,000 px a side or 300 megapixels.
    """
    width = max(1, math.ceil((box[2] - box[0]) * scale - NOISE))
    height = max(1, math.ceil((box[3] - box[1]) * scale - NOISE))
    if max(width, height) > MAX_SIDE or width * height > MAX_PIXELS:
        raise SheetError(
            f"That would be {width:,} × {height:,} px; {MAX_SIDE:,} px a side and "
            f"{MAX_PIXELS / 1e6:.0f} megapixels are the most.",
            "Type a smaller size, or fewer px per inch.",
            "size",
        )
    return width, height


def read_resolution(sheet: Sheet, text: str) -> float:
    """Return the px per inch a person typed, the sheet's own if the text is empty. Raises SheetError."""
    if not text.strip():
        return sheet.resolution
    resolution = parse(text, "resolution", field="size", example="300")
    if not 1 <= resolution <= 10_000:
        raise SheetError("The resolution must be from 1 to 10,000 px per inch.", "Type a number like 300.", "size")
    return resolution


def scale_of(sheet: Sheet, by: str, size: str, box: Box) -> tuple[float, float]:
    """Return px per sheet unit, and the px per inch of the file. Raises SheetError."""
    if by == "resolution" or not size.strip():
        resolution = read_resolution(sheet, size if by == "resolution" else "")
        return resolution / sheet.resolution, resolution
    if by == "factor":
        factor = parse(size, "factor", field="size", whole=1.0, example="2 or 50 %")
        if not 0.001 <= factor <= 1000:
            raise SheetError("The factor must be from 0.001 to 1,000.", "Type a number like 2 or 50 %.", "size")
        return factor, factor * sheet.resolution
    side = box[2] - box[0] if by == "width" else box[3] - box[1]
    px = parse_length(size, by, field="size", unit="px", resolution=sheet.resolution, whole=side)
    if px < 1:
        raise SheetError(f"The {by} must be 1 px or more.", "Type a larger number.", "size")
    scale = px / side
    # with a unit it is a real size, at the sheet's own px per inch
    real = re.search(r"mm|cm|in|pt", size, re.IGNORECASE)
    return scale, sheet.resolution if real else scale * sheet.resolution


def part_of(what: Exported, x: float, y: float, width: int, height: int) -> Exported:
    """Return the part of a file around a point of the sheet: so many of its px, fewer if the file is smaller."""
    width, height = min(width, what.width), min(height, what.height)
    across = math.floor((x - what.box[0]) * what.scale) - width // 2
    down = math.floor((y - what.box[1]) * what.scale) - height // 2
    x0 = what.box[0] + max(0, min(what.width - width, across)) / what.scale
    y0 = what.box[1] + max(0, min(what.height - height, down)) / what.scale
    box = (x0, y0, x0 + width / what.scale, y0 + height / what.scale)
    return Exported(what.items, box, what.scale, what.resolution, width, height)
