"""The approximate size of a file: strips of it are encoded, and scaled up."""

import math
from collections.abc import Callable, Iterator
from typing import Final

from msgspec.structs import replace
from PIL import Image, ImageCms

from picture.draw.raster import Loader
from picture.mapped_pixels import has_alpha
from sheet.document.model import Photo, Sheet
from sheet.document.tree import photos_of
from sheet.export.order import Order
from sheet.export.sizes import Exported
from sheet.geometry.geometry import Box
from sheet.geometry.placing import needed_share

from .formats import format_of
from .page import WRITERS, pictures_of
from .pdf_inks import printed_photo, turn_of
from .pdf_standards import press_of
from .profiles import Files
from .svg import photo_boxes

__all__ = ["estimated", "in_words"]

WHOLE: Final = 400_000
"""Files of up to this many px are encoded whole: that is as quick, and exact."""
STRIPS: Final = 10
ROWS: Final = 32
"""The height of a strip of a photo, in px."""
FILES: Final = 6
"""How many files of a longer list are encoded."""
BASE64: Final = 4 / 3
SAMPLED_FROM: Final = 8_000_000
"""Above this many px, only a part is drawn."""


def in_words(size: float) -> str:
    """Return a number of bytes as people say it.

    >>> in_words(3_420_000), in_words(812_300), in_words(930)
    ('3.4 MB', '812 kB', '1 kB')
    """
    return f"{size / 1e6:.1f} MB" if size >= 999_500 else f"{max(1, round(size / 1e3)):,} kB"


def _decoding_once(load: Loader) -> Loader:
    """Return a loader that decodes each photo once."""
    known: dict[tuple[str, float], Image.Image] = {}

    def once(photo: Photo, at_least: float) -> Image.Image:
        key = (photo.file, at_least)
        if key not in known:
            known[key] = load(photo, at_least)
        return known[key]

    if isinstance(load, Files):
        # files that are copied unchanged keep their size
        once.encoded = load.encoded  # type: ignore[attr-defined]
    return once


def estimated(sheet: Sheet, files: list[Exported], load: Loader, order: Order) -> int:
    """Return about how many bytes the files have together. Raises as exporting them does."""
    step = max(1, len(files) // FILES)
    looked = files[::step]
    load = _decoding_once(load)
    of = _drawing if format_of(order.format).drawing else _pixels
    sizes = [of(sheet, what, load, order) for what in looked]
    share = sum(f.width * f.height for f in files) / sum(f.width * f.height for f in looked)
    return round(sum(sizes) * share)


def _carried_on(measure: Callable[[float], float], px: float) -> float:
    """Return an estimate of `measure` for all of the px; for many px, from shares of them.

    `measure` takes the share of the sides, and returns bytes. Larger drawings have less
    information per px, by the same factor for each doubling: two small sizes show it.
    """
    if px <= SAMPLED_FROM:
        return measure(1.0)
    share = math.sqrt(SAMPLED_FROM / 2 / px)
    one, half = (measure(s) / (s * s * px) for s in (share, share / 2))
    return float(px * one * min(1.0, one / half) ** math.log2(1 / share))


def _pixels(sheet: Sheet, what: Exported, load: Loader, order: Order) -> float:
    def measured(share: float) -> float:
        size = (max(1, round(what.width * share)), max(1, round(what.height * share)))
        return _strips(sheet, Exported(what.items, what.box, what.scale * share, what.resolution, *size), load, order)

    return _carried_on(measured, what.width * what.height)


def _strips(sheet: Sheet, what: Exported, load: Loader, order: Order) -> float:
    write = format_of(order.format).write
    if what.width * what.height <= WHOLE:
        return len(write(sheet, what, load, order))
    rows = max(16, min(64, what.height // STRIPS // 16 * 16))
    count = max(1, min(STRIPS, what.height // rows))

    def strip(top: int, height: int) -> Exported:
        x0, y0, x1, _ = what.box
        box = (x0, y0 + top / what.scale, x1, y0 + (top + height) / what.scale)
        return Exported(what.items, box, what.scale, what.resolution, what.width, height)

    # each file has a header, measured here on a file of one px
    x0, y0, _, _ = what.box
    dot = Exported(what.items, (x0, y0, x0 + 1 / what.scale, y0 + 1 / what.scale), what.scale, what.resolution, 1, 1)
    head = len(write(sheet, dot, load, order))
    tops = [round(k * (what.height - rows) / max(1, count - 1)) for k in range(count)]
    body = sum(len(write(sheet, strip(top, rows), load, order)) - head for top in tops)
    return head + body * what.height / (rows * count)


def _drawing(sheet: Sheet, what: Exported, load: Loader, order: Order) -> float:
    """The drawing itself, plus each photo once, as it will be embedded."""
    dot = Image.new("RGB", (1, 1))
    out = format_of(order.format)
    if out.key == "html":
        kinds = (replace(order, format=kind, lossless=False) for kind in WRITERS)
        return sum(_pixels(sheet, one, load, kind) for kind in kinds for one in pictures_of(what))
    if out.key == "dxf" or (out.key == "svg" and order.photos == "none"):
        return len(out.write(sheet, what, lambda p, s: dot, replace(order, photos="none")))
    # written once with photos of next to nothing
    size = float(len(out.write(sheet, what, lambda p, s: dot, order)))
    encoded = getattr(load, "encoded", None)
    press = press_of(order) if out.key == "pdf" else None
    inks = turn_of(press) if press is not None and order.inks else None
    for photo, share, box in _pictures(sheet, what, order):
        data = encoded(photo) if out.key == "pdf" and share > 0.99 and encoded and not inks else None
        if data is not None:
            size += len(data)
            continue
        px = share**2 * (box[2] - box[0]) * (box[3] - box[1])
        body = _carried_on(lambda by, p=photo, s=share, b=box: _embedded(p, s * by, b, load, inks), px)  # type: ignore[misc]
        size += body * (BASE64 if out.key == "svg" and order.photos != "linked" else 1)
    return size


def _pictures(sheet: Sheet, what: Exported, order: Order) -> Iterator[tuple[Photo, float, Box]]:
    """Yield the pictures that a drawing embeds: the photo, the share of its sides, and the box (px) that is
    embedded. A PDF has one for each size at which a photo is shown, an SVG one for all of them."""
    shown = list(photos_of(what.items or sheet.items, hidden=False))
    boxes = photo_boxes(what.items or sheet.items, what.box, what.scale)
    pictures: dict[tuple[str, float], tuple[Photo, float, Box]] = {}
    for photo in shown:
        whole: Box = (0.0, 0.0, float(photo.width), float(photo.height))
        if order.format == "pdf":
            share = needed_share(photo, what.scale)
            pictures[photo.file, round(share, 4)] = photo, share, whole
        elif photo.file in boxes:
            box, share = boxes[photo.file]
            pictures[photo.file, share] = photo, share, whole if order.photos == "whole" else box
    yield from pictures.values()


def _embedded(
    photo: Photo, share: float, box: Box, load: Loader, inks: ImageCms.ImageCmsTransform | None = None
) -> float:
    """Return the bytes of a box (px) of a photo as a drawing embeds it, from strips across all of it."""
    seen = load(photo, share)
    across, down = seen.width / photo.width, seen.height / photo.height
    left, right = int(box[0] * across), max(int(box[0] * across) + 1, round(box[2] * across))
    top, bottom = int(box[1] * down), max(int(box[1] * down) + 1, round(box[3] * down))
    count = min(STRIPS, max(1, (bottom - top) // ROWS))
    tall = ROWS if count > 1 else min(bottom - top, 2 * ROWS)
    crop = Image.new(seen.mode, (right - left, count * tall))
    for k in range(count):
        at = top + (bottom - top - tall) * k // max(1, count - 1)
        crop.paste(seen.crop((left, at, right, at + tall)), (0, k * tall))
    share_of = share**2 * (box[2] - box[0]) * (box[3] - box[1]) / (crop.width * crop.height)
    if inks is not None and not has_alpha(seen):
        return len(printed_photo(crop.convert("RGB"), inks)) * share_of
    alone = Exported((), (0, 0, *crop.size), 1.0, 96.0, *crop.size)
    one = Sheet(float(crop.width), float(crop.height), items=(Photo("i1", "p", photo.file, *crop.size),))
    way = Order(format="png") if has_alpha(seen) else Order(format="jpg", quality="92")
    body = len(format_of(way.format).write(one, alone, lambda p, s: crop, way))
    return body * share_of * (4 / 3 if inks is not None else 1)
