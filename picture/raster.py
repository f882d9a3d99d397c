"""A sheet as pixels, by Skia: anti-aliased clips and strokes, photos sampled from their originals."""

import io
import math
from collections.abc import Callable
from typing import Final

import numpy as np
import skia
from PIL import Image

from outline import Matrix
from sheet import geometry
from sheet.geometry import Box
from sheet.model import Group, Item, Photo, Piece, Sheet

from .errors import PictureError
from .skiapath import fill_color, stroke_paint, to_skia
from .visible import delivered_box

__all__ = ["Loader", "pixel_size", "render", "deliver_png", "encode_png"]

MAX_SIDE: Final = 32_000
MAX_PIXELS: Final = 300_000_000

Loader = Callable[[Photo, float], Image.Image]
"""Gives the photo as RGB or RGBA, decoded at no less than the given share of its full size."""


def pixel_size(box: Box, scale: float) -> tuple[int, int]:
    """Return the size in px of `box` (sheet units) at `scale` px per sheet unit, rounded up.

    Raises PictureError above 32,000 px a side or 300 megapixels.
    """
    # a hundredth of a px more is float noise of the stroke's extent, and would not be seen
    width = max(1, math.ceil((box[2] - box[0]) * scale - 0.01))
    height = max(1, math.ceil((box[3] - box[1]) * scale - 0.01))
    if max(width, height) > MAX_SIDE or width * height > MAX_PIXELS:
        raise PictureError(
            f"That would be {width:,} × {height:,} px; {MAX_SIDE:,} px a side and "
            f"{MAX_PIXELS / 1e6:.0f} megapixels are the most.",
            "Use fewer px per inch.",
        )
    return width, height


_BLENDS = {
    "normal": skia.BlendMode.kSrcOver,
    "multiply": skia.BlendMode.kMultiply,
    "screen": skia.BlendMode.kScreen,
    "overlay": skia.BlendMode.kOverlay,
    "darken": skia.BlendMode.kDarken,
    "lighten": skia.BlendMode.kLighten,
    "color-dodge": skia.BlendMode.kColorDodge,
    "color-burn": skia.BlendMode.kColorBurn,
    "hard-light": skia.BlendMode.kHardLight,
    "soft-light": skia.BlendMode.kSoftLight,
    "difference": skia.BlendMode.kDifference,
    "exclusion": skia.BlendMode.kExclusion,
}


def _matrix(m: Matrix) -> skia.Matrix:
    return skia.Matrix.MakeAll(m.a, m.c, m.e, m.b, m.d, m.f, 0, 0, 1)


def _draw_photo(canvas: skia.Canvas, photo: Photo, scale: float, load: Loader) -> None:
    if photo.opacity <= 0:
        return
    m = photo.placing
    share = min(1.0, scale * max(math.hypot(m.a, m.b), math.hypot(m.c, m.d)))
    image = load(photo, share)
    pixels = skia.Image.fromarray(
        np.asarray(image.convert("RGBA") if image.mode != "RGBA" else image), skia.ColorType.kRGBA_8888_ColorType
    )
    to_full = Matrix.resize(photo.width / image.width, photo.height / image.height)
    if m.b == m.c == 0 and abs(m.a * scale - 1) < 1e-9 and abs(m.d * scale - 1) < 1e-9:
        # one photo px per px: nothing to blend
        sampling = skia.SamplingOptions(skia.FilterMode.kNearest)
    elif share < 1.0:
        sampling = skia.SamplingOptions(skia.FilterMode.kLinear, skia.MipmapMode.kLinear)
    else:
        sampling = skia.SamplingOptions(skia.CubicResampler.Mitchell())
    canvas.save()
    canvas.concat(_matrix(m @ to_full))
    paint = skia.Paint(AntiAlias=True)
    paint.setAlphaf(photo.opacity)
    whole = skia.Rect.MakeWH(image.width, image.height)
    canvas.drawImageRect(pixels, whole, whole, sampling, paint)
    canvas.restore()


def _draw_piece(canvas: skia.Canvas, piece: Piece, scale: float, load: Loader) -> None:
    paint = piece.paint
    if paint.opacity <= 0:
        return
    path = to_skia(geometry.outline_of(piece))
    layered = paint.opacity < 1 or paint.blend != "normal"
    if layered:
        layer = skia.Paint()
        layer.setAlphaf(paint.opacity)
        layer.setBlendMode(_BLENDS[paint.blend])
        canvas.saveLayer(None, layer)
    if paint.fill is not None and geometry.fill_shows(piece):
        canvas.drawPath(path, skia.Paint(Color=fill_color(paint.fill), AntiAlias=True))
    if piece.photos:
        canvas.save()
        canvas.clipPath(path, skia.ClipOp.kIntersect, True)
        for photo in piece.photos:
            _draw_photo(canvas, photo, scale, load)
        canvas.restore()
    pen = stroke_paint(paint)
    if pen is not None:
        canvas.drawPath(path, pen)
    if layered:
        canvas.restore()


def _draw_item(canvas: skia.Canvas, item: Item, scale: float, load: Loader) -> None:
    if item.hidden:
        return
    if isinstance(item, Photo):
        _draw_photo(canvas, item, scale, load)
    elif isinstance(item, Group):
        for inner in item.items:
            _draw_item(canvas, inner, scale, load)
    else:
        _draw_piece(canvas, item, scale, load)


def render(items: tuple[Item, ...], box: Box, scale: float, load: Loader, backdrop: str | None = None) -> np.ndarray:
    """Return the pixels (height, width, 4), RGBA with straight alpha, of `items` within `box`."""
    width, height = pixel_size(box, scale)
    out = np.zeros((height, width, 4), np.uint8)
    surface = skia.Surface.MakeRasterN32Premul(width, height)
    canvas = surface.getCanvas()
    canvas.clear(fill_color(backdrop) if backdrop else skia.ColorTRANSPARENT)
    canvas.scale(scale, scale)
    canvas.translate(-box[0], -box[1])
    for item in items:
        _draw_item(canvas, item, scale, load)
    info = skia.ImageInfo.Make(width, height, skia.ColorType.kRGBA_8888_ColorType, skia.AlphaType.kUnpremul_AlphaType)
    surface.readPixels(info, out, width * 4, 0, 0)
    return out


def encode_png(pixels: np.ndarray, resolution: float) -> bytes:
    """Return a PNG of RGBA pixels with its px per inch; without an alpha channel where nothing is transparent."""
    image = Image.fromarray(pixels, "RGBA")
    if pixels[..., 3].min() == 255:
        image = image.convert("RGB")
    out = io.BytesIO()
    image.save(out, "PNG", compress_level=3, dpi=(resolution, resolution))
    return out.getvalue()


def _trimmed(pixels: np.ndarray) -> np.ndarray:
    """Return the pixels without fully transparent margins around them, as a photo's own transparency leaves.

    A single empty row or column stays: it is the faint end of what the exact box holds.
    """
    rows: np.ndarray = np.any(pixels[..., 3], axis=1)
    columns: np.ndarray = np.any(pixels[..., 3], axis=0)
    if not rows.any():
        return pixels
    top, left = int(rows.argmax()), int(columns.argmax())
    bottom, right = len(rows) - int(rows[::-1].argmax()), len(columns) - int(columns[::-1].argmax())
    height, width = pixels.shape[:2]
    top, left = top if top > 1 else 0, left if left > 1 else 0
    bottom = bottom if bottom < height - 1 else height
    right = right if right < width - 1 else width
    return pixels[top:bottom, left:right]


def deliver_png(sheet: Sheet, resolution: float, load: Loader, only: Item | None = None) -> bytes:
    """Return the sheet, or one item of it, as a PNG at `resolution` px per inch, trimmed to what shows.

    Raises PictureError where nothing shows or the picture would be too large.
    """
    box = delivered_box(sheet, only)
    scale = resolution / sheet.resolution
    if only is not None:
        pixels = render((only,), box, scale, load)
    else:
        pixels = render(sheet.items, box, scale, load, sheet.backdrop)
    return encode_png(_trimmed(pixels), resolution)
