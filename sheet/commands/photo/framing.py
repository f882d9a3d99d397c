"""Commands that put photos into outlines, position them, and take them out."""

from typing import Annotated, Final, Literal

from msgspec import Meta
from msgspec.structs import replace

import outline
from outline import Matrix
from sheet.commands.base import MAX_BACK, Command, Outcome, describe_items, register, require_selection
from sheet.document.errors import BRING_IN, SheetError
from sheet.document.kinds import kind_of, plain_of
from sheet.document.limits import Id, Ids, Numbers, Place, Share
from sheet.document.model import CutList, Group, Item, Photo, Piece, Sheet
from sheet.document.tree import change, find, members, parent_of, present, take_out
from sheet.geometry import geometry, placing
from sheet.geometry.copies import as_piece, copied_photos
from sheet.geometry.covering import bare, moved_to_cover, uncovered
from sheet.geometry.geometry import covers

COVERED: Final = 0.995
"""The share of an outline that photos must cover for no warning."""


@register
class PutIn(Command, frozen=True):
    """Put the selected photos into the selected outlines, whatever their order in the stack or in the selection.

    One outline takes all the photos; one photo goes into every outline, each showing its
    part of it; several of both are paired in reading order. A photo stays in place if
    it covers any of the outline; otherwise it is moved there and sized to cover it. A photo
    alone goes into the only outline over it, an outline alone takes the photo beneath. When
    photos are dropped on an outline, loose ones are mapped by `matrix` first.
    """

    command = "put_in"
    ids: Ids
    matrix: Numbers | None = None

    @classmethod
    def accept(cls, sheet: Sheet, ids: list[str]) -> None:
        """Raise SheetError if there is no photo, or no outline for it."""
        _into_what(sheet, ids)

    def run(self, sheet: Sheet) -> Outcome:
        if self.matrix is not None:
            loose = [p.id for p in present(sheet, self.ids) if isinstance(p, Photo) and not parent_of(sheet, p.id)]
            by = placing.usable(self.matrix)
            sheet = change(sheet, loose, lambda p: placing.moved(p, by))
        photos, wholes = _into_what(sheet, self.ids)
        pieces: list[Piece] = []
        for item in wholes:
            if isinstance(item, Piece):
                pieces.append(item)
                continue
            sheet, piece = as_piece(sheet, item)
            assert piece is not None
            # a group becomes one outline, and the photo goes into all of it
            piece = replace(piece, grouped=isinstance(piece.shape, CutList))
            sheet = replace(sheet, items=tuple(piece if i is item else i for i in sheet.items))
            pieces.append(piece)
        closed: list[str] = []
        for k, frame in enumerate(pieces):
            if geometry.is_line(frame):
                pieces[k] = shut = _shut(frame)
                sheet = change(sheet, [frame.id], lambda _, shut=shut: shut)  # type: ignore[misc]
                closed.append(frame.name)
            if isinstance(parent_of(sheet, frame.id), Piece):
                raise SheetError(f"“{frame.name}” is a step of an outline.", "Select the whole outline.", "ids")
        outcome = self._placed(sheet, photos, pieces)
        if not closed:
            return outcome
        message = (
            f"“{closed[0]}” was open, and was closed for it."
            if len(closed) == 1
            else f"{len(closed)} lines were closed."
        )
        return replace(outcome, note=f"{message} {outcome.note}".strip())

    def _placed(self, sheet: Sheet, photos: list[Photo], pieces: list[Piece]) -> Outcome:
        inside: dict[str, list[Photo]] = {}
        for frame, lot in zip(pieces, _shared(sheet, photos, pieces), strict=True):
            already = {p.id for p in frame.photos}
            inside[frame.id] = [p for p in lot if p.id not in already]
        if not any(inside.values()):
            inner = ("Move the photo", "page:step-inside", {"id": pieces[0].id})
            already_in = f"“{photos[0].name}” is in “{pieces[0].name}” already."
            raise SheetError(already_in, "To move it, press Move the photo.", "ids", inner)
        used = list(dict.fromkeys(p.id for lot in inside.values() for p in lot))
        sheet = take_out(sheet, used)
        frames: dict[str, Piece] = {}
        # the frame that a photo stays in keeps it; the others get copies
        first = {p.id for frame in pieces for p in frame.photos if p.id in used}
        brought: list[tuple[str, str]] = []
        boxes = {f.id: geometry.box_of(f) for f in pieces}
        together = geometry.join_boxes(list(boxes.values()))
        panes = {f.id for f in pieces if _is_pane(sheet, f)}
        for frame in pieces:
            # one photo seen through several outlines is one picture: it has the same place in all of them
            box = together if len(photos) == 1 else boxes[frame.id]
            put = []
            for photo in inside[frame.id]:
                if photo.id in first:
                    sheet, (copy,) = copied_photos(sheet, (photo,))
                    photo = copy
                first.add(photo.id)
                put.append(placing.covering(photo, box))
                if put[-1] is not photo and photo.id in used:
                    brought.append((photo.name, frame.name))
            kept = () if put and frame.id in panes else frame.photos
            frames[frame.id] = replace(frame, photos=(*kept, *put))
        sheet = change(sheet, list(frames), lambda i: frames[i.id])
        label = f"put {describe_items(list(photos))} in {describe_items(list(pieces))}"
        missing = {f.id: share for f in frames.values() if (share := uncovered(f)) > 1 - COVERED}
        if not missing and len(brought) == 1:
            ((name, frame_name),) = brought
            note = f"“{name}” was elsewhere, and was moved to fill “{frame_name}”."
            return Outcome(sheet, label, tuple(frames), note, ("Put it back where it was", "undo", {}))
        if not missing:
            return Outcome(sheet, label, tuple(frames))
        worst = max(missing, key=lambda i: missing[i])
        note = f"{100 * missing[worst]:.0f} % of “{frames[worst].name}” is empty."
        ids = list(frames) if len(photos) == 1 else list(missing)
        return Outcome(sheet, label, tuple(frames), note, ("Fill the frame", "settle", {"ids": ids, "how": "cover"}))


def _into_what(sheet: Sheet, ids: list[str]) -> tuple[list[Photo], list[Piece | Group]]:
    """Return the photos, and the outlines for them: pieces, panes, and groups of the sheet that have pieces.

    One photo takes the only outline over it, one outline the photo beneath. Raises SheetError.
    """
    chosen = [find(sheet, i) for i in dict.fromkeys(ids)]
    photos = [i for i in chosen if isinstance(i, Photo)]
    into: list[Piece | Group] = []
    for item in chosen:
        if isinstance(item, Group) and item.panes is not None:
            into.extend(i for i in item.items if isinstance(i, Piece))
        elif isinstance(item, Group):
            if geometry.pieces_of(item) and parent_of(sheet, item.id) is None:
                into.append(item)
        elif isinstance(item, Piece):
            into.append(item)
    if not photos and len(into) == 1:
        under = placing.photo_under(sheet, into[0])
        if under is None:
            message = f"Every photo under “{into[0].name}” is in a frame."
            raise SheetError(message, "Bring a photo in, or take one out of its frame first.", "ids", BRING_IN)
        photos = [under]
    if not photos:
        raise SheetError(
            "No photo is selected to put in.", "Select a photo and the outline it goes into.", "ids", BRING_IN
        )
    if not into and len(photos) == 1 and (over := placing.outline_over(sheet, photos[0])) is not None:
        into = [over]
    if not into:
        raise SheetError(
            f"“{photos[0].name}” needs an outline to go into, and none is selected.",
            "Hold Shift and click the piece that will be its frame.",
            "ids",
        )
    return photos, into


def _shut(line: Piece) -> Piece:
    """Return an open line closed, so that it has an area. Raises SheetError if it cannot have one."""
    shape = line.shape
    kind = None if isinstance(shape, CutList) else kind_of(shape)
    if kind is not None and any(f.field == "closed" for f in kind.fields):
        made = replace(line, shape=kind.given(shape, "closed", True)[0])
    else:
        made = replace(line, shape=plain_of(outline.union([geometry.outline_of(line)])), matrix=Matrix().numbers())
    if geometry.outline_of(made).area <= 0:
        raise SheetError(
            f"“{line.name}” is a line without an inside, even when closed.", "Select a piece with an inside.", "ids"
        )
    return made


def _is_pane(sheet: Sheet, frame: Piece) -> bool:
    """Return whether a frame is a pane: it shows one picture at a time, and the panes remember what was split."""
    parent = parent_of(sheet, frame.id)
    return isinstance(parent, Group) and parent.panes is not None


def _shared(sheet: Sheet, photos: list[Photo], pieces: list[Piece]) -> list[list[Photo]]:
    """Return the photos for each piece. Raises SheetError if their numbers do not match."""
    if len(pieces) == 1:
        return [photos]
    if len(photos) == 1:
        return [photos for _ in pieces]
    if len(photos) != len(pieces):
        raise SheetError(
            f"{len(photos)} photos and {len(pieces)} outlines don’t pair up.",
            "Select as many of each, or one photo, or one outline.",
            "ids",
        )
    read_photos, read_pieces = _reading(photos), _reading(pieces)
    into = {piece.id: photo for photo, piece in zip(read_photos, read_pieces, strict=True)}
    return [[into[p.id]] for p in pieces]  # type: ignore[list-item]


def _reading(items: list) -> list:
    """Return items in reading order: rows from the top, each from the left. Items that overlap by half share a row."""
    boxes = {i.id: geometry.box_of(i) for i in items}
    rows: list[list] = []
    for item in sorted(items, key=lambda i: (boxes[i.id][1] + boxes[i.id][3], boxes[i.id][0])):
        x0, y0, x1, y1 = boxes[item.id]
        if rows:
            above = boxes[rows[-1][0].id]
            if (y0 + y1) / 2 < above[3]:
                rows[-1].append(item)
                continue
        rows.append([item])
    return [i for row in rows for i in sorted(row, key=lambda i: boxes[i.id][0])]


@register
class TakeOut(Command, frozen=True):
    """Take the photos of a frame out again, unchanged and in place: just above the photos beneath the frame, and
    below its pieces. Frame and photos stay selected; a framed group is a group again."""

    command = "take_out"
    ids: Ids

    def run(self, sheet: Sheet) -> Outcome:
        frames: dict[str, list[str]] = {}
        for item in require_selection(sheet, self.ids, "take out of a frame"):
            parent = parent_of(sheet, item.id)
            if isinstance(item, Photo) and isinstance(parent, Piece):
                frames.setdefault(parent.id, []).append(item.id)
            elif isinstance(item, Piece) and item.photos:
                frames.setdefault(item.id, []).extend(p.id for p in item.photos)
            elif isinstance(item, Photo) and len(self.ids) > 1:
                # it was taken out with its frame, which is selected too
                continue
            elif isinstance(item, Group) and item.panes is not None:
                raise SheetError(
                    f"“{item.name}” is split into panes.",
                    "Undo the split, or press Enter and select one pane.",
                    "ids",
                    ("Undo the split", "make_whole", {"id": item.id}),
                )
            else:
                raise SheetError(f"“{item.name}” has no photo inside.", "Select a frame.", "ids")
        if not frames:
            raise SheetError("No frame with a photo is selected.", "Select a frame.", "ids")
        out: list[str] = []

        def emptied(lying: tuple[Item, ...]) -> tuple[Item, ...]:
            items: list[Item] = []
            for top in lying:
                if isinstance(top, Piece) and top.id in frames:
                    leaving = [p for p in top.photos if p.id in frames[top.id]]
                    at = max((k + 1 for k, i in enumerate(items) if isinstance(i, Photo)), default=0)
                    items[at:at] = leaving
                    out.extend(p.id for p in leaving)
                    top = _unframed(top, tuple(p for p in top.photos if p not in leaving))
                elif isinstance(top, Group):
                    top = replace(top, items=emptied(top.items))
                items.append(top)
            return tuple(items)

        sheet = replace(sheet, items=emptied(sheet.items))
        count = "the photo" if len(out) == 1 else f"{len(out)} photos"
        return Outcome(sheet, f"take {count} out", (*frames, *out))


def _unframed(frame: Piece, photos: tuple[Photo, ...]) -> Piece | Group:
    """Return a frame with only these photos in it; the group it was before, if there are none."""
    if photos or not frame.grouped or not isinstance(frame.shape, CutList):
        return replace(frame, photos=photos)
    inside, whole = members(frame.shape), frame.paint
    # the paint it took from its first piece stays there
    own = {n: getattr(whole, n) for n in ("opacity", "blend") if getattr(whole, n) != getattr(inside[0].paint, n)}
    return Group(
        frame.id, frame.name, inside, frame.locked, frame.hidden, holds=frame.holds, shelf_link=frame.shelf_link, **own
    )


@register
class Settle(Command, frozen=True):
    """Set how the photos of a frame fill it: "cover" the outline, or "fit" inside its box; both centred.

    A photo with the same place in several of the frames is one picture seen through them: it
    fills the box around them all.
    """

    command = "settle"
    ids: Ids
    how: Literal["cover", "fit"] = "cover"

    def run(self, sheet: Sheet) -> Outcome:
        boxes: dict[tuple[str, tuple[float, ...]], list[geometry.Box]] = {}
        photos: list[Photo] = []
        chosen = require_selection(sheet, self.ids, "settle")
        for item in [p for i in chosen for p in (geometry.pieces_of(i) if isinstance(i, Group) else [i])]:
            parent = parent_of(sheet, item.id)
            frame = parent if isinstance(item, Photo) else item
            if not isinstance(frame, Piece) or not frame.photos:
                raise SheetError(f"“{item.name}” is not in a frame.", "Select a frame or a photo inside one.", "ids")
            for photo in frame.photos if isinstance(item, Piece) else (item,):
                assert isinstance(photo, Photo)
                photos.append(photo)
                boxes.setdefault((photo.file, photo.matrix), []).append(geometry.box_of(frame))
        whole = {photo: geometry.join_boxes(found) for photo, found in boxes.items()}
        moved = {p.id: placing.settled(p, whole[p.file, p.matrix], self.how) for p in photos}
        sheet = change(sheet, list(moved), lambda i: moved[i.id])
        frames = {f.id: f for p in photos if isinstance(f := parent_of(sheet, p.id), Piece)}
        if self.how == "cover":
            sheet = change(sheet, list(frames), _closed)
            return Outcome(sheet, "fill the frame", tuple(self.ids))
        open_ = [i for i, f in frames.items() if not f.gaps and not bare(f).is_empty]
        sheet = change(sheet, open_, lambda f: replace(f, gaps=True) if isinstance(f, Piece) else f)
        note = "Stay filled was switched off, so that the whole photo shows." if open_ else ""
        return Outcome(sheet, "show the whole photo", tuple(self.ids), note)


def _closed(item: Item) -> Item:
    """Return a frame that stays filled, its photos moved to cover the outline where its box is not enough to tell."""
    if not isinstance(item, Piece):
        return item
    photos = tuple(p if any(covers(item, q) for q in item.photos) else moved_to_cover(item, p) for p in item.photos)
    return replace(item, gaps=False, photos=photos)


def frames_chosen(sheet: Sheet, ids: list[str], what: str) -> list[Piece]:
    """Return the selected frames, or those of the selected photos. Raises SheetError for anything else."""
    frames: dict[str, Piece] = {}
    chosen = require_selection(sheet, ids, what)
    for item in [p for i in chosen for p in (geometry.pieces_of(i) if isinstance(i, Group) else [i])]:
        frame = parent_of(sheet, item.id) if isinstance(item, Photo) else item
        if not isinstance(frame, Piece) or not frame.photos:
            raise SheetError(f"“{item.name}” is not in a frame.", "Select a frame or a photo inside one.", "ids")
        frames[frame.id] = frame
    return list(frames.values())


@register
class StayFilled(Command, frozen=True):
    """Keep the photos of a frame covering its outline, or allow gaps.

    When gaps are allowed, `matrices` gives the place of a photo by its id: where the
    pointer had it before it was moved to cover.
    """

    command = "stay_filled"
    ids: Ids
    on: bool
    matrices: Annotated[dict[Id, Numbers], Meta(max_length=MAX_BACK)] = {}

    def run(self, sheet: Sheet) -> Outcome:
        frames = frames_chosen(sheet, self.ids, "stay filled")
        ids = [f.id for f in frames]
        if self.on:
            sheet = change(sheet, ids, _closed)
        else:
            sheet = change(sheet, ids, lambda f: self._opened(f) if isinstance(f, Piece) else f)
        word = "stay filled" if self.on else "allow gaps in"
        return Outcome(sheet, f"{word} {describe_items(list(frames))}", tuple(self.ids))

    def _opened(self, frame: Piece) -> Piece:
        back = self.matrices
        photos = tuple(replace(p, matrix=placing.seatable(back[p.id])) if p.id in back else p for p in frame.photos)
        return replace(frame, gaps=True, photos=photos)


@register
class SeatPhoto(Command, frozen=True):
    """Align a frame's photos with a side or the middle of its outline, or move a point of a photo to a place in it.

    `side` aligns the boxes. `point` (px of the photo) goes to `at`, as fractions of
    the outline's box: (0.5, 0.5) is the middle, a third (1/3, …).
    """

    command = "seat"
    ids: Ids
    side: Literal["", "left", "centre", "right", "top", "middle", "bottom"] = ""
    point: tuple[Place, Place] | None = None
    at: tuple[Share, Share] = (0.5, 0.5)

    def run(self, sheet: Sheet) -> Outcome:
        frames = frames_chosen(sheet, self.ids, "line up")
        only = set(self.ids) if any(isinstance(find(sheet, i), Photo) for i in self.ids) else None
        moved: dict[str, Photo] = {}
        for frame in frames:
            box = geometry.box_of(frame)
            for photo in frame.photos:
                if only is not None and photo.id not in only:
                    continue
                m = Matrix.move(*self._shift(photo, box))
                shifted = replace(photo, matrix=(m @ photo.placing).numbers())
                moved[photo.id] = shifted if frame.gaps or not covers(frame, photo) else moved_to_cover(frame, shifted)
        if all(p.matrix == find(sheet, i).matrix for i, p in moved.items()):  # type: ignore[union-attr]
            way = "Turn off Stay moved_to_cover, or enlarge the photo, to move it further."
            closed = [f.id for f in frames if not f.gaps]
            gaps = ("Allow gaps", "stay_filled", {"ids": closed, "on": False}) if closed else None
            raise SheetError("The photo is already there, or can’t go further.", way, "ids", gaps)
        sheet = change(sheet, list(moved), lambda i: moved[i.id])
        word = f"to the {self.side}" if self.side else "by a point of it"
        return Outcome(sheet, f"move the photo {word}", tuple(self.ids))

    def _shift(self, photo: Photo, box: geometry.Box) -> tuple[float, float]:
        x0, y0, x1, y1 = box
        if self.point is not None:
            px, py = photo.placing(*self.point)
            return x0 + self.at[0] * (x1 - x0) - px, y0 + self.at[1] * (y1 - y0) - py
        a0, b0, a1, b1 = geometry.box_of(photo)
        return {
            "left": (x0 - a0, 0.0),
            "centre": ((x0 + x1 - a0 - a1) / 2, 0.0),
            "right": (x1 - a1, 0.0),
            "top": (0.0, y0 - b0),
            "middle": (0.0, (y0 + y1 - b0 - b1) / 2),
            "bottom": (0.0, y1 - b1),
            "": (0.0, 0.0),
        }[self.side]
