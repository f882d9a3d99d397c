"""Commands that reshape an outline: offset, rounded corners, fewer nodes, even margins."""

from msgspec.structs import replace

import outline
from outline import Margins, Matrix, Path

from .. import geometry, placing
from ..errors import SheetError
from ..lengths import parse_length
from ..model import CutList, Piece, Plain, Sheet
from ..tree import change, find
from .base import Command, Outcome, fresh, register, room

__all__ = ["SIDES", "holes"]

SIDES = ("left", "right", "top", "bottom")


def _piece(sheet: Sheet, item_id: str, what: str) -> Piece:
    item = find(sheet, item_id)
    if not isinstance(item, Piece):
        raise SheetError(f"“{item.name}” is a photo, and cannot be {what}.", "Choose a piece or an outline.", "id")
    return item


def _length(sheet: Sheet, text: str, field: str) -> float:
    return parse_length(text, field, unit=sheet.unit, resolution=sheet.resolution)


@register
class Offset(Command, frozen=True):
    """Make a new outline at a distance around a piece, or inside it where the distance is negative.

    It lies just below what it surrounds, or above what it lies in, with the same paint.
    """

    command = "offset"
    id: str
    distance: str
    join: str = "round"

    def run(self, sheet: Sheet) -> Outcome:
        item = _piece(sheet, self.id, "offset")
        distance = _length(sheet, self.distance, "distance")
        if distance == 0:
            raise SheetError("An offset of 0 is what is there.", "Type a distance; a minus goes inwards.", "distance")
        if self.join not in outline.offset_joins:
            raise SheetError(f"“{self.join[:20]}” is no join.", f"Use {', '.join(outline.offset_joins)}.", "join")
        path = outline.offset(geometry.outline_of(item), distance, self.join)
        if path.is_empty:
            raise SheetError(
                f"Nothing of “{item.name}” is left that far inside.", "Type a smaller distance.", "distance"
            )
        room(sheet)
        sheet, (new,) = fresh(sheet)
        made = Piece(new, f"{item.name} offset", Plain(path.to_svg()), paint=item.paint)
        items = list(sheet.items)
        at = next((k for k, i in enumerate(items) if i.id == item.id), len(items) - 1)
        items.insert(at if distance > 0 else at + 1, made)
        word = "around" if distance > 0 else "inside"
        return Outcome(replace(sheet, items=tuple(items)), f"offset {word} {item.name}", (new,))


def _reshaped(sheet: Sheet, item: Piece, path: Path, label: str) -> Outcome:
    made = replace(item, shape=Plain(path.to_svg(), path.fill_rule), matrix=(1.0, 0.0, 0.0, 1.0, 0.0, 0.0))
    return Outcome(change(sheet, [item.id], lambda _: made), label, (item.id,))


@register
class RoundOff(Command, frozen=True):
    """Round every corner of an outline by a radius; it becomes one plain path."""

    command = "round_off"
    id: str
    radius: str

    def run(self, sheet: Sheet) -> Outcome:
        item = _piece(sheet, self.id, "rounded")
        radius = _length(sheet, self.radius, "radius")
        if radius <= 0:
            raise SheetError("The radius must be greater than 0.", "Type a larger number.", "radius")
        old = geometry.outline_of(item)
        path = outline.round_corners(old, radius)
        if path.node_count == old.node_count:
            raise SheetError(f"“{item.name}” has no corner to round.", "Choose an outline with corners.", "id")
        return _reshaped(sheet, item, path, f"round {item.name}")


@register
class Simplify(Command, frozen=True):
    """Draw an outline with fewer nodes, nowhere further off than a tolerance; it becomes one plain path."""

    command = "simplify"
    id: str
    tolerance: str

    def run(self, sheet: Sheet) -> Outcome:
        item = _piece(sheet, self.id, "simplified")
        tolerance = _length(sheet, self.tolerance, "tolerance")
        if tolerance <= 0:
            raise SheetError("The tolerance must be greater than 0.", "Type a larger number.", "tolerance")
        old = geometry.outline_of(item)
        path = outline.simplify(old, tolerance)
        if path.node_count >= old.node_count:
            raise SheetError(
                f"“{item.name}” needs its {old.node_count} nodes for that.", "Allow a larger tolerance.", "tolerance"
            )
        return _reshaped(sheet, item, path, f"simplify {item.name}, {old.node_count} to {path.node_count} nodes")


def holes(item: Piece) -> list[Margins]:
    """Return the margins of an outline's holes, leftmost hole first."""
    return sorted(outline.margins(geometry.outline_of(item)), key=lambda m: m.hole.bounds or ())


def _cutter_of(cuts: CutList, box: geometry.Box) -> Piece | None:
    """Return the member, at any depth, whose own box is the hole's."""
    for step in cuts.steps:
        member = step.member
        if all(abs(a - b) <= 1e-6 * (1 + abs(b)) for a, b in zip(geometry.box_of(member), box, strict=True)):
            return member
    if isinstance(cuts.base.shape, CutList):
        found = _cutter_of(cuts.base.shape, box)
        if found is not None:
            return found
    for step in cuts.steps:
        if isinstance(step.member.shape, CutList):
            found = _cutter_of(step.member.shape, box)
            if found is not None:
                return found
    return None


@register
class SetMargin(Command, frozen=True):
    """Move a hole until one of its margins has a value, or with side "even" until opposite ones are equal."""

    command = "set_margin"
    id: str
    hole: int
    side: str
    value: str = ""

    def run(self, sheet: Sheet) -> Outcome:
        item = _piece(sheet, self.id, "measured")
        found = holes(item)
        if not 0 <= self.hole < len(found):
            raise SheetError(f"“{item.name}” has no such hole.", "Choose the outline again.", "hole")
        m = found[self.hole]
        if self.side == "even":
            dx, dy = (m.right - m.left) / 2, (m.bottom - m.top) / 2
            if abs(dx) < 1e-9 and abs(dy) < 1e-9:
                raise SheetError("Those margins are even already.", "")
        elif self.side in SIDES:
            value = _length(sheet, self.value, "margin")
            dx = {"left": value - m.left, "right": m.right - value}.get(self.side, 0.0)
            dy = {"top": value - m.top, "bottom": m.bottom - value}.get(self.side, 0.0)
        else:
            raise SheetError(f"“{self.side[:20]}” is no side.", f"Use {', '.join(SIDES)} or even.", "side")
        move = Matrix.move(dx, dy)
        label = f"even the margins of {item.name}" if self.side == "even" else f"set a margin of {item.name}"
        if isinstance(item.shape, CutList):
            assert m.hole.bounds is not None
            cutter = _cutter_of(item.shape, m.hole.bounds)
            if cutter is None:
                raise SheetError(
                    "This hole is not one piece of the cut list.",
                    "Step inside and move its pieces, or make the outline plain.",
                    "hole",
                )
            return Outcome(change(sheet, [cutter.id], lambda c: placing.moved(c, move)), label, (item.id,))
        loops = []
        for loop in outline.union([geometry.outline_of(item)]).subpaths:
            loops.append(loop.transform(move) if loop == m.hole else loop)
        return _reshaped(sheet, item, Path.gather(loops), label)
