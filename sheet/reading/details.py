"""The numbers of a shape besides its place and size, which a person can read and set at any time."""

from typing import Any

from sheet.document.errors import SheetError
from sheet.document.kinds import KINDS, Field, kind_of
from sheet.document.model import CutList, Shape, Sheet

from .lengths import a, parse, parse_count, parse_degrees, parse_percent, read_length, show_length

__all__ = ["details_of", "field_word", "set_detail"]


def _fields(shape: Shape) -> tuple[Field, ...]:
    return () if isinstance(shape, CutList) else kind_of(shape).fields


def field_word(shape: Shape, field: str) -> str:
    """Return the name of a shape's field, in a sentence."""
    return next((f.name.split(",")[0].lower() for f in _fields(shape) if f.field == field), field)


def details_of(sheet: Sheet, shape: Shape) -> list[tuple[Field, str]]:
    """Return the details of a shape, each with its value as text in the sheet's unit."""
    if isinstance(shape, CutList):
        return []
    kind = kind_of(shape)
    needless = kind.needless(shape)
    return [(f, _shown(sheet, f, kind.value(shape, f.field))) for f in kind.fields if f.field not in needless]


def _shown(sheet: Sheet, detail: Field, value: Any) -> str:
    if isinstance(value, tuple):
        return show_length(value[0], sheet.unit, sheet.resolution) if len(set(value)) == 1 else "mixed"
    if detail.kind == "length":
        return show_length(value, sheet.unit, sheet.resolution)
    if detail.kind == "percent":
        return f"{100 * value:g} %"
    if detail.kind == "degrees":
        return f"{value:g}°"
    if detail.kind == "switch":
        return "yes" if value else ""
    return value if isinstance(value, str) else f"{value:g}"


def _read(sheet: Sheet, detail: Field, text: str) -> Any:
    if detail.kind == "text":
        words = text.replace("\r\n", "\n").replace("\r", "\n")
        if not words.strip():
            raise SheetError("Type at least one letter.", "Or remove the piece.", detail.field)
        if len(words) > 500:
            raise SheetError("A lettering has 500 letters at most.", "Use several pieces.", detail.field)
        return words
    name, field = detail.name.split(",")[0].lower(), detail.field
    if detail.kind == "choice":
        if text not in detail.choices and not detail.also(text):
            raise SheetError(f"“{text[:30]}” is not {a(name)}.", f"Use {', '.join(detail.choices)}.", field)
        return text
    if detail.kind == "switch":
        return text.strip().lower() in ("yes", "true", "on", "1")
    low, high = detail.low, detail.high
    if detail.kind == "count":
        return parse_count(text, name, int(low), int(high), field=field)
    if detail.kind == "length":
        value = read_length(sheet, name, text, field=field)
        if not low <= value <= high:
            least = f"{show_length(low, sheet.unit, sheet.resolution)} {sheet.unit}"
            why = f"The {name} must be {least} or more." if value < low else f"The {name} is too large."
            raise SheetError(why, "Type another number.", field)
        return value
    if detail.kind == "percent":
        value = 100 * parse_percent(text, name, field=field)
    elif detail.kind == "degrees":
        value = parse_degrees(text, name, field=field)
    else:
        value = parse(text, name, field=field)
    if not low <= value <= high:
        raise SheetError(
            f"The {name} must be from {low:g} to {high:g}, not {value:g}.", "Type a number between.", field
        )
    return value / 100 if detail.kind == "percent" else value


def set_detail(sheet: Sheet, shape: Shape, field: str, text: str) -> tuple[Shape, str]:
    """Return the shape with one detail set, and a note: a radius too large becomes the largest that fits.

    Raises SheetError naming the field if the shape has no such detail or the value is wrong.
    """
    detail = next((f for f in _fields(shape) if f.field == field), None)
    if detail is None:
        named = (f.name.lower() for kind in KINDS.values() for f in kind.fields if f.field == field)
        raise SheetError(f"This piece has no {next(named, 'such number')}.", "Select a piece that has it.", field)
    made, fits = kind_of(shape).given(shape, field, _read(sheet, detail, text))
    if fits is None:
        return made, ""
    shown = show_length(fits, sheet.unit, sheet.resolution, 2)
    return made, f"The {detail.name.lower()} is now {shown} {sheet.unit}, the largest that fits."
