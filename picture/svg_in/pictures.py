"""Pictures in an SVG: only those embedded in the file."""

import base64
import binascii
import io
import re
from typing import Final

from PIL import Image

from outline import Matrix

from .css import length
from .elements import start_of
from .shapes import fitted

__all__ = ["embedded", "laid", "window_of"]

_DATA: Final = re.compile(r"data:image/[\w.+-]+;base64,")


def embedded(address: str) -> tuple[bytes, tuple[int, int]] | str:
    """Return the bytes and the size (px) of the picture at an address, or why it cannot be used."""
    found = _DATA.match(address)
    if not found:
        return "picture outside of the file"
    try:
        data = base64.b64decode(re.sub(r"\s+", "", address[found.end() :]), validate=True)
        with Image.open(io.BytesIO(data), formats=("JPEG", "PNG", "WEBP")) as head:
            return data, head.size
    except (binascii.Error, ValueError, OSError, SyntaxError):
        return "picture that cannot be read"


def _size_in(own: dict[str, str], size: tuple[int, int]) -> tuple[float, float]:
    """Return the size (px) of an element's picture: if only one side is given, the other follows (CSS Images 3)."""
    w, h = (own.get(side, "auto").strip() for side in ("width", "height"))
    if w == "auto" and h == "auto":
        return size[0], size[1]
    if w == "auto":
        down = length(h, 100.0)
        return down * size[0] / size[1], down
    across = length(w, 100.0)
    return across, across * size[1] / size[0] if h == "auto" else length(h, 100.0)


def laid(own: dict[str, str], size: tuple[int, int]) -> Matrix | None:
    """Return the map from a picture's px to its element; None if that has no area (SVG 2, 12.3)."""
    viewport = _size_in(own, size)
    return start_of(own) @ fitted(own.get("preserveAspectRatio", ""), viewport, size) if min(viewport) > 0 else None


def window_of(own: dict[str, str], size: tuple[int, int]) -> Matrix:
    """Return the map from a rectangle of a picture's size to the one that crops it."""
    return start_of(own) @ fitted("none", _size_in(own, size), size)
