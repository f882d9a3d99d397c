"""WebP files of large pictures, put together of chunks (RFC 9649, section 2.7).

libwebp does what it does in little memory, which is opaque colours with losses; alpha, and
what is without losses, is written by `vp8l`.
"""

import io
import struct
from typing import Final

import numpy as np
from PIL import Image

from picture.mapped_pixels import let_go, letting_go
from picture.progress import part

from .vp8l import alpha_data, lossless_data

__all__ = ["SINGLE", "chunked"]

SINGLE: Final = 3_000_000
"""A picture of no more px is left to libwebp."""
_ICC: Final = 0x20
_ALPHA: Final = 0x10


def _chunk(kind: bytes, data: bytes) -> list[bytes]:
    return [struct.pack("<4sI", kind, len(data)), data, b"\0" * (len(data) % 2)]


def _beside(rows: np.ndarray, seen: np.ndarray, side: int) -> tuple[np.ndarray, np.ndarray]:
    """Return for each px the mean colour of what is seen in its square of `side` px, and whether anything is."""
    height, width, _ = rows.shape
    short = ((0, -height % side), (0, -width % side), (0, 0))
    squares = (-(-height // side), side, -(-width // side), side)
    sums = np.pad(rows[..., :3] * seen, short).reshape(*squares, 3).sum(axis=(1, 3), dtype=np.float32)
    count = np.pad(seen, short).reshape(*squares, 1).sum(axis=(1, 3))
    mean = (sums / np.maximum(count, 1)).round().astype(np.uint8)
    mean, some = (v.repeat(side, 0).repeat(side, 1)[:height, :width] for v in (mean, count > 0))
    return mean, some


def _seen_only(pixels: np.ndarray) -> None:
    """Make pixels opaque, and give wholly transparent ones the colour of the visible ones beside them.

    Two by two px share their hue in a lossy file, and sixteen by sixteen are encoded as
    one: what is not seen would spoil what is.
    """
    for top in range(0, len(pixels), 64):
        rows = pixels[top : top + 64]
        seen = rows[..., 3:] > 0
        if not seen.all():
            near, some = _beside(rows, seen, 2)
            far, _ = _beside(rows, seen, 16)
            rows[..., :3] = np.where(seen, rows[..., :3], np.where(some, near, far))
        rows[..., 3] = 255
        let_go(pixels)


def _lossy(pixels: np.ndarray, quality: int) -> bytes:
    """Return the content of a chunk VP8 for the colours of opaque pixels. Raises ValueError and OSError."""
    height, width, _ = pixels.shape
    out = io.BytesIO()
    # an image that shares them, which stands once less than one of RGB
    image = Image.frombuffer("RGBA", (width, height), pixels, "raw", "RGBA", 0, 1)
    with letting_go(pixels):
        image.save(out, "WEBP", quality=quality, method=4)
    data, at = out.getbuffer(), 12
    while True:
        kind, size = struct.unpack_from("<4sI", data, at)
        if kind == b"VP8 ":
            return bytes(data[at + 8 : at + 8 + size])
        at += 8 + size + size % 2


def chunked(pixels: np.ndarray, opaque: bool, profile: bytes, quality: int, lossless: bool) -> bytes:
    """Return the WebP of pixels (height, width, 4) with straight alpha, which is left out where they are `opaque`.

    With losses, the pixels are spent: they are opaque afterwards. It tells its progress.
    Raises ValueError and OSError where the encoder fails.
    """
    height, width, _ = pixels.shape
    if lossless:
        chunks = _chunk(b"VP8L", lossless_data(pixels, opaque))
    else:
        with part(0.0, 0.5):
            chunks = [] if opaque else _chunk(b"ALPH", alpha_data(pixels[..., 3]))
            if not opaque:
                _seen_only(pixels)
        chunks += _chunk(b"VP8 ", _lossy(pixels, quality))
    size = (width - 1).to_bytes(3, "little") + (height - 1).to_bytes(3, "little")
    flags = _ICC | (0 if opaque else _ALPHA)
    whole = b"".join([*_chunk(b"VP8X", bytes([flags, 0, 0, 0]) + size), *_chunk(b"ICCP", profile), *chunks])
    return struct.pack("<4sI4s", b"RIFF", 4 + len(whole), b"WEBP") + whole
