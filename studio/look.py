"""What a page shows besides the sheet: the panels for what is chosen, as HTML."""

import json
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from django.http import HttpRequest
from django.template.loader import render_to_string
from msgspec.structs import replace

import outline
from outline import OutlineError, Path
from picture.errors import PictureError
from picture.raster import pixel_size
from picture.svg import outline_thumb
from picture.visible import delivered_box
from sheet import CutList, Photo, Piece, Sheet, SheetError, geometry
from sheet.cards import cards
from sheet.commands.base import as_piece
from sheet.commands.cells import faces_of
from sheet.commands.noding import noded
from sheet.commands.shaping import SIDES, holes
from sheet.details import details_of
from sheet.lengths import px_per, show_length
from sheet.model import BLENDS, FINISHES, OPERATIONS, Grid, Group, Guide, Item
from sheet.placing import angle_of, skew_of
from sheet.tree import find, parent_of

__all__ = ["ALIGNS", "STATIONS", "Look", "margin_rows", "panels"]

STATIONS = ("draw", "cut", "fit", "finish", "deliver")
THUMB = (44, 34)
NODE_SIDES = (
    ("left", "align-start"),
    ("centre", "align-center"),
    ("right", "align-end"),
    ("top", "align-top"),
    ("middle", "align-middle"),
    ("bottom", "align-bottom"),
)
ALIGNS = (
    *((side, name, f"Align {side}") for side, name in NODE_SIDES),
    ("both", "arrows-collapse", "Centre both ways"),
)
KEYS = {"union": "u", "subtract": "s", "intersect": "i", "exclude": "x", "divide": "d"}


@dataclass(frozen=True, slots=True)
class Look:
    """What the page says of itself: the station, what is chosen, the base for cutting, what is stepped into."""

    station: str = "draw"
    chosen: tuple[str, ...] = ()
    base: str = ""
    inside: str = ""
    nodes: bool = False
    cells: bool = False

    @classmethod
    def read(cls, data: object) -> "Look":
        """Read it from JSON; what does not fit is left out."""
        if not isinstance(data, dict):
            return cls()
        station = data.get("station")
        chosen = data.get("chosen") or []
        return cls(
            station if station in STATIONS else "draw",
            tuple(str(i)[:20] for i in chosen if i)[:5000] if isinstance(chosen, list | tuple) else (),
            str(data.get("base") or "")[:20],
            str(data.get("inside") or "")[:20],
            data.get("nodes") in (True, "true"),
            data.get("cells") in (True, "true"),
        )


def _present(sheet: Sheet, ids: tuple[str, ...]) -> list[Item]:
    items = []
    for item_id in dict.fromkeys(ids):
        try:
            items.append(find(sheet, item_id))
        except SheetError:
            continue
    return items


def _photo_resolution(sheet: Sheet, photo: Photo) -> int:
    """Return the photo's px per inch as placed: its own px over the inches it takes on the sheet."""
    return round(sheet.resolution / max(photo.placing.scale, 1e-9))


def _thumb(item: Item, size: tuple[int, int] = (26, 20)) -> str:
    if isinstance(item, Photo):
        return outline_thumb([(geometry.photo_quad(item), "t-photo", None)], *size)
    if isinstance(item, Group):
        drawn = [(geometry.outline_of(p), "t-shape", p.paint.fill or "none") for p in geometry.pieces_of(item)[:40]]
        return outline_thumb(drawn, *size)  # type: ignore[arg-type]
    return outline_thumb([(geometry.outline_of(item), "t-shape", item.paint.fill or "none")], *size)


def stack_rows(sheet: Sheet) -> list[dict[str, Any]]:
    """Return the rows of the stack, top first; what lies in a frame or a group comes below it."""
    rows: list[dict[str, Any]] = []
    for item in reversed(sheet.items):
        _rows_of(sheet, item, "", 0, rows)
    return rows


def _rows_of(sheet: Sheet, item: Item, within: str, depth: int, rows: list[dict[str, Any]]) -> None:
    note = f"{_photo_resolution(sheet, item)} px/in" if isinstance(item, Photo) else item.kind
    kind = "photo" if isinstance(item, Photo) else item.kind
    row = {"id": item.id, "name": item.name, "note": note, "kind": kind, "within": within, "depth": depth}
    marks = {"locked": item.locked, "hidden": item.hidden, "framed": isinstance(item, Photo) and bool(within)}
    rows.append({**row, **marks, "thumb": _thumb(item)})
    if isinstance(item, Group):
        for inner in reversed(item.items):
            _rows_of(sheet, inner, item.id, depth + 1, rows)
    elif isinstance(item, Piece):
        for photo in item.photos:
            _rows_of(sheet, photo, item.id, depth + 1, rows)


def stack_differs(before: Sheet, after: Sheet) -> bool:
    """Tell whether the stack panel must be drawn again."""
    if len(before.items) != len(after.items):
        return True
    # what a command left alone is the very same object
    return any(a is not b and _key_of(a) != _key_of(b) for a, b in zip(before.items, after.items, strict=True))


def _key_of(item: Item) -> tuple:
    marks = (item.id, item.name, item.locked, item.hidden)
    if isinstance(item, Photo):
        return (*marks, item.matrix[:4])
    if isinstance(item, Group):
        return (*marks, tuple(_key_of(i) for i in item.items))
    # moving a piece does not change its thumbnail; anything else of it may
    return (*marks, item.kind, item.paint.fill, item.matrix[:4], tuple(_key_of(p) for p in item.photos), item.shape)


def margin_rows(sheet: Sheet, item: Piece) -> list[dict[str, Any]]:
    """Return the margins of an outline's four largest holes, in the sheet's unit."""
    rows = []
    for k, m in enumerate(holes(item)[:4]):
        sides = [(side, show_length(getattr(m, side), sheet.unit, sheet.resolution)) for side in SIDES]
        rows.append({"number": k, "sides": sides, "even": m.even, "outline": m.hole.to_svg(3)})
    return rows


def _degrees(value: float) -> str:
    return f"{value:.2f}".rstrip("0").rstrip(".").replace("-0", "0" if abs(value) < 0.005 else "-0") + "°"


def _gauge(sheet: Sheet, items: list[Item]) -> dict[str, Any]:
    if not items:
        return {}
    x0, y0, x1, y1 = geometry.join_boxes([geometry.box_of(i) for i in items])

    def show(v: float) -> str:
        return show_length(v, sheet.unit, sheet.resolution)

    numbers = [
        ("x", "X", "Left edge", show(x0)),
        ("y", "Y", "Top edge", show(y0)),
        ("width", "W", "Width", show(x1 - x0)),
        ("height", "H", "Height", show(y1 - y0)),
        ("angle", "Turn", "Angle in degrees", _degrees(angle_of(items))),
    ]
    if not any(isinstance(i, Photo) for i in items):
        numbers.append(("skew", "Skew", "Skew in degrees", _degrees(skew_of(items))))
    facts = []
    pieces = [i for i in items if isinstance(i, Piece)]
    details = []
    if pieces and len(pieces) == len(items) and len({type(p.shape) for p in pieces}) == 1:
        for detail, value in details_of(sheet, pieces[0].shape):
            others = {text for p in pieces[1:] for d, text in details_of(sheet, p.shape) if d.field == detail.field}
            details.append({"detail": detail, "value": value if others <= {value} else "mixed"})
    if pieces:
        facts.append(("Nodes", str(sum(geometry.outline_of(p).node_count for p in pieces))))
    margins: list[dict[str, Any]] = []
    if len(items) == 1 and pieces:
        path = geometry.outline_of(pieces[0])
        facts.append(("Length", f"{show_length(outline.length(path), sheet.unit, sheet.resolution, 1)} {sheet.unit}"))
        per_unit = px_per(sheet.unit, sheet.resolution)
        if not geometry.is_line(pieces[0]):
            facts.append(("Area", f"{path.area / per_unit**2:.{0 if sheet.unit == 'px' else 2}f} {sheet.unit}²"))
        margins = margin_rows(sheet, pieces[0])
    photos = [i for i in items if isinstance(i, Photo)]
    if len(photos) == 1:
        facts.append(("Photo", f"{photos[0].width} × {photos[0].height} px"))
        facts.append(("As placed", f"{_photo_resolution(sheet, photos[0])} px/in"))
    return {
        "numbers": numbers,
        "facts": facts,
        "unit": sheet.unit,
        "margins": margins,
        "item": items[0],
        "details": details,
        "fonts": outline.FONTS.values(),
    }


def _cut_steps(item: Piece) -> list[dict[str, Any]]:
    assert isinstance(item.shape, CutList)
    base = item.shape.base
    so_far = geometry.outline_of(base)
    fill = item.paint.fill or "none"
    thumb = outline_thumb([(so_far, "t-shape", fill)], *THUMB)
    rows: list[dict[str, Any]] = [{"word": "starts as", "name": base.name, "id": base.id, "thumb": thumb, "on": True}]
    for step in item.shape.steps:
        if step.on:
            so_far = geometry.cut(so_far, step.operation, geometry.outline_of(step.member))
        thumb = outline_thumb([(so_far, "t-shape", fill)], *THUMB)
        rows.append(
            {"word": step.operation, "name": step.member.name, "id": step.member.id, "thumb": thumb, "on": step.on}
        )
    return rows


def _finishes(sheet: Sheet, item: Piece) -> list[dict[str, Any]]:
    """Return what is done with the result of a cut list, with a thumbnail after each."""
    assert isinstance(item.shape, CutList)
    rows = []
    path = geometry.outline_of(replace(item, shape=replace(item.shape, finishes=())))
    for step in item.shape.finishes:
        path = geometry.finish(path, step)
        thumb = outline_thumb([(path, "t-shape", item.paint.fill or "none")], *THUMB)
        value = show_length(step.value, sheet.unit, sheet.resolution)
        rows.append({"kind": step.kind, "value": value, "on": step.on, "thumb": thumb})
    return rows


def _cut_cards(sheet: Sheet, look: Look, items: list[Item]) -> dict[str, Any]:
    order = {i.id: k for k, i in enumerate(sheet.items)}
    pieces = []
    lies = []
    for item in sorted((i for i in items if i.id in order), key=lambda i: order[i.id]):
        # a group counts as one piece; the sheet is not changed by looking
        _, piece = as_piece(sheet, item)
        if piece is not None:
            pieces.append(piece)
            lies.append(item.id)
    base = next((k for k, i in enumerate(lies) if i == look.base), 0)
    if pieces and not look.base and geometry.is_line(pieces[0]):
        base = next((k for k, p in enumerate(pieces) if not geometry.is_line(p)), 0)
    drawn = []
    for card in cards(pieces, base):
        parts: list[tuple[Path, str, str | None]] = []
        if not card.away.is_empty:
            parts.append((card.away, "t-away", None))
        # the parts of one result do not overlap, so those of one fill are drawn at one go
        fills: dict[str, list[Path]] = {}
        for path, k in card.results:
            fills.setdefault("none" if card.operation == "loose" else pieces[k].paint.fill or "none", []).append(path)
        parts += [(Path.gather(paths), "t-shape", fill) for fill, paths in fills.items()]
        thumb = outline_thumb(parts, 98, 62, 5) if card.results else ""
        drawn.append({"card": card, "thumb": thumb, "key": KEYS.get(card.operation), "unit": card.unit})
    photos = sum(len(p.photos) for p in pieces)
    outlines = [p for p in pieces if isinstance(p.shape, CutList)]
    return {
        "pieces": pieces,
        "base": pieces[base] if pieces else None,
        "cutters": [p for k, p in enumerate(pieces) if k != base],
        "next_base": lies[(base + 1) % len(lies)] if lies else "",
        "cards": drawn,
        "photos_along": photos,
        "holder": parent_of(sheet, items[0].id) if items and not pieces else None,
        "addable": outlines[0] if len(outlines) == 1 and len(pieces) > 1 else None,
        "step_words": OPERATIONS,
        "unit": sheet.unit,
        "reshapes": _reshapes(sheet),
    }


def _reshapes(sheet: Sheet) -> list[tuple[str, str, str, str]]:
    """Return (kind, word, suggested length, the command that does it once) of each way to reshape an outline."""
    side = min(sheet.width, sheet.height)
    large = show_length(round(side / 50), sheet.unit, sheet.resolution, 1)
    fine = show_length(side / 1000, sheet.unit, sheet.resolution, 2)
    words = {"offset": "Offset", "round": "Round", "simplify": "Simplify", "clean": "Clean up"}
    return [
        (kind, words[kind], fine if kind == "simplify" else large, "offset" if kind == "offset" else "reshape")
        for kind in FINISHES
    ]


def _fit(sheet: Sheet, items: list[Item]) -> dict[str, Any]:
    frames: list[Piece] = []
    for item in items:
        parent = parent_of(sheet, item.id)
        frame = parent if isinstance(item, Photo) else item
        if isinstance(frame, Piece) and frame.photos and frame not in frames:
            frames.append(frame)
    free = [i for i in sheet.items if isinstance(i, Photo)]
    return {
        "frames": frames,
        "free": [{"photo": p, "resolution": _photo_resolution(sheet, p)} for p in reversed(free)],
        "chosen_photos": [i for i in items if isinstance(i, Photo)],
        "chosen_pieces": [i for i in items if isinstance(i, Piece)],
        "inside": [{"photo": p, "resolution": _photo_resolution(sheet, p)} for f in frames for p in f.photos],
    }


def _finish(sheet: Sheet, items: list[Item]) -> dict[str, Any]:
    pieces = [i for i in items if isinstance(i, Piece)]
    one = pieces[-1] if pieces else None
    opacity = one.paint.opacity if one else (items[-1].opacity if items and isinstance(items[-1], Photo) else 1.0)
    return {
        "piece": one,
        "items": items,
        "opacity": f"{opacity * 100:g}",
        "stroke_width": show_length(one.paint.stroke_width, sheet.unit, sheet.resolution) if one else "",
        "unit": sheet.unit,
        "backdrop": sheet.backdrop,
        "blends": BLENDS,
    }


def _deliver(sheet: Sheet, items: list[Item]) -> dict[str, Any]:
    targets = []
    tops = {i.id for i in sheet.items}
    choices: list[tuple[str, str, Item | None]] = [("sheet", "The sheet", None)]
    choices += [(i.id, i.name, i) for i in items if i.id in tops]
    for key, name, item in choices:
        row: dict[str, Any] = {"key": key, "name": name}
        try:
            box = delivered_box(sheet, item)
            row["size"] = pixel_size(box, 1.0)
            row["lengths"] = [
                show_length(v, sheet.unit, sheet.resolution, 2) for v in (box[2] - box[0], box[3] - box[1])
            ]
        except (PictureError, OutlineError) as error:
            row["why"] = str(error)
        targets.append(row)
    return {"targets": targets, "resolution": f"{sheet.resolution:g}", "unit": sheet.unit, "backdrop": sheet.backdrop}


def panels(
    request: HttpRequest, sheet: Sheet, look: Look, with_stack: bool = True, with_tools: bool = True
) -> dict[str, str]:
    """Return the HTML of each panel that must be shown again; the Draw station's tools stay as they are."""
    items = _present(sheet, look.chosen)
    out = {}
    if with_stack:
        out["stack"] = render_to_string("studio/panels/stack.html", {"rows": stack_rows(sheet)})
    # the cut list of what is chosen, or of what is stepped into
    shown = items if len(items) == 1 and isinstance(items[0], Piece) else []
    listed = [
        i for i in (*shown, *_present(sheet, (look.inside,))) if isinstance(i, Piece) and isinstance(i.shape, CutList)
    ]
    out["cuts"] = ""
    if listed:
        context = {
            "item": listed[0],
            "steps": _cut_steps(listed[0]),
            "finishes": _finishes(sheet, listed[0]),
            "step_words": OPERATIONS,
            "chosen_ids": look.chosen,
        }
        out["cuts"] = render_to_string("studio/panels/cuts.html", context)
    gauge = _gauge(sheet, items)
    out["gauge"] = render_to_string("studio/panels/gauge.html", gauge) if gauge else ""
    makers = {
        "cut": lambda: _cut_cards(sheet, look, items),
        "fit": lambda: _fit(sheet, items),
        "finish": lambda: _finish(sheet, items),
        "deliver": lambda: _deliver(sheet, items),
    }
    if look.station in makers:
        context = {"chosen": items, **makers[look.station]()}
        out["drawer"] = render_to_string(f"studio/panels/{look.station}.html", context)
    elif with_tools:
        out["drawer"] = _tools(**_tool_sizes(sheet))
    if look.station == "draw":
        out["ruling"] = _ruling(sheet.grid, sheet.guides, sheet.guides_locked, sheet.unit, sheet.resolution)
    if look.cells:
        out["cells"] = json.dumps(cell_rows(sheet, look.chosen))
    if look.nodes:
        out["nodes"] = json.dumps(node_rows(sheet, items[0].id if len(items) == 1 else ""))
    return out


def node_rows(sheet: Sheet, item_id: str) -> dict[str, Any]:
    """Return the nodes of a piece for the page: places, handles, kinds; or why they cannot be edited."""
    if not item_id:
        return {"id": "", "why": "Choose one piece to edit its nodes.", "nodes": []}
    try:
        item, path = noded(sheet, item_id)
    except SheetError as error:
        return {"id": item_id, "why": f"{error.message} {error.remedy}", "nodes": []}
    rows = []
    for run in outline.nodes.runs(path):
        last = len(run.nodes) - 1
        for k, node in enumerate(run.nodes):
            end = not run.closed and k in (0, last)
            rows.append({"at": node.at, "before": node.before, "after": node.after, "kind": node.kind, "end": end})
    if len(rows) > 3000:
        return {"id": item_id, "why": f"“{item.name}” has {len(rows)} nodes; simplify it first.", "nodes": []}
    return {"id": item_id, "why": "", "nodes": rows}


def cell_rows(sheet: Sheet, ids: tuple[str, ...]) -> dict[str, Any]:
    """Return the cells of the chosen pieces for the page, each with its path and paint; or why there are none."""
    try:
        found = faces_of(sheet, [i for i in ids if any(t.id == i for t in sheet.items)])
    except (SheetError, OutlineError) as error:
        remedy = getattr(error, "remedy", "")
        return {"ids": ids, "why": f"{error} {remedy}", "cells": []}
    rows = [{"d": f.path.to_svg(3), "fill": (f.paint.fill or "none") if f.paint else ""} for f in found]
    return {"ids": ids, "why": "", "cells": rows}


@lru_cache(maxsize=64)
def _ruling(grid: Grid, guides: tuple[Guide, ...], locked: bool, unit: str, resolution: float) -> str:
    fields = ("step", "width", "height", "gap", "margin")
    context = {
        "guides": [
            {"number": k, "axis": g.axis, "at": show_length(g.at, unit, resolution)} for k, g in enumerate(guides)
        ],
        "locked": locked,
        "grid": grid,
        "show": {f: show_length(getattr(grid, f), unit, resolution) for f in fields},
        "unit": unit,
    }
    return render_to_string("studio/panels/ruling.html", context)


def _tool_sizes(sheet: Sheet) -> dict[str, str]:
    """Return the sizes the drawing tools begin with, in the sheet's unit."""
    side = min(sheet.width, sheet.height)

    def length(px: float, digits: int = 1) -> str:
        return show_length(px, sheet.unit, sheet.resolution, digits)

    return {
        "unit": sheet.unit,
        "letter_size": length(round(side / 6)),
        "tooth": length(round(side / 40)),
        "near": length(max(0.5, side / 400), 2),
    }


@lru_cache(maxsize=64)
def _tools(**sizes: str) -> str:
    """Return the Draw station's drawer: ready outlines, fonts, and sizes that suit the sheet."""
    context = {
        **sizes,
        "ready": [ready_tile(key) for key in outline.READY],
        "fonts": outline.FONTS.values(),
        "edges": outline.EDGES,
        "node_sides": NODE_SIDES,
    }
    return render_to_string("studio/panels/draw.html", context)


@lru_cache(maxsize=128)
def ready_tile(key: str) -> dict[str, Any]:
    """Return a ready outline for its tile: name, thumbnail, and its path and size for drawing it."""
    path = outline.ready(key)
    x0, y0, x1, y1 = path.bounds or (0.0, 0.0, 1.0, 1.0)
    thumb = outline_thumb([(path, "t-shape", "#c9bda4")], 40, 32, 2)
    return {
        "key": key,
        "name": outline.READY[key].name,
        "d": path.to_svg(2),
        "w": x1 - x0,
        "h": y1 - y0,
        "thumb": thumb,
    }
