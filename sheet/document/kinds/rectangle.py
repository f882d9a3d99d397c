"""Rectangles, with four corner radii."""

from typing import Any

import msgspec
from msgspec.structs import replace

import outline
from sheet.document.limits import Length, Size

from .base import Field, Kind, Tool, boxed_stretch, own_size

__all__ = ["RECTANGLE", "Rectangle", "largest_radii"]

CORNERS = ("top left", "top right", "bottom right", "bottom left")


class Rectangle(msgspec.Struct, frozen=True, tag="rectangle"):
    """A rectangle from its own origin; radii from top left clockwise."""

    width: Size
    height: Size
    radii: tuple[Length, Length, Length, Length] = (0.0, 0.0, 0.0, 0.0)


def _value(shape: Rectangle, field: str) -> Any:
    return shape.radii[int(field[6:])] if field != "radius" else shape.radii


def largest_radii(shape: Rectangle) -> tuple[float, ...]:
    """Return the largest radius for all corners, and for each beside its neighbours (sheet units)."""
    w, h, radii = shape.width, shape.height, shape.radii
    # the neighbours along the horizontal and the vertical side
    return min(w, h) / 2, *(max(0.0, min(w - radii[k ^ 1], h - radii[3 - k])) for k in range(4))


def _given(shape: Rectangle, field: str, value: float) -> tuple[Rectangle, float | None]:
    """Return the rectangle with one radius, or all, as large as fits."""
    every, *each = largest_radii(shape)
    if field == "radius":
        fits = min(value, every)
        made = replace(shape, radii=(fits,) * 4)
    else:
        k = int(field[6:])
        radii = list(shape.radii)
        fits = min(value, each[k])
        radii[k] = fits
        made = replace(shape, radii=(radii[0], radii[1], radii[2], radii[3]))
    return made, fits if value > fits + 1e-9 else None


def _grown(shape: Rectangle, s: float) -> Rectangle:
    a, b, c, d = shape.radii
    return replace(shape, radii=(a * s, b * s, c * s, d * s))


RECTANGLE = Kind(
    "rectangle",
    "Rectangle",
    Rectangle,
    path=lambda s: outline.rectangle(s.width, s.height, s.radii),
    fields=(
        Field("radius", "Corner radius", "length", short="Corners"),
        # as placed: the upper two, then the lower two
        *(Field(f"radius{k}", f"Radius {CORNERS[k]}", "length", short="↖↗↘↙"[k]) for k in (0, 1, 3, 2)),
    ),
    tool=Tool("box", "r", '<rect x="2" y="2" width="20" height="14"/>', (("Shift", "equal sides"),)),
    box=own_size,
    start=Rectangle,
    value=_value,
    given=_given,
    stretched=boxed_stretch,
    grown=_grown,
)
