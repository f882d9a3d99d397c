"""A piece as a sheet can draw it: its fill and its border, which a clip or a map may have parted."""

import math
from collections.abc import Callable, Iterable
from typing import Any, Final, NamedTuple

from msgspec.structs import replace

from outline import Matrix, OutlineError, Path, dashed, stroke_outline
from picture.draw.skiapath import MITER_LIMIT
from sheet.caching import cached
from sheet.document.kinds import Plain, plain_of
from sheet.document.limits import Numbers
from sheet.document.model import CutList, Group, Item, Piece, Step
from sheet.geometry.geometry import outline_of

from .css import length
from .effort import Effort
from .paint import shares
from .parts import cutting_piece, encloses, has_miter, whole

__all__ = ["Look", "Shown"]

_AGAIN: Final = 1 / 6
"""The effort of a border like one before: it takes no time, but makes three items of one, of 5,000 that a sheet has."""
_UNEVEN: Final = "border that is wider one way (its mean width)"


class Look(NamedTuple):
    """What an element inherits: the map to the sheet, its style, and the outlines that clip it."""

    matrix: Matrix
    style: dict[str, str]
    clips: tuple[Path, ...]
    viewport: tuple[float, float]
    """The size (in its own px) that per cent refer to."""
    size: tuple[tuple[str, str], ...] = ()
    """The width and height that a `use` sets for its target."""


class Shown:
    """Draws the pieces of a file; `new_id` gives ids, `report` receives what is shown otherwise."""

    def __init__(self, new_id: Callable[[], str], report: Callable[[str], None], effort: Effort):
        self._new_id, self._report, self._effort = new_id, report, effort
        self._borders: dict[tuple[Any, ...], tuple[tuple[float, float], Plain]] = {}
        """Borders that were outlined, and where, by what they depend on: what is used again is only elsewhere."""
        self._enclosing: dict[tuple[Any, ...], bool] = {}

    def of(self, piece: Piece, look: Look) -> list[Item]:
        """Return a piece as it is drawn: split if it must be, and clipped."""
        clips = cutting_piece(look.clips, piece)
        opacity, parts = self._painted(piece, look, bool(clips))
        # a clip would leave nothing of a line
        made: list[Item] = [
            part if part.paint.fill is None and not part.photos else self._clipped(part, clips) for part in parts
        ]
        blend = piece.paint.blend
        if len(made) == 1:
            return [whole(made[0], opacity, blend, piece.name)]
        # together, since a border that is half transparent shows the fill below it
        return [Group(self._new_id(), piece.name, tuple(made), opacity=opacity, blend=blend)] if made else []

    def _clipped(self, piece: Piece, clips: tuple[Path, ...]) -> Piece:
        if not clips:
            return piece
        # two of one name, one in the other, could not be told apart
        base = replace(piece, name=f"{piece.name[:190]}, uncut")
        return Piece(self._new_id(), piece.name, CutList(base, self.cuts(clips)), paint=piece.paint)

    def cuts(self, clips: Iterable[Path]) -> tuple[Step, ...]:
        """Return clips as steps of a cut list."""
        return tuple(Step("intersect", Piece(self._new_id(), "Clip", _plain(c))) for c in clips)

    def _painted(self, piece: Piece, look: Look, cut: bool) -> tuple[float, list[Piece]]:
        """Return a piece as it is, or split if one piece cannot have both its fill and its border, and their opacity.

        A border under a non-uniform map has no constant width, one that is `cut` by a clip
        does not follow it, and fill and border may have separate opacities.
        """
        paint = piece.paint
        m = look.matrix
        if paint.stroke is None:
            return 1.0, [piece]
        even = abs(math.hypot(m.a, m.b) - math.hypot(m.c, m.d)) < 1e-3 * m.scale and abs(m.a * m.c + m.b * m.d) < (
            1e-3 * m.scale**2
        )
        fill, border = shares(look.style)
        limit = length(look.style["stroke-miterlimit"], 1.0, MITER_LIMIT)
        line = None
        if cut or not even:
            line = self._border(piece, m, limit, cut)
            if line is None:
                self._report("border that a clip cuts (it is whole)" if cut else _UNEVEN)
        elif paint.join == "miter" and limit != MITER_LIMIT and has_miter(outline_of(piece), limit, MITER_LIMIT):
            self._report(f"mitre limit ({MITER_LIMIT:g} instead)")
        if line is None and not cut and (paint.fill is None or min(fill, border) > 1 - 1e-6):
            return 1.0, [piece]
        opacity = min(1.0, paint.opacity / ((fill if paint.fill is not None else border) or 1.0))
        parts: list[Piece] = []
        # a border that could not be outlined is not worth the look
        if paint.fill is not None and ((cut and line is None) or self._encloses(piece)):
            paint = replace(paint, opacity=fill, blend="normal")
            parts.append(replace(piece, paint=replace(paint, stroke=None, dashes=())))
            alone = replace(paint, fill=None, opacity=border)
        else:
            opacity, alone = 1.0, replace(paint, fill=None, opacity=opacity * border)
        if line is None:
            parts.append(replace(piece, id=self._new_id(), paint=alone))
        elif line[0].d:
            name = f"Border of {piece.name}"[:200]
            parts.append(Piece(self._new_id(), name, *line, paint=replace(alone, fill=paint.stroke, stroke=None)))
        return opacity, parts

    def _encloses(self, piece: Piece) -> bool:
        key = (piece.shape, piece.matrix[:4])
        if key not in self._enclosing:
            self._enclosing[key] = encloses(piece)
        return self._enclosing[key]

    def _border(self, piece: Piece, m: Matrix, limit: float, cut: bool) -> tuple[Plain, Numbers] | None:
        """Return a border whose width `m` has scaled as a shape and where it is, None if that takes more effort than
        is left."""
        if not cut and self._effort.left < 1:
            return None
        paint = piece.paint
        dashes = tuple(v / m.scale for v in paint.dashes)
        width, limit = paint.stroke_width / m.scale, max(1.0, limit)
        x, y = piece.matrix[4:]
        key = (piece.shape, piece.matrix[:4], m.numbers()[:4], width, dashes, paint.join, paint.cap, limit)
        if key not in self._borders:
            if self._effort.left < 1:
                return None
            try:
                line = outline_of(piece).transform(m.inverse())
                if not self._effort.allows_border(line, list(dashes)):
                    return None
                line = dashed(line, list(dashes)) if dashes else line
                line = stroke_outline(line, width, join=paint.join, cap=paint.cap, miter_limit=limit).transform(m)
            except OutlineError:
                return None
            self._borders[key] = (x, y), plain_of(line)
        elif not cut and not self._effort.allows(_AGAIN):
            return None
        (x0, y0), shape = self._borders[key]
        return shape, (1.0, 0.0, 0.0, 1.0, x - x0, y - y0)


@cached(entries=256)
def _plain(clip: Path) -> Plain:
    """Return what clips, which is often the same for many."""
    return plain_of(clip)
