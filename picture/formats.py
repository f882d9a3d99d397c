"""The output formats: one row each. To add one, write its writer in a module of its own and name it here."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

from sheet.delivery import Delivered, Order
from sheet.errors import SheetError
from sheet.model import Sheet

from .encoding import deliver_avif, deliver_jpeg, deliver_png, deliver_tiff, deliver_webp
from .pdf import deliver_pdf, deliver_pdf_pages
from .raster import Loader
from .svg import deliver_svg

__all__ = ["FORMATS", "Format", "format_of"]


@dataclass(frozen=True, slots=True)
class Format:
    """A format: its key and file ending, its name, its media type, whether it stays transparent and whether it is a
    drawing that can be enlarged, what can be set of it, what writes it, how many times the raw pixels writing it holds,
    and what writes several as pages of one."""

    key: str
    name: str
    media: str
    transparent: bool
    drawing: bool
    options: tuple[str, ...]
    write: Callable[[Sheet, Delivered, Loader, Order], bytes]
    holds: float
    pages: Callable[[Sheet, list[Delivered], Loader, Order], bytes] | None = None

    def filed(self, order: Order) -> tuple[str, str]:
        """Return file ending and media type of what is ordered: linked photos lie beside it in a zip."""
        if "photos" in self.options and order.photos == "linked":
            return "zip", "application/zip"
        return self.key, self.media


FORMATS: Final = {
    f.key: f
    for f in (
        Format("png", "PNG", "image/png", True, False, ("palette", "own_profile"), deliver_png, 2.1),
        Format(
            "jpg",
            "JPEG",
            "image/jpeg",
            False,
            False,
            ("quality", "full_chroma", "ground", "own_profile"),
            deliver_jpeg,
            2.1,
        ),
        Format("webp", "WebP", "image/webp", True, False, ("quality", "lossless", "own_profile"), deliver_webp, 9.5),
        Format("avif", "AVIF", "image/avif", True, False, ("quality", "full_chroma", "own_profile"), deliver_avif, 8.5),
        Format("tif", "TIFF", "image/tiff", True, False, ("own_profile",), deliver_tiff, 2.9),
        Format("pdf", "PDF", "application/pdf", True, True, ("marks",), deliver_pdf, 2.0, deliver_pdf_pages),
        Format("svg", "SVG", "image/svg+xml", True, True, ("photos",), deliver_svg, 2.0),
    )
}


def format_of(key: str) -> Format:
    """Return the format of that key. Raises SheetError where there is none."""
    if key not in FORMATS:
        raise SheetError(f"“{key[:20]}” is not a format that there is.", f"Use {', '.join(FORMATS)}.", "format")
    return FORMATS[key]
