"""Pixels too large for memory, in an unnamed file that the system pages in and out."""

import mmap
import os
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path as FilePath
from typing import Final

import numpy as np
from PIL import Image

from .periodic import repeating

__all__ = [
    "MAPPED_FROM",
    "folder",
    "has_alpha",
    "image_of",
    "is_opaque",
    "lay_in",
    "let_go",
    "letting_go",
    "pixels_of",
    "zeros",
]

MAPPED_FROM: Final = 256_000_000
"""Pixels of this many bytes or more are in a file."""
_folder: list[FilePath | None] = [None]


def lay_in(place: FilePath) -> None:
    """Set the folder for such files; the system's own temporary folder may be in memory."""
    _folder[0] = place


def folder() -> FilePath | None:
    """Return the folder for such files, None for the system's own."""
    there = _folder[0]
    return there if there is not None and there.is_dir() else None


def zeros(shape: tuple[int, ...]) -> np.ndarray:
    """Return an array of zero bytes in that shape. Raises OSError if the disk has no room for it."""
    size = int(np.prod(shape, dtype=np.int64))
    if size <= MAPPED_FROM:
        return np.zeros(shape, np.uint8)
    with tempfile.TemporaryFile(dir=folder()) as file:
        # reserved now: a disk that fills up under a mapping would kill the process
        os.posix_fallocate(file.fileno(), 0, size)
        mapped = mmap.mmap(file.fileno(), size)
    return np.frombuffer(mapped, np.uint8).reshape(shape)


def _mapped(pixels: np.ndarray) -> mmap.mmap | None:
    base: object = pixels
    while isinstance(base, np.ndarray):
        base = base.base
    base = base.obj if isinstance(base, memoryview) else base
    return base if isinstance(base, mmap.mmap) else None


def let_go(pixels: np.ndarray) -> None:
    """Drop a file's pixels from memory; they are read again when used (madvise(2), MADV_DONTNEED)."""
    mapped = _mapped(pixels)
    if mapped is not None:
        mapped.madvise(mmap.MADV_DONTNEED)


def is_opaque(pixels: np.ndarray) -> bool:
    """Return whether all of the pixels (height, width, 4) are opaque."""
    rows = max(1, MAPPED_FROM // 16 // (4 * pixels.shape[1]))
    for top in range(0, len(pixels), rows):
        if int(pixels[top : top + rows, :, 3].min()) < 255:
            return False
        let_go(pixels)
    return True


def image_of(pixels: np.ndarray, opaque: bool = False) -> Image.Image:
    """Return pixels (height, width, 4) as an RGBA image that shares them, marked as `opaque` if they are."""
    height, width, _ = pixels.shape
    image = Image.frombuffer("RGBA", (width, height), pixels, "raw", "RGBA", 0, 1)
    image.info = {"lies_in": pixels, "opaque": opaque}
    return image


def pixels_of(image: Image.Image) -> np.ndarray | None:
    """Return the pixels in a file that such an image shares; None for any other image."""
    pixels: np.ndarray | None = image.info.get("lies_in")
    return pixels if pixels is not None and _mapped(pixels) is not None else None


def has_alpha(image: Image.Image) -> bool:
    """Return whether a photo may have transparent px; one in a file is always RGBA."""
    return image.mode not in ("RGB", "L") and not image.info.get("opaque")


@contextmanager
def letting_go(pixels: np.ndarray) -> Iterator[None]:
    """While this context lasts, and the pixels are read from end to end, drop them from memory repeatedly."""
    if _mapped(pixels) is None:
        yield
        return
    with repeating(0.05, lambda: let_go(pixels)):
        yield
