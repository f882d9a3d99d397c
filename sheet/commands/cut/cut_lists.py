"""Commands on the cut list of an outline: every step can be changed afterwards.

Members are numbered from 0, the base, in the order of the list.
"""

from collections.abc import Callable

from msgspec.structs import replace

from sheet.commands.base import Command, Outcome, describe_items, register
from sheet.document.errors import SheetError
from sheet.document.ids import new_ids
from sheet.document.kinds import plain_of
from sheet.document.limits import Id, Ids, Index
from sheet.document.model import CutList, Operation, Piece, Sheet, Step
from sheet.document.tree import change, find, in_stack_order, members, parent_of
from sheet.geometry import geometry
from sheet.geometry.cells import without_piece


def _cut(sheet: Sheet, item_id: str) -> tuple[Piece, CutList]:
    item = find(sheet, item_id)
    if not isinstance(item, Piece) or not isinstance(item.shape, CutList):
        raise SheetError(f"“{item.name}” has no cut list.", "Select an outline that was combined.", "id")
    return item, item.shape


def _ordered(sheet: Sheet, item_id: str) -> tuple[Piece, CutList]:
    """Return an outline whose steps run one after another."""
    item, cuts = _cut(sheet, item_id)
    if cuts.choice is not None:
        raise SheetError(
            f"“{item.name}” is made part by part: its pieces have no order or operation.",
            "Change its parts instead.",
            "id",
        )
    return item, cuts


def _not_a_step(sheet: Sheet, item: Piece) -> None:
    """Raise SheetError if an outline is inside another."""
    parent = parent_of(sheet, item.id)
    if parent is not None:
        back = (f"Turn “{parent.name}” back to pieces", "take_apart", {"id": parent.id})
        message = f"“{item.name}” is a step of another outline."
        raise SheetError(message, "Turn that one back to pieces first.", "id", back)


def _step(cuts: CutList, number: int, first: int = 1) -> int:
    if not first <= number <= len(cuts.steps):
        raise SheetError(f"There is no step {number} in this cut list.", "Select the outline again.", "number")
    return number


def _changed(sheet: Sheet, item: Piece, cuts: CutList, label: str) -> Outcome:
    """Return the outcome with a new cut list. Raises SheetError if nothing would be left of the outline."""
    made = replace(item, shape=cuts)
    if geometry.outline_of(made).is_empty:
        raise SheetError(
            f"Nothing of “{item.name}” would be left.", "It stays as it was; change another step first.", "id"
        )
    return Outcome(change(sheet, [item.id], lambda _: made), label, (item.id,))


def _stepped(
    sheet: Sheet, item_id: str, number: int, edit: Callable[[Step], Step], label: Callable[[Step], str]
) -> Outcome:
    """Edit step `number` of a cut list; `label` describes the edit, given the step as it is then."""
    item, cuts = _cut(sheet, item_id)
    k = _step(cuts, number) - 1
    steps = list(cuts.steps)
    steps[k] = edit(steps[k])
    return _changed(sheet, item, replace(cuts, steps=tuple(steps)), label(steps[k]))


@register
class SwapBase(Command, frozen=True):
    """Swap the base of a cut list with the member of its first step."""

    command = "swap_base"
    id: Id

    def run(self, sheet: Sheet) -> Outcome:
        item, cuts = _ordered(sheet, self.id)
        if not cuts.steps:
            raise SheetError(f"“{item.name}” has only its base.", "Add a step first.", "id")
        first, *rest = cuts.steps
        swapped = replace(cuts, base=first.member, steps=(Step(first.operation, cuts.base, first.on), *rest))
        return _changed(sheet, item, swapped, f"change the base of {item.name}")


@register
class SetStep(Command, frozen=True):
    """Change the operation of step `number`."""

    command = "set_step"
    id: Id
    number: Index
    operation: Operation

    def run(self, sheet: Sheet) -> Outcome:
        _ordered(sheet, self.id)
        return _stepped(
            sheet,
            self.id,
            self.number,
            lambda s: replace(s, operation=self.operation),
            lambda s: f"make {s.member.name} {s.operation}",
        )


@register
class SwitchStep(Command, frozen=True):
    """Switch step `number` off or on."""

    command = "switch_step"
    id: Id
    number: Index

    def run(self, sheet: Sheet) -> Outcome:
        return _stepped(
            sheet,
            self.id,
            self.number,
            lambda s: replace(s, on=not s.on),
            lambda s: f"switch {s.member.name} {'on' if s.on else 'off'}",
        )


@register
class MoveStep(Command, frozen=True):
    """Move member `number` to position `to`; the first member is the base, and the old base takes its step."""

    command = "move_step"
    id: Id
    number: Index
    to: Index

    def run(self, sheet: Sheet) -> Outcome:
        item, cuts = _ordered(sheet, self.id)
        number, to = _step(cuts, self.number, 0), _step(cuts, self.to, 0)
        rows: list[Step | None] = [None, *cuts.steps]
        pieces = list(members(cuts))
        if number == to:
            raise SheetError(f"“{pieces[number].name}” is already there.", "")
        row, piece = rows.pop(number), pieces.pop(number)
        rows.insert(to, row)
        pieces.insert(to, piece)
        # another row is first now and has no step: the old base takes that step over
        spare = rows[0] or Step("union", piece)
        steps = []
        for kept, member in zip(rows[1:], pieces[1:], strict=True):
            step = kept or spare
            steps.append(Step(step.operation, member, step.on))
        return _changed(
            sheet, item, replace(cuts, base=pieces[0], steps=tuple(steps)), f"move {piece.name} in the cut list"
        )


@register
class DropStep(Command, frozen=True):
    """Take member `number` out of the cut list and put it on the sheet, just above the outline."""

    command = "drop_step"
    id: Id
    number: Index

    def run(self, sheet: Sheet) -> Outcome:
        item, cuts = _cut(sheet, self.id)
        number = _step(cuts, self.number, 0)
        if not cuts.steps:
            flatten = ("Flatten it", "make_plain", {"id": item.id})
            raise SheetError(
                f"“{item.name}” has only its base.", "Flatten it, or turn it back to pieces.", "id", flatten
            )
        _not_a_step(sheet, item)
        pieces = list(members(cuts))
        out = pieces.pop(number)
        steps = list(cuts.steps)
        del steps[max(0, number - 1)]
        if number == 0:
            steps = [Step(s.operation, s.member, s.on) for s in cuts.steps[1:]]
        if number == 0 and cuts.choice is not None and cuts.choice.without:
            raise SheetError(
                f"“{item.name}” is “{out.name}” without some parts.", "Turn it back to pieces instead.", "number"
            )
        if not steps and not cuts.finishes and cuts.choice is None:
            # a single piece needs no cut list: it takes the outline's paint and photos
            made = replace(pieces[0], paint=item.paint, photos=item.photos)
        else:
            choice = without_piece(cuts.choice, number) if cuts.choice is not None else None
            made = replace(item, shape=replace(cuts, base=pieces[0], steps=tuple(steps), choice=choice))
            if geometry.outline_of(made).is_empty:
                raise SheetError(
                    f"Nothing of “{item.name}” would be left without it.", "Turn it back to pieces instead.", "id"
                )
        at = next(k for k, i in enumerate(sheet.items) if i.id == self.id)
        items = (*sheet.items[:at], made, replace(out, link=""), *sheet.items[at + 1 :])
        return Outcome(replace(sheet, items=items), f"take {out.name} out of {item.name}", (made.id,))


@register
class AddSteps(Command, frozen=True):
    """Add the other selected pieces to the selected outline, as further steps of its cut list."""

    command = "add_steps"
    ids: Ids
    operation: Operation

    def run(self, sheet: Sheet) -> Outcome:
        chosen = [i for i in in_stack_order(sheet, self.ids) if isinstance(i, Piece)]
        outlines = [p for p in chosen if isinstance(p.shape, CutList)]
        if len(outlines) != 1:
            raise SheetError("This needs just one outline with a cut list.", "Select it and the pieces to add.", "ids")
        item = outlines[0]
        others = [p for p in chosen if p is not item]
        if not others:
            raise SheetError(f"Only “{item.name}” is selected.", "Hold Shift and click the piece to add.", "ids")
        assert isinstance(item.shape, CutList)
        photos = (*item.photos, *(photo for p in others for photo in p.photos))
        more = tuple(Step(self.operation, replace(p, photos=())) for p in others)
        steps = (*item.shape.steps, *more)
        gone = {p.id for p in others}
        sheet = replace(sheet, items=tuple(i for i in sheet.items if i.id not in gone))
        label = f"{self.operation} {describe_items(list(others))} in {item.name}"
        if item.shape.choice is None:
            return _changed(sheet, replace(item, photos=photos), replace(item.shape, steps=steps), label)
        # steps follow a choice of cells: that becomes the base
        sheet, (inner,) = new_ids(sheet)
        cuts = CutList(Piece(inner, item.name, item.shape, paint=item.paint), more)
        return _changed(sheet, replace(item, photos=photos), cuts, label)


@register
class MakePlain(Command, frozen=True):
    """Flatten an outline to one path without a cut list."""

    command = "make_plain"
    id: Id

    def run(self, sheet: Sheet) -> Outcome:
        item, _ = _cut(sheet, self.id)
        made = replace(item, shape=plain_of(geometry.outline_of(item)))
        return Outcome(change(sheet, [item.id], lambda _: made), f"flatten {item.name}", (item.id,))


@register
class TakeApart(Command, frozen=True):
    """Put the pieces of a cut list back on the sheet; photos stay with the base."""

    command = "take_apart"
    id: Id

    def run(self, sheet: Sheet) -> Outcome:
        item = find(sheet, self.id)
        if not isinstance(item, Piece) or not isinstance(item.shape, CutList):
            raise SheetError(f"“{item.name}” is one piece already.", "Select an outline that was combined.", "id")
        _not_a_step(sheet, item)
        pieces = [replace(p, link="") for p in members(item.shape)]
        pieces[0] = replace(pieces[0], photos=item.photos)
        at = next(k for k, i in enumerate(sheet.items) if i.id == self.id)
        items = (*sheet.items[:at], *pieces, *sheet.items[at + 1 :])
        return Outcome(replace(sheet, items=items), f"turn {item.name} back to pieces", tuple(p.id for p in pieces))
