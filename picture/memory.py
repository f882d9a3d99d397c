"""How much memory work will take, told before it is begun: about, and rather too much than too little."""

from collections.abc import Callable
from pathlib import Path as FilePath
from typing import Final

from sheet.delivery import Delivered, Order
from sheet.model import Photo, Sheet
from sheet.tree import photos_of

from .formats import format_of
from .photos import PREVIEW_SIDE, memory_of
from .raster import most_kept
from .vast import LARGE

__all__ = ["ALWAYS", "delivering", "preparing"]

ALWAYS: Final = 100_000_000
"""Bytes that drawing and encoding take, however small the picture is: bands, layers, the libraries themselves."""


def preparing(source: FilePath, name: str, width: int, height: int) -> int:
    """Return about how many bytes making the small copy of a photo takes. Raises PictureError."""
    share = min(1.0, PREVIEW_SIDE / max(width, height))
    # and the small copy itself, twice
    return memory_of(source, name, share) + 8 * PREVIEW_SIDE**2


def delivering(sheet: Sheet, files: list[Delivered], order: Order, at: Callable[[Photo], FilePath]) -> int:
    """Return about how many bytes writing some files, one after another or as pages, takes; `at` finds their photos.

    Raises PictureError where one cannot be read.
    """
    out = format_of(order.format)
    most = 0
    for what in files:
        raw = 4 * what.width * what.height
        shares: dict[str, tuple[float, Photo]] = {}
        for photo in photos_of(what.items or sheet.items, hidden=False):
            m = photo.placing
            share = min(1.0, what.scale * max((m.a**2 + m.b**2) ** 0.5, (m.c**2 + m.d**2) ** 0.5))
            shares[photo.file] = max(shares.get(photo.file, (0.0, photo)), (share, photo), key=lambda s: s[0])
        decoded = [memory_of(at(photo), photo.name, share) for share, photo in shares.values()]
        largest = max(decoded, default=0)
        # as many are kept as fit beside the picture itself, and what is drawn of the largest stands twice for a moment
        kept = max(largest, min(sum(decoded), most_kept(raw)))
        again = max((d for d, (share, _) in zip(decoded, shares.values(), strict=True) if share < 1.0), default=0)
        drawing, writing = kept + again, int(raw * (out.holds - 1))
        # pixels that lie in a file are not in the memory, and the photos are gone once they are written
        most = max(most, max(drawing, writing) if raw > LARGE else drawing + raw + writing)
    return most + ALWAYS
