"""A file before it is parsed: whether it is an SVG, and whether it is compressed."""

import codecs
import re
import zlib
from typing import Final

from picture.errors import PictureError

__all__ = ["MAX_SVG", "is_svg", "unpacked"]

MAX_SVG: Final = 20_000_000
"""The most bytes of an SVG, uncompressed."""
GZIP: Final = b"\x1f\x8b"
_BEFORE_ROOT: Final = re.compile(
    r"(\s+|<!--.*?(-->|\Z)|<\?.*?(\?>|\Z)|<!doctype\s[^>\[]*(\[.*?\]\s*)?(>|\Z))*", re.DOTALL | re.IGNORECASE
)
_ROOT: Final = re.compile(r"<([\w.-]+:)?svg[\s>/]", re.IGNORECASE)


def is_svg(head: bytes) -> bool:
    """Return whether the beginning of a file (some thousand bytes) looks like an SVG: in UTF-8 or UTF-16, gzipped,
    with a prefix, or after comments longer than the beginning."""
    if head.startswith(GZIP):
        try:
            head = zlib.decompressobj(31).decompress(head, 4000)
        except zlib.error:
            return False
    code = "utf-16" if head.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)) else "utf-8-sig"
    text = head.decode(code, errors="ignore").lstrip()
    if not text.startswith("<"):
        return False
    rest = text[_BEFORE_ROOT.match(text).end() :]  # type: ignore[union-attr]
    return not rest or _ROOT.match(rest) is not None


def unpacked(data: bytes, name: str) -> bytes:
    """Return the bytes of an SVG, uncompressed. Raises PictureError for more than `MAX_SVG`."""
    if data.startswith(GZIP):
        try:
            unpacking = zlib.decompressobj(31)
            data = unpacking.decompress(data, MAX_SVG + 1)
            if not unpacking.eof and len(data) <= MAX_SVG:
                raise zlib.error("it ends too early")
        except zlib.error as error:
            raise PictureError(
                f"“{name}” is packed, and can’t be unpacked: {error}.", "Save it as plain SVG."
            ) from None
    if len(data) > MAX_SVG:
        raise PictureError(f"“{name}” has more than {MAX_SVG / 1e6:.0f} MB.", "Simplify it where it was made.")
    return data
