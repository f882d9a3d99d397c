"""Large pictures reduced, or strip by strip, without decoding all of one: libvips streams them."""

import logging
import math
from collections.abc import Iterator
from pathlib import Path as FilePath
from typing import Any, BinaryIO, Final

import pyvips
from PIL import Image

from .probe import stored_size

__all__ = ["STREAMED_FROM", "STREAMED", "shrunk", "strips", "webp_scale"]

STREAMED_FROM: Final = 4_000_000
"""Pictures smaller than this (px) are as quick to decode whole."""
_LOADERS: Final = {"PNG": "pngload", "TIFF": "tiffload", "WEBP": "webpload"}
STREAMED: Final = {"JPEG": "jpegload", "MPO": "jpegload", "PNG": "pngload", "TIFF": "tiffload"}
"""Formats that can be read row by row, and the loader for each."""
_MODES: Final = {1: "L", 2: "LA", 3: "RGB", 4: "RGBA"}
_KINDS: Final = ("srgb", "rgb", "b-w", "rgb16", "grey16")

# its warnings repeat the exceptions
logging.getLogger("pyvips").setLevel(logging.ERROR)
# a picture is read once; caching it would waste memory
pyvips.cache_set_max(0)


def webp_scale(by: int) -> float:
    """Return by how much a WebP is reduced by its own decoder, if it is needed at a whole fraction of its size.

    To twice the needed size, so that the rest is done as for other formats.
    """
    return min(1.0, 2 / by)


def _opened(source: FilePath | BinaryIO, loader: str, **options: Any) -> pyvips.Image | None:
    """Return a picture to read from top to bottom, 8 bits per band, None for other kinds."""
    # libtiff takes missing rows for an error, not for an early end
    options |= {"access": "sequential", "fail_on": "error" if loader == "tiffload" else "truncated"}
    if isinstance(source, FilePath):
        image = getattr(pyvips.Image, loader)(str(source), **options)
    else:
        source.seek(0)
        image = getattr(pyvips.Image, f"{loader}_buffer")(source.read(), **options)
    if image.interpretation not in _KINDS or image.bands not in _MODES:
        return None
    if image.format == "ushort":
        # the upper eight bits, as Pillow takes them
        image = (image >> 8).cast("uchar")
    return image if image.format == "uchar" else None


def _resized(image: pyvips.Image, width: int, height: int) -> pyvips.Image:
    """Return a picture at a smaller size; transparent px do not influence the colours."""
    seen = image.premultiply() if image.bands in (2, 4) else image
    seen = seen.resize(width / seen.width, vscale=height / seen.height)
    return seen.unpremultiply().cast("uchar") if image.bands in (2, 4) else seen


def strips(
    source: FilePath | BinaryIO, head: Image.Image, size: tuple[int, int], rows: int
) -> Iterator[tuple[int, Image.Image]]:
    """Yield a picture at a size from top to bottom, `rows` at a time: the first row's number, and L, LA, RGB or RGBA.

    `head` is the picture opened by Pillow; its profile is passed on. Yields nothing for
    kinds that are left to Pillow. Raises OSError if the file is cut short or damaged.
    """
    try:
        image = _opened(source, STREAMED[str(head.format)])
        if image is None or (image.width, image.height) != stored_size(head):
            return
        if size != stored_size(head):
            image = _resized(image, *size)
        region = pyvips.Region.new(image)
        kept = {k: v for k, v in head.info.items() if k == "icc_profile"}
        mode = _MODES[image.bands]
        for top in range(0, image.height, rows):
            part = (image.width, min(rows, image.height - top))
            strip = Image.frombytes(mode, part, bytes(region.fetch(0, top, *part)))
            strip.info.update(kept)
            yield top, strip
    except pyvips.Error as error:
        raise OSError(str(error)[:200]) from None


def shrunk(source: FilePath | BinaryIO, head: Image.Image, at_least: float) -> Image.Image | None:
    """Return the picture decoded at a whole fraction of its size, not below the share `at_least`.

    `head` is the picture opened by Pillow, not decoded; its profile and EXIF block
    are passed on. None if the picture is small, is needed at more than half its size, or is
    of a kind that is left to Pillow. Raises OSError if it is damaged.
    """
    by = math.floor(1 / at_least + 1e-9) if at_least > 0 else 64
    loader = _LOADERS.get(str(head.format))
    if loader is None or by < 2 or head.width * head.height < STREAMED_FROM:
        return None
    try:
        options = {"scale": webp_scale(by)} if head.format == "WEBP" else {}
        image = _opened(source, loader, **options)
        if image is None:
            return None
        width, height = (max(1, round(side / by)) for side in stored_size(head))
        seen = _resized(image, width, height)
        pixels = seen.write_to_memory()
    except pyvips.Error as error:
        raise OSError(str(error)[:200]) from None
    small = Image.frombuffer(_MODES[seen.bands], (seen.width, seen.height), pixels, "raw", _MODES[seen.bands], 0, 1)
    small.info = {k: v for k, v in head.info.items() if k in ("icc_profile", "dpi")}
    return small
