"""Freehand strokes: the points are kept, and a curve is fitted to them."""

from typing import Annotated

import msgspec
from msgspec import Meta

import outline
from sheet.document.points import Points

from .base import Field, Kind, Tool

__all__ = ["FREEHAND", "Freehand"]


class Freehand(msgspec.Struct, frozen=True, tag="freehand"):
    """The points of a stroke, and how close to them its curve must stay."""

    points: Points
    tolerance: Annotated[float, Meta(gt=0, le=1e6)]
    closed: bool = False


FREEHAND = Kind(
    "freehand",
    "Freehand",
    Freehand,
    path=lambda s: outline.fit(s.points.array(), s.tolerance, closed=s.closed),
    weight=lambda shape: len(shape.points),
    fields=(
        Field("tolerance", "Nearness to the hand", "length", 0.01, 1e4, short="Near"),
        Field("closed", "Closed", "switch"),
    ),
    tool=Tool("freehand", "f", "pencil", (("Drag", "draw; it closes near its start"),)),
)
