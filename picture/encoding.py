"""Pixels as files of several formats, each with its px per inch and the sRGB profile."""

import io
from functools import lru_cache
from typing import Any, Final

from PIL import Image, ImageCms

from sheet import SheetError
from sheet.colours import rgb_of
from sheet.delivery import Delivered, Order, ground_of, quality_of
from sheet.model import Sheet

from .raster import Loader, deliver_pixels

__all__ = ["MOST", "deliver_avif", "deliver_jpeg", "deliver_png", "deliver_tiff", "deliver_webp", "srgb"]

MOST: Final = {"webp": 16_383, "avif": 16_384, "jpg": 65_500}
"""Px a side that a format's files may have, where that is less than what is delivered at all."""


@lru_cache(maxsize=1)
def srgb() -> bytes:
    """Return the sRGB profile (ICC.1) that goes into files."""
    return ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()


def _image(sheet: Sheet, what: Delivered, load: Loader, most: str = "") -> Image.Image:
    side = MOST.get(most, 0)
    if side and max(what.width, what.height) > side:
        raise SheetError(
            f"{most.upper()} files have {side:,} px a side at most; this would be {what.width:,} × {what.height:,}.",
            "Type a smaller size, or deliver another format.",
            "size",
        )
    return Image.fromarray(deliver_pixels(sheet, what, load), "RGBA")


def _opaque(image: Image.Image) -> Image.Image:
    """Return the image without an alpha channel where nothing of it is transparent."""
    low, _ = image.getchannel("A").getextrema()
    return image.convert("RGB") if low == 255 else image


def _saved(image: Image.Image, kind: str, **options: Any) -> bytes:
    out = io.BytesIO()
    image.save(out, kind, icc_profile=srgb(), **options)
    return out.getvalue()


def _dpi(what: Delivered) -> tuple[float, float]:
    return what.resolution, what.resolution


def deliver_png(sheet: Sheet, what: Delivered, load: Loader, order: Order) -> bytes:
    """Return a PNG; of up to 256 colours, transparent ones among them, where a palette is asked for."""
    image = _opaque(_image(sheet, what, load))
    if order.palette:
        image = image.convert("RGBA").quantize(256, Image.Quantize.FASTOCTREE, dither=Image.Dither.NONE)
    return _saved(image, "PNG", compress_level=3, dpi=_dpi(what))


def deliver_jpeg(sheet: Sheet, what: Delivered, load: Loader, order: Order) -> bytes:
    """Return a JPEG; what is transparent lies on the ground asked for, else on the backdrop, else on white."""
    quality, ground = quality_of(order), rgb_of(ground_of(sheet, order))
    image = _image(sheet, what, load, "jpg")
    under = Image.new("RGBA", image.size, (*ground, 255))
    under.alpha_composite(image)
    chroma = 0 if order.full_chroma else 2
    # whole px per inch are all that the format holds
    dpi = (round(what.resolution), round(what.resolution))
    return _saved(under.convert("RGB"), "JPEG", quality=quality, subsampling=chroma, dpi=dpi, optimize=True)


def deliver_webp(sheet: Sheet, what: Delivered, load: Loader, order: Order) -> bytes:
    """Return a WebP, with losses or without."""
    quality = quality_of(order)
    image = _opaque(_image(sheet, what, load, "webp"))
    return _saved(image, "WEBP", quality=quality, lossless=order.lossless, exact=True, method=4)


def deliver_avif(sheet: Sheet, what: Delivered, load: Loader, order: Order) -> bytes:
    """Return an AVIF."""
    quality = quality_of(order)
    image = _opaque(_image(sheet, what, load, "avif"))
    chroma = "4:4:4" if order.full_chroma else "4:2:0"
    return _saved(image, "AVIF", quality=quality, subsampling=chroma, speed=8)


def deliver_tiff(sheet: Sheet, what: Delivered, load: Loader, order: Order) -> bytes:
    """Return a TIFF, packed by LZW; its alpha is straight, as the format calls unassociated."""
    return _saved(_opaque(_image(sheet, what, load)), "TIFF", compression="tiff_lzw", dpi=_dpi(what))
