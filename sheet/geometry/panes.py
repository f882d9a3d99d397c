"""Panes: rows and columns of frames split from one outline, and split differently afterwards."""

from collections.abc import Iterable, Mapping

from msgspec.structs import replace

import outline
from outline import Matrix, Path
from sheet.caching import cached
from sheet.document.errors import SheetError
from sheet.document.ids import new_ids
from sheet.document.kinds import Rectangle, plain_of
from sheet.document.model import Group, Panes, Photo, Piece, Shape, Sheet

from . import geometry, placing
from .copies import copied_photos

__all__ = ["MAX_PANES", "ROW", "PaneCells", "cell_name", "cut_anew", "edge_margin", "first_cut", "layout", "pane_size"]

ROW = 100
"""Cells are numbered row * ROW + column, so that they keep their numbers when columns are added or removed."""
MAX_PANES = 1000
"""The most panes of one split."""

PaneCells = tuple[int, ...]
Rect = tuple[float, float, float, float]


def cell_name(cell: int) -> str:
    """Return the name of a cell.

    >>> cell_name(102)
    'Pane 2.3'
    """
    return f"Pane {cell // ROW + 1}.{cell % ROW + 1}"


def first_cut(item: Piece | Photo, columns: int, rows: int) -> Panes:
    """Return the plainest split of a photo or a piece into so many columns and rows."""
    width, height, m = geometry.local_frame(item)
    sx, sy = (m.a**2 + m.b**2) ** 0.5, (m.c**2 + m.d**2) ** 0.5
    if width * sx <= 0 or height * sy <= 0:
        raise SheetError(f"“{item.name}” has no area to split.", "Make it larger first.", "ids")
    frame = (m.a / sx, m.b / sx, m.c / sy, m.d / sy, m.e, m.f)
    if isinstance(item, Photo):
        # a photo that is split by itself is its own base: a rectangle as large as the photo
        base = Piece(item.id, item.name, Rectangle(width * sx, height * sy), frame, photos=(item,))
    else:
        base = item
    return Panes(base, frame, width * sx, height * sy, columns, rows)


def pane_size(cut: Panes) -> tuple[float, float]:
    """Return the width and height of one pane before its bleed (px). Raises SheetError if nothing is left of it."""
    across, down = cut.width - 2 * cut.margin, cut.height - 2 * cut.margin
    width = cut.pane_width or (across - (cut.columns - 1) * cut.gap_x) / cut.columns
    height = cut.pane_height or (down - (cut.rows - 1) * cut.gap_y) / cut.rows
    if across <= 0 or down <= 0:
        raise SheetError("Nothing is left within that margin.", "Type a smaller margin.", "margin")
    for size, field in ((width, "gap_x"), (height, "gap_y")):
        if size <= 0:
            raise SheetError("The gaps leave nothing of the panes.", "Type a smaller gap, or fewer panes.", field)
    return width, height


def _rects(cut: Panes) -> dict[int, Rect]:
    """Return the box of each cell in the split's own frame; panes of a given size are centred."""
    width, height = pane_size(cut)
    x0 = (cut.width - cut.columns * width - (cut.columns - 1) * cut.gap_x) / 2
    y0 = (cut.height - cut.rows * height - (cut.rows - 1) * cut.gap_y) / 2
    across = [_edges(cut, 0, x0 + k * (width + cut.gap_x), width) for k in range(cut.columns)]
    down = [_edges(cut, 1, y0 + k * (height + cut.gap_y), height) for k in range(cut.rows)]
    return {
        row * ROW + column: (left, top, right, bottom)
        for row, (top, bottom) in enumerate(down)
        for column, (left, right) in enumerate(across)
    }


def _edges(cut: Panes, axis: int, at: float, size: float) -> tuple[float, float]:
    """Return the start and end of a pane along an axis of the split's frame, on whole px of the sheet if asked for."""
    a, b, c, d, *off = cut.frame
    if not cut.whole or b or c:
        return at, at + size
    factor = (a, d)[axis]
    low, high = (round(off[axis] + factor * v) for v in (at, at + size))
    if low == high:
        return at, at + size
    return (low - off[axis]) / factor, (high - off[axis]) / factor


def edge_margin(cut: Panes) -> float:
    """Return the inset of the outer panes from the base, before their bleed (px)."""
    return min(_rects(cut)[0][:2])


def _around(rects: Iterable[Rect]) -> Rect:
    return geometry.join_boxes(list(rects))


def _path_of(rect: Rect) -> Path:
    x0, y0, x1, y1 = rect
    return outline.rectangle(x1 - x0, y1 - y0).transform(Matrix.move(x0, y0))


def _block(cells: PaneCells, rects: dict[int, Rect]) -> Rect | None:
    """Return the box of joined cells, the gaps between them filled, if it is all of their region."""
    if len(cells) == 1:
        return rects[cells[0]]
    around = _around(rects[c] for c in cells)
    return around if len(cells) == len([r for r in rects if _inside(rects[r], around)]) else None


def _region(cells: PaneCells, rects: dict[int, Rect]) -> Path:
    """Return the region of joined cells, the gaps between them filled."""
    one = _block(cells, rects)
    if one is not None:
        return _path_of(one)
    have = set(cells)
    parts = [rects[c] for c in cells]
    for c in cells:
        for block in ((c, c + 1), (c, c + ROW), (c, c + 1, c + ROW, c + ROW + 1)):
            if have.issuperset(block):
                parts.append(_around(rects[b] for b in block))
    return outline.union([_path_of(p) for p in parts])


def _inside(rect: Rect, around: Rect) -> bool:
    return rect[0] >= around[0] and rect[1] >= around[1] and rect[2] <= around[2] and rect[3] <= around[3]


def _sets(cut: Panes) -> list[PaneCells]:
    """Return the cells of each pane: joined ones together, and every other one that is not left out."""
    there = [row * ROW + column for row in range(cut.rows) for column in range(cut.columns)]
    left = set(there) - set(cut.out)
    out: dict[int, PaneCells] = {}
    for group in cut.joined:
        kept = tuple(sorted(left.intersection(group)))
        if len(kept) > 1:
            out[kept[0]] = kept
            left.difference_update(kept)
    out |= {c: (c,) for c in left}
    return [out[c] for c in there if c in out]


def _offset(cut: Panes, cells: PaneCells) -> tuple[float, float]:
    """Return how far the spread moves a pane, in the split's own frame (px)."""
    columns = [c % ROW for c in cells]
    rows = [c // ROW for c in cells]
    x = (min(columns) + max(columns) - cut.columns + 1) / 2 * cut.spread_x
    y = (min(rows) + max(rows) - cut.rows + 1) / 2 * cut.spread_y
    return x, y


def layout(cut: Panes) -> Mapping[PaneCells, tuple[Shape, Matrix]]:
    """Return the shape of each pane and its map to the sheet, in reading order.

    Raises SheetError if margin or gaps leave nothing.
    """
    # cached, because a changed split is compared with the one before
    return _layout(replace(cut, panes=()))


@cached(entries=16)
def _layout(cut: Panes) -> Mapping[PaneCells, tuple[Shape, Matrix]]:
    if cut.columns * cut.rows > MAX_PANES:
        raise SheetError(
            f"That would be {cut.columns * cut.rows:,} panes; {MAX_PANES:,} are the most.",
            "Type fewer rows or columns.",
            "columns",
        )
    frame = Matrix(*cut.frame)
    rects = _rects(cut)
    region = geometry.outline_of(replace(cut.base, photos=())).transform(frame.inverse())
    whole = abs(region.area - cut.width * cut.height) <= 1e-9 * cut.width * cut.height
    if not whole and cut.margin:
        region = outline.offset(region, -cut.margin, join="miter")
    out: dict[PaneCells, tuple[Shape, Matrix]] = {}
    for cells in _sets(cut):
        dx, dy = _offset(cut, cells)
        at = frame @ Matrix.move(dx, dy)
        box = _block(cells, rects) if whole else None
        if box is not None:
            x0, y0, x1, y1 = box
            by = cut.bleed
            out[cells] = Rectangle(x1 - x0 + 2 * by, y1 - y0 + 2 * by), at @ Matrix.move(x0 - by, y0 - by)
            continue
        path = _region(cells, rects)
        if not whole:
            path = outline.intersect([region, path])
        if cut.bleed and not path.is_empty:
            path = outline.offset(path, cut.bleed, join="miter")
        if not path.is_empty:
            out[cells] = plain_of(path), at
    if not out:
        raise SheetError("No pane would be left.", "Keep at least one.", "cells")
    return out


def cut_anew(sheet: Sheet, group: Group, cut: Panes) -> tuple[Sheet, Group]:
    """Return panes with a changed split; those that stay keep their photos, their paint and their names.

    A pane that was moved by hand stays moved. Raises SheetError if nothing would be left.
    """
    old = group.panes
    assert old is not None
    known = {cells: item for i, cells in old.panes for item in group.items if item.id == i}
    # a pane that was deleted by hand is left out
    gone = {c for i, cells in old.panes if cells not in known for c in cells}
    cut = replace(cut, out=tuple(sorted({*cut.out, *gone})))
    was = layout(old) if known else {}
    items: list[Piece] = []
    now = layout(cut)
    from_ = _sources(list(now), known)
    for cells, (shape, m) in now.items():
        source = from_.get(cells)
        piece = known[source] if source is not None else None
        dx, dy = _travelled(cut, cells)
        if source is None or not isinstance(piece, Piece):
            sheet, (new,) = new_ids(sheet)
            sheet, photos = copied_photos(sheet, cut.base.photos)
            name = cell_name(cells[0])
            piece = Piece(new, name, shape, m.numbers(), cut.base.paint, photos)
        else:
            ox, oy = _travelled(old, source)
            dx, dy = dx - ox, dy - oy
            m = _by_hand(piece, *was[source]) @ m if source in was else m
            piece = replace(piece, shape=_with_corners(piece.shape, shape), matrix=m.numbers())
        if dx or dy:
            piece = replace(piece, photos=tuple(_shifted(p, cut, dx, dy) for p in piece.photos))
        items.append(piece)
    keys = tuple((i.id, cells) for i, cells in zip(items, now, strict=True))
    others = tuple(i for i in group.items if i.id not in {i for i, _ in old.panes})
    return sheet, replace(group, items=(*items, *others), panes=replace(cut, panes=keys))


def _sources(now: list[PaneCells], known: Mapping[PaneCells, object]) -> dict[PaneCells, PaneCells]:
    """Return the previous pane that each pane continues: the same one, or one that shares a cell with it."""
    out = {cells: cells for cells in now if cells in known}
    free = {cells for cells in known if cells not in out}
    for cells in now:
        if cells not in out:
            shared = [k for k in free if set(k).intersection(cells)]
            if shared:
                out[cells] = min(shared)
                free.discard(out[cells])
    return out


def _travelled(cut: Panes, cells: PaneCells) -> tuple[float, float]:
    return _offset(cut, cells) if cut.travelling else (0.0, 0.0)


def _shifted(photo: Photo, cut: Panes, dx: float, dy: float) -> Photo:
    frame = Matrix(*cut.frame)
    x, y = frame(dx, dy)
    shifted = placing.moved(photo, Matrix.move(x - frame.e, y - frame.f))
    assert isinstance(shifted, Photo)
    return shifted


def _with_corners(old: Shape, new: Shape) -> Shape:
    """Return the new shape of a pane with the corners it was given."""
    if isinstance(old, Rectangle) and isinstance(new, Rectangle) and any(old.radii):
        most = min(new.width, new.height) / 2
        return replace(new, radii=tuple(min(r, most) for r in old.radii))
    return new


def _by_hand(piece: Piece, shape: Shape, m: Matrix) -> Matrix:
    """Return how a pane was moved by hand from its place in the split; the identity if it was changed otherwise."""
    x0, y0, x1, y1 = geometry.box_of(replace(piece, shape=shape, matrix=m.numbers()))
    a0, b0, a1, b1 = geometry.box_of(piece)
    near = 1e-6 * (1 + abs(x1) + abs(y1))
    same = abs((a1 - a0) - (x1 - x0)) < near and abs((b1 - b0) - (y1 - y0)) < near
    moved = abs(a0 - x0) > near or abs(b0 - y0) > near
    return Matrix.move(a0 - x0, b0 - y0) if same and moved else Matrix()
