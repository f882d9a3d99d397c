"""Working by cell: faces of the chosen pieces' map joined, taken away, or lifted out."""

from dataclasses import dataclass
from typing import Annotated

import numpy as np
from msgspec import Meta
from msgspec.structs import replace

import outline
from outline import MapError, Path

from .. import geometry
from ..combination import Combination, gathered
from ..errors import SheetError
from ..kinds import plain_of
from ..limits import Ids, Index
from ..making import copied_photos, default_paint, fresh, part_name
from ..model import Item, Paint, Piece, Sheet
from .base import Command, Outcome, names, register, room

__all__ = ["Face", "faces_of"]

MAX_CELLS = 2000
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
    """Join groups of cells, take cells away, lift cells out as pieces of their own; the rest stays as it shows.

    Cells are numbered as `faces_of` lists them for the same ids. A joined group takes
    the paint of its first cell that has one; what is neither joined, lifted nor taken
    away stays with the piece on top there.
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
        # labels: the owners keep theirs, groups come after, and -1 goes
        label = owners.astype(np.int32)
        for number, group in enumerate(groups):
            for k in group:
                label[cells[k].face] = len(areas) + number
        for k in self.away:
            label[cells[k].face] = -1
        label[0] = -1
        regions = m.drawn(label)
        if not regions:
            raise SheetError("Nothing would be left.", "Keep at least one cell.", "cells")
        made: list[Item] = []
        new_ids: list[str] = []
        for number, path in sorted(regions.items()):
            rest = number < len(areas)
            if rest:
                owner: Piece | None = areas[number]
                paint = areas[number].paint
            else:
                group = groups[number - len(areas)]
                tops = [owners[cells[k].face] for k in group if owners[cells[k].face] >= 0]
                owner = areas[tops[0]] if tops else None
                paint = owner.paint if owner else default_paint(sheet)
            if rest and owner is not None and path == outline.union([geometry.outline_of(owner)]):
                # nothing of it was touched: it stays what it is, cut list and all
                made.append(owner)
                continue
            sheet, (new,) = fresh(sheet)
            sheet, photos = copied_photos(sheet, owner.photos if owner else ())
            name = owner.name if owner else "Cell"
            word = "cell" if number >= len(areas) + len(self.joined) else "joined"
            made.append(Piece(new, name if rest else part_name(name, word), plain_of(path), paint=paint, photos=photos))
            if not rest:
                new_ids.append(new)
        room(sheet, len(made))
        lying = list(lies.values())
        items: list[Item] = []
        for item in sheet.items:
            if item.id == lying[0]:
                items.extend(made)
            elif item.id not in lying:
                items.append(item)
        parts = [(len(self.joined), "join"), (len(self.away), "take away"), (len(self.lifted), "lift")]
        label_words = ", ".join(f"{verb} {n}" for n, verb in parts if n)
        chosen = tuple(new_ids) or tuple(i.id for i in made)
        text = f"cells of {names(list(combination.pieces))}: {label_words}"
        return Outcome(replace(sheet, items=tuple(items)), text, chosen)
