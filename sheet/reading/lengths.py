"""Numbers as people type them: arithmetic, units and per cent.

    sum     = term (("+" | "-") term)*
    term    = factor (("*" | "/" | "x") factor)*
    factor  = ("-" | "+") factor | number unit? | "(" sum ")" unit?

A number without a unit is in the field's own unit. All lengths become sheet units: px
at the sheet's resolution. A point is 1/72 inch and an inch is 25.4 mm exactly
(international yard and pound agreement, 1959).
"""

import math
import re
from typing import TypeAlias

from sheet.document.errors import SheetError
from sheet.document.model import Sheet

__all__ = [
    "UNITS",
    "a",
    "parse",
    "parse_count",
    "parse_degrees",
    "parse_length",
    "parse_percent",
    "px_per",
    "read_length",
    "show_degrees",
    "show_length",
]

UNITS = ("px", "mm", "cm", "in", "pt")

_TOKEN = re.compile(r"\s*(?:(\d+(?:[.,]\d*)?|[.,]\d+)|(px|mm|cm|in|pt|%|°|deg)|(.))", re.IGNORECASE)
_LARGEST = 1e9

Quantity: TypeAlias = tuple[float, float | None]
"""A number and the size of its unit, None if it has none yet."""


def a(word: str) -> str:
    """Return the word with its article."""
    return f"{'an' if word[:1] in 'aeio' else 'a'} {word}"


def px_per(unit: str, resolution: float) -> float:
    """Return how many px one `unit` is at `resolution` px per inch."""
    per_inch = {"px": resolution, "mm": 25.4, "cm": 2.54, "in": 1.0, "pt": 72.0}
    if unit not in per_inch:
        raise SheetError(f"“{unit[:20]}” is not a unit.", f"Use {', '.join(UNITS)}.", "unit")
    return resolution / per_inch[unit]


class _Parser:
    def __init__(self, text: str, field: str, factors: dict[str, float], whole: float | None, example: str):
        self.text, self.field, self.factors, self.whole, self.example = text, field, factors, whole, example
        self.tokens = [m.groups() for m in _TOKEN.finditer(text.strip()) if any(m.groups())]
        self.at = 0
        self.depth = 0

    def fail(self, why: str) -> SheetError:
        return SheetError(f"“{self.text.strip()[:40]}” {why}", f"Type a number, like {self.example}.", self.field)

    def sign(self, wanted: str) -> str:
        if self.at < len(self.tokens):
            mark = self.tokens[self.at][2]
            if mark and mark.lower() in wanted:
                self.at += 1
                return str(mark.lower())
        return ""

    def whole_sum(self) -> float:
        """Return the total value; numbers without a unit count in the field's own."""
        value, unit = self.sum()
        return value * (self.factors[""] if unit is None else unit)

    def sum(self) -> Quantity:
        value, unit = self.term()
        while mark := self.sign("+-−"):
            other, its = self.term()
            if unit is not None or its is not None:
                own = self.factors[""]
                value, unit = value * (own if unit is None else unit), 1.0
                other *= own if its is None else its
            value = value + other if mark == "+" else value - other
        return value, unit

    def term(self) -> Quantity:
        value, unit = self.factor()
        while mark := self.sign("*/x×÷"):
            other, its = self.factor()
            if unit is not None and its is not None:
                raise self.fail("multiplies or divides two lengths.")
            if mark in "/÷":
                if other == 0:
                    raise self.fail("divides by zero.")
                value /= other
            else:
                value *= other
            unit = its if unit is None else unit
        return value, unit

    def factor(self) -> Quantity:
        self.depth += 1
        if self.depth > 60:
            raise self.fail("is nested too deep.")
        try:
            if mark := self.sign("+-−"):
                value, unit = self.factor()
                return (value if mark == "+" else -value), unit
            if self.sign("("):
                inner = self.sum()
                if not self.sign(")"):
                    raise self.fail("has a bracket that is not closed.")
                return inner
            if self.at >= len(self.tokens) or not self.tokens[self.at][0]:
                raise self.fail("is not a number." if self.tokens else "is empty.")
            value = float(self.tokens[self.at][0].replace(",", "."))
            self.at += 1
            word = (self.tokens[self.at][1] or "").lower() if self.at < len(self.tokens) else ""
            if not word:
                return value, None
            self.at += 1
            if word == "%":
                if self.whole is None:
                    raise self.fail("has a per cent sign, and there is nothing it could be a part of.")
                return value * self.whole / 100, 1.0
            if word not in self.factors:
                raise self.fail(f"has the unit {word}, which does not fit here.")
            return value, self.factors[word]
        finally:
            self.depth -= 1


def parse(
    text: str | float,
    name: str,
    *,
    field: str = "",
    factors: dict[str, float] | None = None,
    whole: float | None = None,
    example: str = "12 or 2000/3",
) -> float:
    """Return the value of arithmetic `text`; `factors` maps units ("" for none) to their size.

    `name` is the person's word for the number, `field` the page's (`name` if
    left out). Raises SheetError for anything but a finite number up to 1e9.
    """
    field = field or name
    type_one = f"Type a number, like {example}."
    if isinstance(text, bool) or not isinstance(text, str | int | float):
        raise SheetError(f"The {name} must be a number.", type_one, field)
    if not isinstance(text, str):
        text = repr(text)
        if "e" in text and "n" not in text:
            text = f"{float(text):.12f}"
    if len(text) > 200:
        raise SheetError(f"The {name} is too long to be a number.", type_one, field)
    known = {"": 1.0, **(factors or {})}
    p = _Parser(text, field, known, whole, example)
    if not p.tokens:
        raise SheetError(f"The {name} is empty.", type_one, field)
    value = p.whole_sum()
    if p.at < len(p.tokens):
        raise p.fail("is not a number.")
    if not math.isfinite(value) or abs(value) > _LARGEST:
        raise SheetError(f"The {name} is too large.", "Use a number up to 1,000,000,000.", field)
    return value


def parse_degrees(text: str | float, name: str, *, field: str = "") -> float:
    """Return an angle in degrees."""
    return parse(text, name, field=field, factors={"°": 1.0, "deg": 1.0}, example="45")


def parse_percent(text: str | float, name: str, *, field: str = "") -> float:
    """Return a share, 1 for 100 %; a bare number is per cent."""
    return parse(text, name, field=field, whole=100.0, example="60 %") / 100


def parse_count(text: str | float, name: str, low: int, high: int, *, field: str = "") -> int:
    """Return a whole number from `low` to `high`. Raises SheetError for any other."""
    value = parse(text, name, field=field, example=f"{max(low, 3)}")
    if value != round(value) or not low <= value <= high:
        least = f"{low:,} to {high:,}"
        near = min(high, max(low, round(value)))
        raise SheetError(
            f"The {name} must be a whole number from {least}.", f"Type {near:,}, for example.", field or name
        )
    return round(value)


def parse_length(
    text: str | float, name: str, *, field: str = "", unit: str, resolution: float, whole: float | None = None
) -> float:
    """Return a length in px; a bare number is in `unit`, and per cent are of `whole` (px).

    >>> parse_length("25.4mm + 1in", "width", unit="px", resolution=300)
    600.0
    >>> round(parse_length("2000/3", "width", unit="px", resolution=300), 3)
    666.667
    >>> round(parse_length("2000/3 px", "width", unit="mm", resolution=300), 3)
    666.667
    """
    factors = {u: px_per(u, resolution) for u in UNITS}
    factors[""] = factors[unit]
    return parse(text, name, field=field, factors=factors, whole=whole, example="12, 2000/3 or 12mm + 3")


def read_length(sheet: Sheet, name: str, value: float | str, whole: float | None = None, field: str = "") -> float:
    """Return a command's length in px: a number in px, or a text with units and sums, or per cent of `whole` (px).

    A bare number in a text is in the sheet's unit. Raises SheetError naming the field, or the name.
    """
    if isinstance(value, str):
        return parse_length(value, name, field=field, unit=sheet.unit, resolution=sheet.resolution, whole=whole)
    return parse(value, name, field=field)


def show_length(px: float, unit: str, resolution: float, digits: int = 3) -> str:
    """Return a length as text in `unit`, without trailing zeros."""
    text = f"{px / px_per(unit, resolution):.{digits}f}".rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text


def show_degrees(value: float) -> str:
    """Return an angle as text."""
    text = f"{value:.2f}".rstrip("0").rstrip(".")
    return f"{'0' if text in ('-0', '') else text}°"
