"""SVG path data in and out: the grammar of SVG 2, section 9.3.9."""

import re

from .arcs import STEP, arc_to_cubics
from .builder import Builder
from .errors import PathError

__all__ = ["read", "number"]

_NUMBER = re.compile(r"[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?")
_GAP = re.compile(r"[ \t\r\n\f]*")
_COMMA = re.compile(r"[ \t\r\n\f]*,?[ \t\r\n\f]*")
_COUNT = {"M": 2, "L": 2, "H": 1, "V": 1, "C": 6, "S": 4, "Q": 4, "T": 2, "A": 7, "Z": 0}


class _Reader:
    """Walks the text and keeps the position for errors."""

    def __init__(self, text: str):
        self.text = text
        self.at = 0

    def skip(self, pattern: re.Pattern[str] = _GAP) -> None:
        match = pattern.match(self.text, self.at)
        assert match is not None
        self.at = match.end()

    def has_number(self) -> bool:
        return _NUMBER.match(self.text, self.at) is not None

    def number(self) -> float:
        match = _NUMBER.match(self.text, self.at)
        if match is None:
            found = repr(self.text[self.at]) if self.at < len(self.text) else "the end"
            raise PathError(f"a number is wanted here, not {found}", self.at)
        value = float(match.group())
        if value in (float("inf"), float("-inf")):
            raise PathError(f"{match.group()[:20]} is too large for a coordinate", self.at)
        self.at = match.end()
        return value

    def flag(self) -> float:
        if self.at < len(self.text) and self.text[self.at] in "01":
            self.at += 1
            return float(self.text[self.at - 1])
        raise PathError("an arc flag, 0 or 1, is wanted here", self.at)

    def arguments(self, command: str) -> list[float]:
        values = []
        for i in range(_COUNT[command]):
            if i:
                self.skip(_COMMA)
            if command == "A" and i in (3, 4):
                values.append(self.flag())
            else:
                values.append(self.number())
        return values


def read(text: str, step: float = STEP) -> Builder:
    """Read path data `text` into a builder, one cubic for each `step` (radians) of an arc at most.

    Raises PathError with the position of the mistake.
    """
    if not isinstance(text, str):
        raise PathError("path data must be text")
    r, out = _Reader(text), Builder()
    command = ""
    before = ""
    hx = hy = 0.0  # the last handle, for S and T
    r.skip()
    while r.at < len(text):
        letter = text[r.at]
        if letter.isalpha() and letter.upper() in _COUNT:
            if not command and letter.upper() != "M":
                raise PathError("path data starts with M or m", r.at)
            command = letter
            r.at += 1
            r.skip()
        elif not command or command in "Zz" or not r.has_number():
            raise PathError(f"{letter!r} is no path command", r.at)
        where = r.at
        kind = command.upper()
        a = r.arguments(kind)
        x, y = out.point
        if command.islower() and kind != "A":
            a = [v + (y if kind == "V" or i % 2 else x) for i, v in enumerate(a)]
        try:
            if kind == "M":
                out.move(a[0], a[1])
                command = "l" if command == "m" else "L"
            elif kind == "L":
                out.line(a[0], a[1])
            elif kind == "H":
                out.line(a[0], y)
            elif kind == "V":
                out.line(x, a[0])
            elif kind == "C":
                out.cubic(*a)
                hx, hy = a[2], a[3]
            elif kind == "S":
                sx, sy = (2 * x - hx, 2 * y - hy) if before in ("C", "S") else (x, y)
                out.cubic(sx, sy, *a)
                hx, hy = a[0], a[1]
            elif kind == "Q":
                out.quadratic(*a)
                hx, hy = a[0], a[1]
            elif kind == "T":
                hx, hy = (2 * x - hx, 2 * y - hy) if before in ("Q", "T") else (x, y)
                out.quadratic(hx, hy, *a)
            elif kind == "A":
                end = (x + a[5], y + a[6]) if command == "a" else (a[5], a[6])
                for h1, h2, e in arc_to_cubics((x, y), a[0], a[1], a[2], a[3] == 1, a[4] == 1, end, step):
                    out.cubic(*h1, *h2, *e)
            else:
                out.close()
        except PathError as error:
            raise PathError(str(error), where) from None
        before = kind
        r.skip(_COMMA if kind not in "MZ" or r.at < len(text) else _GAP)
    return out


def number(value: float, digits: int | None = None) -> str:
    """Return the shortest text for `value`: exact, or rounded to `digits` decimals."""
    if digits is not None:
        value = round(value, digits)
    if value == int(value) and abs(value) < 1e15:
        return str(int(value))
    text = repr(value)
    if text.startswith("0."):
        return text[1:]
    if text.startswith("-0."):
        return "-" + text[2:]
    return text
