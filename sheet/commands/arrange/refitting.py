"""Commands that refit an item to another proportion, and set how its parts are anchored."""

from typing import Annotated

from msgspec import Meta
from msgspec.structs import replace

from sheet.commands.base import Command, Outcome, register, require_one
from sheet.document.errors import STEP_OUT, SheetError
from sheet.document.limits import MAX_PARTS, Id, Place, Typed
from sheet.document.model import Band, Group, Hold, Holds, Item, Piece, Sheet
from sheet.document.tree import change, find
from sheet.geometry import geometry
from sheet.geometry.anchor_plan import parts_of, stretched
from sheet.geometry.anchoring import anchors_set, can_anchor, crossed, with_bands
from sheet.geometry.refit import TooSmall, changed_shapes, check_refits, refitted
from sheet.reading.lengths import read_length, show_length

__all__ = ["Anchors", "Refit", "refit"]

Bands = Annotated[list[Band], Meta(max_length=50)]
Anchors = Annotated[dict[Id, tuple[Hold | None, Hold | None]], Meta(max_length=MAX_PARTS)]
"""For each part's id, its anchors along x and y; null to guess again."""


def _anchored(item: Item, how: Anchors, bands: tuple[Bands | None, Bands | None]) -> Item:
    """Return the item with these anchors. Raises SheetError for what is not a part, or cannot be anchored that way."""
    parts = {p.item.id: p.item for p in parts_of(item)}
    given = {}
    for part_id, holds in how.items():
        part = parts.get(part_id)
        if not isinstance(part, Piece | Group):
            raise SheetError(f"That part of “{item.name}” can’t be anchored.", "Click one of its pins.", "holds")
        for hold in holds:
            if hold is not None and hold not in can_anchor(part):
                raise SheetError(f"“{part.name}” can’t get longer.", "Anchor it to a side or to the middle.", "holds")
        given[part_id] = replace(part.holds or Holds(), x=holds[0], y=holds[1], guessed="")
    item = anchors_set(item, given)
    for axis, own_bands in enumerate(bands):
        if own_bands is not None:
            item = with_bands(item, axis, own_bands)
    return item


def refit(sheet: Sheet, item: Item, width: float, height: float, anchored: bool = False) -> tuple[Item, str]:
    """Return the item at another size (px), and a note about it; `anchored` by hand, its shapes may change."""
    try:
        made = refitted(item, width, height, may_change=anchored)
    except TooSmall as error:
        raise error.shown(sheet.unit, sheet.resolution) from None
    x0, y0, x1, y1 = geometry.box_of(made)
    notes = []
    for word, wanted, came in (("wide", width, x1 - x0), ("high", height, y1 - y0)):
        if abs(came - wanted) > 1e-6 * (1 + wanted):
            shown = show_length(came, sheet.unit, sheet.resolution)
            notes.append(f"It is {shown} {sheet.unit} {word}: as they are anchored, its parts can’t reach further.")
    if anchored and (why := changed_shapes(item, made)):
        notes.append(why)
    box = geometry.box_of(item)
    changed = [abs(width - (box[2] - box[0])) > 1e-9 * width, abs(height - (box[3] - box[1])) > 1e-9 * height]
    if isinstance(item, Piece):
        curves = sum(crossed(item, axis) for axis in (0, 1) if changed[axis])
        if curves:
            notes.append(f"{curves} curve{'s' if curves > 1 else ''} cross{'' if curves > 1 else 'es'} its bands.")
    names = dict.fromkeys(i.name for axis in (0, 1) if changed[axis] for i in stretched(item, axis))
    if names:
        first, *others = names
        who = f"“{first}” is" if not others else f"“{first}” and {len(others)} more parts are"
        way = (
            "Nothing in it can stretch."
            if first == item.name
            else "Anchor a part to a side or the middle to avoid that."
        )
        notes.append(f"{who} stretched. {way}")
    return made, " ".join(notes)


@register
class Refit(Command, frozen=True):
    """Refit a frame, an outline, panes or a group to another width and height (lengths); its top left corner stays.

    `holds` says how parts are anchored along x and y ("near", "middle", "far", "both", "scale");
    `x_bands` and `y_bands` say where a plain outline may lengthen (px on the sheet, as placed):
    an empty list to find them.
    """

    command = "refit"
    id: Id
    width: Place | Typed
    height: Place | Typed
    holds: Anchors = {}
    x_bands: Bands | None = None
    y_bands: Bands | None = None

    @classmethod
    def accept(cls, sheet: Sheet, ids: list[str]) -> None:
        """Raise SheetError unless one thing on the sheet itself is selected that can be refitted."""
        item = require_one(sheet, ids, "Refit needs", "Select a frame, an outline or a group. Ctrl G groups several.")
        if not any(i.id == item.id for i in sheet.items):
            raise SheetError(f"“{item.name}” is inside something else.", "Step out first.", "id", STEP_OUT)
        check_refits(item)

    def worked_out(self, sheet: Sheet) -> tuple[Item, Item, str]:
        """Return the anchored item, the refitted one, and a note. Raises SheetError."""
        self.accept(sheet, [self.id])
        item = find(sheet, self.id)
        x0, y0, x1, y1 = geometry.box_of(item)
        size = []
        for field, now in (("width", x1 - x0), ("height", y1 - y0)):
            value = read_length(sheet, field, getattr(self, field), now, field)
            if value <= 0:
                raise SheetError(f"The {field} must be greater than 0.", "Type a larger number.", field)
            size.append(value)
        own_bands = _anchored(item, self.holds, (self.x_bands, self.y_bands))
        made, note = refit(sheet, own_bands, size[0], size[1], anchored=bool(self.holds))
        return own_bands, made, note

    def run(self, sheet: Sheet) -> Outcome:
        item = find(sheet, self.id)
        _, made, note = self.worked_out(sheet)
        if made == item:
            raise SheetError(f"“{item.name}” has that size already.", "Drag one of its sides, or type another size.")
        return Outcome(change(sheet, [item.id], lambda _: made), f"refit {item.name}", (item.id,), note)
