"""Commands that trace a photo's silhouette, and trace it again with other settings."""

from typing import Annotated

from msgspec import Meta
from msgspec.structs import replace

from outline import Path
from sheet.commands.base import Command, Outcome, check_count, register
from sheet.document.errors import Offer, SheetError
from sheet.document.ids import new_ids, numbered
from sheet.document.kinds import BrushMark, Silhouette, Tracing
from sheet.document.kinds.silhouette import TracedPoints, Way
from sheet.document.library import Library
from sheet.document.limits import MAX_POINTS, Id, Typed
from sheet.document.limits import Place as Coordinate
from sheet.document.model import Photo, Piece, Sheet
from sheet.document.tree import change, find, parent_of
from sheet.geometry import geometry
from sheet.geometry.copies import default_paint
from sheet.geometry.silhouettes import TracedPhoto, default_deviation, default_smallest, source_of, typed
from sheet.reading.lengths import parse_percent, read_length

__all__ = ["Trace", "Traced"]


@register
class Trace(Command, frozen=True):
    """Make the silhouette of a photo, or trace a silhouette again; places are px of the sheet.

    Level and tolerance are per cent, the others lengths; an empty level is found
    automatically, and other empty values follow from the photo's size. The server works the
    path out from the photo's file.
    """

    command = "silhouette"
    id: Id
    way: Way = "brightness"
    level: Typed = ""
    light: bool = False
    at: tuple[Coordinate, Coordinate] | None = None
    tolerance: Typed = "15"
    touching: bool = True
    loop: TracedPoints = ()
    marks: Annotated[tuple[BrushMark, ...], Meta(max_length=500)] = ()
    smooth: Typed = "0"
    grow: Typed = "0"
    smallest: Typed = ""
    holes: bool = True
    deviation: Typed = ""

    def read_on(self, sheet: Sheet) -> tuple[TracedPhoto, Tracing]:
        """Return what is traced and how. Raises SheetError if it cannot be traced, or a number is wrong."""
        source = source_of(find(sheet, self.id))
        if sum(len(m.points) for m in self.marks) > MAX_POINTS:
            raise SheetError("There are too many strokes.", "Undo some, and use a broader brush.", "marks")
        if not source.scale > 0:
            raise SheetError(f"“{source.name}” has no size here.", "Make it larger.", "id")
        whole = source.longest * source.scale

        def length(name: str, text: str, default: float, field: str, low: float = 0.0) -> float:
            if not text.strip():
                return default * source.scale
            value = read_length(sheet, name, text, whole, field)
            if not low * source.scale <= value <= whole:
                raise SheetError(f"The {name} must be from 0 to the photo's size.", "Type a smaller number.", field)
            return value

        grow = read_length(sheet, "growth", self.grow or "0", whole, "grow")
        if abs(grow) > whole / 2:
            raise SheetError("That grows or shrinks it by more than half the photo.", "Type a smaller number.", "grow")
        # a photo has no detail finer than a twentieth of a px
        deviation = length("deviation", self.deviation, default_deviation(source.longest), "deviation")
        settings = Tracing(
            way=self.way,
            level=_share("brightness", self.level, "level") if self.level.strip() else None,
            light=self.light,
            at=self.at,
            tolerance=_share("tolerance", self.tolerance or "15", "tolerance"),
            touching=self.touching,
            loop=self.loop,
            marks=self.marks,
            smooth=length("smoothing", self.smooth, 0.0, "smooth"),
            grow=grow,
            smallest=length("smallest part", self.smallest, default_smallest(source.longest), "smallest"),
            holes=self.holes,
            deviation=max(deviation, 0.05 * source.scale),
        )
        return source, typed(source, settings)

    def informed(self, library: Library, sheet: Sheet) -> Command:
        """Return the command with the path traced in the photo's file."""
        source, tracing = self.read_on(sheet)
        path = library.silhouette(source.file, tracing)
        return Traced(self.id, tracing, path, self.id if source.tracing is not None else "")

    def named(self) -> list[str]:
        """Return nothing: what is changed is known once it is traced."""
        return []


def _share(name: str, text: str, field: str) -> float:
    value = parse_percent(text, name, field=field)
    if not 0 <= value <= 1:
        raise SheetError(f"The {name} must be from 0 to 100 %.", "Type a number like 40 %.", field)
    return value


class Traced(Command, frozen=True):
    """A traced path (px of the photo): a new piece, or the new outline of the silhouette `changed`."""

    command = "silhouette"
    id: str
    tracing: Tracing
    path: Path
    changed: str = ""

    def run(self, sheet: Sheet) -> Outcome:
        item = find(sheet, self.id)
        source = source_of(item)
        shape = Silhouette(self.path.to_svg(3), source.file, source.name, source.width, source.height, self.tracing)
        if self.changed:
            assert isinstance(item, Piece)
            made = replace(item, shape=shape)
            sheet = change(sheet, [item.id], lambda _: made)
            return Outcome(sheet, f"trace {item.name} again", (item.id,))
        check_count(sheet)
        sheet, (new,) = new_ids(sheet)
        piece = Piece(new, numbered(sheet, "Silhouette"), shape, source.placing.numbers(), default_paint(sheet))
        top = item
        while (parent := parent_of(sheet, top.id)) is not None:
            top = parent
        at = next(k for k, i in enumerate(sheet.items) if i.id == top.id)
        items = (*sheet.items[: at + 1], piece, *sheet.items[at + 1 :])
        sheet = replace(sheet, items=items)
        offer: Offer | None = None
        if isinstance(item, Photo) and top is item:
            offer = ("Put the photo in", "put_in", {"ids": [item.id, new]})
        nodes = geometry.outline_of(piece).node_count
        return Outcome(sheet, f"trace {piece.name}", (new,), f"{piece.name} has {nodes:,} nodes.", offer)

    def named(self) -> list[str]:
        """Return the silhouette that changes; a photo is only read."""
        return [self.changed] if self.changed else []

    def weight(self, sheet: Sheet) -> int:
        """Return how many nodes it has."""
        return self.path.node_count
