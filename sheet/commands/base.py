"""What every command is, and what several of them need."""

from typing import Any, ClassVar

import msgspec
from msgspec.structs import replace

from ..errors import SheetError
from ..model import CutList, Item, Paint, Photo, Piece, Sheet, Step
from ..sizes import check_color
from ..tree import find

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
]

MAX_ITEMS = 5000


class Outcome(msgspec.Struct, frozen=True):
    """The new sheet, the words for undoing it, and what is chosen afterwards."""

    sheet: Sheet
    label: str
    chosen: tuple[str, ...] = ()


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
    return [find(sheet, i) for i in dict.fromkeys(ids)]


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
        shape = CutList(base, tuple(steps))
    return sheet, replace(item, id=new, photos=tuple(photos), shape=shape)
