"""Commands that make outlines of pieces, and pieces of outlines."""

from msgspec.structs import replace

from outline import PlanarMap

from .. import geometry
from ..errors import SheetError
from ..model import CutList, Item, Photo, Piece, Plain, Sheet, Step
from ..tree import change, find, in_stack_order, members, parent_of
from .base import Command, Outcome, copied, fresh, names, register, room

VERBS = {"union": "unite"}


def _pieces(sheet: Sheet, ids: list[str], what: str) -> list[Piece]:
    """Return the chosen pieces, lowest first; photos that are chosen too are left alone."""
    what = VERBS.get(what, what)
    if not ids:
        raise SheetError(f"Nothing is chosen to {what}.", "Choose two or more pieces that overlap.", "ids")
    pieces = [i for i in in_stack_order(sheet, ids) if isinstance(i, Piece)]
    if len(pieces) < 2:
        if len(pieces) == 1:
            why = f"Only “{pieces[0].name}” is chosen, and it takes two pieces to {what}."
        else:
            why = f"No piece is chosen, and it takes two to {what}."
        raise SheetError(why, "Hold Shift and click another piece.", "ids")
    return pieces


@register
class Combine(Command, frozen=True):
    """Make one outline of the chosen pieces by union, subtract, intersect or exclude, or several by divide.

    The lowest piece is the base unless `base` names another. The outline takes the
    base's paint and place in the stack, and photos inside the pieces ride along.
    """

    command = "combine"
    ids: list[str]
    operation: str
    base: str = ""

    def run(self, sheet: Sheet) -> Outcome:
        if self.operation == "divide":
            return self._divide(sheet)
        if self.operation not in ("union", "subtract", "intersect", "exclude"):
            raise SheetError(
                f"“{self.operation[:30]}” is no operation.", "Use union, subtract, intersect, exclude or divide."
            )
        pieces = _pieces(sheet, self.ids, self.operation)
        base = next((p for p in pieces if p.id == self.base), pieces[0])
        others = [p for p in pieces if p is not base]
        photos = tuple(photo for p in pieces for photo in p.photos)
        steps = tuple(Step(self.operation, replace(p, photos=())) for p in others)
        cuts = CutList(replace(base, photos=()), steps)
        sheet, (new,) = fresh(sheet)
        made = Piece(new, base.name, cuts, paint=base.paint, photos=photos)
        if geometry.outline_of(made).is_empty:
            raise SheetError(*_why_empty(self.operation, base, others), "ids")
        wanted = {p.id for p in pieces}
        items = tuple(made if i.id == base.id else i for i in sheet.items if i.id == base.id or i.id not in wanted)
        return Outcome(replace(sheet, items=items), f"{self.operation} {names(list(pieces))}", (new,))

    def _divide(self, sheet: Sheet) -> Outcome:
        pieces = _pieces(sheet, self.ids, "divide")
        cells = [c for c in PlanarMap([geometry.outline_of(p) for p in pieces]).cells if c.inside]
        if not cells:
            raise SheetError("These pieces hold no area to divide.", "Draw them larger.", "ids")
        room(sheet, len(cells))
        # from the lowest owner to the topmost, so that the stack stays as it was
        cells.sort(key=lambda c: max(c.inside))
        made: list[Item] = []
        for cell in cells:
            owner = pieces[max(cell.inside)]
            sheet, (new,) = fresh(sheet)
            photos = []
            for photo in owner.photos:
                sheet, copy = copied(sheet, photo)
                assert isinstance(copy, Photo)
                photos.append(copy)
            name = f"{owner.name} {'∩' if len(cell.inside) > 1 else 'part'}"
            made.append(Piece(new, name, Plain(cell.path.to_svg()), paint=owner.paint, photos=tuple(photos)))
        wanted = {p.id for p in pieces}
        at = next(k for k, i in enumerate(sheet.items) if i.id == pieces[0].id)
        items = list(sheet.items)
        items[at : at + 1] = made
        items = [i for i in items if i.id not in wanted]
        label = f"divide {names(list(pieces))} into {len(made)}"
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


@register
class SwapBase(Command, frozen=True):
    """Make the first step's member the base of a cut list, and the base its member."""

    command = "swap_base"
    id: str

    def run(self, sheet: Sheet) -> Outcome:
        item = find(sheet, self.id)
        if not isinstance(item, Piece) or not isinstance(item.shape, CutList):
            raise SheetError(f"“{item.name}” has no cut list.", "Choose an outline that was combined.", "id")
        first, *rest = item.shape.steps
        cuts = CutList(first.member, (Step(first.operation, item.shape.base, first.on), *rest))
        made = replace(item, shape=cuts)
        if geometry.outline_of(made).is_empty:
            raise SheetError(*_why_empty(first.operation, cuts.base, [item.shape.base]), "id")
        return Outcome(change(sheet, [self.id], lambda _: made), f"swap the base of {item.name}", (self.id,))


@register
class TakeApart(Command, frozen=True):
    """Lay the pieces of a cut list on the sheet again; photos stay with the base."""

    command = "take_apart"
    id: str

    def run(self, sheet: Sheet) -> Outcome:
        item = find(sheet, self.id)
        if not isinstance(item, Piece) or not isinstance(item.shape, CutList):
            raise SheetError(f"“{item.name}” is one piece already.", "Choose an outline that was combined.", "id")
        if parent_of(sheet, self.id) is not None:
            raise SheetError(f"“{item.name}” is a step of another outline.", "Take that one apart first.", "id")
        pieces = list(members(item.shape))
        pieces[0] = replace(pieces[0], photos=item.photos)
        at = next(k for k, i in enumerate(sheet.items) if i.id == self.id)
        items = (*sheet.items[:at], *pieces, *sheet.items[at + 1 :])
        return Outcome(replace(sheet, items=items), f"take {item.name} apart", tuple(p.id for p in pieces))
