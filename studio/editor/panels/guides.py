"""Guides and grid."""

from django.template.loader import render_to_string

from sheet import Sheet
from sheet.caching import cached
from sheet.document.model import Grid, Guide, Item
from sheet.reading.lengths import show_length
from studio.editor.view_state import ViewState

__all__ = ["html"]


def html(sheet: Sheet, view: ViewState, items: list[Item]) -> str:
    """Return the fields of every guide, and of the grid; at the Draw station only."""
    if view.station != "draw":
        return ""
    return _html(sheet.grid, sheet.guides, sheet.guides_locked, sheet.unit, sheet.resolution)


@cached(entries=64)
def _html(grid: Grid, guides: tuple[Guide, ...], locked: bool, unit: str, resolution: float) -> str:
    fields = {"none": (), "plain": ("step",), "modules": ("width", "height", "gap", "margin")}[grid.kind]
    context = {
        "guides": [
            {"number": k, "axis": g.axis, "at": show_length(g.at, unit, resolution)} for k, g in enumerate(guides)
        ],
        "locked": locked,
        "grid": grid,
        "fields": [(f, show_length(getattr(grid, f), unit, resolution)) for f in fields],
    }
    return render_to_string("panels/guides.html", context)
