"""The cut list of the chosen outline, or of the one that is stepped into."""

from typing import Any

from django.template.loader import render_to_string

import outline
from picture import outline_thumb
from sheet import CutList, Piece, Sheet, geometry
from sheet.lengths import show_length
from sheet.model import OPERATIONS, Item
from sheet.tree import present

from ..look import Look

__all__ = ["html"]

SIZE = (44, 34)


def _thumb(path: outline.Path, item: Piece) -> str:
    return outline_thumb([(path, "t-shape", item.paint.fill or "none")], *SIZE)


def _steps(item: Piece, cuts: CutList) -> tuple[list[dict[str, Any]], outline.Path]:
    """Return a row for each step with the outline as it is then, and the outline after the last."""
    path = geometry.outline_of(cuts.base)
    base = {"word": "starts as", "name": cuts.base.name, "id": cuts.base.id, "thumb": _thumb(path, item), "on": True}
    rows: list[dict[str, Any]] = [base]
    for step in cuts.steps:
        if step.on:
            path = geometry.cut(path, step.operation, geometry.outline_of(step.member))
        row = {"word": step.operation, "name": step.member.name, "id": step.member.id, "on": step.on}
        rows.append({**row, "thumb": _thumb(path, item)})
    return rows, path


def _finishes(sheet: Sheet, item: Piece, cuts: CutList, path: outline.Path) -> list[dict[str, Any]]:
    rows = []
    for step in cuts.finishes:
        path = geometry.finish(path, step)
        value = show_length(step.value, sheet.unit, sheet.resolution)
        rows.append({"kind": step.kind, "value": value, "on": step.on, "thumb": _thumb(path, item)})
    return rows


def html(sheet: Sheet, look: Look, items: list[Item]) -> str:
    """Return the list with what can be done with every step."""
    shown = items if len(items) == 1 else []
    for item in (*shown, *present(sheet, [look.inside])):
        if isinstance(item, Piece) and isinstance(item.shape, CutList):
            steps, path = _steps(item, item.shape)
            context = {
                "item": item,
                "steps": steps,
                "finishes": _finishes(sheet, item, item.shape, path),
                "operations": OPERATIONS,
                "chosen_ids": look.chosen,
            }
            return render_to_string("panels/cuts.html", context)
    return ""
