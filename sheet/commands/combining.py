"""Commands that make outlines of pieces, and pieces of outlines."""

from collections import Counter

from msgspec.structs import replace

import outline
from outline import Path, PlanarMap

from .. import geometry
from ..errors import SheetError
from ..model import OPERATIONS, CutList, Item, Photo, Piece, Plain, Sheet, Step
from ..parts import SEVERAL, areas_and_lines, parts
from ..tree import in_stack_order
from .base import Command, Outcome, as_piece, copied, fresh, names, register, room, unlocked

VERBS = {
    "union": "unite",
    "subtract_back": "subtract",
    "visible": "keep what is visible",
    "joined": "join by paint",
    "inside_top": "keep what the top piece covers",
    "loose": "make loose edges",
}


def _pieces(sheet: Sheet, ids: list[str], what: str) -> tuple[Sheet, list[Piece], dict[str, str]]:
    """Return the chosen pieces, lowest first, and the id on the sheet of each.

    A group counts as one piece; photos that are chosen too are left alone.
    """
    what = VERBS.get(what, what)
    if not ids:
        raise SheetError(f"Nothing is chosen to {what}.", "Choose two or more pieces that overlap.", "ids")
    pieces: list[Piece] = []
    lies: dict[str, str] = {}
    for item in in_stack_order(sheet, ids):
        unlocked(sheet, item)
        sheet, piece = as_piece(sheet, item)
        if piece is not None:
            pieces.append(piece)
            lies[piece.id] = item.id
    if len(pieces) < 2:
        if len(pieces) == 1:
            why = f"Only “{pieces[0].name}” is chosen, and it takes two pieces to {what}."
        else:
            why = f"No piece is chosen, and it takes two to {what}."
        raise SheetError(why, "Hold Shift and click another piece.", "ids")
    return sheet, pieces, lies


@register
class Combine(Command, frozen=True):
    """Make one outline of the chosen pieces by union, subtract, subtract_back, intersect or exclude,
    or several pieces by one of `parts.SEVERAL`.

    The lowest piece is the base unless `base` names another; subtract_back takes the
    topmost other one instead. An outline takes the base's paint and place in the stack,
    and photos inside the pieces ride along.
    """

    command = "combine"
    ids: list[str]
    operation: str
    base: str = ""

    def run(self, sheet: Sheet) -> Outcome:
        if self.operation in SEVERAL:
            return self._several(sheet)
        operation = "subtract" if self.operation == "subtract_back" else self.operation
        if operation not in OPERATIONS:
            raise SheetError(
                f"“{self.operation[:30]}” is no operation.",
                f"Use {', '.join(OPERATIONS)}, subtract_back, {', '.join(SEVERAL)}.",
            )
        sheet, pieces, lies = _pieces(sheet, self.ids, self.operation)
        areas = [p for p in pieces if not geometry.is_line(p)]
        base = next((p for p in pieces if lies[p.id] == self.base), (areas or pieces)[0])
        if self.operation == "subtract_back":
            base = next((p for p in reversed(areas) if p is not base), base)
        lines = [p for p in pieces if p is not base and geometry.is_line(p)]
        if lines:
            if operation == "subtract" and not geometry.is_line(base):
                return self._split(sheet, base, pieces, lies)
            raise SheetError(
                f"“{lines[0].name}” is an open line, and holds no area to {VERBS.get(operation, operation)}.",
                "Divide or subtract with it, close it, or give it a fill.",
                "ids",
            )
        others = [p for p in pieces if p is not base]
        photos = tuple(photo for p in pieces for photo in p.photos)
        steps = tuple(Step(operation, replace(p, photos=())) for p in others)
        cuts = CutList(replace(base, photos=()), steps)
        sheet, (new,) = fresh(sheet)
        made = Piece(new, base.name, cuts, paint=base.paint, photos=photos)
        if geometry.outline_of(made).is_empty:
            raise SheetError(*_why_empty(operation, base, others), "ids")
        wanted = set(lies.values())
        at = lies[base.id]
        items = tuple(made if i.id == at else i for i in sheet.items if i.id == at or i.id not in wanted)
        return Outcome(replace(sheet, items=items), f"{operation} {names(list(pieces))}", (new,))

    def _split(self, sheet: Sheet, base: Piece, pieces: list[Piece], lies: dict[str, str]) -> Outcome:
        """Return the outcome of the base less the closed pieces, parted along the open lines."""
        others = [p for p in pieces if p is not base]
        cutters = [geometry.outline_of(p) for p in others if not geometry.is_line(p)]
        lines = [geometry.outline_of(p) for p in others if geometry.is_line(p)]
        rest = outline.subtract(geometry.outline_of(base), cutters)
        if rest.is_empty:
            raise SheetError(*_why_empty("subtract", base, pieces), "ids")
        found = [(path, 0) for path in outline.divide([rest], cutters=lines)]
        return self._laid(sheet, [base], found, lies, "subtract", pieces)

    def _several(self, sheet: Sheet) -> Outcome:
        sheet, chosen, lies = _pieces(sheet, self.ids, self.operation)
        pieces, lines = areas_and_lines(chosen, self.operation)
        if not pieces:
            raise SheetError("Open lines alone hold no area.", "Choose a closed piece too.", "ids")
        paths = [geometry.outline_of(p) for p in pieces]
        found = parts(self.operation, PlanarMap(paths, [geometry.outline_of(p) for p in lines]), pieces)
        if not found:
            if self.operation == "inside_top":
                raise SheetError(
                    f"“{pieces[-1].name}” covers none of the others.", "Move it over them, or up in the stack.", "ids"
                )
            raise SheetError("These pieces hold no area.", "Draw them larger.", "ids")
        verb = {"divide": "divide"}.get(self.operation, VERBS.get(self.operation, self.operation))
        return self._laid(sheet, pieces, found, lies, f"{verb}:", [*pieces, *lines])

    def _laid(
        self,
        sheet: Sheet,
        pieces: list[Piece],
        found: list[tuple[Path, int]],
        lies: dict[str, str],
        verb: str,
        used: list[Piece],
    ) -> Outcome:
        """Return the outcome with the parts found in place of the pieces used, each with its owner's paint."""
        room(sheet, len(found))
        made: list[Item] = []
        several = Counter(k for _, k in found)
        count: Counter[int] = Counter()
        for path, owner_number in found:
            owner = pieces[owner_number]
            sheet, (new,) = fresh(sheet)
            photos = []
            for photo in owner.photos if self.operation != "loose" else ():
                sheet, copy = copied(sheet, photo)
                assert isinstance(copy, Photo)
                photos.append(copy)
            paint = owner.paint
            if self.operation == "loose":
                # a line has no inside to fill, and must have a stroke to be seen
                width = paint.stroke_width or 1.0
                paint = replace(paint, fill=None, stroke=paint.stroke or "#22302f", stroke_width=width)
            word = "line" if self.operation == "loose" else "part"
            count[owner_number] += 1
            number = f" {count[owner_number]}" if several[owner_number] > 1 else ""
            name = owner.name if self.operation == "inside_top" else f"{owner.name} {word}{number}"
            made.append(Piece(new, name, Plain(path.to_svg()), paint=paint, photos=tuple(photos)))
        wanted = {lies[p.id] for p in used}
        first = lies[pieces[0].id]
        items: list[Item] = []
        for item in sheet.items:
            if item.id == first:
                items.extend(made)
            elif item.id not in wanted:
                items.append(item)
        label = f"{verb} {names(list(used))} into {len(made)}"
        return Outcome(replace(sheet, items=tuple(items)), label, tuple(m.id for m in made))


def _why_empty(operation: str, base: Piece, others: list[Piece]) -> tuple[str, str]:
    if operation == "intersect":
        return "These pieces have no part in common.", "Move them until they all overlap, then intersect."
    if operation == "subtract":
        return (
            f"Nothing of “{base.name}” would be left: what is cut away covers all of it.",
            "Swap the base, or move the cutter.",
        )
    return "Nothing would be left.", "Move the pieces apart a little."
