"""What an operation makes of the selected pieces, planned once: cards, commands, cells and panels use this plan.

Two families. *One outline*: union, subtract, intersect or exclude, made into a cut list.
*Divide*: several pieces, by three choices that combine freely:

* keep "every" cell that a piece contains, only what "shows", or only what is "under" the top piece;
* neighbours of the same paint stay "apart", or are "joined";
* as "areas", or as the "lines" between them.

One planar map of the chosen pieces answers everything.
"""

from dataclasses import dataclass
from functools import cached_property
from typing import Final, Literal, get_args

import numpy as np

from outline import MapError, Path, PlanarMap
from sheet.document.errors import SheetError
from sheet.document.ids import new_ids
from sheet.document.kinds import Rectangle
from sheet.document.model import OPERATIONS, Operation, Paint, Photo, Piece, Sheet
from sheet.document.tree import in_stack_order

from . import geometry
from .copies import as_piece

__all__ = [
    "AS",
    "KEEPS",
    "NEIGHBOURS",
    "VERBS",
    "As",
    "Combination",
    "Keep",
    "Neighbours",
    "CombinationPlan",
    "gathered",
    "planned",
]

Keep = Literal["every", "shows", "under"]
Neighbours = Literal["apart", "joined"]
As = Literal["areas", "lines"]
KEEPS: Final[tuple[Keep, ...]] = get_args(Keep)
NEIGHBOURS: Final[tuple[Neighbours, ...]] = get_args(Neighbours)
AS: Final[tuple[As, ...]] = get_args(As)

VERBS: Final = {
    "union": "unite",
    "subtract": "subtract",
    "intersect": "intersect",
    "exclude": "exclude",
    "apart": "divide",
}
"""The operation's name in a sentence."""


NOTHING: Final = Path()


@dataclass(frozen=True, slots=True)
class CombinationPlan:
    """The result of an operation: regions, each with the number of the piece whose paint it takes, lowest first.

    `away` is what is dropped, `count` the number of nodes, parts or lines, as `unit`
    says. `live` is whether one outline with a cut list is made. `why` and `remedy` are
    empty if it can be done.
    """

    operation: str
    results: tuple[tuple[Path, int], ...] = ()
    away: Path = NOTHING
    count: int = 0
    unit: str = "nodes"
    live: bool = False
    why: str = ""
    remedy: str = ""

    @property
    def counted(self) -> str:
        """The count in words: “1 part”, “2 parts”."""
        return f"{self.count} {self.unit if self.count != 1 else self.unit[:-1]}"


def gathered(sheet: Sheet, ids: list[str]) -> tuple[Sheet, list[Piece], dict[str, str]]:
    """Return the selected items on the sheet itself as pieces, lowest first, and the top item's id for each.

    A group counts as one piece; selected photos are ignored, unless all else
    is open lines, which divide the photos as they would divide frames of
    their size. Raises SheetError if one of the ids is gone.
    """
    pieces: list[Piece] = []
    top_of: dict[str, str] = {}
    chosen = in_stack_order(sheet, ids)
    for item in chosen:
        sheet, piece = as_piece(sheet, item)
        if piece is not None:
            pieces.append(piece)
            top_of[piece.id] = item.id
    if pieces and all(geometry.is_line(p) for p in pieces):
        framed = []
        for photo in chosen:
            if isinstance(photo, Photo):
                sheet, (new,) = new_ids(sheet)
                shape = Rectangle(float(photo.width), float(photo.height))
                framed.append(
                    Piece(new, photo.name, shape, photo.matrix, Paint(fill=None, stroke=None), photos=(photo,))
                )
                top_of[new] = photo.id
        pieces = framed + pieces
    return sheet, pieces, top_of


class Combination:
    """Selected pieces, lowest first, the one numbered `base` being the base, or an area in place of a line.

    `areas` and `lines` are the numbers of the pieces with an area, and of the open
    lines, which divide.
    """

    def __init__(self, pieces: list[Piece], base: int | None = None):
        self.pieces = pieces
        self.lines = [k for k, p in enumerate(pieces) if geometry.is_line(p)]
        lines = set(self.lines)
        self.areas = [k for k in range(len(pieces)) if k not in lines]
        wanted = base if base is not None and 0 <= base < len(pieces) else 0
        self.base = self.areas[0] if self.areas and wanted in lines else wanted

    @property
    def others(self) -> list[Piece]:
        """The pieces other than the base."""
        return [p for k, p in enumerate(self.pieces) if k != self.base]

    @cached_property
    def map(self) -> PlanarMap:
        """The planar map of the areas, divided by the lines. Raises MapError."""
        return PlanarMap(
            [geometry.outline_of(self.pieces[k]) for k in self.areas],
            [geometry.outline_of(self.pieces[k]) for k in self.lines],
        )

    @cached_property
    def topmost(self) -> np.ndarray:
        """The number, among the areas, of the top one that contains each face, -1 if none does."""
        return self.map.topmost()

    def refused(self, operation: str, least: int = 2) -> tuple[str, str]:
        """Return why nothing can be done with these pieces at all, and what to select; empty if something can."""
        verb = VERBS.get(operation, operation)
        if len(self.pieces) < least:
            more = "Hold Shift and click another piece."
            if self.pieces:
                return f"Only “{self.pieces[0].name}” is selected, and it takes two pieces to {verb}.", more
            return f"No piece is selected, and it takes two to {verb}.", "Select two or more pieces that overlap."
        if not self.areas:
            return "Open lines have no area.", "Select a closed piece too."
        return "", ""

    # -- one outline

    def one(self, operation: Operation) -> CombinationPlan:
        """Return the plan of one outline."""
        why, remedy = self.refused(operation)
        if why:
            return CombinationPlan(operation, why=why, remedy=remedy)
        if self.lines and operation != "subtract":
            name = self.pieces[self.lines[0]].name
            return CombinationPlan(
                operation,
                why=f"“{name}” is an open line, so there is no area to {VERBS[operation]}.",
                remedy="Divide or subtract with it, close it, or give it a fill.",
            )
        try:
            return self._one(operation)
        except MapError as error:
            return CombinationPlan(operation, why=f"{error}.", remedy="Move a piece a little.")

    def _one(self, operation: Operation) -> CombinationPlan:
        m = self.map
        own = self.areas.index(self.base)
        chosen = {
            "union": m.in_any,
            "subtract": lambda: m.in_only(own),
            "intersect": m.in_all,
            "exclude": m.in_odd,
        }[operation]()
        found: tuple[tuple[Path, int], ...]
        if self.lines:
            # the base is split along the lines
            found = tuple((c.path, self.base) for c in m.cells if c.inside == {own})
        else:
            path = m.region(chosen)
            found = () if path.is_empty else ((path, self.base),)
        if not found:
            return CombinationPlan(operation, why=self._emptied(operation), remedy=_MEND[operation])
        away = Path() if operation == "union" else m.region(m.in_any() & ~chosen)
        if self.lines:
            return CombinationPlan(operation, found, away, len(found), "parts")
        return CombinationPlan(operation, found, away, found[0][0].node_count, "nodes", live=True)

    def _emptied(self, operation: Operation) -> str:
        if operation == "intersect":
            return "These pieces have no part in common."
        if operation == "subtract":
            return f"Nothing of “{self.pieces[self.base].name}” would be left: what is cut away covers all of it."
        return "These pieces have no area." if operation == "union" else "Nothing would be left."

    # -- divide

    def apart(self, keep: Keep = "every", neighbours: Neighbours = "apart", parts: As = "areas") -> CombinationPlan:
        """Return the plan of several pieces."""
        why, remedy = self.refused("apart")
        if why:
            return CombinationPlan("apart", why=why, remedy=remedy)
        try:
            found, away = self._apart(keep, neighbours, parts)
        except MapError as error:
            return CombinationPlan("apart", why=f"{error}.", remedy="Move a piece a little.")
        if not found:
            if keep == "under":
                top = self.pieces[self.areas[-1]].name
                return CombinationPlan(
                    "apart", why=f"“{top}” covers none of the others.", remedy="Move it over them, or up in the stack."
                )
            return CombinationPlan("apart", why="These pieces have no area.", remedy="Draw them larger.")
        return CombinationPlan("apart", tuple(found), away, len(found), "lines" if parts == "lines" else "parts")

    def _apart(self, keep: Keep, neighbours: Neighbours, parts: As) -> tuple[list[tuple[Path, int]], Path]:
        m = self.map
        owner = self._owners(keep)
        away = m.region(m.in_any() & ~m.in_top()) if keep == "under" else Path()
        if neighbours == "joined":
            owner = self._one_paint(owner)
        if parts == "lines":
            lines = m.loose_edges(None if keep == "every" and neighbours == "apart" else owner)
            return [(path, self.areas[-1]) for path in lines], away
        if neighbours == "joined":
            found = m.drawn_apart(owner)
        elif keep == "every":
            found = [(path, int(owner[face])) for face, path in m.faces() if owner[face] >= 0]
        elif keep == "shows":
            found = [(path, k) for k, path in enumerate(m.visible_parts())]
        else:
            # each lower piece stays one, also where others overlap it
            found = list(zip(m.inside_top(), range(len(self.areas) - 1), strict=True))
        out = [(path, self.areas[k]) for path, k in found if not path.is_empty]
        # from the lowest owner to the topmost, so that the stack keeps its order
        return sorted(out, key=lambda pair: pair[1]), away

    def _owners(self, keep: Keep) -> np.ndarray:
        """Return the number, among the areas, that each face belongs to, -1 if it is dropped."""
        if keep != "under":
            return self.topmost
        under = self.map.topmost(len(self.areas) - 1)
        return np.where(self.map.in_top(), under, -1).astype(np.int32)

    def _one_paint(self, owner: np.ndarray) -> np.ndarray:
        """Return the owners, those of the same paint replaced by the lowest of them."""
        first: dict[object, int] = {}
        same = [first.setdefault(self.pieces[k].paint, n) for n, k in enumerate(self.areas)]
        joined: np.ndarray = np.array([*same, -1], np.int32)[owner]
        return joined

    # -- everything

    def all(self, keep: Keep = "every", neighbours: Neighbours = "apart", parts: As = "areas") -> list[CombinationPlan]:
        """Return the plans of the four operations, and of divide with the choices given."""
        return [*(self.one(o) for o in OPERATIONS), self.apart(keep, neighbours, parts)]


_MEND: Final = {
    "union": "Draw them larger.",
    "subtract": "Make another piece the base, or move the cutter.",
    "intersect": "Move them until they all overlap, then intersect.",
    "exclude": "Move the pieces apart a little.",
}


def planned(sheet: Sheet, ids: list[str], base: str = "") -> tuple[Sheet, Combination, dict[str, str]]:
    """Return the combination of the selected items, `base` being the base's id, and the top item's id for each piece.

    Raises SheetError if nothing is selected or something is gone.
    """
    if not ids:
        raise SheetError("Nothing is selected to combine or divide.", "Select two or more pieces that overlap.", "ids")
    sheet, pieces, top_of = gathered(sheet, ids)
    number = next((k for k, p in enumerate(pieces) if top_of[p.id] == base), None)
    return sheet, Combination(pieces, number), top_of
