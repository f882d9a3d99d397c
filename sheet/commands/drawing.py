"""Commands that bring something new onto the sheet."""

import msgspec
from msgspec.structs import replace

from outline import Matrix

from .. import placing
from ..errors import SheetError
from ..lengths import parse, parse_length
from ..model import Ellipse, Item, Paint, Photo, Piece, Rectangle, Sheet
from ..tree import in_stack_order
from .base import Command, Outcome, checked, copied, default_paint, fresh, names, numbered, register, room, some


@register
class Draw(Command, frozen=True):
    """Draw a rectangle or an ellipse; numbers are px, texts take units and arithmetic."""

    command = "draw"
    kind: str
    x: float | str
    y: float | str
    width: float | str
    height: float | str
    paint: Paint | None = None

    def run(self, sheet: Sheet) -> Outcome:
        if self.kind not in ("rectangle", "ellipse"):
            raise SheetError(f"“{self.kind[:30]}” is nothing that can be drawn.", "Draw a rectangle or an ellipse.")
        room(sheet)
        read = {}
        for field, whole in (("x", sheet.width), ("y", sheet.height), ("width", sheet.width), ("height", sheet.height)):
            value = getattr(self, field)
            if isinstance(value, str):
                value = parse_length(value, field, unit=sheet.unit, resolution=sheet.resolution, whole=whole)
            else:
                value = parse(value, field)
            if field in ("width", "height") and value <= 0:
                raise SheetError(f"The {field} must be greater than 0.", "Type a larger number.", field)
            read[field] = value
        shape: Rectangle | Ellipse
        if self.kind == "rectangle":
            shape = Rectangle(read["width"], read["height"])
        else:
            shape = Ellipse(read["width"], read["height"])
        sheet, (new,) = fresh(sheet)
        name = numbered(sheet, self.kind.capitalize())
        paint = checked(self.paint) if self.paint else default_paint(sheet)
        piece = Piece(new, name, shape, Matrix.move(read["x"], read["y"]).numbers(), paint)
        return Outcome(replace(sheet, items=(*sheet.items, piece)), f"draw {name}", (new,))


class NewPhoto(msgspec.Struct, frozen=True):
    """A photo to place: the SHA-256 of its file, its name, its size in px, and whether it has transparency."""

    file: str
    name: str
    width: int
    height: int
    alpha: bool = False


@register
class Place(Command, frozen=True):
    """Bring photos in, each about a point (px) or, without one, in the middle of the sheet.

    A photo comes in as large as the sheet allows, never above one photo px per sheet px.
    """

    command = "place"
    photos: list[NewPhoto]
    x: float | None = None
    y: float | None = None

    def run(self, sheet: Sheet) -> Outcome:
        if not self.photos:
            raise SheetError("No photo came with that.", "Choose one or more pictures.")
        room(sheet, len(self.photos))
        sheet, ids = fresh(sheet, len(self.photos))
        cx = sheet.width / 2 if self.x is None else self.x
        cy = sheet.height / 2 if self.y is None else self.y
        items: list[Item] = []
        step = min(sheet.width, sheet.height) * 0.03
        for k, (new, photo) in enumerate(zip(ids, self.photos, strict=True)):
            scale = min(1.0, sheet.width / photo.width, sheet.height / photo.height)
            x = cx - scale * photo.width / 2 + k * step
            y = cy - scale * photo.height / 2 + k * step
            items.append(
                Photo(
                    new,
                    photo.name,
                    photo.file,
                    photo.width,
                    photo.height,
                    (scale, 0.0, 0.0, scale, x, y),
                    1.0,
                    photo.alpha,
                )
            )
        # photos come in below the pieces: those are drawn over them
        lowest = next((k for k, i in enumerate(sheet.items) if isinstance(i, Piece)), len(sheet.items))
        merged = (*sheet.items[:lowest], *items, *sheet.items[lowest:])
        return Outcome(replace(sheet, items=merged), f"bring in {names(items)}", tuple(ids))


@register
class Duplicate(Command, frozen=True):
    """Make copies a little to the right and below, each above what it copies."""

    command = "duplicate"
    ids: list[str]

    def run(self, sheet: Sheet) -> Outcome:
        chosen = some(sheet, self.ids, "duplicate")
        if len(in_stack_order(sheet, self.ids)) != len(chosen):
            raise SheetError("Only what lies on the sheet itself can be duplicated.", "Step out first.", "ids")
        room(sheet, len(chosen))
        off = min(sheet.width, sheet.height) * 0.02
        items: list[Item] = []
        made = []
        for item in sheet.items:
            items.append(item)
            if any(item.id == c.id for c in chosen):
                sheet, copy = copied(sheet, item)
                copy = placing.moved(copy, Matrix.move(off, off))
                made.append(copy.id)
                items.append(copy)
        return Outcome(replace(sheet, items=tuple(items)), f"duplicate {names(chosen)}", tuple(made))
