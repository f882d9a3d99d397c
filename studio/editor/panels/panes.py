"""Splitting the selection into panes, and changing the split."""

from typing import Any

from sheet import Sheet
from sheet.commands.photo.panes import Split
from sheet.document.model import Group, Item, Panes
from sheet.document.tree import parent_of
from sheet.geometry.panes import ROW, cell_name, pane_size
from sheet.reading.lengths import show_length

__all__ = ["context"]

SHOWN = 16
"""Up to this many rows and columns, each pane has its own button."""


def context(sheet: Sheet, items: list[Item]) -> dict[str, Any]:
    """Return the part about panes for the selection; nothing if it does not apply."""
    if len(items) != 1:
        return {}
    (item,) = items
    parent = parent_of(sheet, item.id)
    for one in (item, parent):
        if isinstance(one, Group) and one.panes is not None:
            return {"panes": _fields(sheet, one, one.panes)}
    splits = Split.refusal(sheet, [item.id]) is None
    return {"splits": item, "split_rows": SPLIT, "unit": sheet.unit} if splits else {}


def _fields(sheet: Sheet, group: Group, cut: Panes) -> dict[str, Any]:
    def length(px: float) -> str:
        return show_length(px, sheet.unit, sheet.resolution)

    width, height = pane_size(cut)
    return {
        "group": group,
        "cut": cut,
        "rows": [
            ("Number", [("columns", "Columns", str(cut.columns)), ("rows", "Rows", str(cut.rows))]),
            (
                "Size",
                [("pane_width", "Pane width", length(width)), ("pane_height", "Pane height", length(height))],
            ),
            ("Gap", [(f"gap_{a}", f"Gap {w}", length(getattr(cut, f"gap_{a}"))) for a, w in AXES]),
            ("Spread", [(f"spread_{a}", f"Spread {w}", length(getattr(cut, f"spread_{a}"))) for a, w in AXES]),
        ],
        "edges": [("margin", "Margin", length(cut.margin)), ("bleed", "Bleed", length(cut.bleed))],
        "unit": sheet.unit,
        "cells": _cells(group, cut) if max(cut.columns, cut.rows) <= SHOWN else [],
    }


AXES = (("x", "across"), ("y", "down"))
SPLIT = (
    ("Number", (("columns", "Columns", "3", ""), ("rows", "Rows", "3", ""))),
    ("Size", (("pane_width", "Pane width", "", "even"), ("pane_height", "Pane height", "", "even"))),
    ("Gap", (("gap_x", "Gap across", "0", ""), ("gap_y", "Gap down", "0", ""))),
)
"""The fields of a new split: field, label, value, and what an empty one means."""


def _cells(group: Group, cut: Panes) -> list[list[dict[str, Any]]]:
    """Return rows of cells: which are left out, and which are joined."""
    there = {i.id for i in group.items}
    shown = {c for i, cells in cut.panes if i in there for c in cells}
    joined = {c: k for k, g in enumerate(cut.joined) for c in g}
    rows = []
    for row in range(cut.rows):
        cells = [row * ROW + column for column in range(cut.columns)]
        rows.append(
            [
                {
                    "cell": c,
                    "name": cell_name(c) + ("" if c in shown else ", left out") + (", joined" if c in joined else ""),
                    "out": c not in shown,
                    "joined": joined.get(c, -1) % 4 if c in joined else None,
                }
                for c in cells
            ]
        )
    return rows
