"""A picture is a function of a sheet: SVG for the screen and the file, pixels, photos read."""

from .errors import PictureError
from .formats import FORMATS, Format, format_of
from .raster import render
from .screen import fragment
from .thumb import outline_thumb

__all__ = [
    "FORMATS",
    "Format",
    "PictureError",
    "format_of",
    "fragment",
    "outline_thumb",
    "render",
]
