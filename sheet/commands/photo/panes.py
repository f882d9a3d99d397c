"""Commands that split a photo or an outline into panes, and change the split afterwards."""

from typing import Annotated, Literal

from msgspec import Meta
from msgspec.structs import replace

from sheet.commands.base import Command, Outcome, check_count, register, require_one
from sheet.document.errors import STEP_OUT, Offer, SheetError
from sheet.document.ids import new_ids
from sheet.document.limits import Id, Ids, Index, Typed
from sheet.document.model import Group, Item, Panes, Photo, Piece, Sheet
from sheet.document.tree import change, find, parent_of, photos_of
from sheet.geometry import geometry
from sheet.geometry.covering import uncovered
from sheet.geometry.panes import MAX_PANES, ROW, cut_anew, edge_margin, first_cut
from sheet.reading.lengths import parse_count, read_length

__all__ = ["panes_of"]

SIDE = 100


def panes_of(sheet: Sheet, item_id: str) -> Group:
    """Return the panes with this id, or those that contain the pane with this id. Raises SheetError for others."""
    item = find(sheet, item_id)
    parent = parent_of(sheet, item_id)
    for one in (item, parent):
        if isinstance(one, Group) and one.panes is not None:
            return one
    raise SheetError(f"“{item.name}” is not split into panes.", "Select a photo or a frame, and split it.", "id")


def _counted(text: str, size: str, sheet: Sheet, whole: float, gap: float, field: str) -> tuple[int, float]:
    """Return how many columns or rows there are, and the size of a pane where one was typed, else 0."""
    if not size.strip():
        return parse_count(text, field, 1, SIDE), 0.0
    side = "width" if field == "columns" else "height"
    own = read_length(sheet, f"pane {side}", size, whole, f"pane_{side}")
    if not 0 < own <= whole * (1 + 1e-9):
        raise SheetError(
            "A pane must be larger than nothing, and no larger than what is split.",
            "Type a smaller number.",
            f"pane_{side}",
        )
    return max(1, min(SIDE, int((whole + gap) / (own + gap) + 1e-9))), own


def _bled(cut: Panes) -> None:
    """Raise SheetError if a photo that is split by itself is smaller than the bleed needs."""
    photo = cut.base.photos[0] if len(cut.base.photos) == 1 else None
    if photo is None or cut.bleed <= 0:
        return
    if photo.id == cut.base.id and cut.bleed > edge_margin(cut) + 1e-9:
        raise SheetError(
            "That bleed reaches beyond the photo.", "Type a margin as wide as the bleed, or a smaller bleed.", "bleed"
        )


def _note_on(group: Group) -> tuple[str, Offer | None]:
    """Return a note on the panes, and an offer for what could be done about it in one press."""
    cut = group.panes
    assert cut is not None
    bare = [share for p in group.items if isinstance(p, Piece) and (share := uncovered(p)) > 0.005]
    if bare:
        some = "One pane is" if len(bare) == 1 else f"{len(bare)} panes are"
        travel = ("Move it with its pane", "set_panes", {"id": group.id, "field": "travelling", "value": "yes"})
        spread = (cut.spread_x or cut.spread_y) and not cut.travelling
        return f"{some} not filled by the photo, by up to {100 * max(bare):.0f} %.", travel if spread else None
    if cut.bleed and 2 * cut.bleed > min(cut.gap_x + cut.spread_x, cut.gap_y + cut.spread_y) + 1e-9:
        return "Neighbouring bleeds overlap: make the gaps at least twice the bleed.", None
    return "", None


@register
class Split(Command, frozen=True):
    """Split a photo, a frame or a piece into panes: by columns and rows, or by the size of a pane.

    Gap, margin and bleed are lengths; panes of a given size are centred.
    """

    command = "split"
    ids: Ids
    columns: Typed = "3"
    rows: Typed = "3"
    pane_width: Typed = ""
    pane_height: Typed = ""
    gap_x: Typed = "0"
    gap_y: Typed = "0"
    margin: Typed = "0"
    bleed: Typed = "0"

    @classmethod
    def accept(cls, sheet: Sheet, ids: list[str]) -> None:
        """Raise SheetError unless one photo, frame or closed piece on the sheet itself is selected."""
        cls._whole(sheet, ids)

    @staticmethod
    def _whole(sheet: Sheet, ids: list[str]) -> Photo | Piece:
        item = require_one(sheet, ids, "Splitting into panes needs", "Select a photo, a frame or a piece.")
        holder = parent_of(sheet, item.id)
        if isinstance(item, Photo) and isinstance(holder, Piece):
            # a photo in a frame is split with the frame
            item = holder
        if isinstance(item, Group):
            ungroup = ("Ungroup it", "ungroup", {"ids": [item.id]})
            raise SheetError(f"“{item.name}” is {item.kind} already.", "Ungroup it, or select a photo.", "ids", ungroup)
        if parent_of(sheet, item.id) is not None:
            way = "Step out, and select the whole of it."
            raise SheetError(f"“{item.name}” is inside something else.", way, "ids", STEP_OUT)
        if isinstance(item, Piece) and geometry.is_line(item):
            raise SheetError(f"“{item.name}” is an open line, so it has no inside.", "Close it first.", "ids")
        return item

    def run(self, sheet: Sheet) -> Outcome:
        item = self._whole(sheet, self.ids)
        cut = first_cut(item, 1, 1)
        gap_x = _not_negative(sheet, "gap across", self.gap_x, cut.width, "gap_x")
        gap_y = _not_negative(sheet, "gap down", self.gap_y, cut.height, "gap_y")
        margin = _not_negative(sheet, "margin", self.margin, min(cut.width, cut.height), "margin")
        bleed = _not_negative(sheet, "bleed", self.bleed, min(cut.width, cut.height), "bleed")
        columns, width = _counted(self.columns, self.pane_width, sheet, cut.width - 2 * margin, gap_x, "columns")
        rows, height = _counted(self.rows, self.pane_height, sheet, cut.height - 2 * margin, gap_y, "rows")
        if columns * rows == 1 and not margin and not width and not height:
            raise SheetError("One pane changes nothing.", "Type more columns or rows.", "columns")
        if columns * rows > MAX_PANES:
            raise SheetError(
                f"That would be {columns * rows:,} panes; {MAX_PANES:,} are the most.",
                "Type fewer columns or rows.",
                "columns",
            )
        check_count(sheet, columns * rows)
        cut = replace(
            cut, columns=columns, rows=rows, gap_x=gap_x, gap_y=gap_y, margin=margin, bleed=bleed,
            pane_width=width, pane_height=height,
        )  # fmt: skip
        _bled(cut)
        sheet, (new,) = new_ids(sheet)
        empty = Group(new, item.name, (item,), item.locked, item.hidden, replace(cut, panes=()))
        sheet, group = cut_anew(sheet, replace(empty, items=()), cut)
        items = tuple(group if i.id == item.id else i for i in sheet.items)
        return Outcome(
            replace(sheet, items=items), f"split {item.name} into {len(group.items)} panes", (new,), *_note_on(group)
        )


def _not_negative(sheet: Sheet, name: str, text: str, whole: float, field: str) -> float:
    value = read_length(sheet, name, text, whole, field)
    if not 0 <= value <= 1e8:
        raise SheetError(f"The {name} must be 0 or more.", "Type a number like 12 or 3mm.", field)
    return value


@register
class SetPanes(Command, frozen=True):
    """Change the split: the number of panes, the gaps, the spread; their photos stay, or move with their panes."""

    command = "set_panes"
    id: Id
    field: Literal[
        "columns", "rows", "gap_x", "gap_y", "margin", "bleed", "spread_x", "spread_y", "pane_width", "pane_height",
        "travelling", "whole",
    ]  # fmt: skip
    value: Typed

    def named(self) -> list[str]:
        """Return the panes themselves."""
        return [self.id]

    def run(self, sheet: Sheet) -> Outcome:
        group = panes_of(sheet, self.id)
        cut = group.panes
        assert cut is not None
        made = self._set(sheet, cut)
        _bled(made)
        check_count(sheet, made.columns * made.rows)
        sheet, new = cut_anew(sheet, group, made)
        word = self.field.replace("_x", " across").replace("_y", " down").replace("_", " ")
        words = {
            ("whole", True): "put edges on whole px in",
            ("whole", False): "let edges be off whole px in",
            ("travelling", True): "move the picture with the panes in",
            ("travelling", False): "keep the picture still in",
        }
        label = f"{words.get((self.field, getattr(made, self.field)), f'{word} of')} {group.name}"
        return Outcome(change(sheet, [group.id], lambda _: new), label, (group.id,), *_note_on(new))

    def _set(self, sheet: Sheet, cut: Panes) -> Panes:
        field, text = self.field, self.value
        if field == "whole":
            return replace(cut, whole=text == "yes")
        if field == "travelling":
            return replace(cut, travelling=text == "yes")
        if field in ("columns", "rows"):
            # a number of panes replaces a given size
            size = {"columns": {"pane_width": 0.0}, "rows": {"pane_height": 0.0}}[field]
            return replace(cut, **{field: parse_count(text, field, 1, SIDE)}, **size)
        across = field in ("gap_x", "spread_x", "pane_width")
        whole = cut.width if across else cut.height if field != "margin" else min(cut.width, cut.height)
        if field in ("spread_x", "spread_y"):
            value = read_length(sheet, "spread", text, whole, field)
            least = -(cut.gap_x if across else cut.gap_y)
            return replace(cut, **{field: max(value, least)})
        if field in ("pane_width", "pane_height"):
            if not text.strip() or text.strip() == "0":
                return replace(cut, **{field: 0.0})
            inner = whole - 2 * cut.margin
            counted = "columns" if across else "rows"
            count, own = _counted("1", text, sheet, inner, cut.gap_x if across else cut.gap_y, counted)
            return replace(cut, **{field: own, counted: count})
        return replace(cut, **{field: _not_negative(sheet, field.replace("_", " "), text, whole, field)})


@register
class PaneCells(Command, frozen=True):
    """Leave panes out or bring them back, join neighbours into one, or separate joined ones.

    Cells are numbered row * 100 + column.
    """

    command = "pane_cells"
    id: Id
    cells: Annotated[list[Index], Meta(max_length=MAX_PANES)]
    action: Literal["out", "back", "join", "part"]

    def run(self, sheet: Sheet) -> Outcome:
        group = panes_of(sheet, self.id)
        cut = group.panes
        assert cut is not None
        cells = {c for c in self.cells if c // ROW < cut.rows and c % ROW < cut.columns}
        if not cells:
            raise SheetError("No pane is selected.", "Click panes in the small grid first.", "cells")
        touched = [g for g in cut.joined if cells.intersection(g)]
        made = cut
        if self.action == "out":
            made = replace(cut, out=tuple(sorted({*cut.out, *cells})))
        elif self.action == "back":
            if not cells.intersection(self._left(group, cut)):
                raise SheetError("None of these panes was left out.", "Select one that is.", "cells")
            made = replace(cut, out=tuple(c for c in cut.out if c not in cells))
            # a pane that was deleted comes back too
            there = {i.id for i in group.items}
            group = replace(
                group, panes=replace(cut, panes=tuple(p for p in cut.panes if p[0] in there or cells.isdisjoint(p[1])))
            )
        elif self.action == "join":
            whole = cells.union(*touched)
            if len(whole) < 2 or not _neighbours(whole):
                raise SheetError(
                    "Only neighbouring panes can be joined.", "Select two or more that touch side by side.", "cells"
                )
            made = replace(
                cut,
                joined=(*(g for g in cut.joined if g not in touched), tuple(sorted(whole))),
                out=tuple(c for c in cut.out if c not in whole),
            )
        else:
            if not touched:
                raise SheetError("None of these is joined to another.", "Select one that is.", "cells")
            made = replace(cut, joined=tuple(g for g in cut.joined if g not in touched))
        sheet, new = cut_anew(sheet, group, made)
        words = {"out": "leave out", "back": "bring back", "join": "join", "part": "part"}[self.action]
        count = f"{len(cells)} pane{'s' if len(cells) > 1 else ''}"
        return Outcome(
            change(sheet, [group.id], lambda _: new), f"{words} {count} of {group.name}", (group.id,), *_note_on(new)
        )

    @staticmethod
    def _left(group: Group, cut: Panes) -> set[int]:
        there = {i.id for i in group.items}
        return {*cut.out, *(c for i, cells in cut.panes if i not in there for c in cells)}


def _neighbours(cells: set[int]) -> bool:
    """Return whether cells are connected side by side."""
    waiting, seen = [min(cells)], set()
    while waiting:
        cell = waiting.pop()
        if cell in seen or cell not in cells:
            continue
        seen.add(cell)
        waiting += [cell + 1, cell + ROW, cell - ROW, *([cell - 1] if cell % ROW else [])]
    return seen == cells


@register
class MakeWhole(Command, frozen=True):
    """Undo the split; photos put into single panes since then go just above the result."""

    command = "make_whole"
    id: Id

    def run(self, sheet: Sheet) -> Outcome:
        group = panes_of(sheet, self.id)
        cut = group.panes
        assert cut is not None
        own = {p.file for p in cut.base.photos}
        others: dict[str, Photo] = {}
        for photo in photos_of(i for i in group.items if isinstance(i, Piece)):
            if photo.file not in own:
                others.setdefault(photo.file, photo)
        base: Item = replace(cut.base, name=group.name)
        if len(cut.base.photos) == 1 and cut.base.photos[0].id == cut.base.id:
            # a photo split by itself is its own base
            base = replace(cut.base.photos[0], name=group.name)
        items = (base, *others.values(), *(i for i in group.items if not isinstance(i, Piece)))
        return Outcome(_instead(sheet, group, items), f"undo the split of {group.name}", (base.id,))


def _instead(sheet: Sheet, group: Group, items: tuple[Item, ...]) -> Sheet:
    """Return the sheet with items in place of a group, on the sheet itself or in another group."""
    parent = parent_of(sheet, group.id)

    def put(lying: tuple[Item, ...]) -> tuple[Item, ...]:
        return tuple(new for i in lying for new in (items if i.id == group.id else (i,)))

    if isinstance(parent, Group):
        return change(sheet, [parent.id], lambda g: replace(g, items=put(g.items)) if isinstance(g, Group) else g)
    return replace(sheet, items=put(sheet.items))
