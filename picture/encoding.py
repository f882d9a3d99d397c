"""Pixels as files of several formats, each with its px per inch and its colour profile."""

import io
from dataclasses import dataclass
from typing import Any, Final

import numpy as np
from PIL import Image

from sheet import SheetError
from sheet.delivery import Delivered, Order, ground_of, quality_of
from sheet.model import Sheet

from .profiles import in_own_colours, srgb
from .progress import part, tell
from .raster import Loader, deliver_pixels
from .vast import LARGE, letting_go

__all__ = ["MOST", "deliver_avif", "deliver_jpeg", "deliver_png", "deliver_tiff", "deliver_webp", "srgb"]

MOST: Final = {"webp": 16_383, "avif": 16_384, "jpg": 65_500}
"""Px a side that a format's files may have, where that is less than what is delivered at all."""
MOST_PIXELS: Final = {"webp": 100_000_000, "avif": 100_000_000}
"""Px in all, where an encoder takes many times its picture's memory."""
DRAWN: Final = 0.6
"""The share of the work that drawing is, the rest being encoding (as a 24-megapixel photo takes it)."""


@dataclass(frozen=True, slots=True)
class _Drawn:
    """An image with the profile that its numbers are of, and what it is of."""

    image: Image.Image
    profile: bytes
    what: Delivered
    pixels: np.ndarray

    @property
    def dpi(self) -> tuple[float, float]:
        return self.what.resolution, self.what.resolution

    def saved(self, kind: str, **options: Any) -> bytes:
        """Return the file."""
        out = io.BytesIO()
        try:
            with letting_go(self.pixels):
                self.image.save(out, kind, icc_profile=self.profile, **options)
        except (ValueError, OSError) as error:
            if options.get("optimize"):
                # Pillow makes room for a byte a px, and noise at a high quality takes more
                return self.saved(kind, **{**options, "optimize": False})
            # WebP has tables that very fine pictures overflow, and both it and AVIF end so without memory
            raise SheetError(
                f"A picture of {self.image.width:,} × {self.image.height:,} px like this does not fit into {kind}.",
                "Lower the quality or the size, or deliver PNG or TIFF.",
                "format",
            ) from error
        tell(1.0)
        return out.getvalue()


def _draw(
    sheet: Sheet, what: Delivered, load: Loader, order: Order, most: str = "", ground: str | None = None
) -> _Drawn:
    """Return what is delivered as pixels, without an alpha channel where nothing of it is transparent.

    The image shares the memory of the pixels: nothing here holds them twice but to leave the alpha out.
    """
    side = MOST.get(most, 0)
    if side and max(what.width, what.height) > side:
        raise SheetError(
            f"{most.upper()} files have {side:,} px a side at most; this would be {what.width:,} × {what.height:,}.",
            "Type a smaller size, or deliver another format.",
            "size",
        )
    pixels_most = MOST_PIXELS.get(most, 0)
    if pixels_most and what.width * what.height > pixels_most:
        raise SheetError(
            f"{most.upper()} files have {pixels_most / 1e6:.0f} megapixels at most here; this would have"
            f" {what.width * what.height / 1e6:.0f}.",
            "Type a smaller size, or deliver another format.",
            "size",
        )
    profile = srgb()
    if order.own_profile:
        sheet, what, load, profile = in_own_colours(sheet, what, load)
    with part(0.0, DRAWN):
        pixels = deliver_pixels(sheet, what, load, ground)
    image = Image.frombuffer("RGBA", (what.width, what.height), pixels, "raw", "RGBA", 0, 1)
    with letting_go(pixels):
        if ground is not None or int(pixels[..., 3].min()) == 255:
            image = image.convert("RGB")
    return _Drawn(image, profile, what, pixels)


def deliver_png(sheet: Sheet, what: Delivered, load: Loader, order: Order) -> bytes:
    """Return a PNG; of up to 256 colours, transparent ones among them, where a palette is asked for."""
    drawn = _draw(sheet, what, load, order)
    if order.palette:
        few = drawn.image.convert("RGBA").quantize(256, Image.Quantize.FASTOCTREE, dither=Image.Dither.NONE)
        drawn = _Drawn(few, drawn.profile, what, drawn.pixels)
    return drawn.saved("PNG", compress_level=3, dpi=drawn.dpi)


def deliver_jpeg(sheet: Sheet, what: Delivered, load: Loader, order: Order) -> bytes:
    """Return a JPEG; what is transparent lies on the ground asked for, else on the backdrop, else on white."""
    quality = quality_of(order)
    flat = _draw(sheet, what, load, order, "jpg", ground_of(sheet, order))
    # whole px per inch are all that the format holds
    dpi = (round(what.resolution), round(what.resolution))
    # tables made for the picture are a few per cent smaller, and all of its coefficients are kept for them
    optimize = flat.pixels.nbytes <= LARGE
    return flat.saved("JPEG", quality=quality, subsampling=0 if order.full_chroma else 2, dpi=dpi, optimize=optimize)


def deliver_webp(sheet: Sheet, what: Delivered, load: Loader, order: Order) -> bytes:
    """Return a WebP, with losses or without."""
    quality = quality_of(order)
    drawn = _draw(sheet, what, load, order, "webp")
    return drawn.saved("WEBP", quality=quality, lossless=order.lossless, exact=True, method=4)


def deliver_avif(sheet: Sheet, what: Delivered, load: Loader, order: Order) -> bytes:
    """Return an AVIF."""
    quality = quality_of(order)
    drawn = _draw(sheet, what, load, order, "avif")
    chroma = "4:4:4" if order.full_chroma else "4:2:0"
    return drawn.saved("AVIF", quality=quality, subsampling=chroma, speed=8)


def deliver_tiff(sheet: Sheet, what: Delivered, load: Loader, order: Order) -> bytes:
    """Return a TIFF, packed by LZW; its alpha is straight, as the format calls unassociated."""
    drawn = _draw(sheet, what, load, order)
    return drawn.saved("TIFF", compression="tiff_lzw", dpi=drawn.dpi)
