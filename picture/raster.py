"""A sheet as pixels, by Skia: anti-aliased clips and strokes, photos sampled from their originals."""

import math
from collections.abc import Callable

import numpy as np
import skia
from PIL import Image

from outline import Matrix
from sheet import geometry
from sheet.delivery import Delivered, pixel_size
from sheet.geometry import Box
from sheet.model import Group, Item, Photo, Piece, Sheet

from .skiapath import fill_color, stroke_paint, to_skia

__all__ = ["Images", "Loader", "as_skia", "deliver_pixels", "draw_item", "render"]

Loader = Callable[[Photo, float], Image.Image]
"""Gives the photo as RGB or RGBA, decoded at no less than the given share of its full size."""
Images = Callable[[Photo, float], skia.Image]
"""The same as what Skia draws."""


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


def as_skia(image: Image.Image) -> skia.Image:
    """Return the pixels of a picture as Skia's."""
    rgba = image.convert("RGBA") if image.mode != "RGBA" else image
    return skia.Image.fromarray(np.asarray(rgba), skia.ColorType.kRGBA_8888_ColorType)


def _draw_photo(canvas: skia.Canvas, photo: Photo, scale: float, images: Images) -> None:
    if photo.opacity <= 0:
        return
    m = photo.placing
    share = min(1.0, scale * max(math.hypot(m.a, m.b), math.hypot(m.c, m.d)))
    image = images(photo, share)
    width, height = image.width(), image.height()
    to_full = Matrix.resize(photo.width / width, photo.height / height)
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
    paint.setBlendMode(_BLENDS[photo.blend])
    whole = skia.Rect.MakeWH(width, height)
    canvas.drawImageRect(image, whole, whole, sampling, paint)
    canvas.restore()


def _layer(canvas: skia.Canvas, opacity: float, blend: str) -> bool:
    """Begin a picture of its own where opacity or blend mode ask for one; tell whether there is one to restore."""
    if opacity >= 1 and blend == "normal":
        return False
    layer = skia.Paint()
    layer.setAlphaf(opacity)
    layer.setBlendMode(_BLENDS[blend])
    canvas.saveLayer(None, layer)
    return True


def _draw_piece(canvas: skia.Canvas, piece: Piece, scale: float, images: Images) -> None:
    paint = piece.paint
    if paint.opacity <= 0:
        return
    path = to_skia(geometry.outline_of(piece))
    layered = _layer(canvas, paint.opacity, paint.blend)
    fill = fill_color(paint.fill) if paint.fill is not None and geometry.fill_shows(piece) else None
    # photos that blend do so in a picture of their own, as clipped groups of SVG are, with the fill in it
    apart = any(p.blend != "normal" for p in piece.photos)
    if fill is not None and not apart:
        canvas.drawPath(path, skia.Paint(Color=fill, AntiAlias=True))
    if piece.photos:
        canvas.save()
        canvas.clipPath(path, skia.ClipOp.kIntersect, True)
        if apart:
            canvas.saveLayer(None, None)
            if fill is not None:
                canvas.drawColor(fill)
        for photo in piece.photos:
            _draw_photo(canvas, photo, scale, images)
        if apart:
            canvas.restore()
        canvas.restore()
    place = geometry.border_place(piece) if paint.stroke is not None else "centred"
    pen = stroke_paint(paint, 1 if place == "centred" else 2)
    if pen is not None:
        canvas.save()
        if place != "centred":
            # the half of a border twice as wide that lies inside the outline, or outside
            canvas.clipPath(path, skia.ClipOp.kIntersect if place == "inside" else skia.ClipOp.kDifference, True)
        canvas.drawPath(path, pen)
        canvas.restore()
    if layered:
        canvas.restore()


def draw_item(canvas: skia.Canvas, item: Item, scale: float, images: Images) -> None:
    """Draw an item on a canvas in sheet units that will show `scale` px for each."""
    if item.hidden:
        return
    if isinstance(item, Photo):
        _draw_photo(canvas, item, scale, images)
    elif isinstance(item, Group):
        if item.opacity <= 0:
            return
        layered = _layer(canvas, item.opacity, item.blend)
        for inner in item.items:
            draw_item(canvas, inner, scale, images)
        if layered:
            canvas.restore()
    else:
        _draw_piece(canvas, item, scale, images)


def _blends(item: Item) -> bool:
    """Tell whether anything of an item is blended by another mode than the normal one."""
    if isinstance(item, Photo):
        return item.blend != "normal"
    if isinstance(item, Group):
        return item.blend != "normal" or any(_blends(i) for i in item.items)
    return item.paint.blend != "normal" or any(p.blend != "normal" for p in item.photos)


def _surface(width: int, height: int, fine: bool) -> skia.Surface:
    """Return what to draw on; `fine` where the rounding of every step to 8 bits would add up to more than one level."""
    if not fine:
        return skia.Surface.MakeRasterN32Premul(width, height)
    half = skia.ImageInfo.Make(width, height, skia.ColorType.kRGBA_F16_ColorType, skia.AlphaType.kPremul_AlphaType)
    return skia.Surface.MakeRaster(half)


def render(items: tuple[Item, ...], box: Box, scale: float, load: Loader, backdrop: str | None = None) -> np.ndarray:
    """Return the pixels (height, width, 4), RGBA with straight alpha, of `items` within `box`."""
    width, height = pixel_size(box, scale)
    out = np.zeros((height, width, 4), np.uint8)
    surface = _surface(width, height, any(_blends(i) for i in items))
    canvas = surface.getCanvas()
    canvas.clear(fill_color(backdrop) if backdrop else skia.ColorTRANSPARENT)
    canvas.scale(scale, scale)
    canvas.translate(-box[0], -box[1])
    for item in items:
        draw_item(canvas, item, scale, lambda photo, share: as_skia(load(photo, share)))
    info = skia.ImageInfo.Make(width, height, skia.ColorType.kRGBA_8888_ColorType, skia.AlphaType.kUnpremul_AlphaType)
    surface.readPixels(info, out, width * 4, 0, 0)
    return out


def deliver_pixels(sheet: Sheet, what: Delivered, load: Loader) -> np.ndarray:
    """Return the pixels (height, width, 4) of what is delivered. Raises PictureError where a photo cannot be read."""
    return render(what.items or sheet.items, what.box, what.scale, load, None if what.items else sheet.backdrop)
