"""What lies over what, top first."""

from functools import lru_cache
from typing import NamedTuple

from django.template.loader import render_to_string

from picture import outline_thumb
from sheet import Photo, Piece, Sheet, geometry
from sheet.gauge import px_per_inch
from sheet.model import Group, Item, Shape

from ..look import Look

__all__ = ["differs", "html"]

SIZE = (26, 20)


@lru_cache(maxsize=2048)
def _piece_thumb(shape: Shape, lies: tuple[float, float, float, float], fill: str | None) -> str:
    """Return the small picture of a shape, turned and sized as it lies; where it lies does not matter."""
    path = geometry.outline_of(Piece("i0", "", shape, (*lies, 0.0, 0.0)))
    return outline_thumb([(path, "t-shape", fill or "none")], *SIZE)


def _thumb(item: Item) -> str:
    if isinstance(item, Group):
        drawn = [(geometry.outline_of(p), "t-shape", p.paint.fill or "none") for p in geometry.pieces_of(item)[:40]]
        return outline_thumb(drawn, *SIZE)  # type: ignore[arg-type]
    assert isinstance(item, Piece)
    return _piece_thumb(item.shape, item.matrix[:4], item.paint.fill)


class Row(NamedTuple):
    """What a row shows: the item, what it lies in, how deep, and its small picture, drawn or a photo's."""

    id: str
    name: str
    note: str
    within: str
    depth: int
    locked: bool
    hidden: bool
    framed: bool
    file: str
    thumb: str
    newer: int = 0

    @property
    def ids(self) -> tuple[str]:
        """The item alone."""
        return (self.id,)


def _rows(sheet: Sheet, look: Look, item: Item, within: str, depth: int, rows: list[Row]) -> None:
    if isinstance(item, Photo):
        note, file, thumb = f"{px_per_inch(sheet, item)} px/in", item.file, ""
    else:
        note, file, thumb = item.kind, "", _thumb(item)
    framed = isinstance(item, Photo) and bool(within)
    newer = look.newer(item)
    rows.append(Row(item.id, item.name, note, within, depth, item.locked, item.hidden, framed, file, thumb, newer))
    if isinstance(item, Group):
        shared = {p.file for p in item.panes.base.photos} if item.panes else set()
        for inner in reversed(item.items):
            _rows(sheet, look, inner, item.id, depth + 1, rows)
            # the picture that all panes share is not listed with each of them
            while rows[-1].file in shared:
                rows.pop()
    elif isinstance(item, Piece):
        for inner in item.photos:
            _rows(sheet, look, inner, item.id, depth + 1, rows)


@lru_cache(maxsize=4096)
def _row_html(row: Row) -> str:
    """Return a row's HTML: most rows are what they were before a step."""
    return render_to_string("panels/stack_row.html", {"r": row})


def html(sheet: Sheet, look: Look, items: list[Item]) -> str:
    """Return the rows; what lies in a frame or a group comes below it."""
    rows: list[Row] = []
    for item in reversed(sheet.items):
        _rows(sheet, look, item, "", 0, rows)
    return render_to_string("panels/stack.html", {"rows": [_row_html(r) for r in rows]})


def differs(before: Sheet, after: Sheet) -> bool:
    """Tell whether the stack must be drawn again."""
    if len(before.items) != len(after.items):
        return True
    # what a command left alone is the very same object
    return any(a is not b and _key(a) != _key(b) for a, b in zip(before.items, after.items, strict=True))


def _key(item: Item) -> tuple:
    marks: tuple = (item.id, item.name, item.locked, item.hidden)
    if not isinstance(item, Photo):
        marks = (*marks, item.kept and (item.kept.item, item.kept.version))
    if isinstance(item, Photo):
        return (*marks, item.file, item.matrix[:4])
    if isinstance(item, Group):
        return (*marks, tuple(_key(i) for i in item.items))
    # moving a piece does not change its thumbnail; anything else of it may
    return (*marks, item.kind, item.paint.fill, item.matrix[:4], tuple(_key(p) for p in item.photos), item.shape)
