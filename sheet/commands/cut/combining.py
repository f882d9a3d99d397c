"""Commands that make outlines from pieces and pieces from outlines, as `combination` plans them."""

from collections import Counter

from msgspec.structs import replace

from sheet.commands.base import Command, Outcome, check_count, describe_items, register
from sheet.document.errors import SheetError
from sheet.document.ids import new_ids, part_name
from sheet.document.kinds import plain_of
from sheet.document.limits import Ids, MaybeId
from sheet.document.model import INK, CutList, Item, Operation, Piece, Sheet, Step
from sheet.geometry import geometry
from sheet.geometry.combination import VERBS, As, Combination, CombinationPlan, Keep, Neighbours, planned
from sheet.geometry.copies import copied_photos

__all__ = ["Apart", "Combine"]


def _able(plan: CombinationPlan) -> None:
    if plan.why:
        raise SheetError(plan.why, plan.remedy, "ids")


@register
class Combine(Command, frozen=True):
    """Combine the selected pieces into one outline by union, subtract, intersect or exclude.

    The lowest piece is the base unless `base` names another. The outline takes the
    base's paint and place in the stack, and keeps the photos in the pieces. Open
    lines only divide: subtracted, they split the base.
    """

    command = "combine"
    ids: Ids
    operation: Operation
    base: MaybeId = ""

    def run(self, sheet: Sheet) -> Outcome:
        sheet, combination, top_of = planned(sheet, self.ids, self.base)
        plan = combination.one(self.operation)
        _able(plan)
        base, others = combination.pieces[combination.base], combination.others
        label = f"{VERBS[self.operation]} {describe_items(list(combination.pieces))}"
        if self.operation == "subtract":
            label = f"subtract {describe_items(list(others))} from {base.name}"
        if not plan.live:
            return _laid(sheet, combination, plan, top_of, label, at=base)
        photos = tuple(photo for p in combination.pieces for photo in p.photos)
        steps = tuple(Step(self.operation, p.as_member()) for p in others)
        sheet, (new,) = new_ids(sheet)
        # an outline from the shelf stays linked to it, with something added
        cuts = CutList(replace(base.as_member(), shelf_link=None), steps)
        made = Piece(
            new, base.name, cuts, paint=base.paint, photos=photos, shelf_link=base.shelf_link, tried=base.tried
        )
        if geometry.outline_of(made).is_empty:
            raise SheetError("Nothing would be left.", "Move the pieces apart a little.", "ids")
        wanted = set(top_of.values())
        at = top_of[base.id]
        items = tuple(made if i.id == at else i for i in sheet.items if i.id == at or i.id not in wanted)
        return Outcome(replace(sheet, items=items), label, (new,))


@register
class Apart(Command, frozen=True):
    """Divide the selected pieces into parts: see `combination` for its three choices.

    Each part takes the paint of its piece, and a copy of its photos.
    """

    command = "apart"
    ids: Ids
    keep: Keep = "every"
    neighbours: Neighbours = "apart"
    parts: As = "areas"

    def run(self, sheet: Sheet) -> Outcome:
        sheet, combination, top_of = planned(sheet, self.ids)
        plan = combination.apart(self.keep, self.neighbours, self.parts)
        _able(plan)
        # each lower piece stays one, and keeps its name
        same = self.keep == "under" and self.neighbours == "apart"
        label = f"divide {describe_items(list(combination.pieces))}"
        lowest = combination.pieces[combination.areas[0]]
        return _laid(sheet, combination, plan, top_of, label, at=lowest, lines=self.parts == "lines", same_names=same)


def _laid(
    sheet: Sheet,
    combination: Combination,
    plan: CombinationPlan,
    top_of: dict[str, str],
    label: str,
    *,
    at: Piece,
    lines: bool = False,
    same_names: bool = False,
) -> Outcome:
    """Return the outcome with the plan's parts at the place of piece `at`, each in its owner's paint; the pieces go."""
    check_count(sheet, len(plan.results))
    made: list[Item] = []
    several = Counter(k for _, k in plan.results)
    count: Counter[int] = Counter()
    for path, number in plan.results:
        owner = combination.pieces[number]
        sheet, (new,) = new_ids(sheet)
        sheet, photos = copied_photos(sheet, () if lines else owner.photos)
        paint = owner.paint
        if lines:
            # a line has no inside to fill, and needs a stroke to be seen
            width = paint.stroke_width or 1.0
            paint = replace(paint, fill=None, stroke=paint.stroke or INK, stroke_width=width)
        count[number] += 1
        word = f"{'Edge' if lines else 'Part'} {count[number]}"
        whole = several[number] == 1 and not lines
        name = owner.name if whole or (same_names and not lines) else part_name(owner.name, word)
        made.append(Piece(new, name, plain_of(path), paint=paint, photos=photos))
    wanted = set(top_of.values())
    first = top_of[at.id]
    items: list[Item] = []
    for item in sheet.items:
        if item.id == first:
            items.extend(made)
        elif item.id not in wanted:
            items.append(item)
    return Outcome(replace(sheet, items=tuple(items)), f"{label} into {len(made)}", tuple(m.id for m in made))
