"""The paint of what is selected, and the backdrop."""

from collections.abc import Callable
from typing import Any

from django.template.loader import render_to_string

from sheet import Piece, Sheet
from sheet.commands.draw.shaping import rounding_of
from sheet.document.model import BLENDS, CAPS, INK, JOINS, Item, Paint
from sheet.geometry import geometry
from sheet.reading.lengths import show_length
from studio.editor.view_state import ViewState

__all__ = ["html"]


MIXED = "mixed"
PLACE_WORDS = (("inside", "inside the outline"), ("centred", "on the outline"), ("outside", "outside of the outline"))


def _shared(values: list[Any], show: Callable[[Any], str]) -> dict[str, str]:
    """Return what a field shows of several items' values: the one they share, or nothing and that they are mixed."""
    texts = {show(v) for v in values}
    return {"value": texts.pop(), "hint": ""} if len(texts) == 1 else {"value": "", "hint": MIXED}


def _keepable(sheet: Sheet, pieces: list[Piece]) -> str:
    """Return the colour of what is selected that is not kept yet: its fill, else its border, else the backdrop."""
    paint = pieces[-1].paint if pieces else None
    colours = (paint.fill, paint.stroke) if paint else (sheet.backdrop,)
    return next((c for c in colours if c and c not in sheet.swatches), "")


def html(sheet: Sheet, view: ViewState, items: list[Item]) -> str:
    """Return the drawer for what is selected."""
    pieces = [p for i in items for p in geometry.pieces_of(i)]
    context: dict[str, Any] = {
        "items": items,
        "pieces": pieces,
        "unit": sheet.unit,
        "backdrop": sheet.backdrop,
        "first_backdrop": "#f5f0e6",
        "blends": BLENDS,
        "joins": JOINS,
        "caps": CAPS,
        "swatches": sheet.swatches,
        "keepable": _keepable(sheet, pieces),
    }
    if items:
        wholes = [i.paint if isinstance(i, Piece) else i for i in items]
        context["opacity"] = _shared([w.opacity for w in wholes], lambda v: f"{v * 100:g}")
        context["blend"] = _shared([w.blend for w in wholes], str)["value"]
    if pieces:
        paints = [p.paint for p in pieces]

        def length(px: float) -> str:
            return show_length(px, sheet.unit, sheet.resolution)

        colours = (("Fill", "fill", Paint().fill), ("Border", "stroke", INK))
        place = _shared([p.place for p in paints], str)["value"]
        context |= {
            "paints": [
                (word, field, _shared([getattr(p, field) for p in paints], lambda v: v or "none"), first)
                for word, field, first in colours
            ],
            "border": _shared([p.stroke_width if p.stroke else 0.0 for p in paints], length),
            "rounding": _shared([rounding_of(p) for p in pieces], length),
            "dashes": _shared([p.dashes for p in paints], lambda v: " ".join(length(d) for d in v) or "none"),
            "join": _shared([p.join for p in paints], str)["value"],
            "cap": _shared([p.cap for p in paints], str)["value"],
            "open": any(p.dashes for p in paints) or any(not geometry.outline_of(p).is_closed for p in pieces),
            "bordered": any(p.stroke for p in paints),
            "places": [(key, words, key == place) for key, words in PLACE_WORDS],
        }
    return render_to_string("panels/finish.html", context)
