"""Silhouettes: outlines traced from a photo, which remember what they were traced from and how."""

from typing import Annotated, Final, Literal, TypeAlias, get_args

import msgspec
from msgspec import Meta

from outline import Path
from sheet.document.limits import Count, Length, Place, Share, Size
from sheet.document.validation import StoredFile, StoredName, StoredPathData

from .base import Kind, path_weight

__all__ = ["SILHOUETTE", "WAYS", "BrushMark", "TracedPoints", "Silhouette", "Tracing", "Way"]

Way = Literal["brightness", "tone", "subject"]
WAYS: Final[tuple[Way, ...]] = get_args(Way)
"""What a silhouette goes by: how bright places are, how near to a tone, or what stands out from its surroundings."""

TracedPoints: TypeAlias = Annotated[tuple[tuple[Place, Place], ...], Meta(max_length=2000)]


class BrushMark(msgspec.Struct, frozen=True):
    """A brush stroke that adds what it goes over, or takes it away: points and radius in px of the photo."""

    points: Annotated[TracedPoints, Meta(min_length=1)]
    radius: Size
    adds: bool = True


class Tracing(msgspec.Struct, frozen=True):
    """How a silhouette is traced. Lengths and places are in px of the photo.

    * brightness: what is darker than `level` (0 to 1; found by itself where None), or lighter;
    * tone: what differs from the tone `at` a place by up to `tolerance`, a share of the
      difference of black and white; only what is `touching` that place, or everywhere;
    * subject: what stands out in a `loop` (a box is one of four points) from what lies outside it.

    Marks add and take away. What was found is smoothed, rid of parts and holes smaller
    than a square of side `smallest`, or of all `holes`, fitted with curves within
    `deviation`, and grown (shrunk where it is below 0).
    """

    way: Way = "brightness"
    level: Share | None = None
    light: bool = False
    at: tuple[Place, Place] | None = None
    tolerance: Share = 0.15
    touching: bool = True
    loop: TracedPoints = ()
    marks: Annotated[tuple[BrushMark, ...], Meta(max_length=500)] = ()
    smooth: Length = 0.0
    grow: Place = 0.0
    smallest: Length = 0.0
    holes: bool = True
    deviation: Size = 1.0


class Silhouette(msgspec.Struct, frozen=True, tag="silhouette"):
    """A traced outline as SVG path data in px of its photo; the photo's file, name and size in px, and the tracing."""

    d: StoredPathData
    file: StoredFile
    name: StoredName
    width: Count
    height: Count
    tracing: Tracing


def _path(shape: Silhouette) -> Path:
    return Path.from_svg(shape.d, "evenodd")


SILHOUETTE = Kind(
    "silhouette",
    "Silhouette",
    Silhouette,
    path=_path,
    weight=path_weight,
)
