"""A picture is a function of a sheet: SVG for the screen and the file, pixels, photos read."""

from .errors import PictureError
from .formats import FORMATS, Format, format_of
from .raster import deliver_png, render
from .screen import fragment
from .svg import deliver_svg
from .thumb import outline_thumb

__all__ = [
    "FORMATS",
    "Format",
    "PictureError",
    "deliver_png",
    "deliver_svg",
    "format_of",
    "fragment",
    "outline_thumb",
    "render",
]
