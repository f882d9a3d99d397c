"""Pixels that are too many for the memory lie in a file that has no name: what is not worked at goes to the disk."""

import mmap
import os
import tempfile
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path as FilePath
from typing import Final

import numpy as np

__all__ = ["LARGE", "lay_in", "let_go", "letting_go", "zeros"]

LARGE: Final = 256_000_000
"""Bytes from which on pixels lie in a file."""
_folder: list[FilePath | None] = [None]


def lay_in(folder: FilePath) -> None:
    """Say where such files lie; the system's folder for temporary ones may be memory itself."""
    _folder[0] = folder


def zeros(shape: tuple[int, ...]) -> np.ndarray:
    """Return bytes of that shape, all 0. Raises OSError where the disk has no room for them."""
    size = int(np.prod(shape, dtype=np.int64))
    if size <= LARGE:
        return np.zeros(shape, np.uint8)
    folder = _folder[0]
    with tempfile.TemporaryFile(dir=folder if folder is not None and folder.is_dir() else None) as file:
        # reserved now: a disk that fills up under a mapping would end the process
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
    """Have what lies in a file leave the memory; it comes back where it is asked for (madvise(2), MADV_DONTNEED)."""
    mapped = _mapped(pixels)
    if mapped is not None:
        mapped.madvise(mmap.MADV_DONTNEED)


@contextmanager
def letting_go(pixels: np.ndarray) -> Iterator[None]:
    """While this lasts, and the pixels are read from one end to the other, let go of them again and again."""
    if _mapped(pixels) is None:
        yield
        return
    over = threading.Event()

    def again() -> None:
        while not over.wait(0.05):
            let_go(pixels)

    hand = threading.Thread(target=again)
    hand.start()
    try:
        yield
    finally:
        over.set()
        hand.join()
