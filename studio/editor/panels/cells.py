"""The cells of the selected pieces, as data for the page."""

import json

from outline import OutlineError
from sheet import Sheet, SheetError
from sheet.commands.cut.cells import choice_in, faces_of
from sheet.document.gradients import flat
from sheet.document.model import Item
from sheet.document.tree import remembered
from studio.editor.view_state import ViewState

__all__ = ["html"]


def html(sheet: Sheet, view: ViewState, items: list[Item]) -> str:
    """Return JSON: each cell with its path and paint; or why there are none."""
    found = remembered(sheet)
    try:
        cells = faces_of(sheet, [i.id for i in items if found[i.id][1] is None])
    except (SheetError, OutlineError) as error:
        return json.dumps({"ids": view.chosen, "why": str(error), "cells": []})
    rows = [{"d": f.path.to_svg(3), "fill": (flat(f.paint.fill) or "none") if f.paint else ""} for f in cells]
    one = choice_in(items)
    # the fill of the edited outline: cells joined to it look like it
    fill = (flat(one.paint.fill) or "none") if one else ""
    return json.dumps({"ids": view.chosen, "why": "", "cells": rows, "fill": fill})
