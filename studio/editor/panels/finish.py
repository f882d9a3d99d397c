"""The paint of the selection, and the backdrop."""

from collections.abc import Callable
from typing import Any

from django.template.loader import render_to_string
from msgspec.structs import replace

from picture.draw.drawn import painted
from sheet import Piece, Sheet
from sheet.commands.draw.shaping import rounding_of
from sheet.document.gradients import GRADIENTS, Gradient, colours_in
from sheet.document.model import BLENDS, CAPS, INK, JOINS, Item, Paint
from sheet.geometry import geometry, gradients
from sheet.reading.lengths import show_length
from studio.editor.view_state import ViewState

__all__ = ["html"]


MIXED = "mixed"
PLACE_WORDS = (("inside", "inside the outline"), ("centred", "on the outline"), ("outside", "outside the outline"))


def _word(value: str) -> str:
    """Return the label for a value of SVG or CSS: “Colour dodge”, “Mitre”."""
    return value.replace("color", "colour").replace("miter", "mitre").replace("-", " ").capitalize()


SPREAD_WORDS = (("pad", "keep the end colours"), ("reflect", "mirror"), ("repeat", "repeat"))
"""How a gradient continues beyond its ends."""


def _named(fill: Any) -> str:
    """Return a fill as the field shows it."""
    return "gradient" if isinstance(fill, Gradient) else fill or "none"


def _shared(values: list[Any], show: Callable[[Any], str]) -> dict[str, str]:
    """Return a field's text for several items' values: the shared one, or nothing, marked as mixed."""
    texts = {show(v) for v in values}
    return {"value": texts.pop(), "hint": ""} if len(texts) == 1 else {"value": "", "hint": MIXED}


def _gradient(pieces: list[Piece], field: str) -> dict[str, Any] | None:
    """Return the gradient that all pieces have as a fill or border, for the drawer; None if they have none
    in common."""
    found = [getattr(p.paint, field) for p in pieces]
    first = found[0]
    if not isinstance(first, Gradient) or any(
        not isinstance(g, Gradient) or (g.kind, g.stops, g.spread) != (first.kind, first.stops, first.spread)
        for g in found
    ):
        return None
    boxes = [geometry.outline_of(p).bounds or (0.0, 0.0, 1.0, 1.0) for p in pieces]
    places = [gradients.place_of(g, b) for g, b in zip(found, boxes, strict=True)]
    strip = replace(first, kind="linear", spread="pad", matrix=(200.0, 0.0, 0.0, 200.0, 0.0, 0.0))
    address, defined = painted(strip)
    return {
        "kind": first.kind,
        "spread": first.spread,
        "stops": [(k, s.color, f"{100 * s.at:.4g}", f"{100 * s.opacity:.4g}") for k, s in enumerate(first.stops)],
        "angle": _shared([gradients.angle_of(g) for g in found], lambda v: f"{v:.4g}"),
        "places": [
            (word, part, _shared([p[k] for p in places], lambda v: f"{100 * v:.4g}"))
            for k, (word, part) in enumerate((("Across", "x"), ("Down", "y"), ("Size", "size")))
        ],
        "strip": f'{defined}<rect width="200" height="12" fill="{address}"/>',
    }


def _new_swatch(sheet: Sheet, pieces: list[Piece]) -> str:
    """Return the selection's first colour that is not a swatch yet: its fill, else its border, else the backdrop."""
    paint = pieces[-1].paint if pieces else None
    colours = (*colours_in(paint.fill), *colours_in(paint.stroke)) if paint else (sheet.backdrop,)
    return next((c for c in colours if c and c not in sheet.swatches), "")


def html(sheet: Sheet, view: ViewState, items: list[Item]) -> str:
    """Return the drawer for the selection."""
    pieces = [p for i in items for p in geometry.pieces_of(i)]
    context: dict[str, Any] = {
        "items": items,
        "pieces": pieces,
        "unit": sheet.unit,
        "backdrop": sheet.backdrop,
        "first_backdrop": "#f5f0e6",
        "blends": [(b, _word(b)) for b in BLENDS],
        "joins": [(j, _word(j)) for j in JOINS],
        "caps": [(c, _word(c)) for c in CAPS],
        "swatches": sheet.swatches,
        "keepable": _new_swatch(sheet, pieces),
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
                (word, field, _shared([getattr(p, field) for p in paints], _named), first, _gradient(pieces, field))
                for word, field, first in colours
            ],
            "kinds": GRADIENTS,
            "spreads": SPREAD_WORDS,
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
