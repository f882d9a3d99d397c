"""Bringing photos in: the page names files, the server knows the rest."""

import math
from typing import Annotated

from msgspec import Meta
from msgspec.structs import replace

from outline import Matrix
from sheet.commands.base import Command, Outcome, check_count, describe_items, register
from sheet.document import library
from sheet.document.errors import Offer, SheetError
from sheet.document.ids import new_ids
from sheet.document.library import Library, PhotoFacts
from sheet.document.limits import File, Ids, MaybeId
from sheet.document.limits import Place as Coordinate
from sheet.document.model import Group, Item, Photo, Piece, Sheet
from sheet.document.tree import find, parent_of, present, take_out
from sheet.geometry.copies import copied
from sheet.geometry.geometry import box_of
from sheet.geometry.placing import moved, on_step, settled

from .framing import PutIn
from .replacing import in_the_place

__all__ = ["BringDrawing", "PlacedDrawing", "PlacePhotos", "PlacedPhotos", "UsePhoto"]


@register
class PlacePhotos(Command, frozen=True):
    """Import photos by their files, each around a point (px) or, without one, in the middle of the sheet; or `into`
    an outline, which they fill unless there is a point.

    `beside` is a selected frame: one photo is offered as a replacement for its own.
    """

    command = "place"
    files: Annotated[list[File], Meta(max_length=1000)]
    x: Coordinate | None = None
    y: Coordinate | None = None
    into: MaybeId = ""
    beside: MaybeId = ""

    def informed(self, library: Library, sheet: Sheet) -> Command:
        """Return the command with the metadata of each file."""
        if not self.files:
            raise SheetError("No photo came with that.", "Select one or more pictures.", "files")
        return PlacedPhotos(tuple(library.photo(f) for f in self.files), self.x, self.y, self.into, self.beside)


GAP = 0.04
"""The gap between photos imported together, as a share of their cells."""


class PlacedPhotos(Command, frozen=True):
    """Photos to place. A single one is as large as the sheet allows, at most one photo px per sheet px."""

    photos: tuple[PhotoFacts, ...]
    x: float | None = None
    y: float | None = None
    into: str = ""
    beside: str = ""

    def run(self, sheet: Sheet) -> Outcome:
        check_count(sheet, len(self.photos))
        sheet, ids = new_ids(sheet, len(self.photos))
        cx = sheet.width / 2 if self.x is None else self.x
        cy = sheet.height / 2 if self.y is None else self.y
        items = []
        # several go side by side, in as many columns as rows, each in its own cell
        columns = 1 if self.into else math.ceil(math.sqrt(len(self.photos)))
        rows = 1 if self.into else math.ceil(len(self.photos) / columns)
        across, down = sheet.width / columns, sheet.height / rows
        gap = 0.0 if columns == 1 else GAP
        for k, (new, facts) in enumerate(zip(ids, self.photos, strict=True)):
            scale = min(1.0, (1 - gap) * across / facts.width, (1 - gap) * down / facts.height)
            column, row = (0, 0) if self.into else (k % columns, k // columns)
            middle_x, middle_y = cx + (column - (columns - 1) / 2) * across, cy + (row - (rows - 1) / 2) * down
            # a photo as large as the sheet fills it, wherever it is dropped
            over = max(abs(scale * facts.width - sheet.width), abs(scale * facts.height - sheet.height))
            if columns == 1 and over < 1e-6 * sheet.width:
                middle_x, middle_y = sheet.width / 2, sheet.height / 2
            # rounded, because what is drawn later snaps to its edges
            x = on_step(middle_x - scale * facts.width / 2, sheet.round_to)
            y = on_step(middle_y - scale * facts.height / 2, sheet.round_to)
            placing = (scale, 0.0, 0.0, scale, x, y)
            size = (facts.width, facts.height)
            items.append(Photo(new, facts.name, facts.file, *size, placing, alpha=facts.alpha, shown=facts.shown))
        if self.into and self.x is None:
            # nobody said where: it fills what it goes into
            box = box_of(find(sheet, self.into))
            items = [settled(photo, box, "cover") for photo in items]
        # photos go below the pieces, which are drawn over them, but never beneath another photo
        at = next((k for k, i in enumerate(sheet.items) if not isinstance(i, Photo)), len(sheet.items))
        at = max([at, *(k + 1 for k, i in enumerate(sheet.items) if isinstance(i, Photo))])
        merged = (*sheet.items[:at], *items, *sheet.items[at:])
        sheet = replace(sheet, items=merged)
        label = f"bring in {describe_items(list(items))}"
        if not self.into:
            offer: Offer | None = None
            note = ""
            frame = next(iter(present(sheet, [self.beside])), None) if len(ids) == 1 else None
            if isinstance(frame, Piece) and frame.photos:
                note = f"“{items[0].name}” is loose, beside “{frame.name}”."
                offer = (f"Replace “{frame.photos[-1].name}”", "replace_photo", {"ids": [frame.id, *ids]})
            return Outcome(sheet, label, tuple(ids), note, offer)
        frame = find(sheet, self.into)
        if len(ids) == 1 and isinstance(frame, Piece) and frame.photos:
            return in_the_place(take_out(sheet, ids), frame, frame.photos[-1], items[0])
        return replace(PutIn([*ids, self.into]).run(sheet), label=label)


@register
class UsePhoto(Command, frozen=True):
    """Use a photo from the tray: as a frame's new photo, in an outline, or by itself on the sheet.

    `ids` is its target, one item or none; without one the photo is placed around the
    point (x, y) in px.
    """

    command = "use_photo"
    file: File
    ids: Ids = []
    x: Coordinate | None = None
    y: Coordinate | None = None

    def informed(self, library: Library, sheet: Sheet) -> Command:
        """Return the command with the metadata of the file."""
        return Used(library.photo(self.file), tuple(self.ids), self.x, self.y)


class Used(Command, frozen=True):
    """A known photo and its target."""

    photo: PhotoFacts
    ids: tuple[str, ...] = ()
    x: float | None = None
    y: float | None = None

    def named(self) -> list[str]:
        """Return the target: its locks count."""
        return list(self.ids)

    def run(self, sheet: Sheet) -> Outcome:
        if len(self.ids) > 1:
            raise SheetError("A photo goes into one frame at a time.", "Select one frame or outline.", "ids")
        item = find(sheet, self.ids[0]) if self.ids else None
        frame = parent_of(sheet, item.id) if isinstance(item, Photo) else item
        if not isinstance(frame, Piece):
            return PlacedPhotos((self.photo,), self.x, self.y).run(sheet)
        sheet, (new,) = new_ids(sheet, 1)
        facts = self.photo
        photo = Photo(new, facts.name, facts.file, facts.width, facts.height, alpha=facts.alpha, shown=facts.shown)
        if frame.photos:
            old = item if isinstance(item, Photo) else frame.photos[-1]
            return in_the_place(sheet, frame, old, photo)
        photo = settled(photo, box_of(frame), "cover")
        sheet = replace(sheet, items=(photo, *sheet.items))
        return PutIn([photo.id, frame.id]).run(sheet)


@register
class BringDrawing(Command, frozen=True):
    """Import a drawing by its file, around a point (px) or in the middle of the sheet, at its real size."""

    command = "bring_drawing"
    file: File
    x: Coordinate | None = None
    y: Coordinate | None = None

    def informed(self, library: Library, sheet: Sheet) -> Command:
        """Return the command with the contents of the file."""
        # a px of the file is one of a sheet measured in px, and 1/96 inch of any other (CSS Values 4, 5.2)
        scale = 1.0 if sheet.unit == "px" else sheet.resolution / 96
        return PlacedDrawing(library.drawing(self.file, scale), self.x, self.y)


class PlacedDrawing(Command, frozen=True):
    """A drawing to place on the sheet: its contents as one group, or a single item by itself."""

    drawing: library.Brought
    x: float | None = None
    y: float | None = None

    def run(self, sheet: Sheet) -> Outcome:
        facts = self.drawing
        # brackets at the end say what is shown instead
        other = {word for word in facts.unknown if word.endswith(")")}
        lacking = ", ".join(f"{w} ({count})" for w, count in sorted(facts.unknown.items()) if w not in other)
        if not facts.items:
            why = f" Not understood: {lacking}." if lacking else ""
            raise SheetError(f"Nothing in “{facts.name}” can be drawn.{why}", "Save it with plain paths.", "file")
        check_count(sheet, len(facts.items))
        cx = sheet.width / 2 if self.x is None else self.x
        cy = sheet.height / 2 if self.y is None else self.y
        x0, y0, x1, y1 = facts.box
        m = Matrix.move(cx - (x0 + x1) / 2, cy - (y0 + y1) / 2)
        made: list[Item] = []
        for item in facts.items:
            sheet, copy = copied(sheet, item)
            made.append(moved(copy, m))
        if len(made) > 1:
            sheet, (new,) = new_ids(sheet)
            made = [Group(new, facts.name, tuple(made))]
        elif isinstance(made[0], Group) and made[0].name == "Group":
            # nobody has named it
            made = [replace(made[0], name=facts.name)]
        sheet = replace(sheet, items=(*sheet.items, *made))
        instead = ", ".join(f"{facts.unknown[word]} × {word}" for word in sorted(other))
        notes = (
            f"Not understood, and left out: {lacking}." if lacking else "",
            f"Shown otherwise: {instead}." if instead else "",
        )
        note = " ".join(n for n in notes if n)
        return Outcome(sheet, f"bring in {facts.name}", (made[0].id,), note)
