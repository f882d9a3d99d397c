"""Filters (Filter Effects 1) that are copies of what they are on: moved, in one colour, one over another."""

from collections.abc import Callable, Iterable
from typing import Final, NamedTuple
from xml.etree.ElementTree import Element

import numpy as np
from msgspec.structs import replace

from sheet.document.gradients import Gradient, Stop
from sheet.document.model import Item, Paint, Photo, Piece
from sheet.reading.colours import CURRENT, encoded, hex_of, read_css

from .css import length, name_of, numbers, share

__all__ = ["Layer", "is_linear", "is_opaque", "layers_of", "recoloured"]

_MOST_LAYERS: Final = 8
_OVER: Final = {("feBlend", ""), ("feBlend", "normal"), ("feComposite", ""), ("feComposite", "over")}
"""Steps that lay one input over the other, by their mode or operator."""


class Layer(NamedTuple):
    """One copy of the graphic: how far it is moved, in which colour (its own ones if None), and its opacity."""

    dx: float = 0.0
    dy: float = 0.0
    colour: str | None = None
    opacity: float = 1.0


_Layers = tuple[Layer, ...]


class _NoLayers(Exception):
    """A filter that does more than to copy."""


class _Chain:
    """The results of a filter's steps, each as layers, lowest first."""

    def __init__(self, own: Callable[[Element], dict[str, str]], unit: tuple[float, float], colour: str):
        self.own = own
        self.unit = unit
        self.colour = colour
        self.named: dict[str, _Layers] = {}
        self.floods: dict[str, tuple[str, float]] = {}
        self.last = "SourceGraphic"

    def layers(self, name: str) -> _Layers:
        """Return the layers of an input. Raises _NoLayers for what is not a copy of the graphic."""
        name = name or self.last
        if name in self.named:
            return self.named[name]
        if name in self.floods and self.floods[name][1] == 0.0:
            return ()
        if name in self.floods or name not in ("SourceGraphic", "SourceAlpha"):
            raise _NoLayers
        return (Layer(colour="#000000" if name == "SourceAlpha" else None),)

    def flood(self, own: dict[str, str]) -> tuple[str, float]:
        hexed, alpha = read_css(own.get("flood-color", "#000000")) or ("#000000", 1.0)
        return self.colour if hexed == CURRENT else hexed, alpha * share(own.get("flood-opacity"))

    def moved(self, own: dict[str, str], default: str) -> tuple[float, float]:
        return (
            length(own.get("dx", default), 1.0) * self.unit[0],
            length(own.get("dy", default), 1.0) * self.unit[1],
        )

    def step(self, element: Element) -> None:
        """Follow one step. Raises _NoLayers where it cannot be followed."""
        own = self.own(element)
        kind, first = name_of(element), own.get("in", "")
        name = own.get("result", "") or f"step {len(self.named) + len(self.floods)}"
        if any(key in own for key in ("x", "y", "width", "height")):
            raise _NoLayers
        if kind == "feFlood":
            self.floods[name], self.last = self.flood(own), name
            self.named.pop(name, None)
            return
        if kind == "feGaussianBlur":
            self._still(own)
            made = self.layers(first)
        elif kind == "feOffset":
            dx, dy = self.moved(own, "0")
            made = tuple(v._replace(dx=v.dx + dx, dy=v.dy + dy) for v in self.layers(first))
        elif kind == "feDropShadow":
            self._still(own, "2")
            (dx, dy), (colour, alpha) = self.moved(own, "2"), self.flood(own)
            above = self.layers(first)
            below = tuple(v._replace(dx=v.dx + dx, dy=v.dy + dy) for v in above)
            made = (*self._coloured(below, colour, alpha), *above)
        elif kind == "feColorMatrix":
            colour, alpha = _one_colour(own)
            made = self._coloured(self.layers(first), colour, alpha)
        elif kind == "feMerge":
            made = tuple(layer for node in element for layer in self.layers(self.own(node).get("in", "")))
        elif (kind, own.get("mode", own.get("operator", ""))) in _OVER:
            made = (*self.layers(own.get("in2", "")), *self.layers(first))
        elif kind == "feComposite" and own.get("operator") == "in" and (first or self.last) in self.floods:
            made = self._coloured(self.layers(own.get("in2", "")), *self.floods[first or self.last])
        else:
            raise _NoLayers
        if len(made) > _MOST_LAYERS:
            raise _NoLayers
        self.named[name], self.last = made, name
        self.floods.pop(name, None)

    def _still(self, own: dict[str, str], default: str = "0") -> None:
        """Check that a step blurs nothing (Filter Effects 1, 9.14: a deviation of 0 gives the input)."""
        if any(numbers(own.get("stdDeviation", default))):
            raise _NoLayers

    def _coloured(self, layers: _Layers, colour: str, alpha: float) -> _Layers:
        """Return layers in one colour. Several that overlap would show twice where it is half transparent."""
        if len(layers) > 1 and alpha < 1:
            raise _NoLayers
        return tuple(v._replace(colour=colour, opacity=v.opacity * alpha) for v in layers)


def _one_colour(own: dict[str, str]) -> tuple[str, float]:
    """Return the colour and opacity of a colour matrix that keeps the alpha alone (Filter Effects 1, 9.6)."""
    values = numbers(own.get("values"))
    if own.get("type", "matrix") != "matrix" or len(values) != 20:
        raise _NoLayers
    table = np.array(values).reshape(4, 5)
    if table[:3, :4].any() or table[3, :3].any() or table[3, 4]:
        raise _NoLayers
    light = np.clip(table[:3, 4], 0.0, 1.0)
    if own.get("color-interpolation-filters", "linearRGB") != "sRGB":
        light = encoded(light)
    return hex_of(255 * light), float(np.clip(table[3, 3], 0.0, 1.0))


def layers_of(
    filter_: Element, own: Callable[[Element], dict[str, str]], box: tuple[float, float, float, float], colour: str
) -> _Layers | None:
    """Return the layers that a filter draws, lowest first; None if it does more than copies can.

    `own` gives an element's declarations, `box` is the graphic's box and `colour` its text colour. Moves are in
    the graphic's own px.
    """
    its = own(filter_)
    across = its.get("primitiveUnits") == "objectBoundingBox"
    unit = (box[2] - box[0], box[3] - box[1]) if across else (1.0, 1.0)
    spaces = {"color-interpolation-filters": its.get("color-interpolation-filters", "linearRGB")}
    chain = _Chain(lambda element: {**spaces, **own(element)}, unit, colour)
    try:
        for step in filter_:
            if name_of(step).startswith("fe"):
                chain.step(step)
        return chain.layers("") if chain.named or chain.floods else ()
    except _NoLayers:
        return None


def _stops(paint: Paint) -> list[Stop]:
    return [stop for fill in (paint.fill, paint.stroke) if isinstance(fill, Gradient) for stop in fill.stops]


def recoloured(items: Iterable[Item], colour: str) -> tuple[Item, ...] | None:
    """Return items with all of their paints in one colour, None if there is a photo among them."""
    out: list[Item] = []
    for item in items:
        if isinstance(item, Photo) or (isinstance(item, Piece) and item.photos):
            return None
        if isinstance(item, Piece):
            paint = item.paint
            if any(
                isinstance(v, Gradient) and any(stop.opacity < 1 for stop in v.stops)
                for v in (paint.fill, paint.stroke)
            ):
                return None
            fill, stroke = (None if v is None else colour for v in (paint.fill, paint.stroke))
            out.append(replace(item, paint=replace(paint, fill=fill, stroke=stroke)))
            continue
        inside = recoloured(item.items, colour)
        if inside is None:
            return None
        out.append(replace(item, items=inside))
    return tuple(out)


def is_opaque(items: Iterable[Item]) -> bool:
    """Return whether nothing of items lets through what is below it, but beside their outlines."""
    for item in items:
        if isinstance(item, Photo):
            return False
        if isinstance(item, Piece):
            if item.photos or item.paint.opacity < 1 or any(stop.opacity < 1 for stop in _stops(item.paint)):
                return False
        elif item.opacity < 1 or not is_opaque(item.items):
            return False
    return True


def is_linear(filter_: Element, own: Callable[[Element], dict[str, str]]) -> bool:
    """Return whether a filter's last step blends in linear light: unless it is told not to (Filter Effects 1, 10)."""
    spaces = [own(one).get("color-interpolation-filters") for one in (filter_, *filter_)]
    return next((space for space in reversed(spaces) if space), "linearRGB") != "sRGB"
