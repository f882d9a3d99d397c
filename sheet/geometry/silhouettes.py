"""The source of a silhouette: the photo, its place, and how a tracing is typed and shown.

People point and type on the sheet (px of the sheet, its unit); a tracing is stored in px
of its photo, so that it stays the same when the photo's outline is moved or resized.
"""

import math
from typing import NamedTuple

from outline import Matrix
from sheet.document.errors import SheetError
from sheet.document.kinds import BrushMark, Silhouette, Tracing
from sheet.document.model import Item, Photo, Piece, Sheet
from sheet.reading.lengths import show_length

__all__ = [
    "FIRST",
    "TracedPhoto",
    "default_deviation",
    "default_smallest",
    "on_sheet",
    "shown_length",
    "source_of",
    "typed",
]

FIRST = Tracing()


class TracedPhoto(NamedTuple):
    """A photo's file, its name and size in px, the map of its px to the sheet, and how it was traced last."""

    file: str
    name: str
    width: int
    height: int
    placing: Matrix
    tracing: Tracing | None

    @property
    def scale(self) -> float:
        """The length of a px of the photo on the sheet, by the mean of its sides."""
        return self.placing.scale

    @property
    def longest(self) -> int:
        """The longer side in px."""
        return max(self.width, self.height)


def source_of(item: Item) -> TracedPhoto:
    """Return the source of a tracing: a photo, or that of a silhouette. Raises SheetError for anything else."""
    if isinstance(item, Photo):
        return TracedPhoto(item.file, item.name, item.width, item.height, item.placing, None)
    if isinstance(item, Piece) and isinstance(item.shape, Silhouette):
        s = item.shape
        return TracedPhoto(s.file, s.name, s.width, s.height, item.placing, s.tracing)
    if isinstance(item, Piece) and len(item.photos) == 1:
        return source_of(item.photos[0])
    raise SheetError(
        f"“{item.name}” isn’t a photo, so there is nothing to trace.",
        "Select one photo, a frame with one, or a silhouette.",
        "id",
    )


def default_smallest(longest: int) -> float:
    """Return the default side (px of the photo) of the smallest part: a hundredth of the longer side."""
    return longest / 100


def default_deviation(longest: int) -> float:
    """Return the default deviation (px of the photo): a two-thousandth of the longer side, at least 1/2."""
    return max(0.5, longest / 2000)


def shown_length(sheet: Sheet, source: TracedPhoto, px: float) -> str:
    """Return a length in px of the photo as a length on the sheet, in its unit."""
    return show_length(px * source.scale, sheet.unit, sheet.resolution)


def on_sheet(source: TracedPhoto, tracing: Tracing) -> tuple[list[float] | None, list[list[float]], list[dict]]:
    """Return the point, the loop and the marks of a tracing in px of the sheet."""
    m = source.placing
    at = list(m(*tracing.at)) if tracing.at is not None else None
    marks = [
        {"points": [list(m(*p)) for p in k.points], "radius": k.radius * source.scale, "adds": k.adds}
        for k in tracing.marks
    ]
    return at, [list(m(*p)) for p in tracing.loop], marks


def typed(source: TracedPhoto, tracing: Tracing) -> Tracing:
    """Return a tracing given in px of the sheet, in px of the photo."""
    back, scale = source.placing.inverse(), source.scale

    def place(p: tuple[float, float]) -> tuple[float, float]:
        x, y = back(*p)
        if not (math.isfinite(x) and math.isfinite(y) and max(abs(x), abs(y)) < 1e8):
            raise SheetError("That is too far from the photo.", "Point at the photo.", "at")
        return x, y

    return Tracing(
        way=tracing.way,
        level=tracing.level,
        light=tracing.light,
        at=None if tracing.at is None else place(tracing.at),
        tolerance=tracing.tolerance,
        touching=tracing.touching,
        loop=tuple(place(p) for p in tracing.loop),
        marks=tuple(BrushMark(tuple(place(p) for p in k.points), k.radius / scale, k.adds) for k in tracing.marks),
        smooth=tracing.smooth / scale,
        grow=tracing.grow / scale,
        smallest=tracing.smallest / scale,
        holes=tracing.holes,
        deviation=tracing.deviation / scale,
    )
