"""Working by cell: faces of the chosen pieces' map joined, taken away, or lifted out."""

from dataclasses import dataclass

import numpy as np
from msgspec.structs import replace

import outline
from outline import MapError, Path, PlanarMap

from .. import geometry
from ..errors import SheetError
from ..model import Item, Paint, Photo, Piece, Plain, Sheet
from ..tree import in_stack_order
from .base import Command, Outcome, as_piece, copied, default_paint, fresh, names, register, room, unlocked

__all__ = ["Face", "faces_of"]

MAX_CELLS = 2000


@dataclass(frozen=True, slots=True)
class Face:
    """A cell: its region, the paint that is on top there (None where no piece holds it), and its number in the map."""

    path: Path
    paint: Paint | None
    face: int


def _chosen(sheet: Sheet, ids: list[str]) -> tuple[Sheet, list[Piece], list[str]]:
    pieces: list[Piece] = []
    lies: list[str] = []
    for item in in_stack_order(sheet, ids):
        unlocked(sheet, item)
        sheet, piece = as_piece(sheet, item)
        if piece is not None:
            pieces.append(piece)
            lies.append(item.id)
    if not any(not geometry.is_line(p) for p in pieces):
        raise SheetError("No piece is chosen to work on by cell.", "Choose pieces that overlap.", "ids")
    return sheet, pieces, lies


def _mapped(pieces: list[Piece]) -> tuple[PlanarMap, list[Piece], np.ndarray]:
    """Return the map, its areas, and the topmost area of each face (-1 where none holds it)."""
    areas = [p for p in pieces if not geometry.is_line(p)]
    lines = [geometry.outline_of(p) for p in pieces if geometry.is_line(p)]
    try:
        m = PlanarMap([geometry.outline_of(p) for p in areas], lines)
    except MapError as error:
        raise SheetError(f"{error}.", "") from None
    return m, areas, m.topmost()


def _cells(m: PlanarMap, owners: np.ndarray, areas: list[Piece]) -> list[Face]:
    found = m.faces()
    if len(found) > MAX_CELLS:
        raise SheetError(f"These make {len(found):,} cells; {MAX_CELLS:,} are the most.", "Choose fewer pieces.", "ids")
    return [Face(path, areas[owners[f]].paint if owners[f] >= 0 else None, f) for f, path in found]


def faces_of(sheet: Sheet, ids: list[str]) -> list[Face]:
    """Return the cells of the chosen pieces, holes and gaps between them too; open lines divide.

    Raises SheetError where no piece with an area is chosen or there are more than 2,000 cells.
    """
    _, pieces, _ = _chosen(sheet, ids)
    m, areas, owners = _mapped(pieces)
    return _cells(m, owners, areas)


@register
class ByCell(Command, frozen=True):
    """Join groups of cells, take cells away, lift cells out as pieces of their own; the rest stays as it shows.

    Cells are numbered as `faces_of` lists them for the same ids. A joined group takes
    the paint of its first cell that has one; what is neither joined, lifted nor taken
    away stays with the piece on top there.
    """

    command = "by_cell"
    ids: list[str]
    joined: list[list[int]] = []
    lifted: list[int] = []
    away: list[int] = []

    def run(self, sheet: Sheet) -> Outcome:
        sheet, pieces, lies = _chosen(sheet, self.ids)
        m, areas, owners = _mapped(pieces)
        cells = _cells(m, owners, areas)
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
            photos = []
            for photo in owner.photos if owner else ():
                sheet, copy = copied(sheet, photo)
                assert isinstance(copy, Photo)
                photos.append(copy)
            name = owner.name if owner else "Cell"
            word = name if rest else f"{name} cell" if number >= len(areas) + len(self.joined) else f"{name} joined"
            made.append(Piece(new, word, Plain(path.to_svg()), paint=paint, photos=tuple(photos)))
            if not rest:
                new_ids.append(new)
        room(sheet, len(made))
        wanted = set(lies)
        items: list[Item] = []
        for item in sheet.items:
            if item.id == lies[0]:
                items.extend(made)
            elif item.id not in wanted:
                items.append(item)
        parts = [(len(self.joined), "join"), (len(self.away), "take away"), (len(self.lifted), "lift")]
        label_words = ", ".join(f"{verb} {n}" for n, verb in parts if n)
        chosen = tuple(new_ids) or tuple(i.id for i in made)
        text = f"cells of {names(list(pieces))}: {label_words}"
        return Outcome(replace(sheet, items=tuple(items)), text, chosen)
