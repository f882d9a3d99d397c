"""Small pictures of sheets."""

import io
from typing import Any, Final

import numpy as np
from PIL import Image

from outline import OutlineError
from picture import PictureError, render
from sheet import Sheet, SheetError

from .photos import previews

__all__ = ["PICTURE_SIDE", "thumb"]

PICTURE_SIDE: Final = 560


def thumb(sheet: Sheet, owner: Any) -> bytes:
    """Return a PNG of the sheet, 560 px on its longer side; a white one where it cannot be drawn."""
    scale = PICTURE_SIDE / max(sheet.width, sheet.height)
    box = (0.0, 0.0, sheet.width, sheet.height)
    try:
        pixels = render(sheet.items, box, scale, previews(owner), sheet.backdrop or "#ffffff")
    except (PictureError, SheetError, OutlineError):
        pixels = np.full((4, 4, 4), 255, np.uint8)
    out = io.BytesIO()
    Image.fromarray(pixels, "RGBA").convert("RGB").save(out, "PNG", compress_level=3)
    return out.getvalue()
