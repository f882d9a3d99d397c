"""The stored form of a sheet: one compressed JSON with its schema version. Only what can be read again is stored."""

import re
import zlib
from collections.abc import Callable
from functools import lru_cache
from typing import Any

import msgspec

from .errors import SheetError
from .limits import MAX_DEPTH, MAX_ITEMS, MAX_PARTS, clean_name
from .model import BLENDS, SCHEMA, CutList, Group, Item, Piece, Sheet
from .tree import members

__all__ = ["LARGEST", "UPGRADES", "as_json", "dump", "hold", "load", "of_json", "packed", "photos_in", "unfolded"]

UPGRADES: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {
    1: lambda document: document,  # 2 only adds kinds of pieces, groups, guides and a grid
    2: lambda document: _mended(document),  # 3 adds what is shown of a transparent photo, and has narrower texts
    3: lambda document: document,  # 4 adds choices of cells, and pieces that stand in several outlines
    4: lambda document: document,  # 5 adds silhouettes, and blend modes of photos and groups
    5: lambda document: document,  # 6 adds the ends of borders
    6: lambda document: document,  # 7 adds how parts hold in another proportion, and what came from the shelf
}
"""From a schema version to the function that makes the next one of a decoded document."""


def _mended(part: Any) -> Any:
    """Return a decoded document with names that can be kept, and blend modes that there are."""
    if isinstance(part, list):
        return [_mended(p) for p in part]
    if not isinstance(part, dict):
        return part
    made = {key: _mended(value) for key, value in part.items()}
    if isinstance(made.get("name"), str):
        made["name"] = clean_name(made["name"]) or "Unnamed"
    if "blend" in made and made["blend"] not in BLENDS:
        made["blend"] = "normal"
    return made


LARGEST = 200_000_000
"""Bytes of JSON that a stored sheet may unfold to."""

_encoder = msgspec.json.Encoder()
_decoder = msgspec.json.Decoder(Sheet)


class _Version(msgspec.Struct):
    schema: int = 1


_version = msgspec.json.Decoder(_Version)


_held: list[Sheet | None] = [None]


def hold(sheet: Sheet) -> None:
    """Raise SheetError where more lies on the sheet, or deeper in one another, than a sheet holds."""
    # a sheet is asked about when it is made and again when it is stored
    if _held[0] is sheet:
        return
    items = parts = deepest = 0
    waiting: list[tuple[Item, int, bool]] = [(i, 1, True) for i in sheet.items]
    while waiting:
        item, depth, lies = waiting.pop()
        parts += 1
        deepest = max(deepest, depth)
        if isinstance(item, Group):
            waiting += [(i, depth + 1, lies) for i in item.items]
            continue
        items += lies
        if isinstance(item, Piece):
            parts += len(item.photos)
            if isinstance(item.shape, CutList):
                waiting += [(m, depth + 1, False) for m in members(item.shape)]
    if items > MAX_ITEMS or parts > MAX_PARTS:
        raise SheetError(f"A sheet holds up to {MAX_ITEMS:,} items.", "Remove some, or combine them.")
    if deepest > MAX_DEPTH:
        raise SheetError(
            f"That would lie {deepest} deep; groups and outlines may lie {MAX_DEPTH} deep in one another.",
            "Ungroup the inner ones, or make an inner outline plain.",
            "ids",
        )
    _held[0] = sheet


def dump(sheet: Sheet) -> bytes:
    """Return the compressed stored form. Raises SheetError for a sheet that `load` could not read back."""
    try:
        text = _encoder.encode(sheet)
        again = _decoder.decode(text)
    except (msgspec.MsgspecError, RecursionError, UnicodeError) as error:
        raise SheetError(
            "That cannot be kept: a number or a text in it is beyond what a sheet holds.",
            "Use smaller numbers, or do it in another way.",
        ) from error
    # a number that is none is written as null, and a lone surrogate not at all
    if again != sheet:
        raise SheetError("That cannot be kept as it is.", "Use other numbers or names.")
    hold(sheet)
    return packed(text)


def packed(text: bytes) -> bytes:
    """Return the stored form of a sheet's JSON."""
    return zlib.compress(text, 1)


_FILE = re.compile(rb'"file":"([0-9a-f]{64})"')


def photos_in(text: bytes) -> set[str]:
    """Return the photos' files that a sheet's JSON names, wherever that is."""
    return {f.decode() for f in _FILE.findall(text)}


def as_json(sheet: Sheet) -> bytes:
    """Return the stored form as the JSON it is, for a file of its own. Raises SheetError as `dump` does."""
    return unfolded(dump(sheet))


def of_json(text: bytes) -> Sheet:
    """Return the sheet of such a JSON, upgrading older schemas. Raises SheetError for anything else."""
    return load(packed(text))


def unfolded(data: bytes) -> bytes:
    """Return the JSON of a stored sheet. Raises zlib.error where it is damaged."""
    stream = zlib.decompressobj()
    text = stream.decompress(data, LARGEST)
    if stream.unconsumed_tail or not stream.eof:
        raise zlib.error("cut short, or larger than a sheet can be")
    return text


@lru_cache(maxsize=32)
def load(data: bytes) -> Sheet:
    """Return the sheet that `dump` stored, upgrading older schemas. Raises SheetError for anything else.

    The same data give the same value, so that what was worked out for it is still at hand.
    """
    try:
        text = unfolded(data)
        version = _version.decode(text).schema
        if version == SCHEMA:
            return _decoder.decode(text)
        if version > SCHEMA:
            raise SheetError(f"This project was saved by a newer Gouge (schema {version}).", "Update Gouge to open it.")
        document = msgspec.json.decode(text)
        while version < SCHEMA:
            document = UPGRADES[version](document)
            version += 1
        document["schema"] = SCHEMA
        return msgspec.convert(document, Sheet)
    except (zlib.error, msgspec.MsgspecError, RecursionError, LookupError, TypeError, AttributeError) as error:
        raise SheetError("This revision cannot be read.", "Open one that came before it.") from error
