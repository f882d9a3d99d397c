"""The places that a moved or drawn box may snap to: computed here, picked by the page."""

from typing import Any

from outline.curves import nodes
from sheet.document.model import Item, Sheet
from sheet.geometry import geometry
from sheet.geometry.geometry import Box

__all__ = ["modules", "snaps"]

MAX_NODES = 3000


def modules(sheet: Sheet) -> tuple[list[tuple[float, float]], list[tuple[float, float]]]:
    """Return (start, end) of each column and each row of the module grid, as many as fit in the margins."""
    grid = sheet.grid
    out = []
    for size, whole in ((grid.width, sheet.width), (grid.height, sheet.height)):
        spans: list[tuple[float, float]] = []
        at = grid.margin
        while at + size <= whole - grid.margin + 1e-6 and len(spans) < 500:
            spans.append((at, at + size))
            at += size + grid.gap
        out.append(spans)
    return out[0], out[1]


def snaps(sheet: Sheet) -> dict[str, Any]:
    """Return candidates for snapping, in px.

    * "x" and "y": rows of (position, id of the item it belongs to or "", word), for the
      sheet's edges, centre and margins, guides, grid modules, and every item's edges and centre;
    * "nodes": rows of (x, y, id);
    * "gaps": for each axis rows of (edge, position, gap, ids of the two, range across),
      where a box with its "low" edge, "high" edge or "mid" at the position would leave the
      same gap as the two leave between them, or be in the middle of it.
    """
    x: list[tuple[float, str, str]] = []
    y: list[tuple[float, str, str]] = []
    for out, size in ((x, sheet.width), (y, sheet.height)):
        out += [(0.0, "", "sheet"), (size / 2, "", "sheet centre"), (size, "", "sheet")]
        if sheet.margin > 0:
            out += [(sheet.margin, "", "margin"), (size - sheet.margin, "", "margin")]
    for guide in sheet.guides:
        (x if guide.axis == "x" else y).append((guide.at, "", "guide"))
    if sheet.grid.kind == "modules":
        for out, spans in zip((x, y), modules(sheet), strict=True):
            for a, b in spans:
                out += [(a, "", "module"), (b, "", "module")]
    boxes: list[tuple[str, Box]] = []
    spots: list[tuple[float, float, str]] = []
    for item in sheet.items:
        if item.hidden:
            continue
        box = geometry.box_of(item)
        boxes.append((item.id, box))
        for out, a, b in ((x, box[0], box[2]), (y, box[1], box[3])):
            out += [(a, item.id, "edge"), ((a + b) / 2, item.id, "centre"), (b, item.id, "edge")]
        spots += _nodes_of(item, MAX_NODES - len(spots))
    gaps = {"x": _gaps(boxes, 0), "y": _gaps(boxes, 1)}
    return {"x": x, "y": y, "nodes": spots, "gaps": gaps}


def _nodes_of(item: Item, most: int) -> list[tuple[float, float, str]]:
    out: list[tuple[float, float, str]] = []
    for piece in geometry.pieces_of(item):
        path = geometry.outline_of(piece)
        if path.node_count + len(out) > min(most, 200):
            break
        out += [(*n.at, item.id) for run in nodes.runs(path) for n in run.nodes]
    return out


def _gaps(boxes: list[tuple[str, Box]], k: int) -> list[tuple[str, float, float, list[str], list[float]]]:
    """Return the positions that repeat or halve the gap from each box to its next neighbour along axis `k`."""
    across = 1 - k
    order = sorted(boxes, key=lambda row: row[1][k])
    out: list[tuple[str, float, float, list[str], list[float]]] = []
    for i, (first, a) in enumerate(order):
        for second, b in order[i + 1 : i + 40]:
            if b[k] < a[k + 2] or b[across] >= a[across + 2] or a[across] >= b[across + 2]:
                continue
            gap = b[k] - a[k + 2]
            between = [max(a[across], b[across]), min(a[across + 2], b[across + 2])]
            ids = [first, second]
            if gap > 0:
                out.append(("low", b[k + 2] + gap, gap, ids, between))
                out.append(("high", a[k] - gap, gap, ids, between))
                out.append(("mid", (a[k + 2] + b[k]) / 2, gap, ids, between))
            break
    return out
