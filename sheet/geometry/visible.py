"""What is visible of a sheet: the box around it, without hidden parts of photos."""

import outline
from sheet.document.errors import SheetError
from sheet.document.model import Group, Item, Photo, Sheet

from . import geometry
from .geometry import Box, join_boxes

__all__ = ["exported_box", "visible_box"]


def visible_box(item: Item) -> Box | None:
    """Return the box of what is visible of one item, or None.

    A photo in a frame counts only where the outline shows it: the engine intersects
    the two, so the hidden rest adds nothing. Transparent px around a photo do not count.
    """
    if item.hidden:
        return None
    if isinstance(item, Photo):
        return geometry.photo_shown(item).bounds if item.opacity > 0 else None
    if isinstance(item, Group):
        if item.opacity <= 0:
            return None
        shown = [b for b in (visible_box(i) for i in item.items) if b]
        return join_boxes(shown) if shown else None
    if item.paint.opacity <= 0:
        return None
    path = geometry.outline_of(item)
    boxes: list[Box] = []
    if geometry.fill_shows(item) and path.bounds:
        boxes.append(path.bounds)
    else:
        for photo in item.photos:
            if photo.opacity > 0:
                seen = outline.intersect([path, geometry.photo_shown(photo)]).bounds
                if seen:
                    boxes.append(seen)
    border = geometry.border_box(item)
    if border:
        boxes.append(border)
    return join_boxes(boxes) if boxes else None


def _tightened(box: Box, sheet: Sheet) -> Box | None:
    x0, y0 = max(box[0], 0.0), max(box[1], 0.0)
    x1, y1 = min(box[2], sheet.width), min(box[3], sheet.height)
    return (x0, y0, x1, y1) if x1 > x0 and y1 > y0 else None


def exported_box(sheet: Sheet, only: Item | None = None) -> Box:
    """Return the box to export (sheet units): of one item, else of all visible items.

    A backdrop does not count. Raises SheetError if nothing shows.
    """
    if only is not None:
        box = visible_box(only)
        if box is None:
            raise SheetError(
                f"Nothing of “{only.name}” shows: it has no fill, no border and no photo in it.",
                "Give it a fill, a border or a photo.",
                "what",
            )
        return box
    boxes = [b for b in (visible_box(i) for i in sheet.items) if b]
    if not boxes:
        raise SheetError("Nothing shows on this sheet yet.", "Draw a piece or bring in a photo.", "what")
    box = _tightened(join_boxes(boxes), sheet)
    if box is None:
        raise SheetError("Everything is off the sheet.", "Move something onto it, or choose a frame to export.", "what")
    return box
