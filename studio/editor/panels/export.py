"""The Export station: what is exported, how large, and in which format."""

from typing import Any, Final

from django.template.loader import render_to_string
from msgspec.structs import replace

from outline import OutlineError
from picture import FORMATS
from picture.write.formats import FAMILIES
from picture.write.web import WEB, web_outline
from sheet import Sheet, SheetError
from sheet.document.model import Item, Piece
from sheet.document.tree import drawn_alone, framed
from sheet.export.filenames import NAME_WORDS, file_names
from sheet.export.order import CHOICES, SIZES, TICKS, Order, extent_of, frames_of, ordered
from sheet.geometry.geometry import pieces_of
from sheet.inspect.preflight import remarks_on
from studio.editor.view_state import OwnRows, ViewState

__all__ = ["html"]


def _choices(sheet: Sheet, items: list[Item]) -> list[tuple[str, str]]:
    """Return what can be exported, by name: the sheet, the selection, and each frame as its own file."""
    alone = {i.id for i in drawn_alone(sheet, [i.id for i in items])}
    own = [i for i in items if i.id in alone or (isinstance(i, Piece) and i.photos)]
    out: list[tuple[str, str]] = []
    if len(own) == 1:
        out.append((own[0].id, own[0].name))
    elif own:
        out.append(("chosen", f"The {len(own)} selected items"))
    out += [("sheet", "Cropped to the artwork"), ("whole", "The whole sheet")]
    if sheet.bleed > 0:
        out.append(("bleed", "The whole sheet with its bleed"))
    frames = list(frames_of(own or sheet.items))
    if len(frames) > 1 or (frames and not own):
        out.append(("each", f"Each frame as its own file: {len(frames)}"))
    return out


AREAS: Final = {"sheet": "trimmed", "whole": "whole", "bleed": "bleed"}
"""Cards of the sheet, and the extent that each exports."""


def _order_of(order: Order, key: str, ids: tuple[str, ...]) -> Order:
    """Return the order of a card."""
    if key in AREAS:
        return replace(order, what="sheet", extent=AREAS[key], ids=ids)
    return replace(order, what=key, ids=ids)


def _target(sheet: Sheet, order: Order, key: str, name: str) -> dict[str, Any]:
    row: dict[str, Any] = {"key": key, "name": name}
    try:
        files = ordered(sheet, order)
    except (SheetError, OutlineError) as error:
        # an invalid size is reported at its field, not once more for each
        return row | {"why": str(error), "field": getattr(error, "field", "")}
    first = files[0]
    row |= {"width": first.width, "height": first.height, "real": first.real(sheet), "count": len(files)}
    if len(files) > 1:
        row["pixels"] = f"{sum(f.width * f.height for f in files) / 1e6:.1f}"
    return row


MOST_OUTLINES = 200
"""The most items offered as a cut line."""


def _profiles(view: ViewState) -> OwnRows:
    """Return the person's print profiles, with the order's own first if it is not among them."""
    key = view.export.profile
    if not key or any(key == row for row, *_ in view.profiles):
        return view.profiles
    return ((key, key.partition(":")[2], "off your lists"), *view.profiles)


def _web(sheet: Sheet, order: Order, items: list[Item]) -> dict[str, Any]:
    """Return the selected outline for the web, if there is one."""
    if len(items) != 1 or not pieces_of(items[0]):
        return {}
    context: dict[str, Any] = {"web": WEB, "web_id": items[0].id, "web_name": items[0].name}
    try:
        text, width, height = web_outline(sheet, items[0], order.web, order.deviation)
        context |= {"web_text": text, "web_size": f"{width:.0f} × {height:.0f} px, {len(text):,} characters"}
    except (SheetError, OutlineError) as error:
        context["web_wrong"] = str(error)
    return context


def html(sheet: Sheet, view: ViewState, items: list[Item]) -> str:
    """Return the drawer: each export with its size in the file."""
    # a photo in a frame counts as its frame
    items = list(framed(sheet, items))
    ids = tuple(i.id for i in items)
    order = view.export
    choices = _choices(sheet, items)
    keys = [key for key, _ in choices]
    # the selection is exported by default; a picked target stays while it exists
    area = next(key for key, extent in AREAS.items() if extent == extent_of(sheet, order))
    last = area if order.what in ("", "sheet") and (order.what or not ids) else order.what
    picked = last if last in keys else keys[0]
    targets = [_target(sheet, _order_of(order, key, ids), key, name) for key, name in choices]
    at_hand = next(t for t in targets if t["key"] == picked)
    wrong = next((t["why"] for t in targets if t.get("field") in ("size", "margin")), "")
    example, boxes = "", []
    out = FORMATS.get(order.format) or FORMATS["png"]
    paged = out.pages is not None
    try:
        files = ordered(sheet, _order_of(order, picked, ids))
        boxes = [" ".join(f"{v:.3f}" for v in f.box) for f in files[:MOST_OUTLINES]]
        # pages are one file, named after the project
        pattern = "{project}" if paged and len(files) > 1 else order.pattern
        names = file_names(pattern, view.project or "project", files[:1] if paged else files)
        example = ", ".join(f"{n}.{out.filed(order)[0]}" for n in names[:2]) + (" …" if len(names) > 2 else "")
    except (SheetError, OutlineError) as error:
        example = str(error) if getattr(error, "field", "") == "pattern" else ""
    only = tuple(i for i in items if i.id in keys or picked in ("chosen", "each")) if picked not in AREAS else ()
    context = {
        "targets": targets,
        "picked": picked,
        "at_hand": at_hand,
        "order": order,
        "size": order.size or (f"{sheet.resolution:g}" if order.by == "resolution" else ""),
        "wrong": wrong,
        "wrong_field": next((t["field"] for t in targets if t.get("field") in ("size", "margin")), ""),
        "example": example,
        "name_words": NAME_WORDS,
        "boxes": ";".join(boxes),
        "unit": sheet.unit,
        "size_unit": {"resolution": "px/in", "factor": "×"}.get(order.by, "px"),
        "backdrop": sheet.backdrop,
        "sizes": SIZES,
        "selects": [(name, word, ways, getattr(order, name)) for name, word, ways in CHOICES if name in out.options],
        "ticks": [(name, word, getattr(order, name)) for name, word in TICKS if name in out.options],
        "families": [(word, [f for f in FORMATS.values() if f.family == word]) for word in FAMILIES],
        "out": out,
        "profiles": _profiles(view),
        "paged": paged,
        "outlines": [i for i in reversed(sheet.items) if pieces_of(i)][:MOST_OUTLINES],
        "remarks": remarks_on(sheet, only),
        **_web(sheet, order, items),
    }
    return render_to_string("panels/export.html", context)
