"""The output formats: one row each. To add one, write its writer in a module of its own and name it here."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

from sheet.delivery import Delivered
from sheet.errors import SheetError
from sheet.model import Sheet

from .raster import Loader, deliver_png
from .svg import deliver_svg

__all__ = ["FORMATS", "Format", "format_of"]


@dataclass(frozen=True, slots=True)
class Format:
    """A format: its key and file ending, its name, its media type, whether it stays transparent and whether it is a
    drawing that can be enlarged, the icon of its button, and what writes it."""

    key: str
    name: str
    media: str
    transparent: bool
    drawing: bool
    icon: str
    write: Callable[[Sheet, Delivered, Loader], bytes]


FORMATS: Final = {
    f.key: f
    for f in (
        Format("png", "PNG", "image/png", True, False, "download", deliver_png),
        Format("svg", "SVG", "image/svg+xml", True, True, "filetype-svg", deliver_svg),
    )
}


def format_of(key: str) -> Format:
    """Return the format of that key. Raises SheetError where there is none."""
    if key not in FORMATS:
        raise SheetError(f"“{key[:20]}” is not a format that there is.", f"Use {' or '.join(FORMATS)}.", "format")
    return FORMATS[key]
