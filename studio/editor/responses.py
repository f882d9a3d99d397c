"""The answers for a page: pure functions of sheets, which can run in any process.

`made` runs a command; `shown` draws the difference between two sheets; `whole` draws all.
What cannot be drawn raises SheetError here, before anything is stored.
"""

from typing import Any

import msgspec
from msgspec.structs import replace

import sheet as sheets
from picture import fragment, moved_by
from sheet import Command, Photo, Sheet, refusals
from sheet.commands.arrange.copying import aside
from sheet.document.errors import Offer
from sheet.document.store import photos_in, unfolded
from sheet.document.tree import photos_of
from sheet.inspect.snapping import modules
from sheet.reading.lengths import px_per
from studio.history.deltas import step

from . import panels
from .view_state import ViewState

__all__ = ["Made", "asked", "made", "shown", "whole"]


class Made(msgspec.Struct, frozen=True):
    """The result of a command: the new sheet in stored form, its label, and the answer for the page.

    `files` are the photos that are new on it.
    """

    data: bytes
    step: bytes
    files: tuple[str, ...]
    label: str
    answer: dict[str, Any]


def href(photo: Photo) -> str:
    """Return the address of a photo's picture for the screen."""
    return f"/photos/{photo.file}/preview"


def surface(sheet: Sheet) -> dict[str, Any]:
    """Return the data about the surface for the page."""
    return {
        "width": sheet.width,
        "height": sheet.height,
        "unit": sheet.unit,
        "perUnit": px_per(sheet.unit, sheet.resolution),
        "resolution": sheet.resolution,
        "backdrop": sheet.backdrop,
        "guides": [[g.axis, g.at] for g in sheet.guides],
        "guidesLocked": sheet.guides_locked,
        "grid": sheet.grid.kind,
        "step": sheet.grid.step,
        "round": sheet.round_to,
        "aside": aside(sheet),
        "modules": modules(sheet) if sheet.grid.kind == "modules" else [],
    }


def _state(sheet: Sheet) -> dict[str, Any]:
    return {"order": [i.id for i in sheet.items], "surface": surface(sheet)}


@refusals()
def whole(sheet: Sheet, view: ViewState) -> dict[str, Any]:
    """Return everything the page shows of a sheet."""
    return {
        **_state(sheet),
        "swap": {i.id: fragment(i, href) for i in sheet.items},
        "panels": panels.render(sheet, view),
    }


MANY = 200
"""Items that are not selected for having changed, and are not drawn anew for having moved."""


def _redrawn(before: Sheet, after: Sheet) -> tuple[list[str], dict[str, str], list[Any]]:
    """Return the ids of what changed, and how the page shows that: fragments by id, and if there are many, those
    that only moved as (dx, dy, ids)."""
    old = {i.id: i for i in before.items}
    # a command keeps the identity of what it did not change
    changed = [i for i in after.items if old.get(i.id) is not i and old.get(i.id) != i]
    moved: dict[tuple[float, float], list[str]] = {}
    if len(changed) > MANY:
        for item in changed:
            by = moved_by(old.get(item.id), item)
            if by is not None:
                moved.setdefault(by, []).append(item.id)
    shifted = {i for ids in moved.values() for i in ids}
    swap = {i.id: fragment(i, href) for i in changed if i.id not in shifted}
    return [i.id for i in changed], swap, [(*by, ids) for by, ids in moved.items()]


@refusals()
def shown(
    before: Sheet,
    after: Sheet,
    view: ViewState,
    chosen: tuple[str, ...] = (),
    *,
    note: str = "",
    offer: Offer | None = None,
    touched: bool = False,
) -> dict[str, Any]:
    """Return the changes between two sheets, and the panels for the selection: with `touched`, of what changed."""
    changed, swap, moved = _redrawn(before, after)
    if touched:
        # undo and redo select what the step touched; nothing if that is too much to see
        chosen = tuple(changed) if len(changed) <= MANY else ()
        view = replace(view, chosen=list(chosen), inside="")
    view = replace(view, chosen=list(chosen) or view.chosen)
    return {
        **_state(after),
        "swap": swap,
        "moved": moved,
        "chosen": view.chosen,
        "note": note,
        "offer": offer,
        "panels": panels.render(after, view, before),
    }


def made(data: bytes, command: Command, view: ViewState) -> Made:
    """Return the result of a command on a stored sheet. Raises SheetError."""
    before = sheets.load(data)
    outcome = sheets.perform(before, command)
    stored = sheets.dump(outcome.sheet)
    answer = shown(before, outcome.sheet, view, outcome.chosen, note=outcome.note, offer=outcome.offer)
    old, new = unfolded(data), unfolded(stored)
    files = photos_in(new) - photos_in(old)
    if photos_in(new):
        # a photo that a frame only remembered is used again when it shows
        files |= {p.file for p in photos_of(outcome.sheet.items)} - {p.file for p in photos_of(before.items)}
    return Made(stored, step(old, new), tuple(sorted(files)), outcome.label[:200], answer)


@refusals()
def asked(data: bytes, view: ViewState) -> dict[str, str]:
    """Return the panels for a view of a stored sheet, without the stack, which does not depend on it."""
    return panels.render(sheets.load(data), view, stack=False)
