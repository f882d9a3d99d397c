"""The tools: one tile for each kind of piece, and the settings of each."""

from typing import Any

from django.template.loader import render_to_string

import outline
from picture import outline_thumb
from sheet import Sheet
from sheet.caching import cached
from sheet.document.kinds import KINDS
from sheet.document.model import OPERATIONS, Item
from sheet.inspect.dimensions import suggested
from studio.editor.view_state import ViewState

__all__ = ["NODE_SIDES", "html", "ready_tiles"]

NODE_SIDES = (
    ("left", "align-start"),
    ("centre", "align-center"),
    ("right", "align-end"),
    ("top", "align-top"),
    ("middle", "align-middle"),
    ("bottom", "align-bottom"),
)


EXACT = (
    ("x", "Left edge", "0"),
    ("y", "Top edge", "0"),
    ("width", "Width", "50%"),
    ("height", "Height", "50%"),
)
"""The numbers of a piece drawn by exact size: fields, labels and defaults."""


def html(sheet: Sheet, view: ViewState, items: list[Item]) -> str:
    """Return the drawer, with sizes that suit the sheet."""
    return _html(sheet.unit, view.fonts, **suggested(sheet))


@cached(entries=64)
def _html(unit: str, own_fonts: tuple[tuple[str, str, str], ...], **sizes: str) -> str:
    context = {
        "unit": unit,
        "own_fonts": own_fonts,
        **sizes,
        "kinds": [kind for kind in KINDS.values() if kind.tool is not None],
        "exact": EXACT,
        "numbered": [kind for kind in KINDS.values() if kind.start is not None],
        "categories": list(dict.fromkeys(one.category for one in outline.READY.values())),
        "fonts": outline.FONTS.values(),
        "edges": outline.EDGES,
        "node_sides": NODE_SIDES,
        "operations": OPERATIONS,
        "first_paints": (("fill", "Fill"), ("stroke", "Border")),
    }
    return render_to_string("panels/draw.html", context)


@cached(entries=1)
def ready_tiles() -> str:
    """Return the tiles of the ready outlines: there are many, so the page asks for them only when needed."""
    return render_to_string("studio/ready_tiles.html", {"ready": [_tile(key) for key in outline.READY]})


def _tile(key: str) -> dict[str, Any]:
    """Return a ready outline for its tile: name, thumbnail, and its path and size for drawing it."""
    path = outline.ready(key)
    x0, y0, x1, y1 = path.bounds or (0.0, 0.0, 1.0, 1.0)
    return {
        "key": key,
        "name": outline.READY[key].name,
        "category": outline.READY[key].category,
        "words": f"{outline.READY[key].name} {outline.READY[key].category} {outline.READY[key].words}".lower(),
        "d": path.to_svg(2),
        "w": x1 - x0,
        "h": y1 - y0,
        "thumb": outline_thumb([(path, "t-shape", "#c9bda4")], 56, 44, 2),
    }
