"""Checking the words of a sheet (ids, names, colours, path data), and finding the wrong one.

Their patterns are those of `limits`. msgspec checks such patterns on every read, which takes longer than the
rest of reading a sheet. So in a sheet they are checked for what is new when it is stored, and for a sheet
that comes from elsewhere; a stored one is read without.
"""

import re
from collections.abc import Callable
from functools import cache
from types import UnionType
from typing import Annotated, Any, TypeAlias, Union, get_args, get_origin, get_type_hints

import msgspec
from msgspec import Meta

from . import limits

__all__ = [
    "Misfit",
    "StoredColor",
    "StoredFile",
    "StoredId",
    "StoredKey",
    "StoredMaybeId",
    "StoredName",
    "StoredPathData",
    "StoredText",
    "check",
]

StoredColor: TypeAlias = Annotated[str, Meta(extra_json_schema={"pattern": limits.COLOR})]
StoredFile: TypeAlias = Annotated[str, Meta(extra_json_schema={"pattern": limits.FILE})]
StoredId: TypeAlias = Annotated[str, Meta(extra_json_schema={"pattern": limits.ID})]
StoredMaybeId: TypeAlias = Annotated[str, Meta(extra_json_schema={"pattern": limits.MAYBE_ID})]
StoredKey: TypeAlias = Annotated[str, Meta(extra_json_schema={"pattern": limits.KEY})]
StoredName: TypeAlias = Annotated[str, Meta(max_length=200, extra_json_schema={"pattern": limits.NAME})]
StoredText: TypeAlias = Annotated[str, Meta(max_length=500, extra_json_schema={"pattern": limits.TEXT})]
StoredPathData: TypeAlias = Annotated[str, Meta(max_length=8_000_000, extra_json_schema={"pattern": limits.PATH_DATA})]


class Misfit(msgspec.ValidationError):
    """A word that does not match its pattern; with msgspec's message."""

    def __init__(self, pattern: str):
        super().__init__(pattern)
        self.place = ""

    def __str__(self) -> str:
        return f"Expected `str` matching regex {self.args[0]!r} - at `${self.place}`"


Check: TypeAlias = Callable[[Any], None]


def check(value: msgspec.Struct) -> None:
    """Raise Misfit if a word in a value, at any depth, does not match its pattern.

    >>> from sheet.document.model import Paint
    >>> check(Paint(fill="#c9bda4"))
    >>> check(Paint(fill="red"))
    Traceback (most recent call last):
    sheet.document.validation.Misfit: Expected `str` matching regex '^#[0-9a-f]{6}\\\\Z' - at `$.fill`
    """
    for name, asked in _fields(type(value)):
        try:
            asked(getattr(value, name))
        except Misfit as misfit:
            misfit.place = f".{name}{misfit.place}"
            raise


@cache
def _fields(kind: type) -> tuple[tuple[str, Check], ...]:
    """Return the fields of a struct that contain words, and the check for each."""
    hints = get_type_hints(kind, include_extras=True)
    return tuple((name, asked) for name, hint in hints.items() if (asked := _asked(hint)) is not None)


def _asked(hint: Any) -> Check | None:
    """Return the check for a value of such a type; None if it needs none."""
    kind, inner = get_origin(hint), get_args(hint)
    if kind is Annotated:
        patterns = [m.extra_json_schema["pattern"] for m in inner[1:] if isinstance(m, Meta) and m.extra_json_schema]
        return _matching(*patterns) if patterns else _asked(inner[0])
    if kind in (Union, UnionType):
        # an optional word, one of several structs, or a word or a struct
        asked = [a for one in inner if (a := _asked(one)) is not None]
        words = [a for a in asked if a is not _within]
        return _either(words[0]) if words and len(words) < len(asked) else next(iter(asked), None)
    if kind is tuple and inner[-1] is ...:
        return _each(_asked(inner[0]))
    if kind is tuple:
        return _places([_asked(one) for one in inner])
    return _within if isinstance(hint, type) and issubclass(hint, msgspec.Struct) else None


def _within(value: msgspec.Struct | None) -> None:
    if value is not None:
        check(value)


def _matching(pattern: str) -> Check:
    find = re.compile(pattern).search

    def asked(value: str | None) -> None:
        if value is not None and find(value) is None:
            raise Misfit(pattern)

    return asked


def _either(word: Check) -> Check:
    return lambda value: _within(value) if isinstance(value, msgspec.Struct) else word(value)


def _each(one: Check | None) -> Check | None:
    if one is None:
        return None

    def asked(values: tuple[Any, ...]) -> None:
        for value in values:
            one(value)

    return asked


def _places(each: list[Check | None]) -> Check | None:
    checked = [(at, one) for at, one in enumerate(each) if one is not None]
    if not checked:
        return None

    def asked(values: tuple[Any, ...]) -> None:
        for at, one in checked:
            one(values[at])

    return asked
