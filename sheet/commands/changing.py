"""Commands that move, measure, paint, name and order what is there."""

import re
from collections.abc import Iterable
from typing import Annotated, Any, Literal

from msgspec import Meta
from msgspec.structs import replace

from outline import Matrix
from sheet.document.errors import SheetError
from sheet.document.limits import Factor, Id, Ids, MaybeId, Numbers, Typed, clean_name
from sheet.document.model import BLENDS, CAPS, INK, JOINS, PLACES, Group, Item, Paint, Photo, Piece, Sheet
from sheet.document.tree import change, find, parent_of, take_out
from sheet.geometry import geometry, placing
from sheet.geometry.copies import default_paint
from sheet.reading.lengths import parse_degrees, parse_length, parse_percent, show_length
from sheet.reading.sizes import check_color

from .base import Command, Outcome, checked, describe_items, register, require_selection

__all__ = ["PART"]

PART = Literal["both", "outline"]
FAR = 1e7
"""How far from the sheet's corner anything may lie (px)."""
PAINTS = {
    "fill": "fill",
    "stroke": "border colour",
    "stroke_width": "border",
    "opacity": "opacity",
    "blend": "blend mode",
    "place": "place of the border",
    "join": "kind of corner",
    "cap": "kind of end",
    "dashes": "dashes",
}
"""What each field of a paint is called."""
WHOLES = ("opacity", "blend")
"""What photos and groups have too: how all of it as one picture goes over what lies below."""


@register
class Transform(Command, frozen=True):
    """Map items by an affine matrix.

    `part` says what of a frame goes along: "both", or the "outline" alone, which
    leaves its photos where they lie. Photos keep their proportions whatever the matrix.
    With `details`, corner radii, teeth and stroke widths grow along.
    """

    command = "transform"
    ids: Ids
    matrix: Numbers
    part: PART = "both"
    verb: Literal["move", "resize", "turn", "nudge", "flip", "skew", "align", "space"] = "move"
    details: bool = False

    def run(self, sheet: Sheet) -> Outcome:
        chosen = require_selection(sheet, self.ids, self.verb)
        m = Matrix(*self.matrix)
        if abs(m.determinant) < 1e-12:
            raise SheetError("That would flatten it to nothing.", "Make it a little larger.")
        sheet = change(sheet, self.ids, lambda item: placing.moved(item, m, self.part, self.details))
        for item in chosen:
            # what was moved is asked where it was: a box maps to a box around what it holds
            if placing.reach(item, m) > FAR:
                raise SheetError("That is too far off the sheet.", "Bring it nearer.")
        return Outcome(sheet, f"{self.verb} {describe_items(chosen)}", tuple(self.ids))


@register
class Measure(Command, frozen=True):
    """Set one number of what is selected: x, y, width, height (lengths), angle or skew (degrees).

    `about` is the point that stays, as fractions of the box: (0, 0) is its upper left
    corner and (0.5, 0.5) its middle. Sizes stay at the upper left corner and turns at
    the middle where none is given.
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
            value = parse_length(
                self.value, self.field, unit=sheet.unit, resolution=sheet.resolution, whole=sizes[self.field]
            )
            typed, value = value, placing.on_step(value, sheet.round_to)
            if value <= 0 and self.field in ("width", "height"):
                value = typed
            if abs(typed - value) > 1e-6:
                was, now, step = (show_length(v, sheet.unit, sheet.resolution) for v in (typed, value, sheet.round_to))
                note = f"{was} is held at {now}: this sheet rounds to {step} {sheet.unit}, as Snapping says."
            if self.field == "x":
                m = Matrix.move(value - x0, 0)
            elif self.field == "y":
                m = Matrix.move(0, value - y0)
            else:
                if value <= 0:
                    raise SheetError(f"The {self.field} must be greater than 0.", "Type a larger number.", self.field)
                m = placing.sized(chosen, box, self.field, value, self.keep_proportion, spot(0, 0))
        outcome = Transform(self.ids, m.numbers(), self.part, details=self.details).run(sheet)
        return replace(outcome, label=f"set {self.field} of {describe_items(chosen)}", note=note or outcome.note)


@register
class Flip(Command, frozen=True):
    """Mirror what is selected left to right ("across") or top to bottom ("down"), in the box around it."""

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
class SetPaint(Command, frozen=True):
    """Set one part of the paint of what is selected.

    `stroke_width` is a length, `opacity` in per cent, `dashes` lengths one after another
    ("none" for a solid border); colours, places, joins, caps and blend modes go by their words.
    """

    command = "paint"
    ids: Ids
    field: Literal["fill", "stroke", "stroke_width", "opacity", "blend", "place", "join", "cap", "dashes"]
    value: Typed

    def run(self, sheet: Sheet) -> Outcome:
        chosen = require_selection(sheet, self.ids, "paint")
        word = PAINTS[self.field]
        value: Any
        if self.field in ("fill", "stroke"):
            value = check_color(self.value, self.field)
        elif self.field == "stroke_width":
            value = parse_length(self.value, word, field="stroke_width", unit=sheet.unit, resolution=sheet.resolution)
        elif self.field == "opacity":
            value = parse_percent(self.value, word)
        elif self.field == "dashes":
            value = _dashes(sheet, self.value)
        else:
            value = self.value
            words = {"blend": BLENDS, "place": PLACES, "join": JOINS, "cap": CAPS}[self.field]
            if value not in words:
                raise SheetError(f"“{value[:30]}” is not a {word}.", f"Use {', '.join(words)}.", self.field)
        checked(Paint(**({self.field: value} if self.field in ("stroke_width", "opacity") else {})))
        if self.field not in WHOLES and all(isinstance(i, Photo) for i in chosen):
            raise SheetError(
                f"A photo has no {word}.",
                "Put it in an outline, and give that one a border.",
                self.field,
            )

        def painted(item: Item) -> Item:
            if isinstance(item, Photo | Group) and self.field in WHOLES:
                return replace(item, **{self.field: value})
            if isinstance(item, Group):
                return replace(item, items=tuple(painted(i) for i in item.items))
            if isinstance(item, Photo):
                return item
            paint = replace(item.paint, **{self.field: value})
            # a width or a colour is given so that a border shows: neither does nothing for want of the other
            given = value if self.field in ("stroke_width", "place", "dashes") else 0
            if given and paint.stroke is None:
                paint = replace(paint, stroke=INK)
            if self.field in ("stroke", "place") and value is not None and paint.stroke_width == 0:
                paint = replace(paint, stroke_width=default_paint(sheet).stroke_width)
            return replace(item, paint=paint)

        return Outcome(change(sheet, self.ids, painted), f"set the {word} of {describe_items(chosen)}", tuple(self.ids))


@register
class CopyPaint(Command, frozen=True):
    """Give what is selected the paint of another piece; photos take its opacity and blend mode."""

    command = "copy_paint"
    source: MaybeId
    ids: Ids

    def run(self, sheet: Sheet) -> Outcome:
        others = [i for i in self.ids if i != self.source]
        if not self.source or not others:
            raise SheetError(
                f"Copying paint needs two things. {'One is' if self.ids else 'Nothing is'} selected.",
                "Select the piece with the paint first, then the others with Shift.",
                "ids",
            )
        source = find(sheet, self.source)
        pieces = geometry.pieces_of(source)
        if not pieces:
            raise SheetError(f"“{source.name}” has no paint to copy.", "Take that of a piece.", "source")
        paint = pieces[-1].paint
        chosen = require_selection(sheet, self.ids, "paint")

        def painted(item: Item) -> Item:
            if isinstance(item, Group):
                return replace(item, items=tuple(painted(i) for i in item.items))
            if isinstance(item, Photo):
                return replace(item, opacity=paint.opacity, blend=paint.blend)
            return replace(item, paint=paint)

        label = f"give {describe_items(chosen)} the paint of {source.name}"
        return Outcome(change(sheet, self.ids, painted), label, tuple(self.ids))


def _dashes(sheet: Sheet, text: str) -> tuple[float, ...]:
    """Return lengths typed one after another, with spaces, commas or semicolons between."""
    if text.strip().lower() in ("", "none", "0"):
        return ()
    parts = [p for p in re.split(r"[;,\s]+", text.strip()) if p]
    if len(parts) > 12:
        raise SheetError("A border has up to 12 dashes and gaps.", "Type fewer; they repeat.", "dashes")
    lengths = tuple(
        parse_length(p, "dash", field="dashes", unit=sheet.unit, resolution=sheet.resolution) for p in parts
    )
    if min(lengths) < 0 or sum(lengths) <= 0:
        raise SheetError("Dashes and gaps must be 0 or longer, and not all 0.", "Type lengths like 6 3.", "dashes")
    return lengths


@register
class Rename(Command, frozen=True):
    """Give one item another name."""

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
    """Move what is selected to the "top" or "bottom" of the stack, one "up" or "down", or "over" or "under" another.

    What lies in a group, and photos in a frame, are moved among what lies there with them.
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
    """Return what items lie in, None for the sheet itself, and all that lies there, lowest first. Raises SheetError."""
    holders = {None if (held := parent_of(sheet, i)) is None else held.id for i in ids}
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
    """Take items or framed photos off the sheet."""

    command = "remove"
    ids: Ids

    def run(self, sheet: Sheet) -> Outcome:
        chosen = require_selection(sheet, self.ids, "remove")
        return Outcome(take_out(sheet, self.ids), f"remove {describe_items(chosen)}")


@register
class Backdrop(Command, frozen=True):
    """Set the colour under everything, or none."""

    command = "backdrop"
    value: Typed

    def run(self, sheet: Sheet) -> Outcome:
        return Outcome(replace(sheet, backdrop=check_color(self.value, "backdrop")), "set backdrop")
