"""Commands that paint: fill, border, opacity and blend mode, and the gradients of fills and borders."""

import re
from collections.abc import Callable
from typing import Annotated, Any, Final, Literal, TypeAlias

import msgspec
from msgspec import Meta
from msgspec.structs import replace

from sheet.document.errors import SheetError
from sheet.document.gradients import SPREADS, Gradient, Stop, flat
from sheet.document.limits import Ids, MaybeId, Typed
from sheet.document.model import BLENDS, CAPS, INK, JOINS, PLACES, Group, Item, Paint, Photo, Piece, Sheet
from sheet.document.tree import change, find
from sheet.geometry import geometry, gradients
from sheet.geometry.copies import default_paint
from sheet.reading.lengths import parse_degrees, parse_percent, read_length
from sheet.reading.sizes import check_color

from .base import Command, Outcome, checked, describe_items, register, require_selection

__all__ = ["PAINTS", "FirstPaint"]

PAINTS = {
    "fill": "fill",
    "stroke": "border colour",
    "stroke_width": "border",
    "opacity": "opacity",
    "blend": "blend mode",
    "place": "position of the border",
    "join": "kind of corner",
    "cap": "kind of end",
    "dashes": "dashes",
}
"""The name of each field of a paint."""
WHOLES = ("opacity", "blend")
"""The fields that photos and groups have too: how the whole is composited with what is below."""


PaintField: TypeAlias = Literal["fill", "stroke", "stroke_width", "opacity", "blend", "place", "join", "cap", "dashes"]


def _read_paint(sheet: Sheet, field: PaintField, text: str) -> Any:
    """Return part of a paint as it was typed: colours as #rrggbb or None, lengths in sheet units.

    Raises SheetError naming the field.
    """
    word = PAINTS[field]
    value: Any = text
    if field in ("fill", "stroke"):
        value = check_color(text, field)
    elif field == "stroke_width":
        value = read_length(sheet, word, text, field=field)
    elif field == "opacity":
        value = parse_percent(text, word)
    elif field == "dashes":
        value = _dashes(sheet, text)
    else:
        words = {"blend": BLENDS, "place": PLACES, "join": JOINS, "cap": CAPS}[field]
        if text not in words:
            raise SheetError(f"“{text[:30]}” is not a {word}.", f"Use {', '.join(words)}.", field)
    checked(Paint(**({field: value} if field in ("stroke_width", "opacity") else {})))
    return value


def _with_paint(sheet: Sheet, paint: Paint, field: PaintField, value: Any) -> Paint:
    """Return a paint with one field changed, and with a visible border if part of one is set."""
    paint = replace(paint, **{field: value})
    # a width or a colour is set to get a border: neither should do nothing because the other is missing
    given = value if field in ("stroke_width", "place", "dashes") else 0
    if given and paint.stroke is None:
        paint = replace(paint, stroke=INK)
    if field in ("stroke", "place") and value is not None and paint.stroke_width == 0:
        paint = replace(paint, stroke_width=default_paint(sheet).stroke_width)
    return paint


class FirstPaint(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """The paint for new pieces, in the fields of SetPaint; "" for the default."""

    fill: Typed = ""
    stroke_width: Typed = ""
    stroke: Typed = ""

    def on(self, sheet: Sheet, paint: Paint) -> Paint:
        """Return a new piece's default paint with these fields set. Raises SheetError naming the field."""
        # "none" as the border's colour comes last, or a width alone would add a border
        fields: tuple[PaintField, ...] = ("fill", "stroke_width", "stroke")
        for field in fields:
            if (text := getattr(self, field)).strip():
                paint = _with_paint(sheet, paint, field, _read_paint(sheet, field, text))
        return paint


@register
class SetPaint(Command, frozen=True):
    """Set one field of the paint of the selection.

    `stroke_width` is a length, `opacity` per cent, `dashes` a list of lengths
    ("none" for a solid border); colours, positions, joins, caps and blend modes are words.
    """

    command = "paint"
    ids: Ids
    field: PaintField
    value: Typed

    def run(self, sheet: Sheet) -> Outcome:
        chosen = require_selection(sheet, self.ids, "paint")
        word = PAINTS[self.field]
        value = _read_paint(sheet, self.field, self.value)
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
            return replace(item, paint=_with_paint(sheet, item.paint, self.field, value))

        return Outcome(change(sheet, self.ids, painted), f"set the {word} of {describe_items(chosen)}", tuple(self.ids))


@register
class CopyPaint(Command, frozen=True):
    """Copy the paint of another piece to the selection; photos take its opacity and blend mode."""

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
            box = geometry.outline_of(item).bounds
            return replace(item, paint=gradients.fitted(paint, geometry.outline_of(pieces[-1]).bounds, box))

        label = f"give {describe_items(chosen)} the paint of {source.name}"
        return Outcome(change(sheet, self.ids, painted), label, tuple(self.ids))


def _dashes(sheet: Sheet, text: str) -> tuple[float, ...]:
    """Return lengths typed in a row, separated by spaces, commas or semicolons."""
    if text.strip().lower() in ("", "none", "0"):
        return ()
    parts = [p for p in re.split(r"[;,\s]+", text.strip()) if p]
    if len(parts) > 12:
        raise SheetError("A border has up to 12 dashes and gaps.", "Type fewer; they repeat.", "dashes")
    lengths = tuple(read_length(sheet, "dash", p, field="dashes") for p in parts)
    if min(lengths) < 0 or sum(lengths) <= 0:
        raise SheetError("Dashes and gaps must be 0 or longer, and not all 0.", "Type lengths like 6 3.", "dashes")
    return lengths


GradientField: TypeAlias = Literal["fill", "stroke"]
"""The fields that can be a gradient."""
StopNumber: TypeAlias = Annotated[int, Meta(ge=0, le=255)]
MOST_STOPS: Final = 20
"""The most stops that can be added by hand."""


def _repainted(sheet: Sheet, ids: list[str], field: GradientField, what: Callable[[Piece], Any], label: str) -> Outcome:
    """Return the outcome with a new fill or border colour for each selected piece; None leaves a piece as it is."""
    chosen = require_selection(sheet, ids, "paint")
    done: list[Piece] = []

    def painted(item: Item) -> Item:
        if isinstance(item, Group):
            return replace(item, items=tuple(painted(i) for i in item.items))
        made = None if isinstance(item, Photo) else what(item)
        if isinstance(item, Photo) or made is None:
            return item
        done.append(item)
        return replace(item, paint=_with_paint(sheet, item.paint, field, made))

    sheet = change(sheet, ids, painted)
    if not done:
        name = f"“{chosen[0].name}” has" if len(chosen) == 1 else "None of them has"
        raise SheetError(f"{name} no gradient as its {PAINTS[field]}.", "Press Gradient first.", "ids")
    return Outcome(sheet, f"{label} of {describe_items(chosen)}", tuple(ids))


def _gradient_of(piece: Piece, field: GradientField) -> Gradient | None:
    paint = getattr(piece.paint, field)
    return paint if isinstance(paint, Gradient) else None


def _restopped(
    sheet: Sheet, ids: list[str], field: GradientField, what: Callable[[tuple[Stop, ...]], tuple[Stop, ...]], label: str
) -> Outcome:
    """Return the outcome with new stops for every gradient."""

    def made(piece: Piece) -> Gradient | None:
        gradient = _gradient_of(piece, field)
        return gradient and replace(gradient, stops=what(gradient.stops))

    return _repainted(sheet, ids, field, made, label)


@register
class SetGradient(Command, frozen=True):
    """Make the fill or the border of the selection a gradient, linear or radial, or "none": its first colour.

    A new gradient starts from the colour that was there and spans each piece's box, from left to
    right or from the middle outwards; an existing one keeps its stops.
    """

    command = "gradient"
    ids: Ids
    field: GradientField
    kind: Literal["linear", "radial", "none"]

    def run(self, sheet: Sheet) -> Outcome:
        chosen = require_selection(sheet, self.ids, "paint")
        if not any(geometry.pieces_of(i) for i in chosen):
            raise SheetError(f"A photo has no {PAINTS[self.field]}.", "Put it in an outline, and paint that.", "ids")

        def made(piece: Piece) -> Any:
            gradient = _gradient_of(piece, self.field)
            if self.kind == "none":
                return gradient and gradient.stops[0].color
            if gradient and gradient.kind == self.kind:
                return gradient
            usual = Paint().fill if self.field == "fill" else INK
            stops = (
                gradient.stops if gradient else gradients.begun(flat(getattr(piece.paint, self.field) or usual) or INK)
            )
            box = geometry.outline_of(piece).bounds or (0.0, 0.0, 1.0, 1.0)
            m = gradients.linear(box, 0.0) if self.kind == "linear" else gradients.radial(box)
            return Gradient(self.kind, stops, m.numbers(), gradient.spread if gradient else "pad")

        word = "take the gradient" if self.kind == "none" else f"set a {self.kind} gradient as the {PAINTS[self.field]}"
        return _repainted(sheet, self.ids, self.field, made, word)


@register
class ChangeStops(Command, frozen=True):
    """Add a stop to the gradients of the selection, remove one, reverse them, or space them evenly."""

    command = "gradient_stops"
    ids: Ids
    field: GradientField
    does: Literal["add", "remove", "swap", "even"]
    stop: StopNumber = 0

    def run(self, sheet: Sheet) -> Outcome:
        def made(stops: tuple[Stop, ...]) -> tuple[Stop, ...]:
            if self.does == "swap":
                return gradients.swapped(stops)
            if self.does == "even":
                return gradients.even(stops)
            if self.does == "add":
                if len(stops) >= MOST_STOPS:
                    raise SheetError(f"A gradient takes {MOST_STOPS} stops by hand.", "Remove one first.", "stop")
                return gradients.more_stops(stops)
            if len(stops) == 2:
                raise SheetError("A gradient needs two stops.", "Press Plain for one colour.", "stop")
            return stops[: self.stop] + stops[self.stop + 1 :]

        word = {"add": "add a stop to", "remove": "remove a stop from", "swap": "swap", "even": "space evenly"}[
            self.does
        ]
        return _restopped(sheet, self.ids, self.field, made, f"{word} the gradient")


@register
class SetStop(Command, frozen=True):
    """Set the colour, position or opacity (per cent) of a stop."""

    command = "gradient_stop"
    ids: Ids
    field: GradientField
    stop: StopNumber
    part: Literal["color", "at", "opacity"]
    value: Typed

    def run(self, sheet: Sheet) -> Outcome:
        value: Any
        if self.part == "color":
            value = check_color(self.value, "color")
            if value is None:
                raise SheetError("A stop needs a colour.", "To hide it, set its opacity to 0.", "color")
        else:
            word = "place" if self.part == "at" else "opacity"
            value = parse_percent(self.value, word, field=self.part)
            if not 0 <= value <= 1:
                raise SheetError(
                    f"The {word} of a stop must be from 0 to 100 %.", "Type a number like 60 %.", self.part
                )

        def made(stops: tuple[Stop, ...]) -> tuple[Stop, ...]:
            changed = [replace(s, **{self.part: value}) if k == self.stop else s for k, s in enumerate(stops)]
            # a stop moved past another one swaps with it
            return tuple(sorted(changed, key=lambda s: s.at))

        return _restopped(sheet, self.ids, self.field, made, "set a stop of the gradient")


@register
class PlaceGradient(Command, frozen=True):
    """Set where the gradients of the selection run, relative to each piece's box.

    `angle` is in degrees, clockwise from the right. For a radial one, `x` and `y` are its middle
    (per cent of the box) and `size` its extent, 100 % being the farthest corner. `spread`
    is how it continues beyond its ends.
    """

    command = "place_gradient"
    ids: Ids
    field: GradientField
    part: Literal["angle", "x", "y", "size", "spread"]
    value: Typed

    def run(self, sheet: Sheet) -> Outcome:
        value: Any = self.value
        if self.part == "spread":
            if value not in SPREADS:
                raise SheetError(
                    f"“{value[:30]}” isn’t a way to continue a gradient.", f"Use {', '.join(SPREADS)}.", "spread"
                )
        elif self.part == "angle":
            value = parse_degrees(value, "angle", field="angle")
        else:
            value = parse_percent(value, self.part, field=self.part)
            low = 0.01 if self.part == "size" else -10.0
            if not low <= value <= 10:
                limits = f"{low * 100:g} to 1,000 %"
                raise SheetError(f"The {self.part} of a gradient must be from {limits}.", "Type 50 %.", self.part)

        def made(piece: Piece) -> Gradient | None:
            gradient = _gradient_of(piece, self.field)
            if gradient is None or self.part == "spread":
                return gradient and replace(gradient, spread=value)
            box = geometry.outline_of(piece).bounds or (0.0, 0.0, 1.0, 1.0)
            if (self.part == "angle") != (gradient.kind == "linear"):
                return None
            if self.part == "angle":
                return replace(gradient, matrix=gradients.linear(box, value).numbers())
            where = dict(zip(("x", "y", "size"), gradients.place_of(gradient, box), strict=True)) | {self.part: value}
            return replace(gradient, matrix=gradients.radial(box, **where).numbers())

        return _repainted(sheet, self.ids, self.field, made, "place the gradient")
