"""What every command is, and what several of them need."""

from typing import Any, ClassVar

import msgspec
from msgspec.structs import replace

from .. import geometry
from ..errors import SheetError
from ..model import CutList, Group, Item, Paint, Photo, Piece, Sheet, Step
from ..sizes import check_color
from ..tree import find, inside_locked

__all__ = [
    "COMMANDS",
    "Command",
    "Outcome",
    "apply",
    "checked",
    "copied",
    "default_paint",
    "fresh",
    "names",
    "numbered",
    "register",
    "room",
    "some",
    "as_piece",
    "unlocked",
]

MAX_ITEMS = 5000


class Outcome(msgspec.Struct, frozen=True):
    """The new sheet, the words for undoing it, what is chosen afterwards, and what the person should be told."""

    sheet: Sheet
    label: str
    chosen: tuple[str, ...] = ()
    note: str = ""


class Command(msgspec.Struct, frozen=True):
    """Base of all commands."""

    command: ClassVar[str] = ""

    def run(self, sheet: Sheet) -> Outcome:
        """Return what the command makes of `sheet`. Raises SheetError."""
        raise NotImplementedError


COMMANDS: dict[str, type[Command]] = {}


def register(cls: type[Command]) -> type[Command]:
    COMMANDS[cls.command] = cls
    return cls


def apply(sheet: Sheet, name: str, args: dict[str, Any]) -> Outcome:
    """Run command `name` with `args` on `sheet`. Raises SheetError for anything that cannot be done."""
    kind = COMMANDS.get(name)
    if kind is None:
        raise SheetError(f"There is no command “{name[:40]}”.", "Reload the page.")
    try:
        command = msgspec.convert(args, kind)
    except msgspec.ValidationError as error:
        raise SheetError(f"The command “{name}” came with wrong arguments: {error}.", "Reload the page.") from None
    return command.run(sheet)


def fresh(sheet: Sheet, count: int = 1) -> tuple[Sheet, list[str]]:
    first = sheet.next_id
    return replace(sheet, next_id=first + count), [f"i{first + k}" for k in range(count)]


def room(sheet: Sheet, more: int = 1) -> None:
    if len(sheet.items) + more > MAX_ITEMS:
        raise SheetError(f"A sheet holds up to {MAX_ITEMS:,} items.", "Remove some, or combine them.")


def names(items: list[Item]) -> str:
    if len(items) == 1:
        return items[0].name
    return f"{len(items)} items"


def numbered(sheet: Sheet, word: str) -> str:
    taken = {i.name for i in sheet.items}
    n = 1
    while f"{word} {n}" in taken:
        n += 1
    return f"{word} {n}"


def some(sheet: Sheet, ids: list[str], what: str) -> list[Item]:
    if not ids:
        raise SheetError(f"Nothing is chosen to {what}.", "Click a piece or a photo first.", "ids")
    found = [find(sheet, i) for i in dict.fromkeys(ids)]
    for item in found:
        unlocked(sheet, item)
    return found


def unlocked(sheet: Sheet, item: Item) -> None:
    """Raise SheetError where the item, or what it lies in, is locked."""
    held = inside_locked(sheet, item.id)
    if held is not None:
        raise SheetError(f"“{held.name}” is locked.", "Unlock it in the stack first.", "ids")


def as_piece(sheet: Sheet, item: Item) -> tuple[Sheet, Piece | None]:
    """Return the item as one piece: a group becomes the union of its pieces, their photos riding along.

    None for a photo, or a group without pieces.
    """
    if isinstance(item, Piece):
        return sheet, item
    pieces = geometry.pieces_of(item)
    if not pieces:
        return sheet, None
    photos = (*_photos_in(item), *(p for piece in pieces for p in piece.photos))
    first, *others = (replace(p, photos=()) for p in pieces)
    if not others:
        return sheet, replace(first, name=item.name, photos=photos)
    sheet, (new,) = fresh(sheet)
    cuts = CutList(first, tuple(Step("union", p) for p in others))
    return sheet, Piece(new, item.name, cuts, paint=first.paint, photos=photos)


def _photos_in(item: Item) -> list[Photo]:
    if isinstance(item, Photo):
        return [item]
    return [p for i in item.items for p in _photos_in(i)] if isinstance(item, Group) else []


def default_paint(sheet: Sheet) -> Paint:
    """Return the paint of a first piece: its stroke is about 1/600 of the sheet, so that it shows on any size."""
    width = max(1.0, round((sheet.width + sheet.height) / 1200, 1))
    return Paint(stroke_width=width)


def checked(paint: Paint) -> Paint:
    if not (paint.stroke_width >= 0 and paint.stroke_width <= 1e5):
        raise SheetError("The stroke width must be 0 or more.", "Type a number like 4 or 0.5mm.", "stroke_width")
    if not 0 <= paint.opacity <= 1:
        raise SheetError("The opacity must be from 0 to 100 %.", "Type a number like 60 %.", "opacity")
    return replace(paint, fill=check_color(paint.fill, "fill"), stroke=check_color(paint.stroke, "stroke"))


def copied(sheet: Sheet, item: Item) -> tuple[Sheet, Item]:
    """Return a copy with fresh ids all through."""
    sheet, (new,) = fresh(sheet)
    if isinstance(item, Photo):
        return sheet, replace(item, id=new)
    if isinstance(item, Group):
        inner = []
        for i in item.items:
            sheet, copy = copied(sheet, i)
            inner.append(copy)
        return sheet, replace(item, id=new, items=tuple(inner))
    photos = []
    for photo in item.photos:
        sheet, copy = copied(sheet, photo)
        assert isinstance(copy, Photo)
        photos.append(copy)
    shape = item.shape
    if isinstance(shape, CutList):
        sheet, base = copied(sheet, shape.base)
        assert isinstance(base, Piece)
        steps = []
        for step in shape.steps:
            sheet, member = copied(sheet, step.member)
            assert isinstance(member, Piece)
            steps.append(Step(step.operation, member, step.on))
        shape = replace(shape, base=base, steps=tuple(steps))
    return sheet, replace(item, id=new, photos=tuple(photos), shape=shape)
