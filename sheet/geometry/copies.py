"""Copying items, turning groups into one piece, and the paint of a new piece."""

from msgspec.structs import replace

from sheet.document.ids import new_ids
from sheet.document.model import CutList, Group, Item, Paint, Photo, Piece, Sheet, Step
from sheet.document.tree import members, with_members

from . import geometry

__all__ = [
    "as_piece",
    "copied",
    "copied_photos",
    "default_paint",
    "photos_in",
]


def default_paint(sheet: Sheet) -> Paint:
    """Return the paint of a new piece: no border; one added later starts at about 1/600 of the sheet's width."""
    width = max(1.0, round((sheet.width + sheet.height) / 1200, 1))
    return Paint(stroke_width=width)


def photos_in(item: Item) -> list[Photo]:
    """Return the photos directly in a group, at any depth; for a photo the photo itself."""
    if isinstance(item, Photo):
        return [item]
    return [p for i in item.items for p in photos_in(i)] if isinstance(item, Group) else []


def as_piece(sheet: Sheet, item: Item) -> tuple[Sheet, Piece | None]:
    """Return the item as one piece: a group becomes the union of its pieces, with their photos.

    None for a photo, or a group without pieces.
    """
    if isinstance(item, Piece):
        return sheet, item
    pieces = geometry.pieces_of(item)
    if not pieces:
        return sheet, None
    assert isinstance(item, Group)
    photos = (*photos_in(item), *(p for piece in pieces for p in piece.photos))
    first, *others = (replace(p, photos=()) for p in pieces)
    paint = first.paint
    if (item.opacity, item.blend) != (1.0, "normal"):
        paint = replace(paint, opacity=item.opacity, blend=item.blend)
    # its anchors and its link to the shelf stay with it
    if not others:
        return sheet, replace(
            first, name=item.name, photos=photos, paint=paint, holds=item.holds, shelf_link=item.shelf_link
        )
    sheet, (new,) = new_ids(sheet)
    cuts = CutList(first, tuple(Step("union", p) for p in others))
    return sheet, Piece(new, item.name, cuts, paint=paint, photos=photos, holds=item.holds, shelf_link=item.shelf_link)


def copied(sheet: Sheet, item: Item, link_ids: dict[str, str] | None = None) -> tuple[Sheet, Item]:
    """Return a copy with new ids throughout.

    Pieces of several outlines are linked with each other, not with the ones they are
    copied from: pass `link_ids`, from old to new, when copying several outlines together.
    """
    link_ids = {} if link_ids is None else link_ids
    sheet, (new,) = new_ids(sheet)
    if isinstance(item, Photo):
        return sheet, replace(item, id=new)
    if isinstance(item, Group):
        inner = []
        for i in item.items:
            sheet, copy = copied(sheet, i, link_ids)
            inner.append(copy)
        cut = item.panes
        if cut is not None:
            ids = {old.id: copy.id for old, copy in zip(item.items, inner, strict=True)}
            cut = replace(cut, panes=tuple((ids[i], cells) for i, cells in cut.panes if i in ids))
        return sheet, replace(item, id=new, items=tuple(inner), panes=cut)
    sheet, photos = copied_photos(sheet, item.photos)
    shape = item.shape
    if isinstance(shape, CutList):
        pieces: list[Item] = []
        for member in members(shape):
            sheet, copy = copied(sheet, member, link_ids)
            pieces.append(copy)
        shape = with_members(shape, pieces)
    if item.link and item.link not in link_ids:
        sheet, (link_ids[item.link],) = new_ids(sheet)
    return sheet, replace(item, id=new, photos=photos, shape=shape, link=link_ids.get(item.link, ""))


def copied_photos(sheet: Sheet, photos: tuple[Photo, ...]) -> tuple[Sheet, tuple[Photo, ...]]:
    """Return copies of a frame's photos with new ids."""
    sheet, ids = new_ids(sheet, len(photos))
    return sheet, tuple(replace(p, id=new) for p, new in zip(photos, ids, strict=True))
