"""Stars in a box, with rounded tips and valleys."""

from typing import Annotated

import msgspec
from msgspec import Meta
from msgspec.structs import replace

import outline
from sheet.document.limits import Length, Size

from .base import Field, Kind, Tool, boxed_stretch, own_size

__all__ = ["STAR", "Star"]


class Star(msgspec.Struct, frozen=True, tag="star"):
    """A star in its box; `inner` is its valleys' radius as a share of its tips', tips and valleys may be rounded."""

    width: Size
    height: Size
    points: Annotated[int, Meta(ge=3, le=60)] = 5
    inner: Annotated[float, Meta(ge=0.05, le=0.95)] = 0.5
    tip: Length = 0.0
    valley: Length = 0.0


def _path(shape: Star) -> outline.Path:
    path = outline.boxed(outline.star(shape.points, 1, shape.inner), shape.width, shape.height)
    if shape.tip > 0 or shape.valley > 0:
        radii = {k: shape.tip if k % 2 == 0 else shape.valley for k in range(2 * shape.points)}
        path = outline.round_corners(path, radii)
    return path


def _natural(shape: Star) -> tuple[float, float]:
    x0, y0, x1, y1 = outline.star(shape.points, 50, 50 * shape.inner).bounds or (0.0, 0.0, 1.0, 1.0)
    return x1 - x0, y1 - y0


def _given(shape: Star, field: str, value: float) -> tuple[Star, float | None]:
    if field in ("tip", "valley"):
        corners = list(range(0 if field == "tip" else 1, 2 * shape.points, 2))
        most = outline.largest_radius(_path(replace(shape, tip=0.0, valley=0.0)), which=corners)
        if value > most:
            return replace(shape, **{field: most}), most
    return replace(shape, **{field: value}), None


STAR = Kind(
    "star",
    "Star",
    Star,
    path=_path,
    fields=(
        Field("points", "Points", "count", 3, 60),
        Field("inner", "Inner radius", "percent", 5, 95, short="Inner"),
        Field("tip", "Tip radius", "length", short="Tips"),
        Field("valley", "Valley radius", "length", short="Valleys"),
    ),
    tool=Tool(
        "box",
        "a",
        '<path d="M12 .8L14.2 6.4 20.2 6.8 15.6 10.6 17.1 16.4 12 13.2 6.9 16.4 8.4 10.6 3.8 6.8 9.8 6.4Z"/>',
        (("Shift", "regular"), ("↑ ↓", "points")),
        "points",
    ),
    box=own_size,
    start=Star,
    given=_given,
    stretched=boxed_stretch,
    natural=_natural,
    weight=lambda shape: 4 * shape.points,
    grown=lambda shape, s: replace(shape, tip=shape.tip * s, valley=shape.valley * s),
)
