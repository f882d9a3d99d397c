"""Commands that reshape an outline: offset, rounded corners, fewer nodes, equal margins."""

from typing import Literal

from msgspec.structs import replace

import outline
from outline import Matrix, Path
from sheet.commands.base import Command, Outcome, check_count, describe_items, register, require_selection
from sheet.document.errors import STEP_OUT, SheetError
from sheet.document.ids import new_ids, part_name
from sheet.document.kinds import plain_of
from sheet.document.limits import Id, Ids, Index, Typed
from sheet.document.model import CutList, Finish, FinishKind, Item, Join, Photo, Piece, Sheet
from sheet.document.tree import change, find, in_stack_order, parent_of
from sheet.geometry import geometry, placing
from sheet.geometry.anchoring import guessed_anew
from sheet.geometry.copies import copied_photos
from sheet.geometry.holes import Of, cutter_of, holes
from sheet.reading.lengths import read_length, show_length

__all__ = ["SIDES", "rounding_of"]

SIDES = ("left", "right", "top", "bottom")


def _piece(sheet: Sheet, item_id: str, what: str) -> Piece:
    item = find(sheet, item_id)
    if not isinstance(item, Piece):
        raise SheetError(
            f"“{item.name}” is a {'photo' if isinstance(item, Photo) else 'group'}, and cannot be {what}.",
            "Select a piece or an outline.",
            "id",
        )
    return item


@register
class Offset(Command, frozen=True):
    """Add an outline at a distance around a piece, or inside it if the distance is negative.

    It goes just below the piece it surrounds, or just above the one it is inside, with the same paint.
    """

    command = "offset"
    id: Id
    distance: Typed
    join: Join = "round"

    def run(self, sheet: Sheet) -> Outcome:
        item = _piece(sheet, self.id, "offset")
        distance = read_length(sheet, "distance", self.distance)
        if distance == 0:
            raise SheetError("An offset of 0 changes nothing.", "Type a distance; a minus goes inwards.", "distance")
        path = outline.offset(geometry.outline_of(item), distance, join=self.join)
        if path.is_empty:
            raise SheetError(
                f"Nothing of “{item.name}” is left that far inside.", "Type a smaller distance.", "distance"
            )
        check_count(sheet)
        sheet, (new,) = new_ids(sheet)
        made = Piece(new, part_name(item.name, "Offset"), plain_of(path), paint=item.paint)
        items = list(sheet.items)
        at = next((k for k, i in enumerate(items) if i.id == item.id), len(items) - 1)
        items.insert(at if distance > 0 else at + 1, made)
        word = "around" if distance > 0 else "inside"
        return Outcome(replace(sheet, items=tuple(items)), f"offset {word} {item.name}", (new,))


def _reshaped(sheet: Sheet, item: Piece, path: Path, label: str) -> Outcome:
    made = replace(item, shape=plain_of(path), matrix=(1.0, 0.0, 0.0, 1.0, 0.0, 0.0))
    return Outcome(change(sheet, [item.id], lambda _: made), label, (item.id,))


def finish_value(sheet: Sheet, kind: FinishKind, text: str) -> float:
    """Return the value of a finish. Raises SheetError if it is out of range."""
    field = {"offset": "distance", "round": "radius", "simplify": "tolerance", "clean": "size"}[kind]
    value = read_length(sheet, field, text)
    if kind == "offset" and value == 0:
        raise SheetError("An offset of 0 changes nothing.", "Type a distance; a minus goes inwards.", "distance")
    if kind != "offset" and value <= 0:
        raise SheetError(f"The {field} must be greater than 0.", "Type a larger number.", field)
    return value


def _nothing_left(item: Piece, kind: str) -> SheetError:
    field = {"offset": "distance", "clean": "size"}.get(kind, "value")
    return SheetError(f"Nothing of “{item.name}” would be left.", "Type a smaller number.", field)


@register
class Reshape(Command, frozen=True):
    """Reshape an outline once: "offset", "round", "simplify" or "clean" by a length; it becomes a plain path."""

    command = "reshape"
    id: Id
    kind: FinishKind
    value: Typed

    def run(self, sheet: Sheet) -> Outcome:
        item = _piece(sheet, self.id, "reshaped")
        value = finish_value(sheet, self.kind, self.value)
        old = geometry.outline_of(item)
        path = geometry.finish(old, Finish(self.kind, value))
        if path.is_empty:
            raise _nothing_left(item, self.kind)
        note = ""
        if self.kind == "round" and path.node_count == old.node_count:
            raise SheetError(f"“{item.name}” has no corner to round.", "Select an outline with corners.", "radius")
        if self.kind == "simplify":
            if path.node_count >= old.node_count:
                why = f"“{item.name}” needs its {old.node_count} nodes for that."
                raise SheetError(why, "Allow a larger tolerance.", "tolerance")
            off = outline.deviation(old, path, value / 20)
            shown = show_length(off, sheet.unit, sheet.resolution, 3)
            note = f"{old.node_count} nodes became {path.node_count}, at most {shown} {sheet.unit} off."
        if self.kind == "clean":
            fewer = len(list(outline.union([old]).subpaths)) - len(list(path.subpaths))
            if fewer <= 0:
                raise SheetError(f"Nothing of “{item.name}” is that small.", "Type a larger size.", "size")
            note = f"{fewer} part{'s' if fewer > 1 else ''} or hole{'s' if fewer > 1 else ''} removed."
        return replace(_reshaped(sheet, item, path, f"{self.kind} {item.name}"), note=note)


@register
class AddFinish(Command, frozen=True):
    """Add a finish to an outline's cut list, so that it stays editable; a plain piece gets a cut list."""

    command = "add_finish"
    id: Id
    kind: FinishKind
    value: Typed

    def run(self, sheet: Sheet) -> Outcome:
        item = _piece(sheet, self.id, "reshaped")
        made = Finish(self.kind, finish_value(sheet, self.kind, self.value))
        if isinstance(item.shape, CutList):
            piece = replace(item, shape=replace(item.shape, finishes=(*item.shape.finishes, made)))
        else:
            if geometry.is_line(item):
                raise SheetError(f"“{item.name}” is an open line.", "Close it, or give it a fill.", "id")
            sheet, (inner,) = new_ids(sheet)
            base = replace(item.as_member(), id=inner)
            identity = Matrix().numbers()
            piece = replace(item, shape=CutList(base, (), (made,)), matrix=identity)
        if geometry.outline_of(piece).is_empty:
            raise _nothing_left(item, self.kind)
        return Outcome(change(sheet, [item.id], lambda _: piece), f"{self.kind} {item.name} as a step", (item.id,))


@register
class SetFinish(Command, frozen=True):
    """Change finish `number` of a cut list: its value (a length), whether it is on, or remove it with `drop`."""

    command = "set_finish"
    id: Id
    number: Index
    value: Typed = ""
    on: bool | None = None
    drop: bool = False

    def run(self, sheet: Sheet) -> Outcome:
        item = _piece(sheet, self.id, "reshaped")
        cuts = item.shape
        if not isinstance(cuts, CutList) or not 0 <= self.number < len(cuts.finishes):
            raise SheetError(f"“{item.name}” no longer has that step.", "Select the outline again.", "number")
        finishes = list(cuts.finishes)
        old = finishes[self.number]
        if self.drop:
            del finishes[self.number]
        elif self.on is not None:
            finishes[self.number] = replace(old, on=self.on)
        else:
            finishes[self.number] = replace(old, value=finish_value(sheet, old.kind, self.value))
        piece = replace(item, shape=replace(cuts, finishes=tuple(finishes)))
        if geometry.outline_of(piece).is_empty:
            raise _nothing_left(item, old.kind)
        verb = "drop" if self.drop else "set" if self.on is None else "switch"
        return Outcome(change(sheet, [item.id], lambda _: piece), f"{verb} {old.kind} of {item.name}", (item.id,))


def rounding_of(piece: Piece) -> float:
    """Return the radius (px) by which a piece's corners are rounded, 0 for none."""
    finishes = piece.shape.finishes if isinstance(piece.shape, CutList) else ()
    return next((f.value for f in reversed(finishes) if f.kind == "round" and f.on), 0.0)


@register
class RoundTips(Command, frozen=True):
    """Round the line corners of the selection by a length, also once photos are in; again with another length, or 0."""

    command = "round_tips"
    ids: Ids
    value: Typed

    def run(self, sheet: Sheet) -> Outcome:
        chosen = require_selection(sheet, self.ids, "round")
        pieces = [p for item in chosen for p in geometry.pieces_of(item)]
        if not pieces:
            raise SheetError("A photo has no line corners to round.", "Put it in an outline first.", "ids")
        radius = read_length(sheet, "radius", self.value)
        if radius < 0:
            raise SheetError("The radius must be 0 or greater.", "Type a larger number.", "radius")
        changed = 0
        for piece in pieces:
            if geometry.is_line(piece) or (not radius and not rounding_of(piece)):
                continue
            sheet, made = _rounded(sheet, piece, radius)
            if radius and geometry.outline_of(made).node_count == geometry.outline_of(_unrounded(piece)).node_count:
                continue
            sheet = change(sheet, [piece.id], lambda _, made=made: made)  # type: ignore[misc]
            changed += 1
        if not changed:
            what = f"“{pieces[0].name}” has" if len(pieces) == 1 else "None of them has"
            raise SheetError(f"{what} no line corner to round.", "Select an outline with corners.", "radius")
        return Outcome(sheet, f"round the line corners of {describe_items(chosen)}", tuple(self.ids))


def _unrounded(piece: Piece) -> Piece:
    if not isinstance(piece.shape, CutList):
        return piece
    kept = tuple(f for f in piece.shape.finishes if f.kind != "round")
    return replace(piece, shape=replace(piece.shape, finishes=kept))


def _rounded(sheet: Sheet, piece: Piece, radius: float) -> tuple[Sheet, Piece]:
    """Return the piece with this as its last rounding, without one if it is 0."""
    cuts = piece.shape
    if not isinstance(cuts, CutList):
        sheet, (inner,) = new_ids(sheet)
        base = replace(piece.as_member(), id=inner)
        return sheet, replace(piece, shape=CutList(base, (), (Finish("round", radius),)), matrix=Matrix().numbers())
    last = next((k for k in reversed(range(len(cuts.finishes))) if cuts.finishes[k].kind == "round"), None)
    finishes = list(cuts.finishes)
    if last is None:
        finishes.append(Finish("round", radius))
    elif radius:
        finishes[last] = replace(finishes[last], value=radius, on=True)
    else:
        del finishes[last]
    if not finishes and not cuts.steps and cuts.choice is None:
        # nothing is left in the list but the piece itself
        return sheet, replace(piece, shape=cuts.base.shape, matrix=cuts.base.matrix)
    return sheet, replace(piece, shape=replace(cuts, finishes=tuple(finishes)))


@register
class Gather(Command, frozen=True):
    """Combine several pieces uncut into one outline: contours inside others are holes under evenodd."""

    command = "gather"
    ids: Ids

    def run(self, sheet: Sheet) -> Outcome:
        chosen = [i for i in in_stack_order(sheet, self.ids) if isinstance(i, Piece)]
        if len(chosen) < 2:
            raise SheetError("Combine uncut needs two pieces.", "Hold Shift and click another.", "ids")
        path = Path.gather([geometry.outline_of(p) for p in chosen], fill_rule="evenodd")
        sheet, (new,) = new_ids(sheet)
        photos = tuple(photo for p in chosen for photo in p.photos)
        made = Piece(new, chosen[0].name, plain_of(path), paint=chosen[0].paint, photos=photos)
        gone = {p.id for p in chosen}
        items = tuple(
            made if i.id == chosen[0].id else i for i in sheet.items if i.id == chosen[0].id or i.id not in gone
        )
        return Outcome(replace(sheet, items=items), f"combine uncut {describe_items(list(chosen))}", (new,))


@register
class Separate(Command, frozen=True):
    """Split an outline into its shapes, each with its holes, or with `loops` into its contours."""

    command = "separate"
    id: Id
    loops: bool = False

    def run(self, sheet: Sheet) -> Outcome:
        item = _piece(sheet, self.id, "separated")
        if parent_of(sheet, item.id) is not None:
            raise SheetError(f"“{item.name}” is inside something else.", "Step out first.", "id", STEP_OUT)
        path = geometry.outline_of(item)
        whole = self.loops or not path.is_closed
        found = list(path.subpaths) if whole else outline.divide([outline.union([path])])
        if len(found) < 2:
            raise SheetError(f"“{item.name}” is one part.", "There is nothing to separate.", "id")
        check_count(sheet, len(found))
        made: list[Item] = []
        for k, part in enumerate(found, 1):
            sheet, (new,) = new_ids(sheet)
            sheet, photos = copied_photos(sheet, item.photos)
            made.append(Piece(new, part_name(item.name, f"Part {k}"), plain_of(part), paint=item.paint, photos=photos))
        items: list[Item] = []
        for other in sheet.items:
            items.extend(made if other.id == item.id else [other])
        label = f"separate {item.name} into {len(made)}"
        return Outcome(replace(sheet, items=tuple(items)), label, tuple(m.id for m in made))


def _evened(box: geometry.Box, margins: geometry.Box, margin: float) -> Matrix:
    """Return the map that moves a hole with these margins (left, top, right, bottom) so that each is `margin`."""
    x0, y0, x1, y1 = box
    a, b, c, d = x0 - margins[0], y0 - margins[1], x1 + margins[2], y1 + margins[3]
    sx, sy = (c - a - 2 * margin) / (x1 - x0), (d - b - 2 * margin) / (y1 - y0)
    return Matrix(sx, 0.0, 0.0, sy, a + margin - sx * x0, b + margin - sy * y0)


def _side_moved(box: geometry.Box, side: str, dx: float, dy: float) -> Matrix:
    """Return the map that moves one side of a box by (dx, dy); the opposite side stays. Raises SheetError."""
    x0, y0, x1, y1 = box
    width, height = x1 - x0, y1 - y0
    sx = (width - dx if side == "left" else width + dx if side == "right" else width) / width
    sy = (height - dy if side == "top" else height + dy if side == "bottom" else height) / height
    if sx <= 1e-9 or sy <= 1e-9:
        raise SheetError("Nothing of the hole would be left.", "Type a smaller margin, or move the hole.", "value")
    return Matrix.resize(sx, sy, (x1 if side == "left" else x0, y1 if side == "top" else y0))


@register
class SetMargin(Command, frozen=True):
    """Move a hole so that one margin has a value, or opposite margins are equal: "across", "down" or "even".

    With side "all" it is resized too, so that all four are equal: to the smaller mean.

    With `how` "resize" only that side of the hole moves, and the opposite margin stays.
    Margins are measured from the outer border, or `of` the "base" of the cut list.
    """

    command = "set_margin"
    id: Id
    hole: Index
    side: Literal["left", "right", "top", "bottom", "even", "across", "down", "all"]
    value: Typed = ""
    how: Literal["move", "resize"] = "move"
    of: Of = "border"

    def run(self, sheet: Sheet) -> Outcome:
        item = _piece(sheet, self.id, "measured")
        found = holes(item, self.hole + 1, self.of)
        if not 0 <= self.hole < len(found):
            raise SheetError(f"“{item.name}” has no such hole.", "Select the outline again.", "hole")
        hole = found[self.hole]
        m = hole.margins
        equal = self.side in ("even", "across", "down", "all")
        if equal:
            dx = (m.right - m.left) / 2 if self.side != "down" else 0.0
            dy = (m.bottom - m.top) / 2 if self.side != "across" else 0.0
            wide, high = (m.left + m.right) / 2, (m.top + m.bottom) / 2
            alike = self.side != "all" or abs(wide - high) < 1e-9
            if abs(dx) < 1e-9 and abs(dy) < 1e-9 and alike:
                raise SheetError("Those margins are already equal.", "")
        else:
            value = read_length(sheet, "margin", self.value)
            dx = {"left": value - m.left, "right": m.right - value}.get(self.side, 0.0)
            dy = {"top": value - m.top, "bottom": m.bottom - value}.get(self.side, 0.0)
        move = Matrix.move(dx, dy)
        assert m.hole.bounds is not None
        if self.side == "all":
            move = _evened(m.hole.bounds, (m.left, m.top, m.right, m.bottom), min(wide, high))
        elif self.how == "resize" and not equal:
            move = _side_moved(m.hole.bounds, self.side, dx, dy)
        label = f"make the margins of {item.name} equal" if equal else f"set a margin of {item.name}"
        if isinstance(item.shape, CutList):
            cutter = cutter_of(item.shape, hole)
            if cutter is None:
                raise SheetError(
                    "This hole is not one piece of the cut list.",
                    "Press Edit the pieces and move them, or flatten the outline.",
                    "hole",
                    ("Edit the pieces", "page:step-inside", {"id": item.id}),
                )
            after = change(sheet, [cutter.id], lambda c: guessed_anew(placing.moved(c, move)))
            _same_holes(item, geometry.outline_of(_piece(after, item.id, "measured")))
            return Outcome(after, label, (item.id,))
        loops = []
        for loop in outline.union([geometry.outline_of(item)]).subpaths:
            loops.append(loop.transform(move) if loop == m.hole else loop)
        _same_holes(item, Path.gather(loops))
        return _reshaped(sheet, item, Path.gather(loops), label)


def _same_holes(item: Piece, path: Path) -> None:
    """Raise SheetError if a path has fewer holes than its outline had: one ran into another, or out of it."""
    had, has = len(outline.margins(geometry.outline_of(item))), len(outline.margins(outline.union([path])))
    if has < had:
        holes_now = "none" if not has else f"{has}"
        raise SheetError(
            f"The hole would run into another or the border: of {had} hole{'s' * (had > 1)} {holes_now} would stay.",
            "Type another margin, or move what is in the way first.",
            "margin",
        )
