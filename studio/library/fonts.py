"""A person's own fonts: stored with the account, identified by content, sent with a project's file on request."""

import re
from typing import Any, Final

import outline
from picture.fonts import read_font
from sheet import Sheet
from sheet.caching import clear
from sheet.document.limits import clean_name
from sheet.document.store import as_json, of_json
from studio.models import OwnFile

from . import own_files

__all__ = ["add", "claimed", "find", "fonts_in", "listed", "named_in"]

_NAMED: Final = re.compile(rb'"font":"own:([0-9a-f]{32}):')
_NOBODYS: Final = "0" * 32


def find(digest: str) -> bytes | None:
    """Return the font whose file has these digits, None if there is none."""
    return own_files.find(OwnFile.FONT, digest)


def listed(owner: Any) -> tuple[tuple[str, str, str], ...]:
    """Return a person's fonts: key, name and kind."""
    rows = own_files.listed(owner, OwnFile.FONT)
    return tuple((outline.own_font(row.digest, row.name), row.name, row.kind) for row in rows)


def add(owner: Any, data: bytes, file_name: str) -> OwnFile:
    """Import a font, or find it. Raises PictureError if it is not one, SheetError for too many or no room."""
    font = read_font(data, clean_name(file_name, 200) or "the font")
    names = (font.name, file_name.rsplit(".", 1)[0])
    row = own_files.keep(owner, OwnFile.FONT, font.digest, font.data, names, font.kind)
    # letters drawn in a replacement are drawn again
    clear()
    return row


def named_in(text: bytes) -> set[str]:
    """Return the digits of the person's own fonts that a sheet's JSON names."""
    return {digest.decode() for digest in _NAMED.findall(text)}


def fonts_in(owner: Any, text: bytes) -> dict[str, str]:
    """Return the person's fonts that a sheet's JSON names, digits to names."""
    rows = OwnFile.objects.filter(owner=owner, use=OwnFile.FONT, digest__in=named_in(text))
    return dict(rows.values_list("digest", "name"))


def claimed(owner: Any, sheet: Sheet, came: dict[str, str]) -> Sheet:
    """Return a foreign sheet with its fonts replaced by the person's own: those that came with it by their
    new digits, others that the person has; what is left is a missing font, given by its name."""
    text = as_json(sheet)
    known = fonts_in(owner, text)

    def digits(found: re.Match[bytes]) -> bytes:
        digest = found[1].decode()
        mine = came.get(digest) or (digest if digest in known else _NOBODYS)
        return b'"font":"own:' + mine.encode() + b":"

    changed = _NAMED.sub(digits, text)
    return sheet if changed == text else of_json(changed)
