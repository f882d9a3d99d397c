"""Rectangles, with four corner radii."""

from typing import Any

import msgspec
from msgspec.structs import replace

import outline
from sheet.document.limits import Length, Size

from .base import Field, Kind, Tool, boxed_stretch, own_size

__all__ = ["RECTANGLE", "Rectangle"]

CORNERS = ("top left", "top right", "bottom right", "bottom left")


class Rectangle(msgspec.Struct, frozen=True, tag="rectangle"):
    """A rectangle from its own origin; radii from top left clockwise."""

    width: Size
    height: Size
    radii: tuple[Length, Length, Length, Length] = (0.0, 0.0, 0.0, 0.0)


def _value(shape: Rectangle, field: str) -> Any:
    return shape.radii[int(field[6:])] if field != "radius" else shape.radii


def _given(shape: Rectangle, field: str, value: float) -> tuple[Rectangle, float | None]:
    """Return the rectangle with one radius, or all, as large as fits."""
    w, h = shape.width, shape.height
    if field == "radius":
        fits = min(value, w / 2, h / 2)
        made = replace(shape, radii=(fits,) * 4)
    else:
        k = int(field[6:])
        radii = list(shape.radii)
        # the neighbours along the horizontal and the vertical side
        fits = max(0.0, min(value, w - radii[k ^ 1], h - radii[3 - k]))
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
        # as they lie: the upper two, then the lower two
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
