"""Estimates of the memory that work needs, on the high side."""

import io
import math
from collections.abc import Callable
from contextlib import nullcontext
from pathlib import Path as FilePath
from typing import BinaryIO, Final

from PIL import Image

from picture.draw.raster import cache_size
from picture.mapped_pixels import MAPPED_FROM
from picture.photos.decode import PREVIEW_SIDE, STRIP, is_mapped
from picture.photos.probe import TURNED, opened, orientation_of
from picture.photos.scaled import STREAMED_FROM as SHRUNK
from picture.photos.scaled import webp_scale
from sheet.document.model import Photo, Sheet
from sheet.document.tree import photos_of
from sheet.export.order import Order
from sheet.export.sizes import Exported
from sheet.geometry.placing import needed_share

from .formats import format_of

__all__ = ["ALWAYS", "decoding", "exporting", "preparing"]

ALWAYS: Final = 100_000_000
"""Bytes that drawing and encoding need for even the smallest picture: bands, layers, the libraries themselves."""


def _coefficients(image: Image.Image) -> int:
    """Return the bytes that a progressive JPEG needs until its last scan: two per coefficient (ITU-T T.81, G)."""
    if not image.info.get("progressive"):
        return 0
    layers = [(h, v) for _, h, v, _ in image.layer]  # type: ignore[attr-defined]
    most = max(h for h, _ in layers) * max(v for _, v in layers)
    return int(2 * image.width * image.height * sum(h * v for h, v in layers) / most)


def _is_lossless(source: FilePath | BinaryIO) -> bool:
    """Return whether a WebP is lossless, by its chunks (RFC 9649)."""
    with source.open("rb") if isinstance(source, FilePath) else nullcontext(source) as file:
        file.seek(12)
        while len(head := file.read(8)) == 8:
            if head[:4] in (b"VP8L", b"VP8 "):
                return head[:4] == b"VP8L"
            size = int.from_bytes(head[4:], "little")
            file.seek(size + size % 2, io.SEEK_CUR)
    return True


def _halved(share: float) -> int:
    """Return by how much a JPEG is reduced on reading, for a needed share of its size."""
    return next((n for n in (8, 4, 2) if share <= 1 / n), 1)


ROWS: Final = 40_000_000
"""Bytes of rows in flight, in libvips and in the decoders."""


def _on_its_way(image: Image.Image) -> int:
    """Return the bytes of memory while a mapped photo is written to its file: three strips."""
    return ROWS + 3 * STRIP * (8 if orientation_of(image) in TURNED else 1)


def decoding(source: FilePath | BinaryIO, name: str, at_least: float = 1.0) -> int:
    """Return about how many bytes decoding a photo at a share of its size needs. Raises PictureError.

    A JPEG is reduced by halves on reading, a large PNG or TIFF row by row, a lossy
    WebP by its decoder; the others, and interlaced ones, are decoded whole.
    """
    image = opened(source, name)
    px = image.width * image.height
    share = min(1.0, max(at_least, 1e-3))
    kind = str(image.format)
    if kind in ("JPEG", "MPO"):
        by = _halved(share)
        if by == 1 and is_mapped(image):
            return _on_its_way(image) + _coefficients(image)
        # a CMYK picture is in memory twice on its way to sRGB
        return (8 if image.mode == "CMYK" else 4) * px // by**2 + _coefficients(image)
    by = math.floor(1 / share + 1e-9)
    if by >= 2 and px >= SHRUNK:
        made = 4 * px // by**2 + ROWS
        if kind in ("PNG", "TIFF"):
            return made + (4 * px if image.info.get("interlace") else 128 * image.width)
        if kind == "WEBP":
            whole = 4 * px if _is_lossless(source) else px * ("A" in image.getbands())
            return made + whole + int(4 * px * webp_scale(by) ** 2)
    if is_mapped(image):
        return _on_its_way(image) + (4 * px if image.info.get("interlace") else 128 * image.width)
    return (8 if kind in ("WEBP", "AVIF", "HEIF") else 4) * px


def preparing(source: FilePath, name: str, width: int, height: int) -> int:
    """Return about how many bytes making the small copy of a photo needs. Raises PictureError."""
    share = min(1.0, PREVIEW_SIDE / max(width, height))
    # plus the small copy itself, twice
    return decoding(source, name, share) + 8 * PREVIEW_SIDE**2


def _copied(photo: Photo, share: float, source: FilePath, embedded: bool) -> int:
    """Return the bytes of a photo in Skia, with its smaller copies, drawn at a share of its size.

    `embedded` is whether it goes into a vector drawing, which needs even a mapped one as RGB.
    """
    if share > 0.5 and is_mapped(opened(source, photo.name)):
        laid = int(4 * photo.width * photo.height * share**2)
        if embedded:
            return 2 * laid
        # from a file, only what a band shows; one small enough for memory is in memory too
        return 0 if laid > MAPPED_FROM else int(laid * 7 / 3)
    if share >= 1.0:
        return 0
    by = _halved(share)
    return int(4 / 3 * 4 * photo.width * photo.height / by**2)


def exporting(sheet: Sheet, files: list[Exported], order: Order, at: Callable[[Photo], FilePath]) -> int:
    """Return about how many bytes writing some files, one after another or as pages, needs; `at` finds their photos.

    Raises PictureError if one cannot be read.
    """
    out = format_of(order.format)
    most = 0
    for what in files:
        raw = 4 * what.width * what.height
        shares: dict[str, tuple[float, Photo]] = {}
        for photo in photos_of(what.items or sheet.items, hidden=False):
            share = needed_share(photo, what.scale)
            shares[photo.file] = max(shares.get(photo.file, (0.0, photo)), (share, photo), key=lambda s: s[0])
        decoded = [decoding(at(photo), photo.name, share) for share, photo in shares.values()]
        largest = max(decoded, default=0)
        # as many are cached as fit beside the picture, and Skia has the largest once more while drawing it
        kept = max(largest, min(sum(decoded), cache_size(raw)))
        drawing = kept + max(
            (_copied(photo, share, at(photo), out.drawing) for share, photo in shares.values()), default=0
        )
        writing = out.writing(raw, order)
        if order.format == "pdf" and order.standard == "print" and order.inks:
            # one picture at a time as RGB, as inks, and as a file
            writing += 8 * max((int(p.width * p.height * share**2) for share, p in shares.values()), default=0)
        # pixels in a file do not use memory, and the photos are gone by the time of writing
        most = max(most, max(drawing, writing) if raw > MAPPED_FROM else drawing + raw + writing)
    return most + ALWAYS
