"""Commands that line things up, group them, lock and hide them."""

from typing import Annotated, Any, Final, Literal, get_args

from msgspec import Meta
from msgspec.structs import replace

from outline import Matrix
from sheet.commands.base import Command, Outcome, check_count, describe_items, register, require_selection
from sheet.document.errors import SheetError
from sheet.document.ids import new_ids, numbered
from sheet.document.limits import Ids, Typed
from sheet.document.model import Axis, Blend, Group, Item, Photo, Piece, Sheet
from sheet.document.tree import change, find, in_stack_order, parent_of, walk
from sheet.geometry import geometry, placing
from sheet.geometry.anchoring import guessed_anew
from sheet.geometry.geometry import Box
from sheet.reading.lengths import read_length

AlignSide = Literal["left", "centre", "right", "top", "middle", "bottom", "both"]
SIDES: Final[tuple[AlignSide, ...]] = get_args(AlignSide)
"""Where to align: x by left, centre or right; y by top, middle or bottom; both centres."""

STILL = 1e-6


def _move_all(sheet: Sheet, moves: dict[str, Matrix]) -> Sheet:
    return change(sheet, list(moves), lambda i: guessed_anew(placing.moved(i, moves[i.id])))


@register
class Align(Command, frozen=True):
    """Align what is selected: to the "sheet", to the box of all "chosen", or to one of them by its id.

    What is selected alone is aligned to the sheet.
    """

    command = "align"
    ids: Ids
    side: AlignSide
    to: Annotated[str, Meta(pattern=r"^(sheet|chosen|i[0-9]{1,10})\Z")] = "chosen"

    def run(self, sheet: Sheet) -> Outcome:
        chosen = require_selection(sheet, self.ids, "align")
        boxes = {i.id: geometry.box_of(i) for i in chosen}
        to = "sheet" if len(chosen) == 1 else self.to
        if to == "sheet":
            target: Box = (0.0, 0.0, sheet.width, sheet.height)
        elif to == "chosen":
            target = geometry.join_boxes(list(boxes.values()))
        elif to in boxes:
            target = boxes[to]
        else:
            raise SheetError("The item to align to isn’t selected.", "Select it too.", "to")
        moves = {}
        for key, (x0, y0, x1, y1) in boxes.items():
            if key == to:
                continue
            dx = {
                "left": target[0] - x0,
                "right": target[2] - x1,
                "centre": (target[0] + target[2] - x0 - x1) / 2,
                "both": (target[0] + target[2] - x0 - x1) / 2,
            }.get(self.side, 0.0)
            dy = {
                "top": target[1] - y0,
                "bottom": target[3] - y1,
                "middle": (target[1] + target[3] - y0 - y1) / 2,
                "both": (target[1] + target[3] - y0 - y1) / 2,
            }.get(self.side, 0.0)
            if abs(dx) > STILL or abs(dy) > STILL:
                moves[key] = Matrix.move(dx, dy)
        if not moves:
            where = {"sheet": "the sheet", "chosen": "one another"}.get(to) or f"“{find(sheet, to).name}”"
            raise SheetError(
                f"{describe_items(chosen)} {'is' if len(chosen) == 1 else 'are'} already lined up with {where}.", ""
            )
        word = "centre" if self.side == "both" else f"align {self.side} of"
        note = f"“{chosen[0].name}” is selected alone, and was aligned to the sheet." if to != self.to else ""
        return Outcome(_move_all(sheet, moves), f"{word} {describe_items(chosen)}", tuple(self.ids), note)


def _middle(box: Box, k: int) -> tuple[float, float]:
    return box[k] + box[k + 2], box[k]


def _lanes(boxes: dict[str, Box], k: int) -> list[list[str]]:
    """Return the items by lanes across axis `k`: the columns or the rows of a grid. Items of a lane are side by side.
    Unless they form two lanes or more, with several items in each, every item is a lane."""
    order = sorted(boxes, key=lambda i: _middle(boxes[i], k))
    lanes: list[list[str]] = []
    for item in order:
        middle = _middle(boxes[item], k)[0] / 2
        if lanes and any(boxes[i][k] <= middle <= boxes[i][k + 2] for i in lanes[-1]):
            lanes[-1].append(item)
        else:
            lanes.append([item])
    across = 1 - k
    apart = all(
        boxes[a][across] >= boxes[b][across + 2] - STILL or boxes[b][across] >= boxes[a][across + 2] - STILL
        for lane in lanes
        for n, a in enumerate(lane)
        for b in lane[n + 1 :]
    )
    grid = len(lanes) > 1 and len({len(lane) for lane in lanes}) == 1 and len(lanes[0]) > 1 and apart
    return lanes if grid else [[i] for i in order]


@register
class Space(Command, frozen=True):
    """Space what is selected along "x" or "y": evenly between the outermost two, or with the gap given (a length)."""

    command = "space"
    ids: Ids
    axis: Axis
    gap: Typed = ""

    def run(self, sheet: Sheet) -> Outcome:
        chosen = require_selection(sheet, self.ids, "space")
        even = not self.gap.strip()
        need = 3 if even else 2
        if len(chosen) < need:
            raise SheetError(
                f"Spacing{' evenly' if even else ''} needs {'three' if even else 'two'} pieces.",
                "Select more." if even else "Select another piece too.",
                "ids",
            )
        k = 0 if self.axis == "x" else 1
        boxes = {i.id: geometry.box_of(i) for i in chosen}
        # nine in a grid are spaced as a grid: items side by side across the axis move together
        lanes = (
            _lanes(boxes, k) if len(chosen) >= 4 else [[i] for i in sorted(boxes, key=lambda i: _middle(boxes[i], k))]
        )
        if even and len(lanes) < need:
            raise SheetError("They are in two rows. Even gaps need three.", "Type a gap instead.", "gap")
        spans = [(min(boxes[i][k] for i in lane), max(boxes[i][k + 2] for i in lane)) for lane in lanes]
        sizes = [b - a for a, b in spans]
        if even:
            gap = (spans[-1][1] - spans[0][0] - sum(sizes)) / (len(spans) - 1)
        else:
            gap = read_length(sheet, "gap", self.gap)
        at = spans[0][0]
        moves: dict[str, Matrix] = {}
        for lane, (low, _), size in zip(lanes, spans, sizes, strict=True):
            by = at - low
            if abs(by) > STILL:
                moves |= {i: Matrix.move(by if k == 0 else 0.0, by if k == 1 else 0.0) for i in lane}
            at += size + gap
        if not moves:
            raise SheetError("The gaps are already like that.", "")
        return Outcome(_move_all(sheet, moves), f"space {describe_items(chosen)}", tuple(self.ids))


@register
class MakeGroup(Command, frozen=True):
    """Group the selected items, at the topmost one's place in the stack."""

    command = "group"
    ids: Ids

    def run(self, sheet: Sheet) -> Outcome:
        require_selection(sheet, self.ids, "group")
        chosen = in_stack_order(sheet, self.ids)
        if len(chosen) < 2:
            raise SheetError(
                "A group needs two items, both on the sheet itself.", "Hold Shift and click another.", "ids"
            )
        sheet, (new,) = new_ids(sheet)
        made = Group(new, numbered(sheet, "Group"), tuple(chosen))
        top = chosen[-1].id
        wanted = {i.id for i in chosen}
        items = tuple(made if i.id == top else i for i in sheet.items if i.id == top or i.id not in wanted)
        return Outcome(replace(sheet, items=items), f"group {describe_items(chosen)}", (new,))


@register
class Ungroup(Command, frozen=True):
    """Ungroup: put the items of the selected groups back on the sheet."""

    command = "ungroup"
    ids: Ids

    def run(self, sheet: Sheet) -> Outcome:
        chosen = require_selection(sheet, self.ids, "ungroup")
        groups = [i for i in chosen if isinstance(i, Group)]
        if not groups:
            raise SheetError(f"“{chosen[0].name}” is not a group.", "Select a group.", "ids")
        inner = {g.id for g in groups} - {i.id for i in sheet.items}
        if inner:
            outer = next(i for i in sheet.items if any(one.id in inner for one, _ in walk(i)))
            ungroup = (f"Ungroup “{outer.name}”", "ungroup", {"ids": [outer.id]}) if isinstance(outer, Group) else None
            raise SheetError("This group is inside another.", "Ungroup the outer one first.", "ids", ungroup)
        check_count(sheet, sum(len(g.items) for g in groups))
        items: list[Item] = []
        out: list[str] = []
        wanted = {g.id for g in groups}
        for item in sheet.items:
            if isinstance(item, Group) and item.id in wanted:
                inside = [_with_whole(i, item) for i in item.items]
                items.extend(inside)
                out.extend(i.id for i in inside)
            else:
                items.append(item)
        return Outcome(replace(sheet, items=tuple(items)), f"ungroup {describe_items(list(groups))}", tuple(out))


def _with_whole(item: Item, group: Group) -> Item:
    """Return an item of a group with the group's opacity, and its blend mode where it has none of its own."""
    if (group.opacity, group.blend) == (1.0, "normal"):
        return item

    def both(opacity: float, blend: Blend) -> dict[str, Any]:
        return {"opacity": opacity * group.opacity, "blend": group.blend if blend == "normal" else blend}

    if isinstance(item, Piece):
        return replace(item, paint=replace(item.paint, **both(item.paint.opacity, item.paint.blend)))
    return replace(item, **both(item.opacity, item.blend))


@register
class SetMark(Command, frozen=True):
    """Lock or unlock, hide or show items: `field` is "locked" or "hidden"."""

    command = "mark"
    locks = False
    ids: Ids
    field: Literal["locked", "hidden"]
    on: bool

    def run(self, sheet: Sheet) -> Outcome:
        if not self.ids:
            raise SheetError("Nothing is selected.", "Select something in the stack.", "ids")
        chosen = [find(sheet, i) for i in self.ids]
        for item in chosen:
            holder = parent_of(sheet, item.id)
            if isinstance(holder, Piece):
                word = "hide" if self.field == "hidden" else "lock"
                framed = isinstance(item, Photo)
                remedy = f"Either {word} “{holder.name}”, or {'take it out' if framed else 'switch it off'} first."
                inner = "is in" if framed else "is part of"
                raise SheetError(f"“{item.name}” {inner} “{holder.name}”.", remedy, "ids")
        verb = {("locked", True): "lock", ("locked", False): "unlock", ("hidden", True): "hide"}.get(
            (self.field, self.on), "show"
        )
        sheet = change(sheet, self.ids, lambda i: replace(i, **{self.field: self.on}))
        return Outcome(
            sheet, f"{verb} {describe_items(chosen)}", () if self.on and self.field == "hidden" else tuple(self.ids)
        )
