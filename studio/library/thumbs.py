"""Small pictures of sheets."""

import io
from typing import Any, Final

import numpy as np
from PIL import Image

from outline import OutlineError
from picture import PictureError, format_of, render
from sheet import Sheet, SheetError
from sheet.document.model import Item
from sheet.export.order import Order, ground_of, ordered
from sheet.geometry.geometry import Box, join_boxes

from .photos import previews

__all__ = ["PICTURE_SIDE", "thumb", "thumb_of"]

PICTURE_SIDE: Final = 560
SMALL: Final = 120


def thumb(sheet: Sheet, owner: Any, side: int = PICTURE_SIDE) -> bytes:
    """Return a PNG of the sheet, `side` px on its longer side; a white one if it cannot be drawn."""
    return _drawn(sheet.items, (0.0, 0.0, sheet.width, sheet.height), side, owner, sheet.backdrop or "#ffffff")


def thumb_of(sheet: Sheet, order: Order, owner: Any, side: int = SMALL) -> bytes:
    """Return a PNG of an export, `side` px on its longer side, all in one if it is several files.

    A format without transparency gets its background. Raises SheetError if there is
    nothing to show.
    """
    files = ordered(sheet, order)
    items = tuple(i for f in files for i in f.items)
    backdrop = sheet.backdrop if not items else None
    if not format_of(order.format).transparent:
        backdrop = ground_of(sheet, order)
    return _drawn(items or sheet.items, join_boxes([f.box for f in files]), side, owner, backdrop)


def _drawn(items: tuple[Item, ...], box: Box, side: int, owner: Any, backdrop: str | None) -> bytes:
    scale = side / max(box[2] - box[0], box[3] - box[1])
    try:
        pixels = render(items, box, scale, previews(owner), backdrop)
    except (PictureError, SheetError, OutlineError, OSError):
        # a missing photo is reported on export
        pixels = np.full((4, 4, 4), 255, np.uint8)
    image = Image.fromarray(pixels, "RGBA")
    out = io.BytesIO()
    (image.convert("RGB") if backdrop else image).save(out, "PNG", compress_level=3)
    return out.getvalue()
