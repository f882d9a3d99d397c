"""Silhouettes: outlines traced from a photo, with the photo and the settings they came from."""

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
"""What a silhouette is traced by: brightness, nearness to a tone, or a subject against its surroundings."""

TracedPoints: TypeAlias = Annotated[tuple[tuple[Place, Place], ...], Meta(max_length=2000)]


class BrushMark(msgspec.Struct, frozen=True):
    """A brush stroke that adds or removes what it goes over: points and radius in px of the photo."""

    points: Annotated[TracedPoints, Meta(min_length=1)]
    radius: Size
    adds: bool = True


class Tracing(msgspec.Struct, frozen=True):
    """How a silhouette is traced. Lengths and places are in px of the photo.

    * brightness: what is darker than `level` (0 to 1; None to find it), or lighter;
    * tone: what differs from the tone `at` a point by up to `tolerance`, a share of the
      difference of black and white; only what is `touching` that point, or everywhere;
    * subject: what differs in a `loop` (a box is one of four points) from everything outside it.

    Marks add and remove. The result is smoothed, cleaned of parts and holes smaller
    than a square of side `smallest`, or of all `holes`, fitted with curves within
    `deviation`, and grown (shrunk if negative).
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
