"""Pixels as files of several formats, each with its px per inch and its colour profile."""

import io
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any, Final

import numpy as np
from PIL import Image
from PIL.TiffImagePlugin import COMPRESSION_INFO

from picture.draw.raster import Loader, export_pixels
from picture.mapped_pixels import MAPPED_FROM, is_opaque, letting_go
from picture.progress import part, report_progress
from sheet import SheetError
from sheet.document.model import Sheet
from sheet.export.order import Order, ground_of, quality_of
from sheet.export.sizes import Exported

from .profiles import in_own_colours, srgb
from .streaming import STREAMS, streamed

__all__ = ["MAX_SIDES", "export_avif", "export_jpeg", "export_png", "export_tiff", "export_webp", "srgb"]

MAX_SIDES: Final = {"webp": 16_383}
"""The most px per side in a format, if below the limit of all exports."""
MOST_PIXELS: Final = {"webp": 100_000_000, "webp-lossless": 64_000_000, "avif": 64_000_000}
"""The most px in all: these encoders need six to nine times their picture in memory."""
PACKINGS: Final = {"lzw": COMPRESSION_INFO[5], "deflate": COMPRESSION_INFO[8], "none": COMPRESSION_INFO[1]}
"""Pillow's names for the compressions of a TIFF, by their numbers (TIFF 6.0, 3 and its supplement 2)."""
SPEEDS: Final = {"quick": 8, "thorough": 4}
"""The encoder's own scale, 0 is slowest."""
PLAIN: Final = 40_000
"""Up to this many bytes of pixels a baseline JPEG is smaller."""
PREDICTOR: Final = 317
DRAWN: Final = 0.6
"""The share of drawing in the work, the rest being encoding (measured on a 24-megapixel photo)."""


@dataclass(frozen=True, slots=True)
class _Drawn:
    """Pixels with straight alpha, whether they are opaque, their colour profile, and what they show."""

    pixels: np.ndarray
    opaque: bool
    profile: bytes
    what: Exported

    @property
    def shared(self) -> Image.Image:
        """The pixels as an RGBA image that shares their memory."""
        return Image.frombuffer("RGBA", (self.what.width, self.what.height), self.pixels, "raw", "RGBA", 0, 1)

    @property
    def dpi(self) -> tuple[float, float]:
        return self.what.resolution, self.what.resolution

    def saved(self, kind: str, **options: Any) -> bytes:
        """Return the file, without an alpha channel if nothing is transparent."""
        if kind in STREAMS and (kind == "PNG" or self.pixels.nbytes > MAPPED_FROM):
            made = streamed(self.pixels, self.opaque, kind, self.profile, **options)
            report_progress(1.0)
            return made
        with letting_go(self.pixels):
            # the only time that a picture is in memory twice
            image = self.shared.convert("RGB") if self.opaque else self.shared
            return self.saved_as(image, kind, **options)

    def saved_as(self, image: Image.Image, kind: str, **options: Any) -> bytes:
        """Return the file of an image made of the pixels."""
        out = io.BytesIO()
        with self.finished(kind):
            try:
                image.save(out, kind, icc_profile=self.profile, **options)
            except (ValueError, OSError):
                if not options.get("optimize"):
                    raise
                # Pillow reserves one byte per px, and noise at a high quality takes more
                out = io.BytesIO()
                image.save(out, kind, icc_profile=self.profile, **{**options, "optimize": False, "progressive": False})
        return out.getvalue()

    @contextmanager
    def finished(self, kind: str) -> Iterator[None]:
        """Report the progress of encoding while this context lasts. Raises SheetError if the encoder fails."""
        try:
            with part(DRAWN, 1.0):
                yield
        except (ValueError, OSError) as error:
            if getattr(error, "errno", None):
                # not the encoder's error: the disk's, with pixels in files
                raise
            # WebP has tables that very fine pictures overflow; it and AVIF fail like this without memory too
            raise SheetError(
                f"A picture of {self.what.width:,} × {self.what.height:,} px like this does not fit into {kind}.",
                "Lower the quality or the size, or export PNG or TIFF.",
                "format",
            ) from error
        report_progress(1.0)


def _draw(
    sheet: Sheet, what: Exported, load: Loader, order: Order, most: str = "", ground: str | None = None
) -> _Drawn:
    """Return an export as pixels. Raises SheetError if the format cannot be that large."""
    side = MAX_SIDES.get(most, 0)
    if side and max(what.width, what.height) > side:
        raise SheetError(
            f"{most.upper()} files have {side:,} px a side at most; this would be {what.width:,} × {what.height:,}.",
            "Type a smaller size, or export another format.",
            "size",
        )
    pixels_most = MOST_PIXELS.get(f"{most}-lossless" if order.lossless and most == "webp" else most, 0)
    if pixels_most and what.width * what.height > pixels_most:
        raise SheetError(
            f"{most.upper()} files have {pixels_most / 1e6:.0f} megapixels at most here; this would have"
            f" {what.width * what.height / 1e6:.0f}.",
            "Type a smaller size, or export another format.",
            "size",
        )
    profile = srgb()
    if order.own_profile:
        sheet, what, load, profile = in_own_colours(sheet, what, load)
    with part(0.0, DRAWN):
        pixels = export_pixels(sheet, what, load, ground)
    return _Drawn(pixels, ground is not None or is_opaque(pixels), profile, what)


def export_png(sheet: Sheet, what: Exported, load: Loader, order: Order) -> bytes:
    """Return a PNG; with up to 256 colours, transparency included, if a palette is asked for."""
    drawn = _draw(sheet, what, load, order)
    if order.palette:
        few = drawn.shared.quantize(256, Image.Quantize.FASTOCTREE, dither=Image.Dither.NONE)
        return drawn.saved_as(few, "PNG", compress_level=3, dpi=drawn.dpi)
    return drawn.saved("PNG", compress_level=4, dpi=drawn.dpi)


def export_jpeg(sheet: Sheet, what: Exported, load: Loader, order: Order) -> bytes:
    """Return a JPEG; transparent px show the ground asked for, else the backdrop, else white."""
    quality = quality_of(order)
    flat = _draw(sheet, what, load, order, "jpg", ground_of(sheet, order))
    # the format stores whole px per inch only
    dpi = (round(what.resolution), round(what.resolution))
    # tables fitted to the picture save a few per cent, and so do several scans for all but the smallest; both
    # keep all coefficients in memory
    kept = flat.pixels.nbytes <= MAPPED_FROM
    more = {"optimize": kept, "progressive": kept and flat.pixels.nbytes > PLAIN}
    return flat.saved("JPEG", quality=quality, subsampling=0 if order.full_chroma else 2, dpi=dpi, **more)


def export_webp(sheet: Sheet, what: Exported, load: Loader, order: Order) -> bytes:
    """Return a WebP, lossy or lossless."""
    quality = quality_of(order)
    drawn = _draw(sheet, what, load, order, "webp")
    # for lossless the number is effort: 50 is a fifth smaller than 25 in the same time, and above it nothing is gained.
    # What nobody sees has its colours in a lossless file only: they take 5 % in a lossy one
    effort = 50 if order.lossless else quality
    return drawn.saved("WEBP", quality=effort, lossless=order.lossless, exact=order.lossless, method=4)


def export_avif(sheet: Sheet, what: Exported, load: Loader, order: Order) -> bytes:
    """Return an AVIF; more effort makes it smaller at the same quality."""
    quality = quality_of(order)
    drawn = _draw(sheet, what, load, order, "avif")
    return drawn.saved(
        "AVIF", quality=quality, subsampling="4:4:4" if order.full_chroma else "4:2:0", speed=SPEEDS[order.effort]
    )


def export_tiff(sheet: Sheet, what: Exported, load: Loader, order: Order) -> bytes:
    """Return a TIFF with the compression asked for; its alpha is straight, which the format calls unassociated."""
    drawn = _draw(sheet, what, load, order)
    # the predictor (TIFF 6.0, 14): differences between neighbouring px compress to about half
    more = {} if order.packing == "none" else {"tiffinfo": {PREDICTOR: 2}}
    return drawn.saved("TIFF", compression=PACKINGS[order.packing], dpi=drawn.dpi, **more)
