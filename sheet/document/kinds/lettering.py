"""Lettering: it stays text, and its outline comes from its font, or from a replacement."""

from typing import Annotated, Final, Literal

import msgspec
from msgspec import Meta
from msgspec.structs import replace

import outline
from sheet.caching import cached
from sheet.document.limits import Index
from sheet.document.validation import StoredText

from .base import Field, Kind, Tool

__all__ = ["LETTERING", "STAND_IN", "Lettering", "lettered", "missing_words"]

STAND_IN: Final = "atkinson-hyperlegible"
"""The font for letters whose own font is missing."""


class Lettering(msgspec.Struct, frozen=True, tag="lettering"):
    """A text; `size` is the em, tracking and kerns are thousandths of it, `leading` is in ems.

    A kern (k, amount) follows character k. `axes` are positions on a variable font's axes,
    by their tags. The first baseline runs through the piece's own origin.
    """

    text: StoredText
    font: Annotated[str, Meta(max_length=120)]
    size: Annotated[float, Meta(gt=0, le=1e7)]
    tracking: Annotated[float, Meta(ge=-1000, le=10_000)] = 0.0
    leading: Annotated[float, Meta(ge=0.01, le=100)] = 1.2
    align: Literal["left", "centre", "right"] = "left"
    kerns: Annotated[tuple[tuple[Index, Annotated[float, Meta(ge=-2000, le=2000)]], ...], Meta(max_length=500)] = ()
    axes: Annotated[
        tuple[tuple[Annotated[str, Meta(min_length=4, max_length=4)], Annotated[float, Meta(ge=-1e5, le=1e5)]], ...],
        Meta(max_length=16),
    ] = ()


def lettered(shape: Lettering) -> outline.Lettered:
    """Return the outline of a lettering, the positions of its glyphs, and the characters its font lacks."""
    return _lettered(shape, shape.font if outline.has_font(shape.font) else STAND_IN)


@cached(entries=512)
def _lettered(shape: Lettering, font: str) -> outline.Lettered:
    return outline.lettering(
        shape.text, font, shape.size, tracking=shape.tracking, leading=shape.leading,
        align=shape.align, kerns=shape.kerns, axes=dict(shape.axes),
    )  # fmt: skip


def missing_words(shape: Lettering, end: str = ": left out.") -> str:
    """Return a note on a missing font, or on characters it lacks, with its `end`; empty if there are none."""
    name = outline.font_name(shape.font)
    if not outline.has_font(shape.font):
        used = f"{outline.FONTS[STAND_IN].name} is used instead, and its letters have other widths"
        return f"The font “{name}” isn’t here: {used}."
    lacking = lettered(shape).missing
    return f"{name} has no {', '.join(f'“{c}”' for c in lacking[:8])}{end}" if lacking else ""


def _stretched(shape: Lettering, sx: float, sy: float) -> Lettering | None:
    return replace(shape, size=shape.size * sx) if abs(sx - sy) <= 1e-9 * sx else None


LETTERING = Kind(
    "lettering",
    "Lettering",
    Lettering,
    path=lambda s: lettered(s).path,
    fields=(
        Field("text", "Text", "text"),
        Field("font", "Font", "choice", choices=tuple(outline.FONTS), also=outline.has_font),
        Field("size", "Letter size", "length", 0.1, 1e5, short="Size"),
        Field("tracking", "Tracking, thousandths of the size", "thousandths", -500, 5000, short="Tracking"),
        Field("leading", "Line spacing, in sizes", "ems", 0.1, 10, short="Lines"),
        Field("align", "Alignment", "choice", choices=outline.ALIGNMENTS, short="Align"),
    ),
    tool=Tool("lettering", "l", "fonts", (("Click", "where the first line begins"),)),
    weight=lambda shape: 25 * len(shape.text),
    first=lambda: Lettering("A", next(iter(outline.FONTS)), 100.0),
    stretched=_stretched,
)
