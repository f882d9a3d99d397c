"""What lies over what, top first."""

from functools import lru_cache
from typing import Any

from django.template.loader import render_to_string

from picture import outline_thumb
from sheet import Photo, Piece, Sheet, geometry
from sheet.gauge import px_per_inch
from sheet.model import Group, Item, Numbers, Shape

from ..look import Look

__all__ = ["differs", "html"]

SIZE = (26, 20)


@lru_cache(maxsize=2048)
def _piece_thumb(shape: Shape, matrix: Numbers, fill: str | None) -> str:
    path = geometry.outline_of(Piece("i0", "", shape, matrix))
    return outline_thumb([(path, "t-shape", fill or "none")], *SIZE)


def _thumb(item: Item) -> str:
    if isinstance(item, Group):
        drawn = [(geometry.outline_of(p), "t-shape", p.paint.fill or "none") for p in geometry.pieces_of(item)[:40]]
        return outline_thumb(drawn, *SIZE)  # type: ignore[arg-type]
    assert isinstance(item, Piece)
    return _piece_thumb(item.shape, item.matrix, item.paint.fill)


def _rows(sheet: Sheet, item: Item, within: str, depth: int, rows: list[dict[str, Any]]) -> None:
    photo = isinstance(item, Photo)
    rows.append(
        {
            "id": item.id,
            "ids": (item.id,),
            "name": item.name,
            "note": f"{px_per_inch(sheet, item)} px/in" if isinstance(item, Photo) else item.kind,
            "kind": "photo" if isinstance(item, Photo) else item.kind,
            "within": within,
            "depth": depth,
            "locked": item.locked,
            "hidden": item.hidden,
            "framed": photo and bool(within),
            "file": item.file if isinstance(item, Photo) else "",
            "thumb": "" if photo else _thumb(item),
        }
    )
    if isinstance(item, Group):
        shared = {p.file for p in item.panes.base.photos} if item.panes else set()
        for inner in reversed(item.items):
            _rows(sheet, inner, item.id, depth + 1, rows)
            # the picture that all panes share is not listed with each of them
            while rows[-1]["file"] in shared:
                rows.pop()
    elif isinstance(item, Piece):
        for inner in item.photos:
            _rows(sheet, inner, item.id, depth + 1, rows)


def html(sheet: Sheet, look: Look, items: list[Item]) -> str:
    """Return the rows; what lies in a frame or a group comes below it."""
    rows: list[dict[str, Any]] = []
    for item in reversed(sheet.items):
        _rows(sheet, item, "", 0, rows)
    return render_to_string("panels/stack.html", {"rows": rows})


def differs(before: Sheet, after: Sheet) -> bool:
    """Tell whether the stack must be drawn again."""
    if len(before.items) != len(after.items):
        return True
    # what a command left alone is the very same object
    return any(a is not b and _key(a) != _key(b) for a, b in zip(before.items, after.items, strict=True))


def _key(item: Item) -> tuple:
    marks = (item.id, item.name, item.locked, item.hidden)
    if isinstance(item, Photo):
        return (*marks, item.file, item.matrix[:4])
    if isinstance(item, Group):
        return (*marks, tuple(_key(i) for i in item.items))
    # moving a piece does not change its thumbnail; anything else of it may
    return (*marks, item.kind, item.paint.fill, item.matrix[:4], tuple(_key(p) for p in item.photos), item.shape)
