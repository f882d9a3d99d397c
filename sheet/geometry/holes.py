"""The holes of an outline, and the piece of its cut list that made each."""

from typing import Literal, NamedTuple

import outline
from outline import Margins, Path
from sheet.document.kinds.lettering import Lettering
from sheet.document.model import CutList, Piece
from sheet.document.tree import walk

from . import geometry

__all__ = ["Hole", "Of", "base_of", "cutter_of", "holes"]

Of = Literal["border", "base"]


class Hole(NamedTuple):
    """A hole: its margins in the outer border around it, and the name of its lettering, or ""."""

    margins: Margins
    lettering: str = ""


def holes(item: Piece, most: int | None = None, of: Of = "border") -> list[Hole]:
    """Return an outline's holes, or its `most` largest: the largest first, then the leftmost.

    Their margins are measured from the outer border around each, or `of` the "base", from
    the first piece of the cut list, whatever ornament was added to it. A lettering
    that is cut through counts as one hole: nobody sets the margins of a letter.
    """
    path = geometry.outline_of(item)
    letterings = [m for m, _ in walk(item) if m is not item and isinstance(m, Piece) and isinstance(m.shape, Lettering)]
    found = [Hole(m) for m in outline.margins(path, most=None if letterings else most)]
    for lettering in letterings:
        found = _gathered(found, lettering)
    found = sorted(found, key=lambda h: (-float(f"{h.margins.hole.area:.9g}"), h.margins.hole.bounds))[:most]
    base = base_of(item)
    if of == "base" and base is not None:
        found = [Hole(_from_box(h.margins, geometry.box_of(base)), h.lettering) for h in found]
    return found


def base_of(item: Piece) -> Piece | None:
    """Return the first piece of an outline's cut list, nested lists included; None for a piece."""
    base = item.shape.base if isinstance(item.shape, CutList) else None
    while base is not None and isinstance(base.shape, CutList):
        base = base.shape.base
    return base


def _from_box(m: Margins, box: geometry.Box) -> Margins:
    x0, y0, x1, y1 = _box(m)
    return Margins(m.hole, x0 - box[0], box[2] - x1, y0 - box[1], box[3] - y1)


def _gathered(found: list[Hole], lettering: Piece) -> list[Hole]:
    """Return the holes, those within the lettering's box merged per outer border."""
    box = geometry.box_of(lettering)
    near = 1e-6 * (1 + max(map(abs, box)))
    groups: dict[tuple[float, ...], list[Margins]] = {}
    rest = []
    for hole in found:
        m = hole.margins
        x0, y0, x1, y1 = _box(m)
        if x0 < box[0] - near or y0 < box[1] - near or x1 > box[2] + near or y1 > box[3] + near:
            rest.append(hole)
        else:
            outer = (x0 - m.left, y0 - m.top, x1 + m.right, y1 + m.bottom)
            groups.setdefault(tuple(round(v / near) for v in outer), []).append(m)
    return rest + [Hole(_one(group), lettering.name) for group in groups.values()]


def _one(group: list[Margins]) -> Margins:
    least = {side: min(getattr(m, side) for m in group) for side in ("left", "right", "top", "bottom")}
    return Margins(Path.gather([loop for m in group for loop in m.hole.subpaths]), **least)


def _box(m: Margins) -> geometry.Box:
    assert m.hole.bounds is not None
    return m.hole.bounds


def cutter_of(cuts: CutList, hole: Hole) -> Piece | None:
    """Return the piece, at any depth, whose own box is the hole's; None if no single piece made it."""
    return _within(cuts, _box(hole.margins))


def _within(cuts: CutList, box: geometry.Box) -> Piece | None:
    for step in cuts.steps:
        member = step.member
        if all(abs(a - b) <= 1e-6 * (1 + abs(b)) for a, b in zip(geometry.box_of(member), box, strict=True)):
            return member
    for inner in (cuts.base, *(s.member for s in cuts.steps)):
        found = _within(inner.shape, box) if isinstance(inner.shape, CutList) else None
        if found is not None:
            return found
    return None
