"""A picture is a function of a sheet: SVG for the screen and for files, pixels, and photos read for them."""

from .draw.raster import render
from .draw.screen import fragment, moved_by
from .draw.thumb import outline_thumb
from .errors import PictureError
from .write.formats import FORMATS, Format, format_of

__all__ = [
    "FORMATS",
    "Format",
    "PictureError",
    "format_of",
    "fragment",
    "moved_by",
    "outline_thumb",
    "render",
]
