"""The selection and the shelf: adding to it, and updating to newer versions."""

from django.template.loader import render_to_string

from sheet import Photo, Sheet
from sheet.commands.shelving import LinkShelf
from sheet.document.model import Item
from studio.editor.view_state import ViewState

__all__ = ["html"]


def html(sheet: Sheet, view: ViewState, items: list[Item]) -> str:
    """Return the panel; empty if nothing is selected that the shelf could store."""
    if LinkShelf.refusal(sheet, [i.id for i in items]) is not None or not any(i.id == items[0].id for i in sheet.items):
        return ""
    item = items[0]
    assert not isinstance(item, Photo)
    mark = item.shelf_link
    number, name = view.newest.get(f"{mark.item} {mark.variant}", (0, "")) if mark else (0, "")
    context = {"item": item, "mark": mark if number else None, "name": name, "newer": view.newer(item)}
    return render_to_string("panels/shelf_link.html", context)
