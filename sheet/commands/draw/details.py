"""Commands on the numbers of a shape, and on the kerning pairs of a lettering."""

from typing import Annotated

from msgspec import Meta
from msgspec.structs import replace

import outline
from outline import OutlineError
from sheet.commands.base import Command, Outcome, describe_items, register, require_selection
from sheet.document.errors import SheetError, sentence
from sheet.document.kinds import missing_words
from sheet.document.limits import Id, Ids, Index, Typed
from sheet.document.model import Lettering, Piece, Sheet
from sheet.document.tree import change
from sheet.geometry import geometry
from sheet.reading.details import field_word, set_detail
from sheet.reading.lengths import parse


@register
class SetDetail(Command, frozen=True):
    """Set one detail (sides, points, radius, text …) of the selected pieces that have it."""

    command = "set_detail"
    ids: Ids
    field: Annotated[str, Meta(max_length=20)]
    value: Typed

    def weight(self, sheet: Sheet) -> int:
        """Return how many nodes a longer text adds."""
        return 25 * len(self.value) if self.field == "text" else 0

    def run(self, sheet: Sheet) -> Outcome:
        chosen = require_selection(sheet, self.ids, "change")
        made: dict[str, Piece] = {}
        note = ""
        why: SheetError | None = None
        for item in chosen:
            if not isinstance(item, Piece):
                continue
            try:
                shape, lacking = set_detail(sheet, item.shape, self.field, self.value)
            except SheetError as error:
                why = error
                continue
            if isinstance(shape, Lettering):
                if self.field == "font":
                    shape = replace(shape, axes=())
                lacking = missing_words(shape)
            piece = replace(item, shape=shape)
            try:
                empty = geometry.outline_of(piece).is_empty
            except OutlineError as error:
                why = SheetError(sentence(error), "Type another number.", self.field)
                continue
            if empty:
                why = SheetError(
                    f"Nothing of “{item.name}” would be left.", lacking or "Type another value.", self.field
                )
                continue
            made[item.id] = piece
            note = note or lacking
        if not made:
            raise why or SheetError("Nothing selected has such a number.", "Select a piece that has it.", self.field)
        sheet = change(sheet, list(made), lambda i: made[i.id])
        label = (
            f"set the {field_word(next(iter(made.values())).shape, self.field)} of {describe_items([*made.values()])}"
        )
        return Outcome(sheet, label, tuple(self.ids), note)


@register
class Kern(Command, frozen=True):
    """Kern: move the letters after character `at` by `by` thousandths of the size, closer if negative.

    `to` sets the pair's amount instead; empty, it resets the pair to the font's own.
    """

    command = "kern"
    id: Id
    at: Index
    by: Typed = ""
    to: Typed | None = None

    def run(self, sheet: Sheet) -> Outcome:
        (item,) = require_selection(sheet, [self.id], "kern")
        if not isinstance(item, Piece) or not isinstance(item.shape, Lettering):
            raise SheetError(f"“{item.name}” is not a lettering.", "Select a lettering.", "id")
        shape = item.shape
        if not 0 <= self.at < len(shape.text) - 1 or "\n" in shape.text[self.at : self.at + 2]:
            raise SheetError("There is no pair of letters there.", "Put the cursor between two letters.", "at")
        kerns = dict(shape.kerns)
        if self.to is None:
            amount = kerns.get(self.at, 0.0) + parse(self.by, "kern", field="by", example="-20")
        else:
            amount = parse(self.to, "kern", field="to", example="-20") if self.to.strip() else 0.0
        if abs(amount) > 2000:
            raise SheetError("That is too far for a pair of letters.", "Use two pieces.", "to")
        kerns[self.at] = amount
        made = replace(item, shape=replace(shape, kerns=tuple(sorted((k, v) for k, v in kerns.items() if v))))
        pair = shape.text[self.at : self.at + 2]
        return Outcome(change(sheet, [item.id], lambda _: made), f"kern “{pair}”", (item.id,))


@register
class SetAxis(Command, frozen=True):
    """Set a variable font's axis by its tag ("wght"); empty for the font's own default."""

    command = "set_axis"
    ids: Ids
    axis: Annotated[str, Meta(max_length=4)]
    value: Typed = ""

    def run(self, sheet: Sheet) -> Outcome:
        chosen = require_selection(sheet, self.ids, "change")
        made: dict[str, Piece] = {}
        for item in chosen:
            if not isinstance(item, Piece) or not isinstance(item.shape, Lettering):
                continue
            axis = next((a for a in outline.axes_of(item.shape.font) if a.tag == self.axis), None)
            if axis is None:
                continue
            others = [(tag, v) for tag, v in item.shape.axes if tag != axis.tag]
            value = axis.usual
            if self.value.strip():
                value = parse(self.value, axis.name.lower(), field="value", example=f"{axis.usual:g}")
            if not axis.low <= value <= axis.high:
                limits = f"{axis.low:g} to {axis.high:g}"
                raise SheetError(
                    f"{axis.name} goes from {limits} in this font.", "Type a number in that range.", "value"
                )
            own = [(axis.tag, value)] if value != axis.usual else []
            made[item.id] = replace(item, shape=replace(item.shape, axes=tuple(sorted(others + own))))
        if not made:
            raise SheetError("Nothing selected has such an axis.", "Select a lettering in a variable font.", "axis")
        sheet = change(sheet, list(made), lambda i: made[i.id])
        return Outcome(sheet, f"set the letters of {describe_items([*made.values()])}", tuple(self.ids))
