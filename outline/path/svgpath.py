"""SVG path data in and out: the grammar of SVG 2, section 9.3.9."""

import re
from collections.abc import Callable, Iterable
from itertools import chain, pairwise
from operator import add

from .arcs import STEP, arc_to_cubics
from .builder import Builder
from .errors import PathError
from .matrix import IDENTITY, Matrix
from .tolerance import MAX_CURVES

__all__ = ["mapped", "number", "read", "written"]

encode: Callable[[list[float]], bytes] | None
try:
    from msgspec.json import encode
except ImportError:  # the engine alone
    encode = None

_NUMBER = re.compile(r"[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?")
_GAP = re.compile(r"[ \t\r\n\f]*")
_COMMA = re.compile(r"[ \t\r\n\f]*,?[ \t\r\n\f]*")
_COUNT = {"M": 2, "L": 2, "H": 1, "V": 1, "C": 6, "S": 4, "Q": 4, "T": 2, "A": 7, "Z": 0}
_NEEDED = _COUNT | {letter.lower(): count for letter, count in _COUNT.items()}


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


def read(text: str, step: float = STEP, forgiving: bool = False) -> Builder:
    """Read path data `text` into a builder, one cubic for each `step` (radians) of an arc at most.

    Raises PathError with the position of the mistake. A `forgiving` reader stops at
    the first error and returns what came before it (SVG 2, 9.5.4).
    """
    if not isinstance(text, str):
        raise PathError("path data must be text")
    quick = _split(text)
    if quick is not None:
        try:
            return _built(quick, step, Builder(trusting=True))
        except PathError:
            pass  # the slow reader finds the position of the error
    return _built(_forgiven(_walked(text)) if forgiving else _walked(text), step, Builder())


_SPACE = r"[ \t\r\n\f]*+"
_NEXT = rf"{_SPACE},?+{_SPACE}"
_SHORT = r"[+-]?+(?:\d{1,9}+(?!\d)\.?+\d*+|\.\d++)(?:[eE]-\d++)?+"
"""A number of few digits before the point: 200,000 of them, added up, are no coordinate that is too large."""
_SEVEN = [*[_SHORT] * 3, "[01]", "[01]", _SHORT, _SHORT]
_PLAIN = re.compile(
    rf"(?:{_SPACE}[MmLlHhVvCcSsQqTtZz]{_SPACE}(?:{_SHORT}{_NEXT})*+"
    rf"|{_SPACE}[Aa]{_SPACE}(?:{_NEXT.join(_SEVEN)}{_NEXT})++)++"
)
_LETTER = re.compile(r"([MmLlHhVvCcSsQqTtAaZz])")
# between the flags of an arc there may be nothing
_ARC = re.compile(_SPACE.join(f"({part})" for part in _SEVEN))

Commands = Iterable[tuple[int, str, list[float]]]
"""The position of a command, its letter, and its numbers."""


def _split(text: str) -> list[tuple[int, str, list[float]]] | None:
    """Return the commands of plain path data, split at its letters; None if it needs the full grammar."""
    if _PLAIN.fullmatch(text) is None:
        return None
    parts = _LETTER.split(text.replace(",", " "))
    if parts[1] not in "Mm":
        return None
    out: list[tuple[int, str, list[float]]] = []
    for letter, values in zip(parts[1::2], parts[2::2], strict=True):
        try:
            values = list(map(float, chain(*_ARC.findall(values)) if letter in "Aa" else values.split()))
        except ValueError:
            # numbers may follow each other without a separator
            values = list(map(float, _NUMBER.findall(values)))
        count = _NEEDED[letter]
        if len(values) == count:
            out.append((0, letter, values))
            continue
        if not count or not values or len(values) % count:
            return None
        for at in range(0, len(values), count):
            out.append((0, letter, values[at : at + count]))
            if letter in "Mm":
                letter = "l" if letter == "m" else "L"
    return out if len(out) < MAX_CURVES else None


def _walked(text: str) -> Commands:
    """Yield the commands one by one. Raises PathError with the position of an error."""
    r = _Reader(text)
    command = ""
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
        yield where, command, r.arguments(kind)
        if kind == "M":
            command = "l" if command == "m" else "L"
        r.skip(_COMMA if kind not in "MZ" or r.at < len(text) else _GAP)


def _forgiven(commands: Commands) -> Commands:
    """Yield the commands up to an error."""
    try:
        yield from commands
    except PathError:
        return


def _built(commands: Commands, step: float, out: Builder) -> Builder:
    before = ""
    hx = hy = 0.0  # the last handle, for S and T
    for where, command, a in commands:
        kind = command.upper()
        x, y = out.point
        if command != kind and kind != "A":
            a = [a[0] + y] if kind == "V" else list(map(add, a, (x, y, x, y, x, y)))
        try:
            if kind == "L":
                out.line(a[0], a[1])
            elif kind == "C":
                out.cubic(*a)
                hx, hy = a[2], a[3]
            elif kind == "M":
                out.move(a[0], a[1])
            elif kind == "Z":
                out.close()
            elif kind == "H":
                out.line(a[0], y)
            elif kind == "V":
                out.line(x, a[0])
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
            else:
                end = (x + a[5], y + a[6]) if command == "a" else (a[5], a[6])
                for h1, h2, e in arc_to_cubics((x, y), a[0], a[1], a[2], a[3] == 1, a[4] == 1, end, step):
                    out.cubic(*h1, *h2, *e)
        except PathError as error:
            raise PathError(str(error), where) from None
        before = kind
    return out


def written(
    values: list[float], kinds: list[int], starts: list[int], closed: list[bool], digits: int | None = None
) -> str:
    """Return path data of kinds (n), subpath starts (m + 1) and closed flags (m).

    `values` has what is written, in order: the first point of each subpath, three points of each cubic, the end of
    each line.
    """
    texts = _texts(values) if digits is None else [number(v, digits) for v in values]
    parts = []
    at = 0
    for k, shut in enumerate(closed):
        first_x, first_y = values[at], values[at + 1]
        parts.append(f"M{texts[at]} {texts[at + 1]}")
        at += 2
        last = starts[k + 1] - 1
        for i in range(starts[k], last + 1):
            if kinds[i]:
                parts.append("C" + " ".join(texts[at : at + 6]))
                at += 6
                continue
            x0, y0, x, y = values[at - 2 : at + 2]
            at += 2
            if shut and i == last and x == first_x and y == first_y:
                continue
            if y == y0 and x != x0:
                parts.append("H" + texts[at - 2])
            elif x == x0 and y != y0:
                parts.append("V" + texts[at - 1])
            else:
                parts.append(f"L{texts[at - 2]} {texts[at - 1]}")
        if shut:
            parts.append("Z")
    return "".join(parts)


def mapped(made: Builder, matrix: Matrix) -> str:
    """Return what was `read` under an affine map, as path data that `Path` writes, empty if it draws nothing; for
    many at a time, a third of the work.

    >>> mapped(read("m1 1h2v3z"), Matrix.resize(2, 2))
    'M2 2H6V8Z'
    """
    made.finish()
    values: list[float] = []
    for start, end in pairwise(made.starts):
        values += made.rows[start][:2]
        for row, kind in zip(made.rows[start:end], made.kinds[start:end], strict=True):
            values += row[2:] if kind else row[6:]
    if matrix != IDENTITY:
        a, b, c, d, e, f = matrix.numbers()
        xs, ys = values[::2], values[1::2]
        values[::2] = [a * x + c * y + e for x, y in zip(xs, ys, strict=True)]
        values[1::2] = [b * x + d * y + f for x, y in zip(xs, ys, strict=True)]
    return written(values, made.kinds, made.starts, made.closed)


def number(value: float, digits: int | None = None) -> str:
    """Return the shortest text for `value`: exact, or rounded to `digits` decimals."""
    return _exact(float(value if digits is None else round(value, digits)))


def _texts(values: list[float]) -> list[str]:
    """Return the shortest text for each number; with msgspec in a tenth of the time."""
    if encode is None or not values:
        return [_exact(v) for v in values]
    text = f",{encode(values)[1:-1].decode()},"
    # beyond these sizes it has other texts for the same number than `repr`
    if "e" in text or "0.0000" in text:
        return [_exact(v) for v in values]
    # without exponents, a minus is where a number starts
    text = text.replace(".0,", ",").replace("-0,", "0,").replace(",0.", ",.").replace("-0.", "-.")
    return text[1:-1].split(",")


def _exact(value: float) -> str:
    text = repr(value)
    if text[-2:] == ".0":
        return text[:-2] if value else "0"
    if text[0] == "0":
        return text[1:]
    if text[:3] == "-0.":
        return "-" + text[2:]
    return text
