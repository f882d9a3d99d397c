"""A picture is a function of a sheet: SVG for the screen and the file, pixels, photos read."""

from .errors import PictureError
from .raster import deliver_png, render
from .svg import deliver_svg, fragment
from .visible import delivered_box, visible_box

__all__ = ["PictureError", "deliver_png", "deliver_svg", "delivered_box", "fragment", "render", "visible_box"]
