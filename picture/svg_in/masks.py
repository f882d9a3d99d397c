"""Hard masks (CSS Masking 1, 7) as outlines to clip by."""

from collections.abc import Callable, Iterable, Iterator
from typing import Any, Final
from xml.etree.ElementTree import Element

import outline
from outline import Matrix, OutlineError, Path, dashed, stroke_outline
from sheet.document.gradients import Fill, Gradient
from sheet.document.model import Item, Photo, Piece
from sheet.geometry.geometry import Box, join_boxes, outline_of
from sheet.geometry.placing import boxes_meet
from sheet.reading.colours import rgb_of

from .css import length, name_of, url_of
from .effort import Effort
from .parts import cutting
from .shown import Look
from .styles import Styles

__all__ = ["Masks", "area_of"]

_NEAR = 0.004
"""How far from 0 or 1 a mask's value may be: one level of 255."""
_NOTHING: Final = Path()


class _Soft(Exception):
    """A mask with values between 0 and 1, which is not an outline."""


def _passes(fill: Fill, by_alpha: bool) -> bool:
    """Return whether a colour's mask value is 1 rather than 0. Raises _Soft for anything between."""
    if by_alpha and not isinstance(fill, Gradient):
        return True
    if isinstance(fill, Gradient):
        raise _Soft
    # the luminance of CSS Masking 1, 7.10.1, in sRGB as `color-interpolation` begins
    r, g, b = rgb_of(fill)
    light = (0.2125 * r + 0.7154 * g + 0.0721 * b) / 255
    if _NEAR < light < 1 - _NEAR:
        raise _Soft
    return light > 0.5


def _layers(items: Iterable[Item], by_alpha: bool, effort: Effort) -> Iterator[tuple[Path, bool]]:
    """Yield the areas of a mask, lowest first, and whether each lets through."""
    for item in items:
        if isinstance(item, Photo):
            raise _Soft
        if not isinstance(item, Piece):
            if item.opacity < 1 or item.blend != "normal":
                raise _Soft
            yield from _layers(item.items, by_alpha, effort)
            continue
        paint = item.paint
        if item.photos or paint.opacity < 1 or paint.blend != "normal":
            raise _Soft
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


def _region_of(items: Iterable[Item], by_alpha: bool, effort: Effort) -> Path:
    """Return the outline that a mask lets through: white over black, or whatever is there if it goes `by_alpha`.

    Raises _Soft for values between, OutlineError for what takes more effort than is left.
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


class Masks:
    """The masks of a file; `linked` resolves an address, `report` receives what is not understood, and `items` gives
    those of an element."""

    def __init__(
        self,
        styles: Styles,
        linked: Callable[[str], Element | None],
        report: Callable[[str], None],
        effort: Effort,
        items: Callable[[Element, Look], Iterable[Item]],
    ):
        self._styles, self._linked, self._report, self._effort, self._items = styles, linked, report, effort, items
        self.reading: list[str] = []
        """The masks being read, so that none is read inside itself."""
        self._declared: dict[Element, tuple[dict[str, str], dict[str, str]]] = {}
        """What masks declare, and what is inherited in them."""
        self._regions: dict[tuple[Any, ...], Path | None] = {}
        """What masks let through, by their addresses and where they are."""

    def named(
        self, text: str, matrix: Matrix, viewport: tuple[float, float], box: Callable[[], Box | None]
    ) -> tuple[Path, ...]:
        """Return the outlines that the hard mask of a `mask` property clips by; none, and a report, for any other.

        An empty one if nothing shows. `matrix` and `viewport` are those of what it is on, and `box` gives its box (px).
        """
        target = self._linked(url_of(text)[0])
        if target is None or name_of(target) != "mask" or text in self.reading:
            self._report("mask that is not there, or of itself")
            return ()
        if target not in self._declared:
            self._declared[target] = self._styles.styled(target, self._styles.around(target))
        own, its = self._declared[target]
        found = box()
        across = own.get("maskContentUnits", "") == "objectBoundingBox"
        whole = own.get("maskUnits", "objectBoundingBox") == "objectBoundingBox"
        if found is None and (across or whole):
            return ()
        x0, y0, x1, y1 = found or (0.0, 0.0, 0.0, 0.0)
        area = area_of(own, (x0, y0, x1, y1), matrix, viewport)
        if not area:
            return (_NOTHING,)
        of_box = Matrix.move(x0, y0) @ Matrix.resize(x1 - x0 or 1.0, y1 - y0 or 1.0)
        inside = Look(matrix @ of_box if across else matrix, its, (), (1.0, 1.0) if across else viewport)
        key = (text, inside.matrix, inside.viewport)
        if key not in self._regions:
            self._regions[key] = self._region(text, target, own, inside)
        region = self._regions[key]
        if region is None:
            return ()
        if region.bounds is None or not boxes_meet(region.bounds, join_boxes([p + p for p in area])):
            return (_NOTHING,)
        return (region, *cutting((Path.from_points(area),), region.bounds))

    def _region(self, text: str, target: Element, own: dict[str, str], inside: Look) -> Path | None:
        """Return what a mask lets through; None, and a report, if that is no outline."""
        self.reading.append(text)
        try:
            if not self._effort.allows(1):
                raise OutlineError("too much effort")
            items = [i for child in target for i in self._items(child, inside)]
            return _region_of(items, own.get("mask-type", "luminance").strip() == "alpha", self._effort)
        except _Soft:
            self._report("soft mask (all of it is shown)")
        except OutlineError:
            self._report("mask that cannot be read")
        finally:
            self.reading.pop()
        return None
