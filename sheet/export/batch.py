"""One frame over many photos: how each photo sits in it, and the sheet made from it."""

import math
from collections.abc import Mapping
from typing import Annotated, Final, Literal, get_args

import msgspec
from msgspec import Meta
from msgspec.structs import replace

from outline import OutlineError
from sheet.document.errors import SheetError
from sheet.document.ids import new_ids
from sheet.document.library import PhotoFacts
from sheet.document.limits import Share
from sheet.document.model import CutList, Group, Item, Photo, Piece, Sheet
from sheet.document.tree import change, find
from sheet.geometry import geometry, placing
from sheet.geometry.copies import as_piece, copied
from sheet.geometry.covering import moved_to_cover
from sheet.geometry.geometry import Box, covers
from sheet.geometry.refit import refitted
from sheet.geometry.variants import proportion_of, variant_of

__all__ = [
    "WHERES",
    "Seat",
    "Shot",
    "Where",
    "box_in",
    "filled",
    "frame_named",
    "matching",
    "seat_by",
    "sheet_for",
    "variants_of",
]

Where = Literal["centred", "third", "interest"]
WHERES: tuple[Where, ...] = get_args(Where)
"""How a photo is placed to cover its frame: its middle in the frame's; its point of interest on the nearest
crossing of thirds; or that point in the frame's middle. Each as near as covering allows."""

MOST_ZOOM = 50.0


class Seat(msgspec.Struct, frozen=True):
    """A photo's place in its frame: its scale over the least that covers it, and the shares of what is
    cropped that are cropped at the left, and at the top."""

    zoom: Annotated[float, Meta(ge=1, le=MOST_ZOOM)] = 1.0
    x: Share = 0.5
    y: Share = 0.5


class Shot(msgspec.Struct, frozen=True):
    """A photo of a batch, and its place."""

    photo: PhotoFacts
    seat: Seat = Seat()


def box_in(item: Item) -> Box:
    """Return the box that a photo covers in an item; for panes that of their base. Raises SheetError for a photo."""
    if isinstance(item, Photo):
        raise SheetError(f"“{item.name}” is a photo, not a frame.", "Select the frame it is in, or an outline.", "id")
    if isinstance(item, Group) and item.panes is not None:
        return geometry.box_of(replace(item.panes.base, photos=()))
    box = geometry.box_of(item)
    if box[2] <= box[0] or box[3] <= box[1] or not geometry.pieces_of(item):
        raise SheetError(f"“{item.name}” has no area that could show a photo.", "Select an outline with one.", "id")
    return box


def seat_by(where: Where, box: Box, width: float, height: float, interest: tuple[float, float] | None = None) -> Seat:
    """Return the place of a photo of some size (px) by a rule in a frame's box; its point of interest is in shares
    of its sides, its middle if it is not known."""
    if where == "centred" or interest is None:
        return Seat()
    across, down = box[2] - box[0], box[3] - box[1]
    scale = max(across / width, down / height)
    sides = ((width, across / scale, interest[0]), (height, down / scale, interest[1]))
    return Seat(1.0, *(_share(size, shown, at, where) for size, shown, at in sides))


def _share(size: float, shown: float, at: float, where: Where) -> float:
    """Return the share of the cropped length that comes before the window, along one side of a photo (px)."""
    free = size - shown
    if free <= 1e-9 * size:
        return 0.5
    spots = (0.5,) if where == "interest" else (1 / 3, 2 / 3)
    # of the two thirds the one that the window reaches; if both, the one nearer to the point
    starts = [(at * size - spot * shown, spot) for spot in spots]
    best = min(starts, key=lambda s: (round(_outside(s[0], free), 9), abs(s[1] - at)))
    return min(1.0, max(0.0, best[0] / free))


def _outside(start: float, free: float) -> float:
    return max(0.0, -start, start - free)


def _seated(frame: Piece, photo: Photo, box: Box, seat: Seat) -> Photo:
    # the same place as “cover”
    middle = placing.settled(photo, box, "cover")
    if seat != Seat():
        scale = middle.matrix[0] * seat.zoom
        x = box[0] - (scale * photo.width - (box[2] - box[0])) * seat.x
        y = box[1] - (scale * photo.height - (box[3] - box[1])) * seat.y
        middle = replace(photo, matrix=(scale, 0.0, 0.0, scale, x, y))
    return middle if covers(frame, middle) else moved_to_cover(frame, middle)


def filled(sheet: Sheet, ids: list[str], shots: list[Shot]) -> Sheet:
    """Return the sheet with the photos in the frames named, in turn, replacing those they had.

    Frames left without a photo stay as they are. Raises SheetError if
    a frame is gone, or cannot show one.
    """
    for item_id, shot in zip(ids, shots, strict=False):
        item = find(sheet, item_id)
        if not any(i.id == item_id for i in sheet.items):
            raise SheetError(f"“{item.name}” is inside something else.", "Step out first.", "ids")
        box = box_in(item)
        facts = shot.photo
        sheet, (new,) = new_ids(sheet)
        photo = Photo(new, facts.name, facts.file, facts.width, facts.height, alpha=facts.alpha, shown=facts.shown)
        if isinstance(item, Group) and item.panes is not None:
            sheet, panes = _in_panes(sheet, item, photo, box, shot.seat)
            sheet = _replaced(sheet, item_id, panes)
        else:
            sheet, frame = _in_one(sheet, item, photo, box, shot.seat)
            sheet = _replaced(sheet, item_id, frame)
    return sheet


def _in_one(sheet: Sheet, item: Item, photo: Photo, box: Box, seat: Seat) -> tuple[Sheet, Item]:
    sheet, piece = as_piece(sheet, item)
    assert piece is not None
    if isinstance(item, Group):
        piece = replace(piece, id=item.id, grouped=isinstance(piece.shape, CutList))
    return sheet, replace(piece, photos=(_seated(piece, photo, box, seat),))


def _in_panes(sheet: Sheet, group: Group, photo: Photo, box: Box, seat: Seat) -> tuple[Sheet, Group]:
    assert group.panes is not None
    base = group.panes.base
    placed = _seated(base, photo, box, seat)
    items: list[Item] = []
    for item in group.items:
        if isinstance(item, Piece):
            sheet, (new,) = new_ids(sheet)
            item = replace(item, photos=(replace(placed, id=new),))
        items.append(item)
    return sheet, replace(group, items=tuple(items), panes=replace(group.panes, base=replace(base, photos=(placed,))))


def _replaced(sheet: Sheet, item_id: str, made: Item) -> Sheet:
    return change(sheet, [item_id], lambda _: made)


# -- variants


def frame_named(sheet: Sheet, item_id: str) -> Item:
    """Return a frame of a batch if it is on the sheet itself and can show a photo. Raises SheetError."""
    item = find(sheet, item_id)
    box_in(item)
    return item


def variants_of(
    sheet: Sheet, item_id: str, given: Mapping[str, Item] | None = None
) -> tuple[dict[str, Sheet], dict[str, str]]:
    """Return the sheet with its one frame in each proportion by its word, "" for the frame's own; and why others
    are missing.

    Variants `given` are used as they are; the others are refitted.
    """
    item = frame_named(sheet, item_id)
    x0, y0, x1, y1 = geometry.box_of(item)
    own = proportion_of(x1 - x0, y1 - y0)
    out, lost = {"": sheet}, {}
    for word in ("landscape", "square", "portrait"):
        if word == own:
            continue
        try:
            made = (given or {}).get(word) or variant_of(item, word)
        except (SheetError, OutlineError) as error:
            lost[word] = str(error)
            continue
        on, copy = copied(sheet, made)
        out[word] = change(on, [item_id], lambda _, copy=copy: replace(copy, id=item_id))  # type: ignore[misc]
    return out, lost


BETWEEN: Final = math.log(1.05)
"""How much a photo's proportion may differ from a frame's, as a logarithm, before the frame is refitted to it."""


def sheet_for(sheets: dict[str, Sheet], item_id: str, width: float, height: float) -> str:
    """Return the name of the sheet whose one frame has a photo's proportion (px).

    It is the nearest of the frame's own and its variants; if none is near, one is
    refitted from the nearest, as long on its shorter side, and added to the sheets
    as "variant ratio". If that fails, the nearest is used.
    """
    if len(sheets) == 1:
        return next(iter(sheets))
    boxes = {name: box_in(find(one, item_id)) for name, one in sheets.items() if " " not in name}
    near = matching(boxes, width, height)
    x0, y0, x1, y1 = boxes[near]
    ratio = width / height
    if abs(math.log(ratio * (y1 - y0) / (x1 - x0))) <= BETWEEN:
        return near
    name = f"{near} {ratio:.4f}"
    if name not in sheets:
        short = min(x1 - x0, y1 - y0)
        # whole px, so that the file has no half px at its edges
        size = (round(short * ratio), short) if ratio >= 1 else (short, round(short / ratio))
        try:
            made = refitted(find(sheets[near], item_id), *size)
        except (SheetError, OutlineError):
            return near
        sheets[name] = change(sheets[near], [item_id], lambda _: made)
    return name


def matching(variants: dict[str, Box], width: float, height: float) -> str:
    """Return the name of the box whose proportion is nearest to that of a photo."""

    def away(name: str) -> float:
        x0, y0, x1, y1 = variants[name]
        return abs(math.log((x1 - x0) / (y1 - y0)) - math.log(width / height))

    return min(variants, key=lambda name: (round(away(name), 6), name))
