"""Photos and the outlines they must cover: exact, in the photo's own px.

A photo is a rectangle in its own frame, so it covers an outline exactly if it contains the
outline's exact bounds there, curves included.
"""

from msgspec.structs import replace

import outline
from outline import Matrix, Path
from sheet.caching import cached
from sheet.document.model import CutList, Group, Item, Numbers, Photo, Piece, Shape, Sheet
from sheet.document.tree import change

from . import geometry
from .geometry import NEAR, covers, window

__all__ = ["bare", "moved_to_cover", "keep_filled", "least_scale", "uncovered"]


def least_scale(frame: Piece, photo: Photo) -> float:
    """Return the least scale at which the photo can cover the outline, turned as it is."""
    box = window(frame, photo)
    if box is None:
        return 0.0
    return max((box[2] - box[0]) / photo.width, (box[3] - box[1]) / photo.height)


def moved_to_cover(frame: Piece, photo: Photo) -> Photo:
    """Return the photo moved as little as possible to cover the outline, enlarged if need be."""
    box = window(frame, photo)
    if box is None:
        return photo
    m, (x0, y0, x1, y1) = photo.placing, box
    scale = least_scale(frame, photo)
    if scale > 1:
        cx, cy = (x0 + x1) / 2, (y0 + y1) / 2
        m = m @ Matrix.resize(scale, scale, (cx, cy))
        x0, y0, x1, y1 = ((v - c) / scale + c for v, c in ((x0, cx), (y0, cy), (x1, cx), (y1, cy)))
    dx = x0 if x0 < 0 else max(0.0, x1 - photo.width)
    dy = y0 if y0 < 0 else max(0.0, y1 - photo.height)
    if scale > 1:
        # as wide, or as high, as the photo: rounding must not push it back and forth
        dx = (x0 + x1 - photo.width) / 2 if x1 - x0 > photo.width * (1 - NEAR) else dx
        dy = (y0 + y1 - photo.height) / 2 if y1 - y0 > photo.height * (1 - NEAR) else dy
    return replace(photo, matrix=(m @ Matrix.move(dx, dy)).numbers())


@cached(entries=1024)
def _rest(shape: Shape, matrix: Numbers, photos: tuple[tuple[int, int, Numbers], ...]) -> tuple[Path, float]:
    """Return what photos of these sizes and places leave uncovered of an outline, and its share of the area."""
    path = geometry.outline_of(Piece("i0", "", shape, matrix))
    quads = [outline.rectangle(w, h).transform(Matrix(*m)) for w, h, m in photos]
    rest = outline.subtract(path, quads)
    if rest.is_empty:
        return rest, 0.0
    area = path.area
    return rest, min(1.0, rest.area / area) if area else 0.0


def _left(frame: Piece) -> tuple[Path, float]:
    if not frame.photos or any(covers(frame, p) for p in frame.photos):
        return Path(), 0.0
    return _rest(frame.shape, frame.matrix, tuple((p.width, p.height, p.matrix) for p in frame.photos))


def bare(frame: Piece) -> Path:
    """Return the part of a frame's outline that none of its photos covers."""
    return _left(frame)[0]


def uncovered(frame: Piece) -> float:
    """Return the share of a frame's outline that none of its photos covers, 0 to 1."""
    return _left(frame)[1]


def keep_filled(before: Sheet, after: Sheet) -> tuple[Sheet, list[Piece]]:
    """Return `after` with photos moved that covered their outline and no longer do, and the frames concerned.

    Frames that allow gaps are left alone, and so are panes whose split changed.
    """
    if before.items is after.items:
        return after, []
    was = {i.id: i for i in before.items}
    moved: dict[str, Photo] = {}
    frames: list[Piece] = []
    for item in after.items:
        old = was.get(item.id)
        if old is not None and old is not item:
            for frame, lay in _pairs(old, item):
                found = {p.id: h for p in frame.photos if (h := _fill_again(lay, frame, p)) is not None}
                if found:
                    moved |= found
                    frames.append(frame)
    return (change(after, list(moved), lambda p: moved[p.id]), frames) if moved else (after, [])


def _pairs(old: Item, new: Item) -> list[tuple[Piece, Piece]]:
    """Return the frames in an item that changed, each with what it was before."""
    if isinstance(new, Piece):
        return [(new, old)] if new.photos and not new.gaps and isinstance(old, Piece) and old.photos else []
    if isinstance(new, Photo) or not isinstance(old, Group) or (old.panes is not new.panes and _cut(old, new)):
        return []
    was = {i.id: i for i in old.items}
    return [pair for i in new.items if (o := was.get(i.id)) is not None and o is not i for pair in _pairs(o, i)]


def _cut(old: Group, new: Group) -> bool:
    """Return whether the split of panes changed, other than by moving them."""
    if old.panes is None or new.panes is None:
        return False
    alike = replace(new.panes, base=old.panes.base, frame=old.panes.frame)
    return alike != old.panes


def _fill_again(old: Piece, frame: Piece, photo: Photo) -> Photo | None:
    lay = next((p for p in old.photos if p.id == photo.id), None)
    same = lay is not None and lay.matrix == photo.matrix and old.shape == frame.shape and old.matrix == frame.matrix
    if lay is None or same or (isinstance(frame.shape, CutList) and geometry.outline_of(frame).is_empty):
        return None
    if covers(frame, photo) or not covers(old, lay):
        return None
    return moved_to_cover(frame, photo)
