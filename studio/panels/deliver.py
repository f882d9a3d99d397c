"""What goes out, how large, and as what."""

from typing import Any

from django.template.loader import render_to_string

from outline import OutlineError
from picture import FORMATS
from sheet import Sheet, SheetError
from sheet.delivery import delivered, read_resolution
from sheet.model import Item
from sheet.preflight import remarks_on

from ..look import Look

__all__ = ["html"]


def html(sheet: Sheet, look: Look, items: list[Item]) -> str:
    """Return the drawer: each thing that can go out, with its size as the file has it at the px per inch asked."""
    wrong = ""
    try:
        resolution = read_resolution(sheet, look.resolution)
    except SheetError as error:
        wrong, resolution = str(error), sheet.resolution
    tops = {i.id for i in sheet.items}
    choices: list[tuple[str, str, Item | None]] = [("sheet", "The sheet", None)]
    choices += [(i.id, i.name, i) for i in items if i.id in tops]
    targets = []
    for key, name, item in choices:
        row: dict[str, Any] = {"key": key, "name": name}
        try:
            what = delivered(sheet, resolution, item)
            row |= {"width": what.width, "height": what.height, "lengths": what.lengths(sheet)}
        except (SheetError, OutlineError) as error:
            row["why"] = str(error)
        targets.append(row)
    context = {
        "targets": targets,
        "resolution": look.resolution or f"{sheet.resolution:g}",
        "wrong": wrong,
        "unit": sheet.unit,
        "backdrop": sheet.backdrop,
        "formats": FORMATS.values(),
        "remarks": remarks_on(sheet, choices[-1][2]),
    }
    return render_to_string("panels/deliver.html", context)
