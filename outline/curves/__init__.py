"""Measuring curves, and making new curves from them."""

from .arclength import Chain
from .fitting import deviation, fit, flattened, simplify
from .lengthen import Interval, band_groups, curves_across, find_bands, free_bands, lengthened, stretched
from .measure import Margins, centroid, distance, inner_point, length, margins, nesting, stroke_bounds
from .offset import JOINS, check_join, largest_radius, offset, round_corners
from .stroke_outline import CAPS, dashed, stroke_outline

__all__ = [
    "length",
    "centroid",
    "distance",
    "Margins",
    "inner_point",
    "margins",
    "nesting",
    "stroke_bounds",
    "Chain",
    "fit",
    "simplify",
    "deviation",
    "flattened",
    "JOINS",
    "check_join",
    "largest_radius",
    "offset",
    "round_corners",
    "CAPS",
    "stroke_outline",
    "dashed",
    "Interval",
    "band_groups",
    "curves_across",
    "find_bands",
    "free_bands",
    "lengthened",
    "stretched",
]
