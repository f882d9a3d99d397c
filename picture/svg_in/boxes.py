"""The boxes of elements (SVG 2, 8.10), by which clips, masks, filters and gradients are measured."""

from collections.abc import Callable, Mapping
from typing import Any, Final
from xml.etree.ElementTree import Element

from outline import Matrix, OutlineError
from sheet.geometry.geometry import Box, join_boxes

from .css import absolute, address_of, name_of, transform
from .elements import GATHERING, MAX_DEPTH, SILENT, children_of, start_of, target_size, viewport_in
from .pictures import embedded, laid, window_of
from .shapes import SHAPES, outlines_of, shape_of, viewed
from .styles import Styles
from .text import runs_of

__all__ = ["Boxes"]

Style = dict[str, str]
Viewport = tuple[float, float]
_OF_TEXT: Final = ("font-family", "font-size", "font-weight", "letter-spacing", "text-anchor")
"""What a style has to do with the box of a text."""


def _quiet(what: str) -> None:
    """Report nothing: what is not understood is told when it is drawn."""


class Boxes:
    """The boxes of a file's elements; `linked` resolves an address, `fonts` has the person's own."""

    def __init__(self, styles: Styles, fonts: Mapping[str, str], linked: Callable[[str], Element | None]):
        self._styles, self._fonts, self._linked = styles, fonts, linked
        self._inside: list[Element] = []
        """The elements being measured, none of which is in itself."""
        self._known: dict[tuple[Any, ...], Box | None] = {}
        """The boxes of children, by what they depend on: what is used a thousand times is measured once."""

    def of(self, element: Element, own: Style, style: Style, viewport: Viewport) -> Box | None:
        """Return the box of an element in its own coordinates, whatever clips it and without borders.

        Those of a `use` begin at its x and y. What is turned inside it counts by the corners of its own box, as
        browsers do.
        """
        name = name_of(element)
        boxes: list[Box | None] = []
        if name == "image":
            boxes = [_of_image(element, own)]
        elif name in SHAPES:
            try:
                live = shape_of(name, own, style["fill-rule"])[0] if name != "path" else None
                if live is not None:
                    shape, x, y = live
                    return x, y, x + shape.width, y + shape.height
                boxes = [path.bounds for path in outlines_of(name, own, style["fill-rule"], Matrix(), _quiet)]
            except OutlineError:
                return None
        elif name == "text":
            boxes = [run.box for run in runs_of(element, own, style, self._styles, self._fonts, _quiet)]
        elif name in GATHERING and len(self._inside) < MAX_DEPTH and element not in self._inside:
            self._inside.append(element)
            target = self._linked(address_of(element)) if name == "use" else None
            inside = children_of(element) if name != "use" else [] if target is None else [target]
            boxes = [self._within(child, own if name == "use" else None, style, viewport) for child in inside]
            self._inside.pop()
        found = [box for box in boxes if box]
        return join_boxes(found) if found else None

    def _within(self, child: Element, use: Style | None, style: Style, viewport: Viewport) -> Box | None:
        """Return the box of a child in the coordinates of what it is in; `use` has what shows it."""
        own, style = self._styles.styled(child, style)
        name = name_of(child)
        if name in SILENT or own.get("display") == "none" or (name == "symbol" and use is None):
            return None
        key = (child, viewport, target_size(use or {}), *(style[part] for part in _OF_TEXT))
        if key in self._known:
            return self._known[key]
        if name in ("svg", "symbol"):
            own = {"width": "100%", "height": "100%", **own, **(dict(target_size(use or {})))}
        absolute(own, style, viewport)
        matrix = transform(own.get("transform"))
        if name == "use":
            matrix = matrix @ start_of(own)
        elif name in ("svg", "symbol"):
            matrix, viewport = matrix @ start_of(own) @ viewed(child, own), viewport_in(child, own)
        box = self.of(child, own, style, viewport)
        self._known[key] = None if box is None else _mapped(matrix, box)
        return self._known[key]


def _of_image(element: Element, own: Style) -> Box | None:
    found = embedded(address_of(element))
    if isinstance(found, str):
        return None
    width, height = size = found[1]
    place = window_of(own, size) if "slice" in own.get("preserveAspectRatio", "") else laid(own, size)
    return None if place is None else _mapped(place, (0.0, 0.0, width, height))


def _mapped(matrix: Matrix, box: Box) -> Box:
    """Return the box of a box's corners under a map."""
    xs, ys = zip(*(matrix(x, y) for x in box[::2] for y in box[1::2]), strict=True)
    return min(xs), min(ys), max(xs), max(ys)
