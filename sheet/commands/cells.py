"""Working by cell: faces of the chosen pieces' map joined, taken away, or lifted out."""

from dataclasses import dataclass
from typing import Annotated

import numpy as np
from msgspec import Meta
from msgspec.structs import replace

from outline import IDENTITY, MapError, Path

from ..combination import Combination, gathered
from ..errors import SheetError
from ..kinds import plain_of
from ..limits import Ids, Index
from ..making import copied_photos, default_paint, fresh, part_name
from ..model import Item, Paint, Piece, Sheet
from .base import Command, Outcome, names, register, room

__all__ = ["Face", "faces_of"]

MAX_CELLS = 2000
UPRIGHT = IDENTITY.numbers()
Cells = Annotated[list[Index], Meta(max_length=MAX_CELLS)]


@dataclass(frozen=True, slots=True)
class Face:
    """A cell: its region, the paint that is on top there (None where no piece holds it), and its number in the map."""

    path: Path
    paint: Paint | None
    face: int


def _chosen(sheet: Sheet, ids: list[str]) -> tuple[Sheet, Combination, dict[str, str]]:
    sheet, pieces, lies = gathered(sheet, ids)
    combination = Combination(pieces)
    if not combination.areas:
        raise SheetError("No piece is chosen to work on by cell.", "Choose pieces that overlap.", "ids")
    try:
        _ = combination.map
    except MapError as error:
        raise SheetError(f"{error}.", "Move a piece a little.") from None
    return sheet, combination, lies


def _cells(combination: Combination) -> list[Face]:
    found = combination.map.faces()
    if len(found) > MAX_CELLS:
        raise SheetError(f"These make {len(found):,} cells; {MAX_CELLS:,} are the most.", "Choose fewer pieces.", "ids")
    owners = combination.topmost
    areas = [combination.pieces[k] for k in combination.areas]
    return [Face(path, areas[owners[f]].paint if owners[f] >= 0 else None, f) for f, path in found]


def faces_of(sheet: Sheet, ids: list[str]) -> list[Face]:
    """Return the cells of the chosen pieces, holes and gaps between them too; open lines divide.

    Raises SheetError where no piece with an area is chosen or there are more than 2,000 cells.
    """
    return _cells(_chosen(sheet, ids)[1])


@register
class ByCell(Command, frozen=True):
    """Join groups of cells, take cells away, lift cells out as pieces of their own.

    A cell that is named comes off every piece that holds it; a piece none of whose cells
    is named stays exactly what it is. Cells are numbered as `faces_of` lists them for
    the same ids. A group takes the paint of its first cell that has one, and comes to lie
    just above the top piece it was taken from.
    """

    command = "by_cell"
    ids: Ids
    joined: Annotated[list[Cells], Meta(max_length=MAX_CELLS)] = []
    lifted: Cells = []
    away: Cells = []

    def run(self, sheet: Sheet) -> Outcome:
        sheet, combination, lies = _chosen(sheet, self.ids)
        areas = [combination.pieces[k] for k in combination.areas]
        m, owners, cells = combination.map, combination.topmost, _cells(combination)
        groups = [*self.joined, *([k] for k in self.lifted)]
        told = [k for group in groups for k in group] + list(self.away)
        if not told:
            raise SheetError("No cell was joined, lifted or taken away.", "Drag across some cells first.", "cells")
        if not all(0 <= k < len(cells) for k in told) or len(set(told)) != len(told):
            raise SheetError("These cells are not what they were.", "Choose the pieces again.", "cells")
        named = np.zeros(len(owners), np.bool_)
        named[[cells[k].face for k in told]] = True
        label = np.full(len(owners), -1, np.int32)
        for number, group in enumerate(groups):
            label[[cells[k].face for k in group]] = number
        regions = m.drawn(label) if groups else {}
        # what is new, by the number of the area it comes to lie on
        new: dict[int, list[Piece]] = {}
        for number, path in sorted(regions.items()):
            faces = [cells[k].face for k in groups[number]]
            tops = [int(owners[f]) for f in faces if owners[f] >= 0]
            owner = areas[tops[0]] if tops else None
            sheet, (made_id,) = fresh(sheet)
            sheet, photos = copied_photos(sheet, owner.photos if owner else ())
            word = "Joined" if number < len(self.joined) else "Cell"
            name = part_name(owner.name, word) if owner else word
            paint = owner.paint if owner else default_paint(sheet)
            on = max(tops, default=len(areas) - 1)
            new.setdefault(on, []).append(Piece(made_id, name, plain_of(path), paint=paint, photos=photos))
        put: dict[str, list[Item]] = {}
        for number, area in enumerate(areas):
            held = m.held_by(number)
            kept: list[Item] = [area]
            if (held & named).any():
                rest = m.region(held & ~named)
                kept = [] if rest.is_empty else [replace(area, shape=plain_of(rest), matrix=UPRIGHT)]
            put[lies[area.id]] = [*kept, *new.get(number, ())]
        items: list[Item] = []
        for item in sheet.items:
            # a group counts as one piece, and stays a group where none of its cells was named
            unchanged = item.id in put and len(put[item.id]) == 1 and put[item.id][0] in areas
            items.extend([item] if item.id not in put or unchanged else put[item.id])
        if not any(put.values()):
            raise SheetError("Nothing would be left.", "Keep at least one cell.", "cells")
        room(replace(sheet, items=()), len(items))
        new_ids = [p.id for pieces in new.values() for p in pieces]
        parts = [(len(self.joined), "join"), (len(self.away), "take away"), (len(self.lifted), "lift")]
        label_words = ", ".join(f"{verb} {n}" for n, verb in parts if n)
        chosen = tuple(new_ids) or tuple(i.id for lot in put.values() for i in lot)
        text = f"cells of {names(list(combination.pieces))}: {label_words}"
        return Outcome(replace(sheet, items=tuple(items)), text, chosen)
