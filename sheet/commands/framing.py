"""Commands that put photos in outlines, seat them, and take them out."""

from typing import Literal

from msgspec.structs import replace

from .. import geometry, placing
from ..errors import SheetError
from ..limits import Ids
from ..making import as_piece
from ..model import Group, Item, Photo, Piece, Sheet
from ..tree import change, find, parent_of, take_out
from .base import Command, Outcome, names, register, some


@register
class PutIn(Command, frozen=True):
    """Put the chosen photos into the chosen outline, whatever lies on top and whichever was chosen first.

    A photo stays where it lies if it covers any of the outline; else it is brought
    there and sized to cover it.
    """

    command = "put_in"
    ids: Ids

    def run(self, sheet: Sheet) -> Outcome:
        chosen = [find(sheet, i) for i in dict.fromkeys(self.ids)]
        photos = [i for i in chosen if isinstance(i, Photo)]
        pieces: list[Piece] = []
        for item in chosen:
            if isinstance(item, Group):
                sheet, piece = as_piece(sheet, item)
                if piece is not None and parent_of(sheet, item.id) is None:
                    # a group becomes one outline, so that the photo goes into all of it
                    sheet = replace(sheet, items=tuple(piece if i is item else i for i in sheet.items))
                    pieces.append(piece)
            elif isinstance(item, Piece):
                pieces.append(item)
        if not photos and len(pieces) == 1:
            photos = self._beneath(sheet, pieces[0])
        if not photos:
            raise SheetError("No photo is chosen to put in.", "Choose a photo and the outline it goes into.", "ids")
        if not pieces:
            raise SheetError(
                f"“{photos[0].name}” needs an outline to go into, and none is chosen.",
                "Hold Shift and click the piece that will be its frame.",
                "ids",
            )
        if len(pieces) > 1:
            raise SheetError(
                f"{len(pieces)} outlines are chosen, and a photo goes into one.",
                "Unite them first, or choose just one of them.",
                "ids",
            )
        frame = pieces[0]
        if geometry.is_line(frame):
            raise SheetError(
                f"“{frame.name}” is an open line, and holds no photo.", "Close it, or give it a fill.", "ids"
            )
        if parent_of(sheet, frame.id) is not None:
            raise SheetError(f"“{frame.name}” is a step of an outline.", "Choose the whole outline.", "ids")
        already = {p.id for p in frame.photos}
        if all(p.id in already for p in photos):
            raise SheetError(f"“{photos[0].name}” is in “{frame.name}” already.", "Step inside to move it.", "ids")
        inside = list(frame.photos)
        box = geometry.box_of(frame)
        for photo in photos:
            if photo.id not in already:
                inside.append(placing.covering(photo, box))
        sheet = take_out(sheet, [p.id for p in photos if p.id not in already])
        made = replace(frame, photos=tuple(inside))
        sheet = change(sheet, [frame.id], lambda _: made)
        return Outcome(sheet, f"put {names(list(photos))} in {frame.name}", (frame.id,))

    @staticmethod
    def _beneath(sheet: Sheet, piece: Piece) -> list[Photo]:
        """Return the topmost free photo that the piece lies over, if there is one."""
        box = geometry.box_of(piece)
        for item in reversed(sheet.items):
            if isinstance(item, Photo) and placing.boxes_meet(geometry.box_of(item), box):
                return [item]
        return []


@register
class TakeOut(Command, frozen=True):
    """Take the photos of a frame out again: they come to lie just below it, unharmed, where they are."""

    command = "take_out"
    ids: Ids

    def run(self, sheet: Sheet) -> Outcome:
        frames: dict[str, list[str]] = {}
        for item in some(sheet, self.ids, "take out of a frame"):
            parent = parent_of(sheet, item.id)
            if isinstance(item, Photo) and isinstance(parent, Piece):
                frames.setdefault(parent.id, []).append(item.id)
            elif isinstance(item, Piece) and item.photos:
                frames.setdefault(item.id, []).extend(p.id for p in item.photos)
            else:
                raise SheetError(f"“{item.name}” has no photo inside.", "Choose a frame.", "ids")
        out: list[str] = []

        def emptied(lying: tuple[Item, ...]) -> tuple[Item, ...]:
            items: list[Item] = []
            for top in lying:
                if isinstance(top, Piece) and top.id in frames:
                    leaving = [p for p in top.photos if p.id in frames[top.id]]
                    items.extend(leaving)
                    out.extend(p.id for p in leaving)
                    top = replace(top, photos=tuple(p for p in top.photos if p not in leaving))
                elif isinstance(top, Group):
                    top = replace(top, items=emptied(top.items))
                items.append(top)
            return tuple(items)

        sheet = replace(sheet, items=emptied(sheet.items))
        count = "the photo" if len(out) == 1 else f"{len(out)} photos"
        return Outcome(sheet, f"take {count} out", tuple(out))


@register
class Settle(Command, frozen=True):
    """Set how the photos of a frame sit: "cover" the outline, or "fit" wholly inside its box; both centred."""

    command = "settle"
    ids: Ids
    how: Literal["cover", "fit"] = "cover"

    def run(self, sheet: Sheet) -> Outcome:
        moved: dict[str, Photo] = {}
        for item in some(sheet, self.ids, "settle"):
            parent = parent_of(sheet, item.id)
            frame = parent if isinstance(item, Photo) else item
            if not isinstance(frame, Piece) or not frame.photos:
                raise SheetError(f"“{item.name}” is not in a frame.", "Choose a frame or a photo inside one.", "ids")
            for photo in frame.photos if isinstance(item, Piece) else (item,):
                assert isinstance(photo, Photo)
                moved[photo.id] = placing.settled(photo, geometry.box_of(frame), self.how)
        sheet = change(sheet, list(moved), lambda i: moved[i.id])
        word = "fill the frame" if self.how == "cover" else "show all of the photo"
        return Outcome(sheet, word, tuple(self.ids))
