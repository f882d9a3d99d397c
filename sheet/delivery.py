"""What is delivered, and how large it comes out: the numbers of the Deliver station, and of the files."""

import math
from dataclasses import dataclass
from typing import Final

from .errors import SheetError
from .geometry import Box
from .lengths import parse, show_length
from .model import Item, Sheet
from .tree import find
from .visible import delivered_box

__all__ = ["Delivered", "MAX_PIXELS", "MAX_SIDE", "asked", "delivered", "pixel_size", "read_resolution"]

MAX_SIDE: Final = 32_000
MAX_PIXELS: Final = 300_000_000
NOISE: Final = 0.01
"""A hundredth of a px more is float noise of a border's extent, and would not be seen."""


@dataclass(frozen=True, slots=True)
class Delivered:
    """What goes out: the item, or None for the sheet; its box (sheet units), and its size in px as the file has it."""

    only: Item | None
    box: Box
    resolution: float
    width: int
    height: int

    def lengths(self, sheet: Sheet, digits: int = 2) -> tuple[str, str]:
        """Return width and height of the box as texts in the sheet's unit."""
        x0, y0, x1, y1 = self.box
        return (
            show_length(x1 - x0, sheet.unit, sheet.resolution, digits),
            show_length(y1 - y0, sheet.unit, sheet.resolution, digits),
        )


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
            "Use fewer px per inch.",
            "resolution",
        )
    return width, height


def read_resolution(sheet: Sheet, text: str) -> float:
    """Return the px per inch a person typed, the sheet's own where the text is empty. Raises SheetError."""
    if not text.strip():
        return sheet.resolution
    resolution = parse(text, "resolution", example="300")
    if not 1 <= resolution <= 10_000:
        raise SheetError(
            "The resolution must be from 1 to 10,000 px per inch.", "Type a number like 300.", "resolution"
        )
    return resolution


def delivered(sheet: Sheet, resolution: float, only: Item | None = None) -> Delivered:
    """Return what is delivered of the sheet, or of one item, at `resolution` px per inch. Raises SheetError."""
    box = delivered_box(sheet, only)
    return Delivered(only, box, resolution, *pixel_size(box, resolution / sheet.resolution))


def asked(sheet: Sheet, what: str, resolution: str) -> Delivered:
    """Return what a page asks for: `what` is "sheet" or an item's id, `resolution` a text. Raises SheetError."""
    return delivered(sheet, read_resolution(sheet, resolution), None if what == "sheet" else find(sheet, what))
