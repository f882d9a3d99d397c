"""The nodes of the selected piece, as data for the page."""

import json

import outline
from sheet import Sheet, SheetError
from sheet.commands.draw.nodes import noded
from sheet.document.model import Item
from studio.editor.view_state import ViewState

__all__ = ["html"]

MAX_LISTED = 3000


def html(sheet: Sheet, view: ViewState, items: list[Item]) -> str:
    """Return JSON: positions, handles and kinds of the nodes, or why they cannot be edited."""
    if len(items) != 1:
        return json.dumps({"id": "", "why": "Select one piece to edit its nodes.", "nodes": []})
    item = items[0]
    try:
        _, path = noded(sheet, item.id)
    except SheetError as error:
        return json.dumps({"id": item.id, "why": str(error), "nodes": []})
    if path.node_count > MAX_LISTED:
        why = f"“{item.name}” has {path.node_count} nodes; simplify it first."
        return json.dumps({"id": item.id, "why": why, "nodes": []})
    rows = []
    for run in outline.nodes.runs(path):
        last = len(run.nodes) - 1
        for k, node in enumerate(run.nodes):
            end = not run.closed and k in (0, last)
            rows.append({"at": node.at, "before": node.before, "after": node.after, "kind": node.kind, "end": end})
    return json.dumps({"id": item.id, "why": "", "nodes": rows})
