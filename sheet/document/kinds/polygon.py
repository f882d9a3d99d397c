"""Polygons in a box, with rounded corners."""

from typing import Annotated

import msgspec
from msgspec import Meta
from msgspec.structs import replace

import outline
from sheet.document.limits import Length, Size

from .base import Field, Kind, Tool, boxed_stretch, own_size

__all__ = ["POLYGON", "Polygon"]


class Polygon(msgspec.Struct, frozen=True, tag="polygon"):
    """A polygon with its box from its own origin; at its natural proportions it is regular. Corners may be rounded."""

    width: Size
    height: Size
    sides: Annotated[int, Meta(ge=3, le=60)] = 6
    radius: Length = 0.0


def _path(shape: Polygon) -> outline.Path:
    path = outline.boxed(outline.polygon(shape.sides, 1), shape.width, shape.height)
    return outline.round_corners(path, shape.radius) if shape.radius > 0 else path


def _natural(shape: Polygon) -> tuple[float, float]:
    x0, y0, x1, y1 = outline.polygon(shape.sides, 50).bounds or (0.0, 0.0, 1.0, 1.0)
    return x1 - x0, y1 - y0


def _given(shape: Polygon, field: str, value: float) -> tuple[Polygon, float | None]:
    if field == "radius":
        most = outline.largest_radius(_path(replace(shape, radius=0.0)))
        if value > most:
            return replace(shape, radius=most), most
    return replace(shape, **{field: value}), None


POLYGON = Kind(
    "polygon",
    "Polygon",
    Polygon,
    path=_path,
    fields=(Field("sides", "Sides", "count", 3, 60), Field("radius", "Corner radius", "length", short="Corners")),
    tool=Tool(
        "box", "g", '<path d="M7.4 1H16.6L21 9 16.6 17H7.4L3 9Z"/>', (("Shift", "regular"), ("↑ ↓", "sides")), "sides"
    ),
    box=own_size,
    start=Polygon,
    given=_given,
    stretched=boxed_stretch,
    natural=_natural,
    weight=lambda shape: 2 * shape.sides,
    grown=lambda shape, s: replace(shape, radius=shape.radius * s),
)
