"""The stack, top first. Rows out of view are asked for when they come into view."""

import zlib
from collections.abc import Iterable, Iterator
from typing import NamedTuple

from django.template.loader import render_to_string

from outline import Matrix
from picture import outline_thumb
from sheet import Photo, Piece, Sheet
from sheet.caching import cached
from sheet.document.gradients import flat
from sheet.document.model import Group, Item, Shape
from sheet.document.store import encoded
from sheet.document.tree import find
from sheet.geometry import geometry
from sheet.inspect.dimensions import px_per_inch
from studio.editor.view_state import ViewState

__all__ = ["FIRST", "differs", "html", "rows_html"]

SIZE = (26, 20)
FIRST = 60
"""Rows drawn at once: more than are visible."""


@cached(entries=2048)
def _piece_thumb(shape: Shape, linear: tuple[float, float, float, float], fill: str | None) -> str:
    """Return the small picture of a shape, with its turn and size; its place does not matter."""
    path = geometry.outline_of(Piece("i0", "", shape, (*linear, 0.0, 0.0)))
    return outline_thumb([(path, "t-shape", fill or "none")], *SIZE)


def _thumb(item: Item) -> str:
    if isinstance(item, Group):
        drawn = [
            (geometry.outline_of(p), "t-shape", flat(p.paint.fill) or "none") for p in geometry.pieces_of(item)[:40]
        ]
        return outline_thumb(drawn, *SIZE)  # type: ignore[arg-type]
    assert isinstance(item, Piece)
    return _piece_thumb(item.shape, item.matrix[:4], flat(item.paint.fill))


class StackRow(NamedTuple):
    """A row: the item, its parent, its depth, and its small picture, drawn or a photo's."""

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
    flipped: bool
    takes: str
    newer: int
    mark: str

    @property
    def ids(self) -> tuple[str]:
        """The item alone."""
        return (self.id,)


class _Entry(NamedTuple):
    """An item and its place in the list."""

    item: Item
    within: str
    depth: int


def _listed(item: Item, within: str = "", depth: int = 0) -> Iterator[_Entry]:
    """Yield an item, and below it its contents."""
    yield _Entry(item, within, depth)
    if isinstance(item, Group):
        shared = {p.file for p in item.panes.base.photos} if item.panes else set()
        for inner in reversed(item.items):
            # the picture that all panes share is not listed under each of them
            for entry in _listed(inner, item.id, depth + 1):
                if not (isinstance(entry.item, Photo) and entry.item.file in shared):
                    yield entry
    elif isinstance(item, Piece):
        for photo in reversed(item.photos):
            yield _Entry(photo, item.id, depth + 1)


def _mark(view: ViewState, entry: _Entry) -> str:
    """Return a value that changes when a row must be redrawn."""
    return f"{zlib.crc32(encoded((entry, view.newer(entry.item)))):x}"


def _row(sheet: Sheet, view: ViewState, entry: _Entry) -> StackRow:
    item, within, depth = entry
    flipped = isinstance(item, Photo) and Matrix(*item.matrix).determinant < 0
    takes = ""
    if isinstance(item, Photo):
        note, file, thumb = f"{px_per_inch(sheet, item)} px/in", item.file, ""
    else:
        note, file, thumb = item.kind, "", _thumb(item)
        if isinstance(item, Piece):
            takes = "replace_photo" if item.photos else "put_in"
    framed = isinstance(item, Photo) and isinstance(find(sheet, within) if within else None, Piece)
    shown = (item.id, item.name, note, within, depth, item.locked, item.hidden, framed, file, thumb, flipped, takes)
    return StackRow(*shown, view.newer(item), _mark(view, entry))


@cached(entries=4096)
def _row_html(row: StackRow) -> str:
    """Return a row's HTML, cached: most rows do not change in a step."""
    return render_to_string("panels/stack_row.html", {"r": row})


def _later(view: ViewState, entry: _Entry) -> str:
    """Return the placeholder of a row that is asked for when it comes into view."""
    stack = f' data-stack="{entry.item.id}" data-within="{entry.within}"'
    return f'<li class="later" id="entry-{entry.item.id}"{stack} data-mark="{_mark(view, entry)}"></li>'


def _all(sheet: Sheet) -> Iterator[_Entry]:
    for item in reversed(sheet.items):
        yield from _listed(item)


def html(sheet: Sheet, view: ViewState, items: list[Item]) -> str:
    """Return the rows; the contents of a frame or a group come below it."""
    rows = [
        _row_html(_row(sheet, view, entry)) if number < FIRST else _later(view, entry)
        for number, entry in enumerate(_all(sheet))
    ]
    return render_to_string("panels/stack.html", {"rows": "".join(rows)})


def rows_html(sheet: Sheet, view: ViewState, ids: Iterable[str]) -> str:
    """Return the rows of some items."""
    wanted = set(ids)
    return "".join(_row_html(_row(sheet, view, entry)) for entry in _all(sheet) if entry.item.id in wanted)


def differs(before: Sheet, after: Sheet) -> bool:
    """Return whether the stack must be redrawn."""
    if len(before.items) != len(after.items):
        return True
    # a command keeps the identity of what it did not change
    return any(a is not b and _key(a) != _key(b) for a, b in zip(before.items, after.items, strict=True))


def _key(item: Item) -> tuple:
    marks: tuple = (item.id, item.name, item.locked, item.hidden)
    if not isinstance(item, Photo):
        marks = (*marks, item.shelf_link and (item.shelf_link.item, item.shelf_link.version))
    if isinstance(item, Photo):
        return (*marks, item.file, item.matrix[:4])
    if isinstance(item, Group):
        return (*marks, tuple(_key(i) for i in item.items))
    # moving a piece does not change its thumbnail; any other change may
    return (*marks, item.kind, flat(item.paint.fill), item.matrix[:4], tuple(_key(p) for p in item.photos), item.shape)
