"""Copies: one, a row, a grid, and what was copied elsewhere."""

from msgspec.structs import replace

from outline import Matrix
from sheet.commands.base import Command, Outcome, check_count, describe_items, register, require_selection
from sheet.document.errors import OPEN_TRAY, STEP_OUT, SheetError
from sheet.document.ids import copy_name
from sheet.document.library import Library
from sheet.document.limits import MAX_ITEMS, Ids, Numbers, RowNumber, Typed
from sheet.document.limits import Place as Coordinate
from sheet.document.model import Item, Photo, Piece, Sheet
from sheet.document.tree import parent_of
from sheet.geometry import geometry, placing
from sheet.geometry.copies import copied
from sheet.reading.lengths import parse_count, read_length

__all__ = ["Duplicate", "Paste", "Pasted", "Repeat", "aside"]


def aside(sheet: Sheet) -> float:
    """Return how far to the right and down a copy is placed (sheet units)."""
    return min(sheet.width, sheet.height) * 0.02


@register
class Duplicate(Command, frozen=True):
    """Copy items, each just above its original: mapped by `matrix`, or moved a little to the right and down."""

    command = "duplicate"
    ids: Ids
    matrix: Numbers | None = None

    def run(self, sheet: Sheet) -> Outcome:
        off = aside(sheet)
        m = Matrix(*self.matrix) if self.matrix else Matrix.move(off, off)
        if abs(m.determinant) < 1e-12:
            raise SheetError("That would flatten the copy to nothing.", "Make it a little larger.")
        return copies(sheet, self.ids, [m], "duplicate")


def copies(sheet: Sheet, ids: list[str], places: list[Matrix], verb: str) -> Outcome:
    """Return the outcome with a copy of each selected item at each of `places`, just above its original."""
    chosen = {i.id: i for i in require_selection(sheet, ids, verb)}
    if any(isinstance(i, Photo) and isinstance(parent_of(sheet, i.id), Piece) for i in chosen.values()):
        raise SheetError(
            "A photo in a frame has no copy beside it.", "Paste it, or use it again from the tray.", "ids", OPEN_TRAY
        )
    if not chosen.keys() <= {i.id for i in sheet.items}:
        raise SheetError("Only what is on the sheet itself can be copied.", "Step out first.", "ids", STEP_OUT)
    check_count(sheet, len(chosen) * len(places))
    items: list[Item] = []
    made = []
    taken = {i.name for i in sheet.items}
    link_ids: list[dict[str, str]] = [{} for _ in places]
    for item in sheet.items:
        items.append(item)
        if item.id in chosen:
            for m, lot in zip(places, link_ids, strict=True):
                sheet, copy = copied(sheet, item, lot)
                copy = replace(placing.moved(copy, m), name=copy_name(taken, item.name))
                made.append(copy.id)
                items.append(copy)
    return Outcome(replace(sheet, items=tuple(items)), f"{verb} {describe_items(list(chosen.values()))}", tuple(made))


@register
class Repeat(Command, frozen=True):
    """Repeat the selection in columns and rows, `gap_x` and `gap_y` apart (lengths; negative ones overlap)."""

    command = "repeat"
    ids: Ids
    columns: Typed
    rows: Typed
    gap_x: Typed = "0"
    gap_y: Typed = "0"

    def weight(self, sheet: Sheet) -> int:
        """Return a high estimate: every item named is copied many times."""
        return 5000

    def run(self, sheet: Sheet) -> Outcome:
        chosen = require_selection(sheet, self.ids, "repeat")
        columns, rows = (parse_count(getattr(self, field), field, 1, 200) for field in ("columns", "rows"))
        if columns * rows == 1:
            raise SheetError("One column and one row changes nothing.", "Type more columns or rows.", "columns")
        if columns * rows * len(chosen) > MAX_ITEMS:
            raise SheetError(f"That would be more than {MAX_ITEMS:,} items.", "Type fewer columns or rows.", "columns")
        x0, y0, x1, y1 = geometry.join_boxes([geometry.box_of(i) for i in chosen])
        dx = x1 - x0 + read_length(sheet, "gap across", self.gap_x, x1 - x0, "gap_x")
        dy = y1 - y0 + read_length(sheet, "gap down", self.gap_y, y1 - y0, "gap_y")
        places = [Matrix.move(c * dx, r * dy) for r in range(rows) for c in range(columns) if r or c]
        outcome = copies(sheet, self.ids, places, "repeat")
        return replace(outcome, chosen=(*self.ids, *outcome.chosen))


@register
class Ring(Command, frozen=True):
    """Repeat the selection around a centre, `count` in all: around a point (px), or the middle of the sheet.

    Each copy turns with its place, unless `turned` is off.
    """

    command = "ring"
    ids: Ids
    count: Typed
    about: tuple[Coordinate, Coordinate] | None = None
    turned: bool = True

    def weight(self, sheet: Sheet) -> int:
        """Return a high estimate: every item named is copied many times."""
        return 5000

    def run(self, sheet: Sheet) -> Outcome:
        chosen = require_selection(sheet, self.ids, "repeat")
        count = parse_count(self.count, "count", 2, 360)
        if count * len(chosen) > MAX_ITEMS:
            raise SheetError(f"That would be more than {MAX_ITEMS:,} items.", "Type a smaller count.", "count")
        cx, cy = self.about or (sheet.width / 2, sheet.height / 2)
        x0, y0, x1, y1 = geometry.join_boxes([geometry.box_of(i) for i in chosen])
        mx, my = (x0 + x1) / 2, (y0 + y1) / 2
        if abs(mx - cx) + abs(my - cy) < 1e-6 and not self.turned:
            raise SheetError(
                "The copies would all be in the same place.", "Move the centre, or turn each copy.", "about"
            )
        places = []
        for k in range(1, count):
            turn = Matrix.turn(360 * k / count, (cx, cy))
            x, y = turn(mx, my)
            places.append(turn if self.turned else Matrix.move(x - mx, y - my))
        outcome = copies(sheet, self.ids, places, "repeat")
        return replace(outcome, chosen=(*self.ids, *outcome.chosen))


@register
class Paste(Command, frozen=True):
    """Paste what was copied from a revision of a project, on top and in the same place; `shift` moves it aside."""

    command = "paste"
    project: RowNumber
    revision: RowNumber
    ids: Ids
    shift: bool = False
    in_place: bool = False

    def informed(self, library: Library, sheet: Sheet) -> Command:
        """Return the command with the items themselves."""
        items, resolution = library.copied(self.project, self.revision, self.ids)
        return Pasted(items, self.shift, resolution, self.in_place)


class Pasted(Command, frozen=True):
    """Items to put on the sheet."""

    items: tuple[Item, ...]
    shift: bool = False
    resolution: float = 0.0
    in_place: bool = False

    def run(self, sheet: Sheet) -> Outcome:
        if not self.items:
            raise SheetError("There is nothing to paste.", "Copy something first.")
        check_count(sheet, len(self.items))
        off = aside(sheet) if self.shift and not self.in_place else 0.0
        # things from a sheet of another resolution keep their real size
        by = sheet.resolution / self.resolution if self.resolution else 1.0
        grown = [placing.moved(i, Matrix.resize(by, by), details=True) if by != 1 else i for i in self.items]
        boxes = geometry.join_boxes([geometry.box_of(i) for i in grown])
        m = Matrix.move(off, off)
        if boxes[0] > sheet.width or boxes[1] > sheet.height or boxes[2] < 0 or boxes[3] < 0:
            # things from a larger sheet go to the middle of this one
            m = Matrix.move(sheet.width / 2 - (boxes[0] + boxes[2]) / 2, sheet.height / 2 - (boxes[1] + boxes[3]) / 2)
        made = []
        link_ids: dict[str, str] = {}
        for item in grown:
            sheet, copy = copied(sheet, item, link_ids)
            made.append(placing.moved(copy, m))
        sheet = replace(sheet, items=(*sheet.items, *made))
        note = f"Pasted at its real size: that sheet has {self.resolution:g} px per inch." if by != 1 else ""
        return Outcome(sheet, f"paste {describe_items(made)}", tuple(i.id for i in made), note)
