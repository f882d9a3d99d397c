"""Commands that replace a frame's photo, and browse those it had."""

from typing import Literal

from msgspec.structs import replace

from outline import Matrix
from sheet.commands.base import Command, Outcome, register, require_selection
from sheet.document.errors import OPEN_TRAY, SheetError
from sheet.document.ids import new_ids
from sheet.document.limits import MAX_TRIED, File, Id, Ids
from sheet.document.model import Photo, Piece, Sheet
from sheet.document.tree import change, find, parent_of, take_out

from .framing import frames_chosen

__all__ = ["in_the_place", "ring_of"]


def seated_alike(new: Photo, old: Photo) -> Photo:
    """Return a photo that covers what another one covered, turned alike."""
    scale = max(old.width / new.width, old.height / new.height)
    seat = Matrix.move((old.width - scale * new.width) / 2, (old.height - scale * new.height) / 2)
    return replace(new, matrix=(old.placing @ seat @ Matrix.resize(scale, scale)).numbers())


def replaced(sheet: Sheet, frame: Piece, old: Photo, new: Photo) -> Sheet:
    """Return the sheet with a frame's photo replaced; the frame remembers the old one.

    A photo that the frame had before gets the place it had.
    """
    before = next((t for t in frame.tried if t.file == new.file), None)
    put = replace(before, id=new.id, name=new.name) if before is not None else seated_alike(new, old)
    photos = tuple(put if p.id == old.id else p for p in frame.photos)
    others = tuple(t for t in frame.tried if t.file not in (new.file, old.file))
    made = replace(frame, photos=photos, tried=(*others, old)[-MAX_TRIED:] if old.file != new.file else others)
    return change(sheet, [frame.id], lambda _: made)


def in_the_place(sheet: Sheet, frame: Piece, old: Photo, new: Photo) -> Outcome:
    """Return the outcome of replacing a photo, with the offer to have both."""
    offer = ("Keep both", "keep_both", {"id": frame.id, "file": old.file}) if old.file != new.file else None
    note = f"“{new.name}” is now in “{frame.name}”, in place of “{old.name}”." if offer else ""
    label = f"replace {old.name} with {new.name}"
    return Outcome(replaced(sheet, frame, old, new), label, (frame.id,), note, offer)


@register
class KeepBoth(Command, frozen=True):
    """Put a photo that a frame had back into it, beneath the present one, in its old place."""

    command = "keep_both"
    id: Id
    file: File

    def run(self, sheet: Sheet) -> Outcome:
        frame = find(sheet, self.id)
        had = [p for p in frame.tried if p.file == self.file] if isinstance(frame, Piece) else []
        if not had or not isinstance(frame, Piece):
            raise SheetError(f"“{frame.name}” no longer remembers that photo.", "Put it in from the tray.", "file")
        sheet, (new,) = new_ids(sheet)
        both = (replace(had[0], id=new), *frame.photos)
        made = replace(frame, photos=both, tried=tuple(p for p in frame.tried if p.file != self.file))
        return Outcome(change(sheet, [frame.id], lambda _: made), f"keep {had[0].name} too", (frame.id,))


def ring_of(frame: Piece, photo: Photo) -> list[Photo]:
    """Return the photos a frame had and its present one, in an order that stays the same while browsing."""
    ring = [photo, *frame.tried]
    first = min(range(len(ring)), key=lambda k: ring[k].file)
    return ring[first:] + ring[:first]


@register
class TryPhoto(Command, frozen=True):
    """Show another photo that a frame had, in its old place: the next one, the previous one (`by` -1), or `file`."""

    command = "try_photo"
    ids: Ids
    by: Literal[1, -1] = 1
    file: str = ""

    def run(self, sheet: Sheet) -> Outcome:
        frames = frames_chosen(sheet, self.ids, "try photos in")
        if len(frames) != 1:
            raise SheetError("Photos are tried in one frame at a time.", "Select one frame.", "ids")
        (frame,) = frames
        if not frame.tried:
            raise SheetError(
                f"“{frame.name}” has had no other photo.",
                "Replace its photo; then this key switches between them.",
                "ids",
            )
        chosen = [p for p in frame.photos if p.id in self.ids]
        now = (chosen or frame.photos)[-1]
        ring = [now, *frame.tried]
        at = next((k for k, p in enumerate(ring) if p.file == self.file), 0) if self.file else self.by % len(ring)
        if self.file and not at:
            raise SheetError("The frame shows that photo already, or never had it.", "Click another one.", "file")
        # the id in the frame stays, so that the same thing is selected afterwards
        shown = replace(ring[at], id=now.id)
        photos = tuple(shown if p.id == now.id else p for p in frame.photos)
        made = replace(frame, photos=photos, tried=(*ring[at + 1 :], *ring[:at]))
        return Outcome(change(sheet, [frame.id], lambda _: made), f"try {shown.name} in {frame.name}", tuple(self.ids))


@register
class ReplacePhoto(Command, frozen=True):
    """Replace a frame's photo by a loose photo in the same place: the selected one, or the only one there is.

    The old one leaves the sheet; the project keeps it in its tray.
    """

    command = "replace_photo"
    ids: Ids

    def run(self, sheet: Sheet) -> Outcome:
        chosen = require_selection(sheet, self.ids, "replace a photo in")
        loose = [i for i in chosen if isinstance(i, Photo) and not isinstance(parent_of(sheet, i.id), Piece)]
        others = [i.id for i in chosen if i not in loose]
        frames = frames_chosen(sheet, others, "replace") if others else []
        if not loose:
            loose = [i for i in sheet.items if isinstance(i, Photo) and not i.hidden]
            if len(loose) != 1:
                which = "There is no loose photo on the sheet." if not loose else f"{len(loose)} photos are loose."
                raise SheetError(which, "Click the photo you want in the tray.", "ids", OPEN_TRAY)
        if len(loose) != 1 or len(frames) != 1:
            raise SheetError(
                "Replacing needs one frame and one loose photo.",
                "Select the frame, hold Shift, and click the photo that goes in.",
                "ids",
            )
        (new,), (frame,) = loose, frames
        inside = [i for i in chosen if isinstance(i, Photo) and i not in loose]
        old = inside[0] if inside else frame.photos[-1]
        return in_the_place(take_out(sheet, [new.id]), frame, old, new)
