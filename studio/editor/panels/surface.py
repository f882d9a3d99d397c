"""The sheet itself: size, unit, resolution, bleed, margin, and the rounding step."""

from typing import Final

from django.template.loader import render_to_string

from sheet import Sheet
from sheet.caching import cached
from sheet.document.model import Item
from sheet.reading.lengths import UNITS, parse_length, show_length
from studio.editor.view_state import ViewState

__all__ = ["html", "rounding"]

STEPS: Final = {
    "px": ("1 px", "10 px"),
    "mm": ("0.1 mm", "0.5 mm", "1 mm"),
    "cm": ("0.01 cm", "0.1 cm"),
    "in": ("1/16 in", "1/8 in"),
    "pt": ("1 pt", "6 pt"),
}


def html(sheet: Sheet, view: ViewState, items: list[Item]) -> str:
    """Return the sheet's own fields; at the Draw station with nothing selected."""
    if view.station != "draw" or items:
        return ""
    sizes = (sheet.width, sheet.height, sheet.bleed, sheet.margin)
    return _html(sizes, sheet.unit, sheet.resolution)


@cached(entries=64)
def _html(sizes: tuple[float, float, float, float], unit: str, resolution: float) -> str:
    width, height, bleed, margin = (show_length(v, unit, resolution) for v in sizes)
    context = {"width": width, "height": height, "bleed": bleed, "margin": margin}
    return render_to_string(
        "panels/surface.html", {**context, "unit": unit, "units": UNITS, "resolution": f"{resolution:g}"}
    )


def rounding(sheet: Sheet, view: ViewState, items: list[Item]) -> str:
    """Return the choices of the rounding step."""
    return _rounding(sheet.round_to, sheet.unit, sheet.resolution)


@cached(entries=64)
def _rounding(now: float, unit: str, resolution: float) -> str:
    steps = {w: parse_length(w, "step", unit=unit, resolution=resolution) for w in STEPS[unit]}
    word = next((w for w, px in steps.items() if abs(px - now) < 1e-9), "off")
    if now and word == "off":
        word = f"{show_length(now, unit, resolution, 4)} {unit}"
    words = list(dict.fromkeys(["off", *steps, word]))
    return render_to_string("panels/rounding.html", {"steps": words, "now": word})
