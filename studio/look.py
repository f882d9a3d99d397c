"""What a page shows besides the sheet: the panels for what is chosen, as HTML."""

from dataclasses import dataclass, field
from typing import Any

from django.http import HttpRequest
from django.template.loader import render_to_string

import outline
from outline import OutlineError, Path
from picture.errors import PictureError
from picture.raster import pixel_size
from picture.svg import outline_thumb
from picture.visible import delivered_box
from sheet import CutList, Photo, Piece, Sheet, SheetError, geometry
from sheet.cards import cards
from sheet.commands.shaping import SIDES, holes
from sheet.lengths import show_length
from sheet.model import OPERATIONS, Item
from sheet.placing import angle_of
from sheet.tree import find, parent_of

__all__ = ["STATIONS", "Look", "panels"]

STATIONS = ("draw", "cut", "fit", "finish", "deliver")
THUMB = (44, 34)
KEYS = {"union": "u", "subtract": "s", "intersect": "i", "exclude": "x", "divide": "d"}


@dataclass(frozen=True, slots=True)
class Look:
    """What the page says of itself: the station, what is chosen, the base for cutting, what is stepped into."""

    station: str = "draw"
    chosen: tuple[str, ...] = ()
    base: str = ""
    inside: str = ""
    extra: dict[str, str] = field(default_factory=dict)

    @classmethod
    def read(cls, data: dict[str, Any]) -> "Look":
        """Read it from JSON or a query; what does not fit is left out."""
        station = data.get("station")
        chosen = data.get("chosen") or []
        if isinstance(chosen, str):
            chosen = chosen.split(",")
        return cls(
            station if station in STATIONS else "draw",
            tuple(str(i)[:20] for i in chosen if i)[:5000] if isinstance(chosen, list | tuple) else (),
            str(data.get("base") or "")[:20],
            str(data.get("inside") or "")[:20],
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
    return outline_thumb([(geometry.outline_of(item), "t-shape", item.paint.fill or "none")], *size)


def stack_rows(sheet: Sheet) -> list[dict[str, Any]]:
    """Return the rows of the stack, top first."""
    rows = []
    for item in reversed(sheet.items):
        if isinstance(item, Photo):
            note = f"{_photo_resolution(sheet, item)} px/in"
            rows.append({"id": item.id, "name": item.name, "note": note, "kind": "photo", "thumb": _thumb(item)})
            continue
        rows.append({"id": item.id, "name": item.name, "note": item.kind, "kind": item.kind, "thumb": _thumb(item)})
        for photo in item.photos:
            note = f"{_photo_resolution(sheet, photo)} px/in"
            row = {"id": photo.id, "name": photo.name, "note": note, "kind": "photo", "within": item.id}
            rows.append({**row, "thumb": _thumb(photo)})
    return rows


def stack_key(sheet: Sheet) -> tuple:
    """Return what the stack panel shows, for telling whether it must be drawn again."""
    return tuple(
        (i.id, i.name, i.matrix[0], i.matrix[3])
        if isinstance(i, Photo)
        else (
            i.id,
            i.name,
            i.kind,
            i.paint.fill,
            tuple((p.id, p.matrix[0], p.matrix[1]) for p in i.photos),
            i.shape if isinstance(i.shape, CutList) else None,
        )
        for i in sheet.items
    )


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
        ("angle", "Turn", "Angle in degrees", f"{angle_of(items):.2f}".rstrip("0").rstrip(".") + "°"),
    ]
    facts = []
    pieces = [i for i in items if isinstance(i, Piece)]
    if pieces:
        facts.append(("Nodes", str(sum(geometry.outline_of(p).node_count for p in pieces))))
    margins: list[dict[str, Any]] = []
    if len(items) == 1 and pieces:
        path = geometry.outline_of(pieces[0])
        facts.append(("Length", f"{show_length(outline.length(path), sheet.unit, sheet.resolution, 1)} {sheet.unit}"))
        for k, m in enumerate(holes(pieces[0])[:4]):
            sides = [(side, show(getattr(m, side))) for side in SIDES]
            margins.append({"number": k, "sides": sides, "even": m.even})
    photos = [i for i in items if isinstance(i, Photo)]
    if len(photos) == 1:
        facts.append(("Photo", f"{photos[0].width} × {photos[0].height} px"))
        facts.append(("As placed", f"{_photo_resolution(sheet, photos[0])} px/in"))
    return {"numbers": numbers, "facts": facts, "unit": sheet.unit, "margins": margins, "item": items[0]}


def _cut_steps(item: Piece) -> list[dict[str, Any]]:
    assert isinstance(item.shape, CutList)
    base = item.shape.base
    so_far = geometry.outline_of(base)
    fill = item.paint.fill or "none"
    thumb = outline_thumb([(so_far, "t-shape", fill)], *THUMB)
    rows = [{"word": "starts as", "name": base.name, "id": base.id, "thumb": thumb, "on": True}]
    for step in item.shape.steps:
        if step.on:
            so_far = geometry.cut(so_far, step.operation, geometry.outline_of(step.member))
        thumb = outline_thumb([(so_far, "t-shape", fill)], *THUMB)
        rows.append(
            {"word": step.operation, "name": step.member.name, "id": step.member.id, "thumb": thumb, "on": step.on}
        )
    return rows


def _cut_cards(sheet: Sheet, look: Look, items: list[Item]) -> dict[str, Any]:
    order = {i.id: k for k, i in enumerate(sheet.items)}
    pieces = sorted((i for i in items if isinstance(i, Piece) and i.id in order), key=lambda p: order[p.id])
    base = next((k for k, p in enumerate(pieces) if p.id == look.base), 0)
    drawn = []
    for card in cards(pieces, base):
        parts: list[tuple[Path, str, str | None]] = []
        if not card.away.is_empty:
            parts.append((card.away, "t-away", None))
        for path, k in card.results:
            fill = "none" if card.operation == "loose" else pieces[k].paint.fill or "none"
            parts.append((path, "t-shape", fill))
        thumb = outline_thumb(parts, 98, 62, 5) if card.results else ""
        drawn.append({"card": card, "thumb": thumb, "key": KEYS.get(card.operation), "unit": card.unit})
    photos = sum(len(p.photos) for p in pieces)
    outlines = [p for p in pieces if isinstance(p.shape, CutList)]
    return {
        "pieces": pieces,
        "base": pieces[base] if pieces else None,
        "cutters": [p for k, p in enumerate(pieces) if k != base],
        "next_base": pieces[(base + 1) % len(pieces)].id if pieces else "",
        "cards": drawn,
        "photos_along": photos,
        "addable": outlines[0] if len(outlines) == 1 and len(pieces) > 1 else None,
        "step_words": OPERATIONS,
        "unit": sheet.unit,
        "suggestion": show_length(round(min(sheet.width, sheet.height) / 50), sheet.unit, sheet.resolution, 1),
        "fine": show_length(min(sheet.width, sheet.height) / 1000, sheet.unit, sheet.resolution, 2),
    }


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


def panels(request: HttpRequest, sheet: Sheet, look: Look, with_stack: bool = True) -> dict[str, str]:
    """Return the HTML of each panel that must be shown again."""
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
    else:
        out["drawer"] = render_to_string("studio/panels/draw.html", {"unit": sheet.unit, "chosen": items})
    return out
