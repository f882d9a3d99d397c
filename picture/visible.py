"""What of a sheet shows: the box around it, hidden parts of photos left out."""

import outline
from sheet import geometry
from sheet.geometry import Box, join_boxes
from sheet.model import Group, Item, Photo, Sheet

from .errors import PictureError
from .skiapath import stroke_box

__all__ = ["visible_box", "delivered_box"]


def visible_box(item: Item) -> Box | None:
    """Return the box of what shows of one item, or None where nothing does.

    A photo in a frame counts only where the outline shows it: the engine intersects
    the two, so the hidden rest adds nothing.
    """
    if item.hidden:
        return None
    if isinstance(item, Photo):
        return geometry.box_of(item) if item.opacity > 0 else None
    if isinstance(item, Group):
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
                seen = outline.intersect([path, geometry.photo_quad(photo)]).bounds
                if seen:
                    boxes.append(seen)
    stroke = stroke_box(path, item.paint)
    if stroke:
        boxes.append(stroke)
    return join_boxes(boxes) if boxes else None


def _tightened(box: Box, sheet: Sheet) -> Box | None:
    x0, y0 = max(box[0], 0.0), max(box[1], 0.0)
    x1, y1 = min(box[2], sheet.width), min(box[3], sheet.height)
    return (x0, y0, x1, y1) if x1 > x0 and y1 > y0 else None


def delivered_box(sheet: Sheet, only: Item | None = None) -> Box:
    """Return the box to deliver (sheet units): of one item, else of all that shows on the sheet.

    With a backdrop the whole sheet shows. Raises PictureError where nothing does.
    """
    if only is not None:
        box = visible_box(only)
        if box is None:
            raise PictureError(
                f"Nothing of “{only.name}” shows: it has no fill, no border and no photo in it.",
                "Give it a fill, a border or a photo.",
            )
        return box
    if sheet.backdrop is not None:
        return (0.0, 0.0, sheet.width, sheet.height)
    boxes = [b for b in (visible_box(i) for i in sheet.items) if b]
    if not boxes:
        raise PictureError("Nothing shows on this sheet yet.", "Draw a piece, bring in a photo or set a backdrop.")
    box = _tightened(join_boxes(boxes), sheet)
    if box is None:
        raise PictureError("Everything lies off the sheet.", "Move something onto it, or choose a frame to deliver.")
    return box
