"""A shelved outline as landscape, square and portrait."""

from typing import Final

from outline import OutlineError
from sheet.document.errors import SheetError
from sheet.document.model import Item

from . import geometry
from .refit import refitted

__all__ = ["proportion_of", "variant_of", "variant_size"]

LONGER: Final = 1.5
"""The proportion of a landscape, unless given: common practice for photos."""


def proportion_of(width: float, height: float) -> str:
    """Return the name of a proportion: landscape, square or portrait."""
    ratio = width / height
    return "square" if 0.95 < ratio < 1.05 else "landscape" if ratio > 1 else "portrait"


def variant_size(width: float, height: float, variant: str) -> tuple[float, float]:
    """Return the size of a variant: the shorter side stays, the longer one is the source's if it has one."""
    short, long = min(width, height), max(width, height)
    long = long if long / short > 1.05 else short * LONGER
    return {"landscape": (long, short), "square": (short, short), "portrait": (short, long)}[variant]


LARGER: Final = (1.0, 1.15, 1.3, 1.5, 1.75, 2.0)
"""How much larger than usual a variant may be, if what keeps its form does not fit."""


def variant_of(item: Item, variant: str) -> Item:
    """Return an item as landscape, square or portrait: with its shapes and holes, in a box of that proportion.

    Raises SheetError if none up to twice the usual size works.
    """
    x0, y0, x1, y1 = geometry.box_of(item)
    wide, high = variant_size(x1 - x0, y1 - y0, variant)
    first = None
    for factor in LARGER:
        try:
            return refitted(item, wide * factor, high * factor)
        except (SheetError, OutlineError) as error:
            first = first or error
    assert first is not None
    raise first
