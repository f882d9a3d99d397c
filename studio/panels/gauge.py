"""The numbers of what is chosen."""

import json

from django.template.loader import render_to_string

import outline
from sheet import Piece, Sheet
from sheet.gauge import gauge_of
from sheet.holes import base_of
from sheet.model import Item

from ..look import Look

__all__ = ["html"]

PIVOTS = [
    (f"{x}{y}", f"{row} {column}")
    for y, row in enumerate(("top", "middle", "bottom"))
    for x, column in enumerate(("left", "centre", "right"))
]


def html(sheet: Sheet, look: Look, items: list[Item]) -> str:
    """Return the gauge; empty where nothing is chosen."""
    gauge = gauge_of(sheet, items, look.margins)
    if gauge is None:
        return ""
    context = {
        "gauge": gauge,
        "item": items[0],
        "based": isinstance(items[0], Piece) and base_of(items[0]) is not None,
        "kerns": json.dumps(getattr(getattr(items[0], "shape", None), "kerns", ())),
        "unit": sheet.unit,
        "fonts": outline.FONTS.values(),
        "pivots": PIVOTS,
    }
    return render_to_string("panels/gauge.html", context)
