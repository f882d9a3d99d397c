"""The output formats, one row each. To add one, write its writer in its own module and name it here."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

from picture.draw.raster import Loader
from picture.mapped_pixels import MAPPED_FROM
from sheet.document.errors import SheetError
from sheet.document.model import Sheet
from sheet.export.order import Order
from sheet.export.sizes import Exported

from .dxf import export_dxf
from .encoding import export_avif, export_jpeg, export_png, export_tiff, export_webp
from .page import export_page
from .pdf import export_pdf, export_pdf_pages
from .svg import export_svg

__all__ = ["FAMILIES", "FORMATS", "Format", "format_of"]


FAMILIES: Final = ("Pictures", "Drawings", "Web")


@dataclass(frozen=True, slots=True)
class Format:
    """A format: its key and file ending, its name, its media type, whether it can be transparent and whether it is a
    vector drawing, its settings, its writer, how many times the raw pixels writing it needs,
    the writer of several as pages of one file and, if large ones are written in parts, from how many bytes of pixels on
    and how many times those that needs."""

    key: str
    name: str
    media: str
    transparent: bool
    drawing: bool
    options: tuple[str, ...]
    write: Callable[[Sheet, Exported, Loader, Order], bytes]
    holds: float
    pages: Callable[[Sheet, list[Exported], Loader, Order], bytes] | None = None
    parts: tuple[int, float] | None = None

    @property
    def family(self) -> str:
        """One of `FAMILIES`."""
        return FAMILIES[2] if self.key == "html" else FAMILIES[int(self.drawing)]

    def writing(self, raw: int, order: Order) -> int:
        """Return about how many bytes writing `raw` bytes of pixels needs besides them."""
        if self.parts is not None and raw > self.parts[0] and not (order.palette and "palette" in self.options):
            return int(raw * self.parts[1])
        return int(raw * (self.holds - 1))

    def filed(self, order: Order) -> tuple[str, str]:
        """Return file ending and media type of an order: with linked photos it is a zip."""
        if self.key == "html" or ("photos" in self.options and order.photos == "linked"):
            return "zip", "application/zip"
        return self.key, self.media


FORMATS: Final = {
    f.key: f
    for f in (
        Format(
            "png",
            "PNG",
            "image/png",
            True,
            False,
            ("palette", "own_profile"),
            export_png,
            2.1,
            parts=(MAPPED_FROM, 0.8),
        ),
        Format(
            "jpg",
            "JPEG",
            "image/jpeg",
            False,
            False,
            ("quality", "full_chroma", "ground", "own_profile"),
            export_jpeg,
            2.1,
            parts=(MAPPED_FROM, 0.25),
        ),
        Format(
            "webp",
            "WebP",
            "image/webp",
            True,
            False,
            ("quality", "lossless", "own_profile"),
            export_webp,
            9.5,
        ),
        Format(
            "avif",
            "AVIF",
            "image/avif",
            True,
            False,
            ("quality", "effort", "full_chroma", "own_profile"),
            export_avif,
            11.0,
        ),
        Format(
            "tif",
            "TIFF",
            "image/tiff",
            True,
            False,
            ("packing", "own_profile"),
            export_tiff,
            2.9,
            parts=(MAPPED_FROM, 1.0),
        ),
        Format(
            "pdf",
            "PDF",
            "application/pdf",
            True,
            True,
            ("marks", "cut", "standard", "author"),
            export_pdf,
            2.0,
            export_pdf_pages,
        ),
        Format("svg", "SVG", "image/svg+xml", True, True, ("photos", "cut"), export_svg, 2.0),
        Format("html", "Page", "text/html", True, True, ("quality", "effort", "alt"), export_page, 44.0),
        Format("dxf", "DXF", "image/vnd.dxf", True, True, ("curves",), export_dxf, 2.0),
    )
}


def format_of(key: str) -> Format:
    """Return the format with that key. Raises SheetError if there is none."""
    if key not in FORMATS:
        raise SheetError(f"“{key[:20]}” is not a format that there is.", f"Use {', '.join(FORMATS)}.", "format")
    return FORMATS[key]
