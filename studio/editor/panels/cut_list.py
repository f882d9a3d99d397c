"""The cut list of the selected outline, or of the one being edited inside."""

from typing import Any

import numpy as np
from django.template.loader import render_to_string
from msgspec.structs import replace

import outline
from picture import outline_thumb
from sheet import CutList, Piece, Sheet
from sheet.document.gradients import flat
from sheet.document.model import OPERATIONS, Item
from sheet.document.tree import members, present
from sheet.geometry import geometry, linked
from sheet.geometry.cells import found
from sheet.reading.lengths import show_length
from studio.editor.view_state import ViewState

__all__ = ["html"]

SIZE = (44, 34)


def _thumb(path: outline.Path, item: Piece) -> str:
    return outline_thumb([(path, "t-shape", flat(item.paint.fill) or "none")], *SIZE)


def _steps(item: Piece, cuts: CutList) -> tuple[list[dict[str, Any]], outline.Path]:
    """Return a row for each step with the outline at that point, and the outline after the last."""
    path = geometry.outline_of(cuts.base)
    base = {"word": "starts as", "name": cuts.base.name, "id": cuts.base.id, "thumb": _thumb(path, item), "on": True}
    rows: list[dict[str, Any]] = [base]
    if cuts.choice is not None and not cuts.choice.without:
        base["word"] = ""
    for step in cuts.steps:
        row = {"word": step.operation, "name": step.member.name, "id": step.member.id, "on": step.on}
        if cuts.choice is not None:
            # with a choice of cells every piece only divides
            rows.append({**row, "word": "", "thumb": _thumb(geometry.outline_of(step.member), item)})
            continue
        if step.on:
            path = geometry.cut(path, step.operation, geometry.outline_of(step.member))
        rows.append({**row, "thumb": _thumb(path, item)})
    return rows, geometry.outline_of(replace(item, shape=replace(cuts, finishes=()))) if cuts.choice else path


def _cells(item: Piece, cuts: CutList) -> list[dict[str, Any]]:
    """Return a row for each chosen cell: where it is, in words and as a picture; none for cells that are gone."""
    if cuts.choice is None:
        return []
    m, numbers = geometry.cell_map(cuts)
    pieces = members(cuts)
    rows = []
    for k, (cell, faces) in enumerate(zip(cuts.choice.cells, found(m, numbers, cuts.choice.cells), strict=True)):
        if cell.chosen:
            rows.append({"number": k, "words": _where([pieces[n].name for n in cell.inside]), "thumb": ""})
            if faces:
                chosen = np.zeros(len(m.in_path(0)), np.bool_)
                chosen[faces] = True
                rows[-1]["thumb"] = _thumb(m.region(chosen), item)
    return rows


def _where(names: list[str]) -> str:
    """Return where a cell is, in words.

    >>> _where(["Ring", "Bar", "Star"])
    'in Ring, Bar and Star'
    """
    if not names:
        return "between the pieces"
    return f"in {_listed(names)}" if len(names) > 1 else f"in {names[0]} alone"


def _listed(names: list[str]) -> str:
    return " and ".join(filter(None, (", ".join(names[:-1]), *names[-1:])))


def _finishes(sheet: Sheet, item: Piece, cuts: CutList, path: outline.Path) -> list[dict[str, Any]]:
    rows = []
    for step in cuts.finishes:
        path = geometry.finish(path, step)
        value = show_length(step.value, sheet.unit, sheet.resolution)
        rows.append({"kind": step.kind, "value": value, "on": step.on, "thumb": _thumb(path, item)})
    return rows


def html(sheet: Sheet, view: ViewState, items: list[Item]) -> str:
    """Return the list with the actions of every step."""
    shown = items if len(items) == 1 else []
    for item in (*shown, *present(sheet, [view.inside])):
        if isinstance(item, Piece) and isinstance(item.shape, CutList):
            steps, path = _steps(item, item.shape)
            context = {
                "item": item,
                "steps": steps,
                "finishes": _finishes(sheet, item, item.shape, path),
                "choice": item.shape.choice,
                "cells": _cells(item, item.shape),
                "others": _listed(linked.others(sheet, item)),
                "operations": OPERATIONS,
                "chosen_ids": view.chosen,
            }
            return render_to_string("panels/cut_list.html", context)
    return ""
