"""Part by part: joining, removing and lifting out the faces of the selected pieces' map."""

from dataclasses import dataclass
from typing import Annotated

import numpy as np
from msgspec import Meta
from msgspec.structs import replace

from outline import IDENTITY, MapError, Path, PlanarMap, inner_point
from sheet.commands.base import Command, Outcome, check_count, describe_items, register
from sheet.document.errors import SheetError
from sheet.document.ids import new_ids, part_name
from sheet.document.kinds import plain_of
from sheet.document.limits import MAX_CELLS, Id, Ids, Index
from sheet.document.model import CellChoice, CutList, Item, Paint, Piece, Plain, Sheet, Step
from sheet.document.tree import change, find, in_stack_order, walk
from sheet.geometry import geometry, placing
from sheet.geometry.cells import choice_of, chosen_faces, naming
from sheet.geometry.combination import Combination, gathered
from sheet.geometry.copies import copied, copied_photos, default_paint

__all__ = ["Face", "choice_in", "faces_of"]

MAX_LIVE = 1000
"""The most pieces that the outlines of one command may contain; beyond it they are flattened, with a note."""
UPRIGHT = IDENTITY.numbers()
ChosenCells = Annotated[list[Index], Meta(max_length=MAX_CELLS)]


@dataclass(frozen=True, slots=True)
class Face:
    """A cell: its region, the paint on top there (None if no piece contains it), and its number in the map.

    `chosen` is whether an outline with a choice of cells includes it.
    """

    path: Path
    paint: Paint | None
    face: int
    chosen: bool = False


def choice_in(items: list[Item]) -> Piece | None:
    """Return the outline whose choice of cells is edited, if it alone is selected."""
    only = items[0] if len(items) == 1 else None
    return only if isinstance(only, Piece) and isinstance(only.shape, CutList) and only.shape.choice else None


def _chosen(sheet: Sheet, ids: list[str]) -> tuple[Sheet, Combination, dict[str, str]]:
    sheet, pieces, top_of = gathered(sheet, ids)
    combination = Combination(pieces)
    if not combination.areas:
        raise SheetError("Part by part needs a piece. Nothing is selected.", "Select pieces that overlap.", "ids")
    try:
        _ = combination.map
    except MapError as error:
        raise SheetError(f"{error}.", "Move a piece a little.") from None
    return sheet, combination, top_of


def _counted(found: list[tuple[int, Path]]) -> list[tuple[int, Path]]:
    if len(found) > MAX_CELLS:
        raise SheetError(f"These make {len(found):,} parts; {MAX_CELLS:,} are the most.", "Select fewer pieces.", "ids")
    return found


def _cells(combination: Combination) -> list[Face]:
    owners = combination.topmost
    areas = [combination.pieces[k] for k in combination.areas]
    return [
        Face(path, areas[owners[f]].paint if owners[f] >= 0 else None, f)
        for f, path in _counted(combination.map.faces())
    ]


def _choice(item: Piece) -> tuple[PlanarMap, list[int], np.ndarray]:
    """Return the map of an outline's pieces, the pieces' numbers, and which faces the outline includes."""
    assert isinstance(item.shape, CutList)
    assert item.shape.choice is not None
    m, numbers = geometry.cell_map(item.shape)
    return m, numbers, chosen_faces(m, numbers, item.shape.choice)


def faces_of(sheet: Sheet, ids: list[str]) -> list[Face]:
    """Return the cells of the selected pieces, with the holes and gaps between them; open lines divide.

    For one outline with a choice of cells, return those of its pieces. Raises SheetError if
    no piece with an area is selected or there are more than 2,000 cells.
    """
    item = choice_in(in_stack_order(sheet, ids))
    if item is None:
        return _cells(_chosen(sheet, ids)[1])
    m, _, made = _choice(item)
    return [Face(path, item.paint if made[f] else None, f, bool(made[f])) for f, path in _counted(m.faces())]


@register
class ByCell(Command, frozen=True):
    """Join groups of cells, remove cells, or lift cells out as pieces of their own.

    A named cell is cut from every piece that contains it; a piece without a named cell
    stays exactly as it is. Cells are numbered as `faces_of` lists them for
    the same ids. A group takes the paint of its first cell that has one, and goes
    just above the top piece it was taken from. The results stay live: outlines
    with a choice of cells, which share the pieces they were made from.

    With `follow`, their edges follow the pieces that stay on the sheet: when one of those
    is moved or reshaped, its neighbours change with it.

    If one such outline is selected, its choice changes: cells are added to it, removed
    from it, or lifted out of it.
    """

    command = "by_cell"
    ids: Ids
    joined: Annotated[list[ChosenCells], Meta(max_length=MAX_CELLS)] = []
    lifted: ChosenCells = []
    away: ChosenCells = []
    follow: bool = False

    def run(self, sheet: Sheet) -> Outcome:
        if not any((*self.joined, self.lifted, self.away)):
            raise SheetError("No part was joined, lifted or taken away.", "Drag across some parts first.", "cells")
        item = choice_in(in_stack_order(sheet, self.ids))
        return self._anew(sheet, item) if item is not None else self._cut(sheet)

    def _check(self, count: int) -> None:
        """Raise SheetError unless every named cell exists and is named once."""
        listed = [*(k for group in self.joined for k in group), *self.lifted, *self.away]
        if not all(k < count for k in listed) or len(set(listed)) != len(listed):
            raise SheetError("These parts have changed since.", "Select the pieces again.", "cells")

    def _words(self) -> str:
        joined = len(self.joined)
        parts = [(joined, "join"), (len(self.away), "take away"), (len(self.lifted), "lift")]
        return ", ".join(f"{verb} {n}" for n, verb in parts if n)

    def _cut(self, sheet: Sheet) -> Outcome:
        sheet, combination, top_of = _chosen(sheet, self.ids)
        areas = [combination.pieces[k] for k in combination.areas]
        m, owners, cells = combination.map, combination.topmost, _cells(combination)
        self._check(len(cells))
        groups = [[cells[k].face for k in group] for group in (*self.joined, *([k] for k in self.lifted))]
        named = np.zeros(len(owners), np.bool_)
        named[[f for group in groups for f in group]] = True
        named[[cells[k].face for k in self.away]] = True
        label = np.full(len(owners), -1, np.int32)
        for number, group in enumerate(groups):
            label[group] = number
        regions = m.drawn(label) if groups else {}
        taken = [m.in_path(number) & named for number in range(len(areas))]
        rests = {k: m.region(m.in_path(k) & ~named) for k in range(len(areas)) if taken[k].any()}
        sheet, maker = _Maker.of(sheet, combination, cells, len(regions) + len(rests), self.follow)
        # the new outlines, by the number of the area above which each goes
        new: dict[int, list[Piece]] = {}
        for number, path in sorted(regions.items()):
            tops = [int(owners[f]) for f in groups[number] if owners[f] >= 0]
            owner = areas[tops[0]] if tops else None
            sheet, (made_id,) = new_ids(sheet)
            sheet, photos = copied_photos(sheet, owner.photos if owner else ())
            word = "Joined" if number < len(self.joined) else "Part"
            name = part_name(owner.name, word) if owner else word
            paint = owner.paint if owner else default_paint(sheet)
            on = max(tops, default=len(areas) - 1)
            faces = np.zeros(len(owners), np.bool_)
            faces[groups[number]] = True
            sheet, shape = maker.shape(sheet, tops[0] if tops else 0, faces, path, without=False)
            new.setdefault(on, []).append(Piece(made_id, name, shape, paint=paint, photos=photos))
        put: dict[str, list[Item]] = {}
        for number, area in enumerate(areas):
            kept: list[Item] = [area]
            if number in rests:
                kept = []
                if not rests[number].is_empty:
                    sheet, shape = maker.shape(sheet, number, taken[number], rests[number], without=True)
                    kept = [replace(area, shape=shape, matrix=UPRIGHT, link="")]
            put[top_of[area.id]] = [*kept, *new.get(number, ())]
        led = {
            area.id: maker.keys[combination.areas[number]]
            for number, area in enumerate(areas)
            if self.follow and number not in rests and combination.areas[number] in maker.used
        }
        items: list[Item] = []
        for item in sheet.items:
            if isinstance(item, Piece) and item.id in led:
                put[item.id][0] = replace(item, link=led[item.id])
            # a group counts as one piece, and stays a group if none of its cells is named
            unchanged = item.id in put and len(put[item.id]) == 1 and put[item.id][0] in areas
            items.extend([item] if item.id not in put or unchanged else put[item.id])
        if not any(put.values()):
            raise SheetError("Nothing would be left.", "Leave at least one part.", "cells")
        check_count(replace(sheet, items=()), len(items))
        made_ids = [p.id for pieces in new.values() for p in pieces]
        chosen = tuple(made_ids) or tuple(i.id for lot in put.values() for i in lot)
        text = f"parts of {describe_items(list(combination.pieces))}: {self._words()}"
        leaders = describe_items([i for i in sheet.items if i.id in led])
        note = f"Edges follow {leaders}: move that, and they move too." if led else ""
        return Outcome(replace(sheet, items=tuple(items)), text, chosen, maker.note or note)

    def _anew(self, sheet: Sheet, item: Piece) -> Outcome:
        cuts = item.shape
        assert isinstance(cuts, CutList)
        assert cuts.choice is not None
        m, numbers, made = _choice(item)
        faces = [f for f, _ in _counted(m.faces())]
        self._check(len(faces))
        made[[faces[k] for group in self.joined for k in group]] = True
        made[[faces[k] for k in (*self.away, *self.lifted)]] = False
        changed = replace(item, shape=replace(cuts, choice=choice_of(m, numbers, made, cuts.choice.without)))
        if geometry.outline_of(changed).is_empty:
            raise SheetError(f"Nothing of “{item.name}” would be left.", "Leave at least one part.", "cells")
        out: list[Item] = [changed]
        for k in self.lifted:
            sheet, copy = copied(sheet, replace(item, photos=()), _same(item))
            assert isinstance(copy, Piece)
            sheet, photos = copied_photos(sheet, item.photos)
            only = np.zeros(len(made), np.bool_)
            only[faces[k]] = True
            shape = replace(copy.shape, choice=choice_of(m, numbers, only, False), finishes=())  # type: ignore[call-arg]
            out.append(replace(copy, name=part_name(item.name, "Part"), shape=shape, photos=photos))
        check_count(sheet, len(out) - 1)
        items = [i for old in sheet.items for i in (out if old.id == item.id else [old])]
        chosen = tuple(i.id for i in out[1:]) or (item.id,)
        return Outcome(replace(sheet, items=tuple(items)), f"parts of {item.name}: {self._words()}", chosen)


def _same(item: Item) -> dict[str, str]:
    """Return the link keys in an item, each mapped to itself."""
    return {i.link: i.link for i, _ in walk(item) if isinstance(i, Piece) and i.link}


class _Maker:
    """Makes live outlines from one combination; plain ones if that would take too many pieces."""

    def __init__(self, combination: Combination, cells: list[Face], keys: list[str], live: bool):
        self.combination, self.cells, self.keys, self.live = combination, cells, keys, live
        self.boxes = [geometry.box_of(p) for p in combination.pieces]
        self.link_ids: dict[str, str] = {}
        self.used: set[int] = set()
        """The pieces, by number, that are part of a live outline."""
        for piece in combination.pieces:
            self.link_ids.update(_same(piece))
        self.note = "" if live else f"These outlines would have more than {MAX_LIVE:,} pieces, so they were flattened."

    @classmethod
    def of(
        cls, sheet: Sheet, combination: Combination, cells: list[Face], outlines: int, follow: bool
    ) -> tuple[Sheet, "_Maker"]:
        """Return a maker for so many outlines; each piece gets a key that it shares with its copies."""
        count = len(combination.pieces)
        sheet, fresh = new_ids(sheet, count)
        # a piece that others follow already keeps its key
        led = {i.id for i in sheet.items if isinstance(i, Piece) and i.link} if follow else set()
        keys = [p.link if p.id in led else key for p, key in zip(combination.pieces, fresh, strict=True)]
        return sheet, cls(combination, cells, keys, outlines * count <= MAX_LIVE)

    def shape(
        self, sheet: Sheet, base: int, named: np.ndarray, path: Path, without: bool
    ) -> tuple[Sheet, Plain | CutList]:
        """Return the shape whose region is `path`: area number `base` without the named faces, or the faces alone.

        It contains the pieces that reach the faces; if these cannot identify them, it is plain.
        """
        combination = self.combination
        box = combination.map.region(named).bounds
        if not self.live or box is None:
            return sheet, plain_of(path)
        own = combination.areas[base]
        # a piece that only touches the faces bounds them there
        near = 1e-6 * (1 + max(map(abs, box)))
        box = (box[0] - near, box[1] - near, box[2] + near, box[3] + near)
        reach = [k for k in range(len(self.boxes)) if k != own and placing.boxes_meet(self.boxes[k], box)]
        order = [own, *reach]
        made: list[Piece] = []
        for k in order:
            piece = replace(combination.pieces[k], photos=())
            sheet, copy = copied(sheet, piece, self.link_ids)
            assert isinstance(copy, Piece)
            made.append(replace(copy, link=self.keys[k], hidden=False, locked=False))
        cuts = CutList(made[0], tuple(Step("union", p) for p in made[1:]), choice=CellChoice((), without))
        m, numbers = geometry.cell_map(cuts)
        here = _faces_at(m, [inner_point(c.path) for c in self.cells if named[c.face]])
        cuts = replace(cuts, choice=CellChoice(naming(m, numbers, here), without))
        live = geometry.outline_of(Piece("i0", "", cuts))
        if abs(live.area - path.area) > 1e-6 * path.area:
            return sheet, plain_of(path)
        self.used.update(order)
        return sheet, cuts


def _faces_at(m: PlanarMap, points: list[tuple[float, float]]) -> set[int]:
    """Return the faces of a map that contain any of the points."""
    faces = [(f, path, path.bounds or (0.0, 0.0, 0.0, 0.0)) for f, path in m.faces()]
    out = set()
    for x, y in points:
        for face, path, (x0, y0, x1, y1) in faces:
            if x0 <= x <= x1 and y0 <= y <= y1 and path.contains((x, y)):
                out.add(face)
                break
    return out


@register
class DropCell(Command, frozen=True):
    """Take cell `number` out of an outline's choice: it is no longer joined, or no longer removed."""

    command = "drop_cell"
    id: Id
    number: Index

    def run(self, sheet: Sheet) -> Outcome:
        item = find(sheet, self.id)
        choice = item.shape.choice if isinstance(item, Piece) and isinstance(item.shape, CutList) else None
        if choice is None:
            raise SheetError(f"“{item.name}” isn’t made part by part.", "Select an outline made part by part.", "id")
        if self.number >= len(choice.cells) or not choice.cells[self.number].chosen:
            raise SheetError("That part is no longer in the list.", "Select the outline again.", "number")
        assert isinstance(item, Piece)
        assert isinstance(item.shape, CutList)
        cells = list(choice.cells)
        dropped = replace(cells[self.number], chosen=False)
        cells[self.number] = dropped
        alike = [c for c in cells if c.inside == dropped.inside]
        if not any(c.chosen for c in alike):
            cells = [c for c in cells if c.inside != dropped.inside]
        made = replace(item, shape=replace(item.shape, choice=replace(choice, cells=tuple(cells))))
        if geometry.outline_of(made).is_empty:
            raise SheetError(f"Nothing of “{item.name}” would be left.", "Leave at least one part.", "number")
        what = "put a part back into" if choice.without else "take a part out of"
        return Outcome(change(sheet, [item.id], lambda _: made), f"{what} {item.name}", (item.id,))
