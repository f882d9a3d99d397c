"""Lettering as outlines: HarfBuzz shapes the text, its font gives the glyphs."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache, cached_property
from itertools import accumulate, pairwise
from typing import Any, NamedTuple

from outline.engine.operations import union
from outline.path.builder import Builder
from outline.path.errors import OutlineError
from outline.path.path import Path

from .typefaces import shaper, typeface

__all__ = ["ALIGNMENTS", "Lettered", "PlacedGlyph", "lettering"]

ALIGNMENTS = ("left", "centre", "right")
MAX_TEXT = 500


class PlacedGlyph(NamedTuple):
    """A glyph on its baseline: the characters [first, end) of the text it shows, its position, and its advance."""

    first: int
    end: int
    x: float
    y: float
    advance: float


@dataclass(frozen=True)
class Lettered:
    """The position of every glyph, the characters that the font lacks, and the outline, drawn when it is first asked
    for."""

    glyphs: tuple[PlacedGlyph, ...]
    missing: tuple[str, ...]
    _face: Any
    _scale: float
    _drawn: tuple[tuple[int, float, float], ...]
    """The font's number of each glyph that it has, and where its origin goes."""

    @cached_property
    def path(self) -> Path:
        """The letters as one clean outline."""
        out = Builder()
        for number, x, y in self._drawn:
            self._face.draw_glyph(number, _draw_functions(), _Pen(out, self._scale, x, y))
        # overlapping contours and joined script letters become one outline, so that a border surrounds it once
        path = Path(*out.arrays())
        return union([path]) if not path.is_empty else path

    @property
    def is_blank(self) -> bool:
        """Whether its glyphs, like those of spaces, have no outlines."""
        return not any(self._face.get_glyph_extents(number).width for number, _, _ in self._drawn)


class _Pen:
    """Receives a glyph's curves from HarfBuzz, and flips and scales them."""

    def __init__(self, out: Builder, scale: float, x: float, y: float):
        self.out, self.scale, self.x, self.y = out, scale, x, y

    def at(self, *numbers: float) -> list[float]:
        s = self.scale
        return [self.x + s * v if k % 2 == 0 else self.y - s * v for k, v in enumerate(numbers)]


@cache
def _draw_functions() -> Any:
    made = shaper().DrawFuncs()
    made.set_move_to_func(lambda x, y, pen: pen.out.move(*pen.at(x, y)))
    made.set_line_to_func(lambda x, y, pen: pen.out.line(*pen.at(x, y)))
    made.set_quadratic_to_func(lambda a, b, x, y, pen: pen.out.quadratic(*pen.at(a, b, x, y)))
    made.set_cubic_to_func(lambda a, b, c, d, x, y, pen: pen.out.cubic(*pen.at(a, b, c, d, x, y)))
    made.set_close_path_func(lambda pen: pen.out.close())
    return made


def _check(text: str, size: float, spaces: tuple[float, float], align: str) -> None:
    """Raise OutlineError if a lettering cannot be set; `spaces` are its tracking and leading."""
    if not (math.isfinite(size) and size > 0):
        raise OutlineError(f"the size must be greater than 0, not {size:g}")
    if not (all(map(math.isfinite, spaces))):
        raise OutlineError("tracking and line spacing must be finite numbers")
    if len(text) > MAX_TEXT:
        raise OutlineError(f"a lettering may have {MAX_TEXT} characters at most; this one has {len(text)}")
    if align not in ALIGNMENTS:
        raise OutlineError(f"there is no alignment {align!r}; use {', '.join(ALIGNMENTS)}")


def _shaped(face: Any, line: str, features: dict[str, bool]) -> list[tuple[Any, Any, int]]:
    """Return the glyphs of a line as HarfBuzz shapes it: each one's id, position, and the character after its last."""
    hb = shaper()
    buffer = hb.Buffer()
    buffer.cluster_level = hb.BufferClusterLevel.MONOTONE_CHARACTERS
    buffer.add_str(line)
    buffer.guess_segment_properties()
    hb.shape(face, buffer, features)
    infos, places = buffer.glyph_infos, buffer.glyph_positions
    stops = sorted({i.cluster for i in infos} | {len(line)})
    after = dict(pairwise(stops))
    return [(info, at, after[info.cluster]) for info, at in zip(infos, places, strict=True)]


def lettering(
    text: str,
    font: str,
    size: float,
    *,
    tracking: float = 0.0,
    leading: float = 1.2,
    align: str = "left",
    kerns: Sequence[tuple[int, float]] = (),
    axes: Mapping[str, float] | None = None,
) -> Lettered:
    """Return `text` set in a font; the first baseline runs through the origin.

    `size` is the em in sheet units; `tracking` and the kerns are thousandths of an em,
    each kern (k, amount) following character k of the text; `leading` is the
    distance of baselines in ems. Lines start at, are centred on, or end at x = 0 by
    `align`. `axes` are positions on a variable font's axes, by their tags. Tracked text
    has no optional ligatures (CSS Text 3, 8.2). Raises
    OutlineError for a size not above 0, a text longer than 500 characters, or an
    unknown font or alignment.
    """
    _check(text, size, (tracking, leading), align)
    face, upem = typeface(font, axes or {})
    scale = size / upem
    after: dict[int, float] = {}
    for k, amount in kerns:
        after[k] = after.get(k, 0.0) + amount
    features = {"liga": False, "clig": False} if tracking else {}
    drawn: list[tuple[int, float, float]] = []
    glyphs: list[PlacedGlyph] = []
    missing: list[str] = []
    start = 0
    for row, line in enumerate(text.split("\n")):
        y = row * leading * size
        if not line:
            # HarfBuzz has no positions without glyphs
            start += 1
            continue
        shaped = _shaped(face, line, features)
        advances = [at.x_advance * scale for _, at, _ in shaped]
        if tracking or after:
            # there is none after the last
            for k, (info, _, end) in enumerate(shaped[:-1]):
                kern = sum(after.get(start + c, 0.0) for c in range(info.cluster, end)) if after else 0.0
                advances[k] = advances[k] + tracking * size / 1000 + kern * size / 1000
        *xs, width = accumulate(advances, initial=0.0)
        shift = {"left": 0.0, "centre": -width / 2, "right": -width}[align]
        for (info, at, end), x, advance in zip(shaped, xs, advances, strict=True):
            first, number, x = info.cluster, info.codepoint, x + shift
            glyphs.append(PlacedGlyph(start + first, start + end, x, y, advance))
            if number:
                drawn.append((number, x + at.x_offset * scale, y - at.y_offset * scale))
            else:
                missing.extend(c for c in line[first:end] if c not in missing)
        start += len(line) + 1
    return Lettered(tuple(glyphs), tuple(missing), face, scale, tuple(drawn))
