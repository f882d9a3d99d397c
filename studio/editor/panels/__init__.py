"""The panels beside the sheet: each a module with its template next to it.

A panel's module has `html(sheet, look, items)`, which returns its HTML for the
selection, empty to show nothing. To add one, write the two files and name it below.
"""

import re
from collections.abc import Callable
from typing import Final

from sheet import Sheet
from sheet.document.model import Item
from sheet.document.tree import present
from studio.editor.view_state import ViewState

from . import cells, cut, cut_list, dimensions, draw, export, finish, fit, guides, nodes, shelf_link, surface
from . import stack as _stack

__all__ = ["DRAWERS", "SIDE", "render"]

Html = Callable[[Sheet, ViewState, list[Item]], str]

_BETWEEN: Final = re.compile(r">\s+<")

DRAWERS: Final[dict[str, Html]] = {
    "draw": draw.html,
    "cut": cut.html,
    "fit": fit.html,
    "finish": finish.html,
    "export": export.html,
}
"""The drawer of each station."""

SIDE: Final[dict[str, Html]] = {
    "cuts": cut_list.html,
    "dimensions": dimensions.html,
    "shelf_link": shelf_link.html,
    "surface_panel": surface.html,
    "ruling": guides.html,
    "rounding": surface.rounding,
}
"""The other panels of the side, without the stack, in the order of the screen."""


def lean(text: str) -> str:
    """Return HTML without the indentation between its tags."""
    return _BETWEEN.sub("> <", text)


def render(sheet: Sheet, view: ViewState, before: Sheet | None = None, stack: bool = True) -> dict[str, str]:
    """Return the HTML of each panel that must be updated, by its place on the page.

    After a command, `before` is the sheet it ran on: panels that did not change are left out.
    """
    items = present(sheet, view.chosen)
    out = {}
    if stack and (before is None or _stack.differs(before, sheet)):
        out["stack"] = _stack.html(sheet, view, items)
    out |= {name: html(sheet, view, items) for name, html in SIDE.items()}
    # the Draw drawer has what a person typed for the next piece, and stays as it is
    if view.station != "draw" or before is None:
        out["drawer"] = DRAWERS[view.station](sheet, view, items)
    if view.cells:
        out["cells"] = cells.html(sheet, view, items)
    if view.nodes:
        out["nodes"] = nodes.html(sheet, view, items)
    return {name: lean(text) for name, text in out.items()}
