"""How small files are beside those of common encoders that take as long.

Each of them writes the same picture: a photo of the demo, whole and in an oval with a soft edge. Of those that take no
more time than Gouge's own (and a quarter, since times vary), the smallest file is what Gouge's is divided by.
"""

import io
import time
from collections.abc import Callable
from typing import Any

import cv2
import numpy as np
import pyvips
from PIL import Image

from picture.draw.raster import export_pixels
from picture.photos.decode import open_upright
from picture.write.formats import FORMATS
from sheet import Sheet, apply, new_sheet, perform
from sheet.commands.photo.importing import PlacedPhotos
from sheet.document.library import PhotoFacts
from sheet.export.order import Order, ordered
from studio.demo.photos import photo_file

__all__ = ["run"]

Encode = Callable[[], bytes]
FILE = photo_file("dusk-sea.jpg")


def _pillow(pixels: np.ndarray, **options: Any) -> Encode:
    def made() -> bytes:
        out = io.BytesIO()
        Image.fromarray(pixels).save(out, **options)
        return out.getvalue()

    return made


def _vips(pixels: np.ndarray, ending: str, **options: Any) -> Encode:
    image = pyvips.Image.new_from_array(pixels).copy(interpretation="srgb")
    return lambda: image.write_to_buffer(ending, **options)


def _opencv(pixels: np.ndarray, level: int) -> Encode:
    turned = cv2.cvtColor(pixels, cv2.COLOR_RGB2BGR if pixels.shape[2] == 3 else cv2.COLOR_RGBA2BGRA)
    return lambda: cv2.imencode(".png", turned, [cv2.IMWRITE_PNG_COMPRESSION, level])[1].tobytes()


def _png(pixels: np.ndarray) -> dict[str, Encode]:
    return {
        **{f"Pillow {level}": _pillow(pixels, format="PNG", compress_level=level) for level in (1, 3, 4, 6)},
        **{f"libvips {level}": _vips(pixels, ".png", compression=level, filter="all") for level in (1, 3, 6)},
        **{f"OpenCV {level}": _opencv(pixels, level) for level in (1, 3, 6)},
    }


def _webp(pixels: np.ndarray) -> dict[str, Encode]:
    return {
        **{f"Pillow {e}": _pillow(pixels, format="WEBP", lossless=True, quality=e) for e in (0, 25, 50, 75)},
        "libvips": _vips(pixels, ".webp", lossless=True),
    }


def _lossy(pixels: np.ndarray) -> dict[str, Encode]:
    return {
        **{f"Pillow, method {m}": _pillow(pixels, format="WEBP", quality=90, method=m) for m in (2, 4)},
        "libvips": _vips(pixels, ".webp", Q=90),
    }


def _tiff(pixels: np.ndarray) -> dict[str, Encode]:
    return {"libvips": _vips(pixels, ".tif", compression="lzw", predictor="horizontal")}


def _measured(encode: Encode) -> tuple[int, float]:
    best, size = 9e9, 0
    for _ in range(3):
        begun = time.perf_counter()
        size = len(encode())
        best = min(best, time.perf_counter() - begun)
    return size, best


def run() -> list[tuple[str, float, str]]:
    """Return (what, ratio, limit) rows."""
    photo = open_upright(FILE, "photo")
    width, height = photo.size
    sheet = perform(new_sheet(width, height, "px", 300), PlacedPhotos((PhotoFacts("0" * 64, "p", *photo.size),))).sheet
    whole = sheet.items[0].id
    box = {"x": width / 10, "y": height / 10, "width": width * 0.8, "height": height * 0.8}
    made = apply(sheet, "draw", {"kind": "ellipse", **box})
    oval = made.chosen[0]
    framed = apply(made.sheet, "put_in", {"ids": [whole, oval]}).sheet
    cases = (
        ("PNG of a photo", sheet, whole, {"format": "png"}, _png),
        ("PNG with transparency", framed, oval, {"format": "png"}, _png),
        ("lossless WebP of a photo", sheet, whole, {"format": "webp", "lossless": True}, _webp),
        ("lossless WebP with transparency", framed, oval, {"format": "webp", "lossless": True}, _webp),
        ("WebP with transparency", framed, oval, {"format": "webp", "quality": "90"}, _lossy),
        ("TIFF with LZW", sheet, whole, {"format": "tif"}, _tiff),
    )
    return [_compared(name, at, Order(what=item, **order), others) for name, at, item, order, others in cases]


def _load(_: Any, share: float) -> Image.Image:
    return open_upright(FILE, "photo", share)


def _compared(
    name: str, sheet: Sheet, order: Order, others: Callable[[np.ndarray], dict[str, Encode]]
) -> tuple[str, float, str]:
    (what,) = ordered(sheet, order)
    pixels = export_pixels(sheet, what, _load, None)
    if pixels[..., 3].min() == 255:
        pixels = np.ascontiguousarray(pixels[..., :3])
    _, drawing = _measured(lambda: export_pixels(sheet, what, _load, None).tobytes())
    size, whole = _measured(lambda: FORMATS[order.format].write(sheet, what, _load, order))
    took = max(whole - drawing, 1e-3)
    peers = {peer: _measured(encode) for peer, encode in others(pixels).items()}
    print(f"  {name}: {size / 1e3:,.0f} kB in {took:.2f} s")
    for peer, (bytes_, seconds) in peers.items():
        print(f"    {peer:16s} {bytes_ / 1e3:9,.0f} kB in {seconds:.2f} s")
    like = [bytes_ for bytes_, seconds in peers.values() if seconds <= 1.25 * took or len(peers) == 1]
    return f"{name} ÷ the smallest in like time", size / min(like, default=size), "≤ 1.05"
