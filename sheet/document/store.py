"""The stored form of a sheet, with its schema version. Only what can be read back is stored.

A sheet is MessagePack (its specification of 2013, with `bin`) in one Zstandard
frame (RFC 8878), read in a fraction of JSON's time; the form of earlier versions,
JSON in zlib (RFC 8259, 1950), is read too. Outside of the database it is JSON.
"""

import re
import zlib
from collections.abc import Callable
from typing import Any, Final, TypeVar

import msgspec
import zstandard
from msgspec.structs import replace

from sheet.caching import Results

from . import points
from .errors import SheetError
from .limits import MAX_DEPTH, MAX_ITEMS, MAX_PARTS, clean_name
from .model import BLENDS, SCHEMA, CutList, Group, Item, Piece, Sheet
from .tree import is_leaf, members, walk
from .validation import check

__all__ = [
    "LARGEST",
    "UPGRADES",
    "Damaged",
    "as_json",
    "dump",
    "check_size",
    "load",
    "of_json",
    "packed",
    "photos_in",
    "read",
    "schema",
    "encoded",
    "unfolded",
]

UPGRADES: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {
    1: lambda document: document,  # 2 only adds kinds of pieces, groups, guides and a grid
    2: lambda document: _mended(document),  # 3 adds what is shown of a transparent photo, and has narrower texts
    3: lambda document: document,  # 4 adds choices of cells, and pieces shared by several outlines
    4: lambda document: document,  # 5 adds silhouettes, and blend modes of photos and groups
    5: lambda document: document,  # 6 adds the ends of borders
    6: lambda document: document,  # 7 adds anchoring in another proportion, and the link to the shelf
    7: lambda document: document,  # 8 adds gradients, and the photos that a frame had before
    8: lambda document: document,  # 9 adds fonts of one's own, and the axes of variable ones
}
"""From a schema version to the function that makes the next one of a decoded document."""


def _mended(part: Any) -> Any:
    """Return a decoded document with valid names and blend modes."""
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
"""The most bytes that a stored sheet may unpack to."""

_FRAME = zstandard.FRAME_HEADER
_encoder = msgspec.msgpack.Encoder(enc_hook=points.stored)
_decoder = msgspec.msgpack.Decoder(Sheet, dec_hook=points.read)
_item_decoder = msgspec.msgpack.Decoder(Item, dec_hook=points.read)
_json_encoder = msgspec.json.Encoder(enc_hook=points.listed)
_json_decoder = msgspec.json.Decoder(Sheet, dec_hook=points.read)
_THIS = msgspec.msgpack.encode("schema") + msgspec.msgpack.encode(SCHEMA)


_loaded: Results[bytes, Sheet] = Results(32)
"""The last sheets read or stored, by their stored form."""


_MOST_SOUND: Final = 20_000
_sound: dict[int, Item] = {}
"""The last items read or stored, by identity: they are valid and need no second check."""


class _Version(msgspec.Struct):
    schema: int = 1


_version = msgspec.json.Decoder(_Version)


class Damaged(ValueError):
    """Data that does not unpack."""


_counted: list[Sheet | None] = [None]


def check_size(sheet: Sheet) -> None:
    """Raise SheetError if a sheet has too many items, or nests them too deep."""
    # a sheet is checked when it is made and again when it is stored
    if _counted[0] is sheet:
        return
    # most contain nothing
    holding = [i for i in sheet.items if not is_leaf(i)]
    items = parts = len(sheet.items) - len(holding)
    deepest = 0
    waiting: list[tuple[Item, int, bool]] = [(i, 1, True) for i in holding]
    while waiting:
        item, depth, on_sheet = waiting.pop()
        parts += 1
        deepest = max(deepest, depth)
        items += on_sheet
        if isinstance(item, Group):
            waiting += [(i, depth + 1, on_sheet) for i in item.items]
            continue
        if isinstance(item, Piece):
            parts += len(item.photos) + len(item.tried)
            if isinstance(item.shape, CutList):
                waiting += [(m, depth + 1, False) for m in members(item.shape)]
    if items > MAX_ITEMS or parts > MAX_PARTS:
        raise SheetError(f"A sheet has room for {MAX_ITEMS:,} items.", "Remove some, or combine them.")
    if deepest > MAX_DEPTH:
        raise SheetError(
            f"That would be {deepest} levels deep; groups and outlines can be {MAX_DEPTH} levels deep.",
            "Ungroup the inner ones, or flatten an inner outline.",
            "ids",
        )
    _counted[0] = sheet


def dump(sheet: Sheet) -> bytes:
    """Return the compressed stored form. Raises SheetError for a sheet that `load` could not read back."""
    try:
        bare = _read_back(replace(sheet, items=()), _decoder)
        # of many items only one or two are new
        items = tuple(i if _sound.get(id(i)) is i else _read_back(i, _item_decoder) for i in sheet.items)
    except (msgspec.MsgspecError, RecursionError, UnicodeError, TypeError) as error:
        raise SheetError(
            "That can’t be saved: a number or a text in it is too large for a sheet.",
            "Use smaller numbers, or do it in another way.",
        ) from error
    check_size(sheet)
    again = replace(bare, items=items)
    data = packed(_encoder.encode(again))
    # the next reader, most likely the next command, need not decode it again
    _loaded.get(data, lambda: _remember(again))
    return data


Part = TypeVar("Part", Sheet, Item)


def _read_back(part: Part, decoder: "msgspec.msgpack.Decoder[Part]") -> Part:
    """Return a part of a sheet as it would be read back. Raises msgspec's errors if it cannot be read, and
    SheetError if it differs."""
    again = decoder.decode(_encoder.encode(part))
    check(again)
    # NaN equals nothing
    if again != part:
        raise SheetError("That can’t be saved as it is.", "Use other numbers or names.")
    return again


def _remember(sheet: Sheet) -> Sheet:
    if len(_sound) > _MOST_SOUND:
        _sound.clear()
    _sound.update(zip(map(id, sheet.items), sheet.items, strict=True))
    return sheet


def encoded(value: Any) -> bytes:
    """Return the encoding of any part of a sheet: equal parts have equal ones."""
    return _encoder.encode(value)


def packed(text: bytes) -> bytes:
    """Return the stored form of a sheet's text."""
    return zstandard.ZstdCompressor(level=1, write_checksum=True).compress(text)


# two patterns that begin with a literal are found far quicker than one with a choice
_JSON_FILE = re.compile(rb'"file":"([0-9a-f]{64})"')
_FILE = re.compile(rb"\xa4file\xd9\x40([0-9a-f]{64})")


def photos_in(text: bytes) -> set[str]:
    """Return the photos' files named anywhere in a sheet's text."""
    return {f.decode() for f in (_JSON_FILE if text.startswith(b"{") else _FILE).findall(text)}


def as_json(sheet: Sheet) -> bytes:
    """Return a sheet as JSON, for a file of its own. Raises SheetError as `dump` does."""
    dump(sheet)
    return _json_encoder.encode(sheet)


def schema() -> dict[str, Any]:
    """Return the JSON Schema (2020-12) of a sheet as JSON."""
    described = msgspec.json.schema(Sheet, schema_hook=points.described)
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **described}


def unfolded(data: bytes) -> bytes:
    """Return the text of a stored sheet: MessagePack, or the JSON of earlier versions. Raises Damaged."""
    try:
        if data.startswith(_FRAME):
            if not 0 <= zstandard.frame_content_size(data) <= LARGEST:
                raise Damaged("larger than a sheet can be")
            return zstandard.ZstdDecompressor(max_window_size=1 << 28).decompress(data)
        stream = zlib.decompressobj()
        text = stream.decompress(data, LARGEST)
    except (zlib.error, zstandard.ZstdError) as error:
        raise Damaged(str(error)) from error
    if stream.unconsumed_tail or not stream.eof:
        raise Damaged("cut short, or larger than a sheet can be")
    return text


def _upgraded(document: dict[str, Any], version: int) -> Sheet:
    if version > SCHEMA:
        raise SheetError(f"This project was saved by a newer Gouge (schema {version}).", "Update Gouge to open it.")
    while version < SCHEMA:
        document = UPGRADES[version](document)
        version += 1
    document["schema"] = SCHEMA
    sheet = msgspec.convert(document, Sheet, dec_hook=points.read)
    check(sheet)
    return sheet


def _of_json(text: bytes) -> Sheet:
    version = _version.decode(text).schema
    if version != SCHEMA:
        return _upgraded(msgspec.json.decode(text), version)
    sheet = _json_decoder.decode(text)
    check(sheet)
    return sheet


def _of_msgpack(text: bytes) -> Sheet:
    # the version comes last, so it is read only if needed
    if text.endswith(_THIS):
        return _decoder.decode(text)
    document = msgspec.msgpack.decode(text)
    return _upgraded(document, document["schema"])


def _readably(read: Callable[[bytes], Sheet], data: bytes) -> Sheet:
    try:
        return read(data)
    except (Damaged, msgspec.MsgspecError, RecursionError, LookupError, TypeError, AttributeError) as error:
        raise SheetError("This revision cannot be read.", "Open one that came before it.") from error


def _numbered(sheet: Sheet) -> Sheet:
    """Return a foreign sheet whose new ids will be unique. Raises SheetError if two things share an id."""
    seen: set[str] = set()
    for item in (i for top in sheet.items for i, _ in walk(top)):
        if item.id in seen:
            raise SheetError(f"Two things in that file have the id {item.id}.", "Give one of them another id.")
        seen.add(item.id)
    first = max((int(i[1:]) for i in seen), default=0) + 1
    return replace(sheet, next_id=first) if sheet.next_id < first else sheet


def of_json(text: bytes) -> Sheet:
    """Return the sheet of a file's JSON, upgrading older schemas. Raises SheetError for anything else."""
    try:
        sheet = _of_json(text)
    except (Damaged, msgspec.MsgspecError, RecursionError, LookupError, TypeError, AttributeError) as error:
        why = str(error) if isinstance(error, msgspec.ValidationError) else "it is no sheet"
        raise SheetError(
            f"The sheet in that file can’t be read: {clean_name(why)[:120]}.", "Choose a file saved by Gouge."
        ) from error
    return _numbered(sheet)


def _of_data(data: bytes) -> Sheet:
    text = unfolded(data)
    return _of_json(text) if text.startswith(b"{") else _of_msgpack(text)


def read(data: bytes) -> Sheet:
    """Return the sheet that `dump` stored, decoded now. Raises SheetError as `load` does."""
    return _readably(_of_data, data)


def load(data: bytes) -> Sheet:
    """Return the sheet that `dump` stored, upgrading older schemas. Raises SheetError for anything else.

    Equal data gives the same object, so that cached results for it still apply.
    """
    return _loaded.get(data, lambda: _remember(read(data)))
