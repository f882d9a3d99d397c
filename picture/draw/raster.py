"""A sheet as pixels, by Skia: anti-aliased clips and strokes, photos sampled from their originals."""

import math
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass
from typing import Final, Protocol

import numpy as np
import skia
from PIL import Image

from picture import mapped_pixels
from picture.progress import report_progress
from sheet.document.model import Group, Item, Photo, Piece, Sheet
from sheet.export.sizes import Exported, pixel_size
from sheet.geometry import geometry
from sheet.geometry.geometry import Box
from sheet.geometry.placing import needed_share

from .skiapath import fill_color, fill_paint, skia_matrix, stroke_paint, to_skia

__all__ = ["Images", "Loader", "Sampled", "as_skia", "blends", "export_pixels", "draw_item", "cache_size", "render"]

Loader = Callable[[Photo, float], Image.Image]
"""Returns the photo as RGB or RGBA, decoded at the given share of its full size or larger."""

BAND: Final = 1 << 23
"""Px drawn at a time: bounds what Skia allocates for layers and finer colours."""
LEAST_KEPT: Final = 1 << 26
"""Bytes of decoded photos cached for the next pane or band; or the bytes of the drawing, if that is more."""

MOST_LYING: Final = 4
"""Bytes of decoded photos cached in files, where they do not use memory."""


def cache_size(raw: int) -> int:
    """Return how many bytes of decoded photos are cached beside the pixels themselves, `raw` bytes."""
    return LEAST_KEPT if raw > mapped_pixels.MAPPED_FROM else max(raw, LEAST_KEPT)


ROUND: Final = 8
"""Px around a part of a photo: more than resampling its edges needs."""


@dataclass(frozen=True, slots=True)
class Sampled:
    """A decoded photo of `width` × `height` px, or the part of it that starts at px `x`, `y`.

    One that is `fitted` has the size at which it is drawn: it needs no smaller copies.
    """

    image: skia.Image
    width: int
    height: int
    x: int = 0
    y: int = 0
    fitted: bool = False


class Images(Protocol):
    """Returns photos for Skia to draw."""

    def __call__(self, photo: Photo, at_least: float, part: Box) -> Sampled:
        """Return the photo at a share of its full size or larger; `part` (shares of its sides) is what is needed.

        If the share is less than 1, it is the whole photo, or that part of a fitted one.
        """
        ...


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


def as_skia(image: Image.Image, part: tuple[int, int, int, int] | None = None) -> skia.Image:
    """Return the pixels of a picture, or of a part of it, for Skia; only a strip of it is in memory twice."""
    x0, y0, x1, y1 = part or (0, 0, *image.size)
    bitmap = skia.Bitmap()
    # opaque pixels need not be multiplied by their alpha
    opaque = not mapped_pixels.has_alpha(image)
    kind = skia.ColorType.kRGBA_8888_ColorType
    alpha = skia.AlphaType.kOpaque_AlphaType if opaque else skia.AlphaType.kUnpremul_AlphaType
    bitmap.allocPixels(skia.ImageInfo.Make(x1 - x0, y1 - y0, kind, alpha))
    pixels = np.array(bitmap, copy=False)
    step = max(1, BAND // 8 // max(1, x1 - x0))
    for y in range(y0, y1, step):
        strip = image.crop((x0, y, x1, min(y1, y + step)))
        pixels[y - y0 : y - y0 + step] = np.asarray(strip if strip.mode == "RGBA" else strip.convert("RGBA"))
    lies_in = mapped_pixels.pixels_of(image)
    if lies_in is not None:
        mapped_pixels.let_go(lies_in)
    # immutable pixels are shared, not copied
    bitmap.setImmutable()
    return skia.Image.MakeFromBitmap(bitmap)


class _Decoded:
    """Photos for one drawing, each decoded once if together they fit into `most` bytes."""

    def __init__(self, load: Loader, most: int):
        self.load, self.most = load, most
        self.kept: OrderedDict[tuple[str, float], Image.Image] = OrderedDict()
        self.whole: OrderedDict[tuple[str, float], skia.Image] = OrderedDict()

    def __call__(self, photo: Photo, at_least: float, part: Box) -> Sampled:
        key = (photo.file, at_least)
        if key in self.whole:
            self.whole.move_to_end(key)
            image = self.whole[key]
            return Sampled(image, image.width(), image.height())
        picture = self.kept.pop(key, None) or self.load(photo, at_least)
        width, height = picture.size
        fitted = at_least < 1.0 and mapped_pixels.pixels_of(picture) is not None
        if at_least < 1.0 and not fitted:
            # smaller copies of a part would differ from those of the whole
            image = self.whole[key] = as_skia(picture)
            self._forget()
            return Sampled(image, width, height)
        self.kept[key] = picture
        self._forget()
        x0, y0 = (max(0, math.floor(v * n) - ROUND) for v, n in zip(part[:2], (width, height), strict=True))
        x1, y1 = (min(n, math.ceil(v * n) + ROUND) for v, n in zip(part[2:], (width, height), strict=True))
        return Sampled(as_skia(picture, (x0, y0, max(x0 + 1, x1), max(y0 + 1, y1))), width, height, x0, y0, fitted)

    def _forget(self) -> None:
        def full() -> bool:
            there = [i for i in self.kept.values() if mapped_pixels.pixels_of(i) is None]
            lying = len(self.kept) - len(there)
            sizes = [i.size for i in there] + [(i.width(), i.height()) for i in self.whole.values()]
            return lying > MOST_LYING or (len(sizes) > 1 and 4 * sum(w * h for w, h in sizes) > self.most)

        while full() and self.whole:
            self.whole.popitem(last=False)
        while full() and self.kept:
            self.kept.popitem(last=False)


def _draw_photo(canvas: skia.Canvas, photo: Photo, scale: float, images: Images) -> None:
    if photo.opacity <= 0:
        return
    m = photo.placing
    canvas.save()
    canvas.concat(skia_matrix(m))
    shown = canvas.getLocalClipBounds()
    if shown.intersect(skia.Rect.MakeWH(photo.width, photo.height)):
        share = needed_share(photo, scale)
        part = (
            shown.left() / photo.width,
            shown.top() / photo.height,
            shown.right() / photo.width,
            shown.bottom() / photo.height,
        )
        got = images(photo, share, part)
        if m.b == m.c == 0 and abs(m.a * scale - 1) < 1e-9 and abs(m.d * scale - 1) < 1e-9:
            # one photo px per px: nothing to blend
            sampling = skia.SamplingOptions(skia.FilterMode.kNearest)
        elif got.fitted:
            sampling = skia.SamplingOptions(skia.FilterMode.kLinear)
        elif share < 1.0:
            sampling = skia.SamplingOptions(skia.FilterMode.kLinear, skia.MipmapMode.kLinear)
        else:
            sampling = skia.SamplingOptions(skia.CubicResampler.Mitchell())
        canvas.scale(photo.width / got.width, photo.height / got.height)
        paint = skia.Paint(AntiAlias=True)
        paint.setAlphaf(photo.opacity)
        paint.setBlendMode(_BLENDS[photo.blend])
        whole = skia.Rect.MakeWH(got.image.width(), got.image.height())
        canvas.drawImageRect(got.image, whole, whole.makeOffset(got.x, got.y), sampling, paint)
    canvas.restore()


def _layer(canvas: skia.Canvas, opacity: float, blend: str) -> bool:
    """Begin a layer if opacity or blend mode need one; return whether there is one to restore."""
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
    fill = fill_paint(paint.fill) if paint.fill is not None and geometry.fill_shows(piece) else None
    # photos that blend do so in their own layer, as clipped groups of SVG do, with the fill in it
    apart = any(p.blend != "normal" for p in piece.photos)
    if fill is not None and not apart:
        canvas.drawPath(path, fill)
    if piece.photos:
        canvas.save()
        canvas.clipPath(path, skia.ClipOp.kIntersect, True)
        if apart:
            canvas.saveLayer(None, None)
            if fill is not None:
                canvas.drawPaint(fill)
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
            # the half of a border twice as wide that is inside the outline, or outside
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


def blends(item: Item) -> bool:
    """Return whether anything in an item has a blend mode other than normal."""
    if isinstance(item, Photo):
        return item.blend != "normal"
    if isinstance(item, Group):
        return item.blend != "normal" or any(blends(i) for i in item.items)
    return item.paint.blend != "normal" or any(p.blend != "normal" for p in item.photos)


def _surface(width: int, height: int, fine: bool) -> skia.Surface:
    """Return a surface; `fine` if rounding every step to 8 bits would add up to more than one level."""
    if not fine:
        return skia.Surface.MakeRasterN32Premul(width, height)
    half = skia.ImageInfo.Make(width, height, skia.ColorType.kRGBA_F16_ColorType, skia.AlphaType.kPremul_AlphaType)
    return skia.Surface.MakeRaster(half)


def render(
    items: tuple[Item, ...],
    box: Box,
    scale: float,
    load: Loader,
    backdrop: str | None = None,
    ground: str | None = None,
) -> np.ndarray:
    """Return the pixels (height, width, 4), RGBA with straight alpha, of `items` within `box`.

    They are on the `backdrop`, and blend with it; the whole picture is on the
    `ground`, which shows through where it is transparent.

    It draws in bands, so that memory holds little more than the pixels and the current
    photos, and reports its progress (`picture.progress`).
    """
    width, height = pixel_size(box, scale)
    out = mapped_pixels.zeros((height, width, 4))
    fine = any(blends(i) for i in items)
    rows = min(height, max(1, BAND // width))
    images = _Decoded(load, cache_size(out.nbytes))
    surface = _surface(width, rows, fine)
    canvas = surface.getCanvas()
    # without blending, drawing over the ground equals putting the ground below
    first = backdrop or (None if fine else ground)
    # an opaque picture is the same with straight and with premultiplied alpha
    solid = bool(backdrop or ground)
    alpha = skia.AlphaType.kPremul_AlphaType if solid else skia.AlphaType.kUnpremul_AlphaType
    info = skia.ImageInfo.Make(width, rows, skia.ColorType.kRGBA_8888_ColorType, alpha)
    for top in range(0, height, rows):
        canvas.save()
        canvas.clear(fill_color(first) if first else skia.ColorTRANSPARENT)
        canvas.translate(0, -top)
        canvas.scale(scale, scale)
        canvas.translate(-box[0], -box[1])
        for item in items:
            draw_item(canvas, item, scale, images)
        canvas.restore()
        if ground and fine:
            # below everything (W3C Compositing 1, 9.1.6: destination over)
            canvas.drawColor(fill_color(ground), skia.BlendMode.kDstOver)
        last = min(rows, height - top)
        surface.readPixels(info.makeWH(width, last), out[top : top + last], width * 4, 0, 0)
        mapped_pixels.let_go(out)
        report_progress((top + last) / height)
    return out


def export_pixels(sheet: Sheet, what: Exported, load: Loader, ground: str | None = None) -> np.ndarray:
    """Return the pixels (height, width, 4) of an export, on a colour if one is given.

    Raises PictureError if a photo cannot be read.
    """
    backdrop = None if what.items else sheet.backdrop
    return render(what.items or sheet.items, what.box, what.scale, load, backdrop, ground)
