"""The PNG of a 24-megapixel photo in an outline, as a multiple of the same libraries without Gouge."""

import io
from typing import Any

import numpy as np
import skia
from PIL import Image

import outline
from picture.encoding import deliver_png
from picture.photos import open_upright
from picture.skiapath import to_skia
from sheet import apply, new_sheet, perform
from sheet.commands.bringing import Placed
from sheet.delivery import Order, delivered
from sheet.library import PhotoFacts

from .timing import best

__all__ = ["run"]


def _photo() -> bytes:
    rng = np.random.default_rng(5)
    small = rng.random((400, 600, 3))
    image = Image.fromarray((small * 255).astype(np.uint8)).resize((6000, 4000), Image.Resampling.BICUBIC)
    out = io.BytesIO()
    image.save(out, "JPEG", quality=90)
    return out.getvalue()


def run() -> list[tuple[str, float, str]]:
    """Return (what, ratio, limit) rows."""
    data = _photo()
    sheet = new_sheet(6000, 4000, "px", 300)

    def do(name: str, **args: Any) -> tuple[str, ...]:
        nonlocal sheet
        outcome = apply(sheet, name, args)
        sheet = outcome.sheet
        return outcome.chosen

    (a,) = do("draw", kind="rectangle", x=0, y=0, width=5000, height=4000)
    (b,) = do("draw", kind="ellipse", x=3000, y=500, width=3000, height=3000)
    (frame,) = do("combine", ids=[a, b], operation="union")
    sheet = perform(sheet, Placed((PhotoFacts("0" * 64, "p", 6000, 4000),))).sheet
    photo = sheet.items[0].id
    do("put_in", ids=[frame, photo])
    do("paint", ids=[frame], field="stroke", value="none")

    def gouge() -> bytes:
        what = delivered(sheet, 300, sheet.items[0])
        return deliver_png(sheet, what, lambda p, s: open_upright(io.BytesIO(data), p.name, s), Order())

    clip = to_skia(outline.union([outline.rectangle(5000, 4000), outline.ellipse(1500, 1500, 4500, 2000)]))

    def without() -> bytes:
        image = Image.open(io.BytesIO(data)).convert("RGBA")
        surface = skia.Surface.MakeRasterN32Premul(6000, 4000)
        canvas = surface.getCanvas()
        canvas.clear(skia.ColorTRANSPARENT)
        canvas.clipPath(clip, skia.ClipOp.kIntersect, True)
        canvas.drawImage(skia.Image.fromarray(np.asarray(image), skia.ColorType.kRGBA_8888_ColorType), 0, 0)
        pixels = np.zeros((4000, 6000, 4), np.uint8)
        info = skia.ImageInfo.Make(6000, 4000, skia.ColorType.kRGBA_8888_ColorType, skia.AlphaType.kUnpremul_AlphaType)
        surface.readPixels(info, pixels, 24000, 0, 0)
        out = io.BytesIO()
        Image.fromarray(pixels, "RGBA").save(out, "PNG", compress_level=3)
        return out.getvalue()

    ours, theirs = best(gouge, 5, 20), best(without, 5, 20)
    print(f"  with Gouge {ours:.2f} s, decoding, drawing and encoding alone {theirs:.2f} s")
    return [("PNG of a 24-megapixel photo in an outline ÷ the libraries alone", ours / theirs, "≤ 1.5")]
