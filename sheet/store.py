"""The stored form of a sheet: one compressed JSON with its schema version."""

import zlib
from collections.abc import Callable
from typing import Any

import msgspec

from .errors import SheetError
from .model import SCHEMA, Sheet

__all__ = ["dump", "load", "UPGRADES"]

UPGRADES: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {
    1: lambda document: document,  # 2 only adds kinds of pieces, groups, guides and a grid
}
"""From a schema version to the function that makes the next one of a decoded document."""

_encoder = msgspec.json.Encoder()
_decoder = msgspec.json.Decoder(Sheet)


class _Version(msgspec.Struct):
    schema: int = 1


_version = msgspec.json.Decoder(_Version)


def dump(sheet: Sheet) -> bytes:
    """Return the compressed stored form."""
    return zlib.compress(_encoder.encode(sheet), 1)


def load(data: bytes) -> Sheet:
    """Return the sheet that `dump` stored, upgrading older schemas. Raises SheetError for anything else."""
    try:
        text = zlib.decompress(data)
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
    except (zlib.error, msgspec.MsgspecError, KeyError) as error:
        raise SheetError("This revision cannot be read.", "Undo to the one before it.") from error
