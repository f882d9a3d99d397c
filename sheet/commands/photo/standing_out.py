"""Let the subject of a photo reach beyond a side of its frame; frame and silhouette stay editable."""

from typing import Literal

from msgspec.structs import replace

import outline
from outline import Matrix, Path
from sheet.commands.base import Command, Outcome, register, require_one
from sheet.document.errors import SheetError
from sheet.document.ids import new_ids
from sheet.document.kinds import Silhouette, Tracing, plain_of
from sheet.document.library import Library
from sheet.document.limits import Id
from sheet.document.model import CutList, Piece, Sheet, Step
from sheet.document.tree import change, find, walk
from sheet.geometry import geometry
from sheet.geometry.geometry import Box
from sheet.geometry.silhouettes import default_deviation, default_smallest, source_of
from sheet.reading.lengths import show_length

__all__ = ["StandOut"]

StandOutSide = Literal["top", "left", "right", "bottom"]
EDGE = 0.02
"""The share of the photo at its edges that counts as surroundings of the subject."""


@register
class StandOut(Command, frozen=True):
    """Let the part of a frame's subject beyond one side stand out of the frame.

    The subject is a silhouette on the sheet that was traced from this photo in this place;
    otherwise it is traced in the whole photo.
    """

    command = "stand_out"
    id: Id
    side: StandOutSide = "top"

    @classmethod
    def accept(cls, sheet: Sheet, ids: list[str]) -> None:
        """Raise SheetError unless one frame with one photo is selected."""
        _frame(sheet, require_one(sheet, ids, "Standing out needs", "Select a frame with a photo.").id)

    def informed(self, library: Library, sheet: Sheet) -> Command:
        """Return the command with the subject's silhouette."""
        frame = _frame(sheet, self.id)
        there = _traced_already(sheet, frame)
        if there is not None:
            return _StoodOut(self, there)
        source = source_of(frame)
        width, height = source.width, source.height
        x, y = EDGE * width, EDGE * height
        tracing = Tracing(
            way="subject",
            loop=((x, y), (width - x, y), (width - x, height - y), (x, height - y)),
            smallest=2 * default_smallest(source.longest),
            holes=False,
            deviation=default_deviation(source.longest),
        )
        path = library.silhouette(source.file, tracing)
        return _StoodOut(self, Silhouette(path.to_svg(3), source.file, source.name, width, height, tracing))


def _frame(sheet: Sheet, item_id: str) -> Piece:
    item = find(sheet, item_id)
    if not isinstance(item, Piece) or len(item.photos) != 1:
        raise SheetError(
            f"“{item.name}” isn’t a frame with one photo.", "Select a frame, and put a photo in it first.", "id"
        )
    return item


def _traced_already(sheet: Sheet, frame: Piece) -> Silhouette | None:
    """Return the silhouette on the sheet that was traced from a frame's photo and has the same place."""
    photo = frame.photos[0]
    for item in sheet.items:
        for one, _ in walk(item):
            if isinstance(one, Piece) and isinstance(one.shape, Silhouette) and one.shape.file == photo.file:
                near = 1e-6 * (1 + max(abs(v) for v in photo.matrix))
                if all(abs(a - b) <= near for a, b in zip(one.matrix, photo.matrix, strict=True)):
                    return one.shape
    return None


def _beyond(frame: Box, photo: Box, side: StandOutSide) -> Path:
    """Return the area beyond a side of a frame's box, as wide as the photo, plus the half of the box at that side."""
    x0, y0, x1, y1 = frame
    p0, q0, p1, q1 = min(photo[0], x0), min(photo[1], y0), max(photo[2], x1), max(photo[3], y1)
    mx, my = (x0 + x1) / 2, (y0 + y1) / 2
    outer, inner = {
        "top": ((p0, q0, p1, y0), (x0, y0, x1, my)),
        "bottom": ((p0, y1, p1, q1), (x0, my, x1, y1)),
        "left": ((p0, q0, x0, q1), (x0, y0, mx, y1)),
        "right": ((x1, q0, p1, q1), (mx, y0, x1, y1)),
    }[side]
    parts = [
        outline.rectangle(c - a, d - b).transform(Matrix.move(a, b)) for a, b, c, d in (outer, inner) if c > a and d > b
    ]
    return outline.union(parts)


class _StoodOut(Command, frozen=True):
    asked: StandOut
    subject: Silhouette

    def named(self) -> list[str]:
        """Return the frame."""
        return [self.asked.id]

    def weight(self, sheet: Sheet) -> int:
        """Return how many nodes the subject has, about."""
        return len(self.subject.d) // 20

    def run(self, sheet: Sheet) -> Outcome:
        side = self.asked.side
        frame = _frame(sheet, self.asked.id)
        (photo,) = frame.photos
        own = geometry.outline_of(frame)
        region = _beyond(geometry.box_of(frame), geometry.box_of(photo), side)
        traced = Path.from_svg(self.subject.d, "evenodd").transform(photo.placing)
        standing = outline.subtract(outline.intersect([traced, region]), [own])
        if standing.area <= 1e-4 * own.area:
            where = {"top": "above", "bottom": "below", "left": "left of", "right": "right of"}[side]
            raise SheetError(
                f"Nothing of the subject is {where} “{frame.name}”.",
                "Move the photo that way, make the frame smaller, or trace its silhouette first.",
                "side",
            )
        sheet, (base, part, silhouette, cutter) = new_ids(sheet, 4)
        bare = Piece(base, frame.name, frame.shape, frame.matrix)
        subject = Piece(silhouette, "Subject", self.subject, photo.matrix)
        beyond = Piece(cutter, f"Beyond the {side}", plain_of(region))
        out = Piece(part, f"Subject at the {side}", CutList(subject, (Step("intersect", beyond),)))
        made = replace(frame, shape=CutList(bare, (Step("union", out),)), matrix=Matrix().numbers())
        a, b = geometry.box_of(frame), geometry.box_of(made)
        by = {"top": a[1] - b[1], "left": a[0] - b[0], "right": b[2] - a[2], "bottom": b[3] - a[3]}[side]
        note = f"The subject stands out by {show_length(by, sheet.unit, sheet.resolution)} {sheet.unit}."
        sheet = change(sheet, [frame.id], lambda _: made)
        return Outcome(sheet, f"let the subject stand out of {frame.name}", (frame.id,), note)
