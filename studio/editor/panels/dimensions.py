"""The numbers of the selection."""

import json

from django.template.loader import render_to_string

import outline
from sheet import Piece, Sheet
from sheet.commands.arrange.refitting import Refit
from sheet.document.model import Item, Lettering
from sheet.geometry.holes import base_of
from sheet.inspect.dimensions import Dimensions, dimensions_of
from studio.editor.view_state import ViewState

__all__ = ["html"]

PIVOTS = [
    (f"{x}{y}", f"{row} {column}")
    for y, row in enumerate(("top", "middle", "bottom"))
    for x, column in enumerate(("left", "centre", "right"))
]
MARGIN_WAYS = (("across", "left, right"), ("down", "top, bottom"), ("all", "all four"))
"""The margins of a hole that "even" makes equal."""


def html(sheet: Sheet, view: ViewState, items: list[Item]) -> str:
    """Return the dimensions; empty if nothing is selected."""
    dimensions = dimensions_of(sheet, items, view.margins)
    if dimensions is None:
        return ""
    context = {
        "dimensions": dimensions,
        "size": _size(dimensions, sheet.unit),
        "item": items[0],
        "based": isinstance(items[0], Piece) and base_of(items[0]) is not None,
        "kerns": json.dumps(getattr(getattr(items[0], "shape", None), "kerns", ())),
        "unit": sheet.unit,
        "fonts": outline.FONTS.values(),
        "own_fonts": _own_fonts(items[0], view),
        "axes": _axes(items),
        "pivots": PIVOTS,
        "margin_ways": MARGIN_WAYS,
        "refits": Refit.refusal(sheet, [i.id for i in items]) is None,
    }
    return render_to_string("panels/dimensions.html", context)


def _size(dimensions: Dimensions, unit: str) -> str:
    """Return width and height in one line, for the folded panel."""
    sides = [n.value for n in dimensions.numbers if n.field in ("width", "height")]
    return f"{' × '.join(sides)} {unit}" if len(sides) == 2 else ""


def _own_fonts(item: Item, view: ViewState) -> tuple[tuple[str, str, str], ...]:
    """Return the person's fonts, with the font of a lettering first if it is not among them."""
    shape = getattr(item, "shape", None)
    if not isinstance(shape, Lettering) or shape.font in outline.FONTS or any(shape.font == f for f, *_ in view.fonts):
        return view.fonts
    kind = "off your lists" if outline.has_font(shape.font) else "not here"
    return ((shape.font, outline.font_name(shape.font), kind), *view.fonts)


def _axes(items: list[Item]) -> list[dict[str, str]]:
    """Return the axes of the letterings' variable font: tag, name, value and limits."""
    shape = getattr(items[0], "shape", None)
    if not isinstance(shape, Lettering):
        return []
    at = dict(shape.axes)
    return [
        {"tag": a.tag, "name": a.name, "value": f"{at.get(a.tag, a.usual):g}", "limits": f"{a.low:g} to {a.high:g}"}
        for a in outline.axes_of(shape.font)
    ]
