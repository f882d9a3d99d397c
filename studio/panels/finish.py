"""The paint of what is chosen, and the backdrop."""

from django.template.loader import render_to_string

from sheet import Photo, Piece, Sheet
from sheet.lengths import show_length
from sheet.model import BLENDS, INK, Item, Paint

from ..look import Look

__all__ = ["html"]


def html(sheet: Sheet, look: Look, items: list[Item]) -> str:
    """Return the drawer for what is chosen."""
    pieces = [i for i in items if isinstance(i, Piece)]
    one = pieces[-1] if pieces else None
    opacity = one.paint.opacity if one else (items[-1].opacity if items and isinstance(items[-1], Photo) else 1.0)
    context = {
        "piece": one,
        "items": items,
        "opacity": f"{opacity * 100:g}",
        "border": show_length(one.paint.stroke_width if one.paint.stroke else 0.0, sheet.unit, sheet.resolution)
        if one
        else "",
        "unit": sheet.unit,
        "backdrop": sheet.backdrop,
        "blends": BLENDS,
        "paints": [("Fill", "fill", one.paint.fill, Paint().fill), ("Border", "stroke", one.paint.stroke, INK)]
        if one
        else [],
        "first_backdrop": "#f5f0e6",
    }
    return render_to_string("panels/finish.html", context)
