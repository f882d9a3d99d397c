"""Basic shapes, repeated edges, lettering and ready outlines."""

from .edges import EDGES, edge_run, runs_of
from .lettering import ALIGNMENTS, Lettered, PlacedGlyph, lettering
from .shapes import ShapeError, boxed, ellipse, polygon, rectangle, star
from .typefaces import FONTS, Font, FontAxis, axes_of, font_name, has_font, own_font, use_fonts

__all__ = [
    "ShapeError",
    "rectangle",
    "ellipse",
    "polygon",
    "star",
    "boxed",
    "EDGES",
    "edge_run",
    "runs_of",
    "FONTS",
    "ALIGNMENTS",
    "FontAxis",
    "Font",
    "axes_of",
    "font_name",
    "has_font",
    "own_font",
    "use_fonts",
    "Lettered",
    "PlacedGlyph",
    "lettering",
]
