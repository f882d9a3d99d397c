"""Photos, and how they sit in their outlines."""

from typing import Any

from django.template.loader import render_to_string

from sheet import Photo, Piece, Sheet
from sheet.gauge import px_per_inch
from sheet.model import Group, Item
from sheet.preflight import is_low
from sheet.tree import parent_of

from ..look import Look
from . import panes

__all__ = ["html"]


def _row(sheet: Sheet, photo: Photo) -> dict[str, Any]:
    return {"photo": photo, "resolution": px_per_inch(sheet, photo), "low": is_low(sheet, photo)}


def _counted(rows: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Return the rows with those that say the same as one, with how often it is there."""
    out: dict[tuple, dict[str, Any]] = {}
    for row in rows:
        alike = out.setdefault((row["photo"].file, row["photo"].name, row["resolution"]), {**row, "count": 0})
        alike["count"] += 1
    return list(out.values())


def html(sheet: Sheet, look: Look, items: list[Item]) -> str:
    """Return the drawer for what is chosen."""
    frames: dict[str, Piece] = {}
    for item in [p for i in items for p in (i.items if isinstance(i, Group) and i.panes is not None else (i,))]:
        frame = parent_of(sheet, item.id) if isinstance(item, Photo) else item
        if isinstance(frame, Piece) and frame.photos:
            frames[frame.id] = frame
    context = {
        "frames": list(frames.values()),
        "free": [_row(sheet, p) for p in reversed(sheet.items) if isinstance(p, Photo)],
        "chosen_photos": [i for i in items if isinstance(i, Photo)],
        "chosen_pieces": [i for i in items if isinstance(i, Piece)],
        **panes.context(sheet, items),
        "inside": _counted([_row(sheet, p) for f in frames.values() for p in f.photos]),
    }
    return render_to_string("panels/fit.html", context)
