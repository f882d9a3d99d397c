"""The limits of numbers, words and lists, as types, so that one place has them: the decoder.

Lengths are in sheet units (px). None of these takes NaN or an infinity, which JSON does
not have; texts take no character outside XML 1.0 (2.2, Char).
"""

import re
from typing import Annotated, Final, TypeAlias

from msgspec import Meta

__all__ = [
    "MAX_CELLS",
    "MAX_DEPTH",
    "MAX_GUIDES",
    "MAX_ITEMS",
    "MAX_PARTS",
    "MAX_POINTS",
    "MAX_TRIED",
    "Count",
    "Factor",
    "File",
    "Id",
    "Ids",
    "Index",
    "Key",
    "Length",
    "MaybeId",
    "Name",
    "Numbers",
    "PathData",
    "Place",
    "RowNumber",
    "Share",
    "Size",
    "Typed",
    "clean_name",
]

MAX_ITEMS: Final = 5000
"""Items on a sheet, those in groups counted."""
MAX_PARTS: Final = 25_000
"""Everything on a sheet: items, the pieces of cut lists and the photos in frames."""
MAX_DEPTH: Final = 60
"""How deep groups and outlines may be nested."""
MAX_CELLS: Final = 2000
MAX_GUIDES: Final = 200
MAX_POINTS: Final = 20_000
MAX_TRIED: Final = 12
"""Photos that a frame remembers."""

_LINE = "[^\\x00-\\x1f\\x7f\\ud800-\\udfff\\ufffe\\uffff]"
_LINES = "[^\\x00-\\x08\\x0b\\x0c\\x0e-\\x1f\\x7f\\ud800-\\udfff\\ufffe\\uffff]"

Place: TypeAlias = Annotated[float, Meta(ge=-1e8, le=1e8)]
"""A coordinate."""
Size: TypeAlias = Annotated[float, Meta(gt=0, le=1e8)]
"""A width or height above zero."""
Length: TypeAlias = Annotated[float, Meta(ge=0, le=1e8)]
Factor: TypeAlias = Annotated[float, Meta(ge=-1e9, le=1e9)]
Share: TypeAlias = Annotated[float, Meta(ge=0, le=1)]
Count: TypeAlias = Annotated[int, Meta(ge=1, le=10_000_000)]
RowNumber: TypeAlias = Annotated[int, Meta(ge=0, le=2**63 - 1)]
"""A number used for counting."""
Index: TypeAlias = Annotated[int, Meta(ge=0, le=1_000_000)]
Numbers: TypeAlias = tuple[Factor, Factor, Factor, Factor, Factor, Factor]
"""The six numbers of an affine map."""

# the patterns of a sheet's words; in a sheet itself `validation` checks them
COLOR: Final = r"^#[0-9a-f]{6}\Z"
FILE: Final = r"^[0-9a-f]{64}\Z"
ID: Final = r"^i[0-9]{1,10}\Z"
MAYBE_ID: Final = r"^(i[0-9]{1,10})?\Z"
KEY: Final = r"^[0-9a-f]{32}\Z"
NAME: Final = f"^{_LINE}*\\Z"
TEXT: Final = f"^{_LINES}*\\Z"
PATH_DATA: Final = r"^[MmLlHhVvCcSsQqTtAaZzEe0-9+\-., \t\r\n]*\Z"

File: TypeAlias = Annotated[str, Meta(pattern=FILE)]
"""The SHA-256 of a photo's file."""
Id: TypeAlias = Annotated[str, Meta(pattern=ID)]
MaybeId: TypeAlias = Annotated[str, Meta(pattern=MAYBE_ID)]
"""An id, or nothing."""
Key: TypeAlias = Annotated[str, Meta(pattern=KEY)]
"""The key of a shelved outline, the same everywhere."""
Ids: TypeAlias = Annotated[list[Id], Meta(max_length=MAX_PARTS)]
Name: TypeAlias = Annotated[str, Meta(max_length=200, pattern=NAME)]
Typed: TypeAlias = Annotated[str, Meta(max_length=1000, pattern=TEXT)]
"""What a person typed into a field."""
PathData: TypeAlias = Annotated[str, Meta(max_length=8_000_000, pattern=PATH_DATA)]
"""SVG path data."""

_UNWRITABLE: Final = re.compile(r"[\x00-\x1f\x7f\ud800-\udfff\ufffe\uffff]+")


def clean_name(text: str, most: int = 80) -> str:
    """Return a name without unprintable characters, with single spaces, and no longer than `most`.

    >>> clean_name("  dusk\\x01sea \\n ")
    'dusk sea'
    """
    return " ".join(_UNWRITABLE.sub(" ", text).split())[:most].rstrip()
