"""Hard masks (CSS Masking 1, 7) as outlines to clip by."""

from collections.abc import Iterable, Iterator

import outline
from outline import Matrix, OutlineError, Path, dashed, stroke_outline
from sheet.document.gradients import Fill, Gradient
from sheet.document.model import Item, Photo, Piece
from sheet.geometry.geometry import Box, outline_of
from sheet.reading.colours import rgb_of

from .css import length
from .effort import Effort

__all__ = ["Soft", "area_of", "region_of"]

_NEAR = 0.004
"""How far from 0 or 1 a mask's value may be: one level of 255."""


class Soft(Exception):
    """A mask with values between 0 and 1, which is not an outline."""


def _passes(fill: Fill, by_alpha: bool) -> bool:
    """Return whether a colour's mask value is 1 rather than 0. Raises Soft for anything between."""
    if by_alpha and not isinstance(fill, Gradient):
        return True
    if isinstance(fill, Gradient):
        raise Soft
    # the luminance of CSS Masking 1, 7.10.1, in sRGB as `color-interpolation` begins
    r, g, b = rgb_of(fill)
    light = (0.2125 * r + 0.7154 * g + 0.0721 * b) / 255
    if _NEAR < light < 1 - _NEAR:
        raise Soft
    return light > 0.5


def _layers(items: Iterable[Item], by_alpha: bool, effort: Effort) -> Iterator[tuple[Path, bool]]:
    """Yield the areas of a mask, lowest first, and whether each lets through."""
    for item in items:
        if isinstance(item, Photo):
            raise Soft
        if not isinstance(item, Piece):
            if item.opacity < 1 or item.blend != "normal":
                raise Soft
            yield from _layers(item.items, by_alpha, effort)
            continue
        paint = item.paint
        if item.photos or paint.opacity < 1 or paint.blend != "normal":
            raise Soft
        path = outline_of(item)
        if not effort.allows_border(path, paint.dashes):
            raise OutlineError("it crosses itself, or is broken, too often to be outlined")
        if paint.fill is not None:
            yield path, _passes(paint.fill, by_alpha)
        if paint.stroke is not None and paint.stroke_width > 0:
            line = dashed(path, list(paint.dashes)) if paint.dashes else path
            yield (
                stroke_outline(line, paint.stroke_width, join=paint.join, cap=paint.cap),
                _passes(paint.stroke, by_alpha),
            )


def region_of(items: Iterable[Item], by_alpha: bool, effort: Effort) -> Path:
    """Return the outline that a mask lets through: white over black, or whatever is there if it goes `by_alpha`.

    Raises Soft for values between, OutlineError for what takes more effort than is left.
    """
    made = Path.gather([])
    for path, through in _layers(items, by_alpha, effort):
        made = outline.union([made, path]) if through else outline.subtract(made, [path])
    return made


def area_of(
    own: dict[str, str], box: Box, matrix: Matrix, viewport: tuple[float, float]
) -> tuple[tuple[float, float], ...]:
    """Return the corners in sheet px of what a mask or filter with these attributes can show, none if it is nothing.

    `box` is that of what it is on, in the px that `matrix` takes to the sheet; per cent are of `viewport`
    (CSS Masking 1, 7.7; Filter Effects 1, 8.3).
    """
    of_box = own.get("filterUnits", own.get("maskUnits", "objectBoundingBox")) == "objectBoundingBox"
    if of_box:
        x0, y0, x1, y1 = box
        matrix = matrix @ Matrix.move(x0, y0) @ Matrix.resize(x1 - x0 or 1.0, y1 - y0 or 1.0)
        viewport = (1.0, 1.0)
    left, top = length(own.get("x", "-10%"), viewport[0]), length(own.get("y", "-10%"), viewport[1])
    width, height = length(own.get("width", "120%"), viewport[0]), length(own.get("height", "120%"), viewport[1])
    if width <= 0 or height <= 0:
        return ()
    right, bottom = left + width, top + height
    return matrix(left, top), matrix(right, top), matrix(right, bottom), matrix(left, bottom)
