"""Mapped pixels as files, encoded row by row by libvips, which needs only a few at a time."""

import errno
import struct
import tempfile
from typing import Any, Final

import numpy as np
import pyvips
from PIL.TiffImagePlugin import COMPRESSION_INFO

from picture.mapped_pixels import folder, letting_go

__all__ = ["STREAMS", "streamed"]

_SAVERS: Final = {"JPEG": "jpegsave", "PNG": "pngsave", "TIFF": "tiffsave"}
STREAMS: Final = frozenset(_SAVERS)
"""The formats (Pillow's names) that are written this way."""


def _options(kind: str, options: dict[str, Any]) -> dict[str, Any]:
    """Return Pillow's options in libvips's terms."""
    if kind == "JPEG":
        return {"Q": options["quality"], "subsample_mode": "off" if options["subsampling"] == 0 else "on"}
    if kind == "PNG":
        # each row with the filter that suits it, as PNG 3 (12.7) recommends
        return {"compression": options["compress_level"], "filter": "all"}
    packing = {COMPRESSION_INFO[5]: "lzw", COMPRESSION_INFO[8]: "deflate"}.get(options["compression"], "none")
    return {"compression": packing, "predictor": "none" if packing == "none" else "horizontal", "resunit": "inch"}


def _density(dpi: tuple[float, float]) -> bytes:
    """Return the segment APP0 of JFIF with px per inch (ITU-T T.871, 10.1), which libvips leaves out."""
    return b"\xff\xe0" + struct.pack(">H5sBBBHHBB", 16, b"JFIF", 1, 2, 1, *(round(v) for v in dpi), 0, 0)


def streamed(pixels: np.ndarray, opaque: bool, kind: str, profile: bytes, **options: Any) -> bytes:
    """Return the file of pixels (height, width, 4) with straight alpha; `options` are Pillow's, `dpi` included.

    Raises OSError if it cannot be written.
    """
    height, width, _ = pixels.shape
    image = pyvips.Image.new_from_memory(pixels.reshape(-1), width, height, 4, "uchar")
    image = (image.extract_band(0, n=3) if opaque else image).copy(
        interpretation="srgb", xres=options["dpi"][0] / 25.4, yres=options["dpi"][1] / 25.4
    )
    image.set_type(pyvips.GValue.blob_type, "icc-profile-data", profile)
    # by way of a file, so that it is in memory only once; unnamed, and gone with the process
    with tempfile.TemporaryFile(dir=folder()) as file, letting_go(pixels):
        try:
            getattr(image, _SAVERS[kind])(f"/proc/self/fd/{file.fileno()}", keep="icc", **_options(kind, options))
        except pyvips.Error as error:
            # the pixels are sound: a failure is the writing's
            raise OSError(errno.ENOSPC if "No space" in str(error) else errno.EIO, str(error)[:200]) from None
        file.seek(0)
        if kind != "JPEG":
            return file.read()
        # after the start of the image
        return file.read(2) + _density(options["dpi"]) + file.read()
