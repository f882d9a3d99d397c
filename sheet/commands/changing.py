"""Commands that move, resize, paint, rename and reorder items."""

from collections.abc import Iterable
from typing import Annotated, Literal

from msgspec import Meta
from msgspec.structs import replace

from outline import Matrix
from sheet.document.errors import SheetError
from sheet.document.limits import Factor, Id, Ids, MaybeId, Numbers, Typed, clean_name
from sheet.document.model import Group, Item, Photo, Piece, Sheet
from sheet.document.tree import change, find, parent_of, take_out
from sheet.geometry import geometry, placing
from sheet.geometry.anchoring import guessed_anew
from sheet.reading.lengths import parse_degrees, read_length, show_length
from sheet.reading.sizes import check_color

from .base import Command, Outcome, describe_items, register, require_selection

__all__ = ["PART"]

PART = Literal["both", "outline"]
FAR = 1e7
"""The farthest from the sheet's corner that anything may be (px)."""


@register
class Transform(Command, frozen=True):
    """Map items by an affine matrix.

    `part` says what of a frame is mapped: "both", or the "outline" alone, which
    leaves its photos in place. Photos keep their proportions whatever the matrix: a
    frame resized along one side is a different window on its photos, which stay as they are.
    With `details`, corner radii, teeth and stroke widths scale too.
    """

    command = "transform"
    ids: Ids
    matrix: Numbers
    part: PART = "both"
    verb: Literal["move", "resize", "turn", "nudge", "flip", "skew", "align", "space"] = "move"
    details: bool = False

    def run(self, sheet: Sheet) -> Outcome:
        chosen = require_selection(sheet, self.ids, self.verb)
        m = placing.usable(self.matrix)
        part = "outline" if self._is_window(chosen, m) else self.part
        sheet = change(sheet, self.ids, lambda item: guessed_anew(placing.moved(item, m, part, self.details)))
        for item in chosen:
            # only the start is checked: a box maps to a box around what it contains
            if placing.reach(item, m) > FAR:
                raise SheetError("That is too far off the sheet.", "Bring it nearer.")
        return Outcome(sheet, f"{self.verb} {describe_items(chosen)}", tuple(self.ids))

    def _is_window(self, chosen: list[Item], m: Matrix) -> bool:
        """Return whether one frame is resized by hand to another proportion."""
        frame = chosen[0] if len(chosen) == 1 else None
        stretched = not placing.is_similarity(m)
        return self.verb == "resize" and stretched and isinstance(frame, Piece) and bool(frame.photos)


@register
class Measure(Command, frozen=True):
    """Set one number of the selection: x, y, width, height (lengths), angle or skew (degrees).

    `about` is the fixed point, as fractions of the box: (0, 0) is its upper left
    corner and (0.5, 0.5) its middle. By default, resizing fixes the upper left corner and
    turning the middle.
    """

    command = "measure"
    ids: Ids
    field: Literal["x", "y", "width", "height", "angle", "skew"]
    value: Typed
    keep_proportion: bool = False
    part: PART = "both"
    about: tuple[Factor, Factor] | None = None
    details: bool = False

    def run(self, sheet: Sheet) -> Outcome:
        chosen = require_selection(sheet, self.ids, "measure")
        note = ""
        box = geometry.join_boxes([geometry.box_of(i) for i in chosen])
        x0, y0, x1, y1 = box
        sizes = {"x": sheet.width, "y": sheet.height, "width": x1 - x0, "height": y1 - y0}

        def spot(fx: float, fy: float) -> tuple[float, float]:
            fx, fy = self.about or (fx, fy)
            return x0 + fx * (x1 - x0), y0 + fy * (y1 - y0)

        if self.field == "angle":
            degrees = parse_degrees(self.value, "angle")
            m = Matrix.turn(degrees - placing.angle_of(chosen), spot(0.5, 0.5))
        elif self.field == "skew":
            degrees = parse_degrees(self.value, "skew")
            if abs(degrees) > 80:
                raise SheetError("A skew must be from -80 to 80 degrees.", "Type a smaller number.", "skew")
            if any(isinstance(i, Photo) for i in chosen):
                raise SheetError("A photo cannot be skewed.", "Put it in an outline, and skew that one.", "skew")
            m = placing.skewing(chosen, degrees, spot(0.5, 0.5))
        else:
            value = read_length(sheet, self.field, self.value, sizes[self.field])
            typed, value = value, placing.on_step(value, sheet.round_to)
            if value <= 0 and self.field in ("width", "height"):
                value = typed
            if abs(typed - value) > 1e-6:
                was, now, step = (show_length(v, sheet.unit, sheet.resolution) for v in (typed, value, sheet.round_to))
                note = f"{was} was rounded to {now} (Snapping: round to {step} {sheet.unit})."
            if self.field == "x":
                m = Matrix.move(value - x0, 0)
            elif self.field == "y":
                m = Matrix.move(0, value - y0)
            else:
                if value <= 0:
                    raise SheetError(f"The {self.field} must be greater than 0.", "Type a larger number.", self.field)
                m = placing.sized(chosen, box, self.field, value, self.keep_proportion, spot(0, 0))
        verb: Literal["resize", "move"] = "resize" if self.field in ("width", "height") else "move"
        outcome = Transform(self.ids, m.numbers(), self.part, verb, self.details).run(sheet)
        return replace(outcome, label=f"set {self.field} of {describe_items(chosen)}", note=note or outcome.note)


@register
class Flip(Command, frozen=True):
    """Flip the selection left to right ("across") or top to bottom ("down"), within its box."""

    command = "flip"
    ids: Ids
    way: Literal["across", "down"]
    part: PART = "both"

    def run(self, sheet: Sheet) -> Outcome:
        chosen = require_selection(sheet, self.ids, "flip")
        x0, y0, x1, y1 = geometry.join_boxes([geometry.box_of(i) for i in chosen])
        centre = ((x0 + x1) / 2, (y0 + y1) / 2)
        m = Matrix.resize(-1, 1, centre) if self.way == "across" else Matrix.resize(1, -1, centre)
        return Transform(self.ids, m.numbers(), self.part, "flip").run(sheet)


@register
class Rename(Command, frozen=True):
    """Rename an item."""

    command = "rename"
    locks = False
    id: Id
    name: Annotated[str, Meta(max_length=1000)]

    def run(self, sheet: Sheet) -> Outcome:
        name = clean_name(self.name)
        if not name:
            raise SheetError("A name needs at least one letter.", "Type a name.", "name")
        old = find(sheet, self.id)
        return Outcome(change(sheet, [self.id], lambda i: replace(i, name=name)), f"rename {old.name}", (self.id,))


@register
class Restack(Command, frozen=True):
    """Move the selection to the "top" or "bottom" of the stack, one "up" or "down", or "over" or "under" another item.

    Items of a group, and photos of a frame, move among their siblings.
    """

    command = "restack"
    locks = False
    ids: Ids
    to: Literal["top", "bottom", "up", "down", "over", "under"]
    other: MaybeId = ""

    def run(self, sheet: Sheet) -> Outcome:
        if not self.ids:
            raise SheetError("Nothing is selected to reorder.", "Click a piece or a photo first.", "ids")
        holder, order = _lying_with(sheet, self.ids)
        wanted = set(self.ids)
        chosen = [i for i in order if i.id in wanted]
        made = self._ordered(order, chosen)
        if [i.id for i in made] == [i.id for i in order]:
            where = {"top": "on top", "up": "on top", "bottom": "lowest", "down": "lowest"}.get(self.to, "there")
            raise SheetError(f"{describe_items(chosen)} {'is' if len(chosen) == 1 else 'are'} already {where}.", "")
        if holder is None:
            sheet = replace(sheet, items=tuple(made))
        else:
            field = "items" if isinstance(holder, Group) else "photos"
            sheet = change(sheet, [holder.id], lambda item: replace(item, **{field: tuple(made)}))
        return Outcome(sheet, f"reorder {describe_items(chosen)}", tuple(self.ids))

    def _ordered(self, order: list[Item], chosen: list[Item]) -> list[Item]:
        wanted = {i.id for i in chosen}
        rest = [i for i in order if i.id not in wanted]
        if self.to == "top":
            return rest + chosen
        if self.to == "bottom":
            return chosen + rest
        if self.to in ("over", "under"):
            at = next((k for k, i in enumerate(rest) if i.id == self.other), None)
            if at is None:
                raise SheetError("The item to stack against is not there.", "Choose another place.", "other")
            at += self.to == "over"
            return rest[:at] + chosen + rest[at:]
        made, step = list(order), 1 if self.to == "up" else -1
        indices = [k for k, i in enumerate(made) if i.id in wanted]
        for k in reversed(indices) if step == 1 else indices:
            if 0 <= k + step < len(made) and made[k + step].id not in wanted:
                made[k], made[k + step] = made[k + step], made[k]
        return made


def _lying_with(sheet: Sheet, ids: Iterable[str]) -> tuple[Group | Piece | None, list[Item]]:
    """Return the items' parent, None for the sheet itself, and all its children, lowest first. Raises SheetError."""
    holders = {None if (parent := parent_of(sheet, i)) is None else parent.id for i in ids}
    if len(holders) > 1:
        raise SheetError(
            "The selected items are in different groups or frames.", "Reorder one group or frame at a time.", "ids"
        )
    (holder_id,) = holders
    if holder_id is None:
        return None, list(sheet.items)
    holder = find(sheet, holder_id)
    if isinstance(holder, Group):
        if holder.panes is not None:
            raise SheetError("Panes have no order of their own.", "Split them up first.", "ids")
        return holder, list(holder.items)
    assert isinstance(holder, Piece)
    if not set(ids) <= {p.id for p in holder.photos}:
        raise SheetError(f"That is a step of “{holder.name}”.", "Drag it in the cut list at Cut.", "ids")
    return holder, list(holder.photos)


@register
class Remove(Command, frozen=True):
    """Remove items or framed photos from the sheet."""

    command = "remove"
    ids: Ids

    def run(self, sheet: Sheet) -> Outcome:
        chosen = require_selection(sheet, self.ids, "remove")
        return Outcome(take_out(sheet, self.ids), f"remove {describe_items(chosen)}")


@register
class Backdrop(Command, frozen=True):
    """Set the backdrop's colour, or none."""

    command = "backdrop"
    value: Typed

    def run(self, sheet: Sheet) -> Outcome:
        return Outcome(replace(sheet, backdrop=check_color(self.value, "backdrop")), "set backdrop")
