"""The base of all commands, and helpers that several of them share."""

from collections.abc import Iterator
from typing import Any, ClassVar, Final

import msgspec
from msgspec.structs import replace

from sheet.document.errors import Offer, SheetError, refusals
from sheet.document.library import Library, Nothing
from sheet.document.limits import MAX_ITEMS
from sheet.document.model import CutList, Fill, Gradient, Item, Paint, Photo, Piece, Sheet
from sheet.document.store import check_size
from sheet.document.tree import find, inside_locked
from sheet.document.validation import check
from sheet.geometry import geometry, linked
from sheet.geometry.covering import keep_filled
from sheet.reading.sizes import check_color

from .reading import refusal_of

__all__ = [
    "COMMANDS",
    "Command",
    "MAX_BACK",
    "Outcome",
    "apply",
    "checked",
    "describe_items",
    "perform",
    "read",
    "register",
    "check_count",
    "require_one",
    "require_selection",
]


MAX_BACK: Final = 200
"""Photos that were moved to cover their outline, and can be put back where the pointer had them."""


class Outcome(msgspec.Struct, frozen=True):
    """What a command returns: the new sheet, the label for undo, the new selection, a note for the person, and an
    offer of a next step in one press."""

    sheet: Sheet
    label: str
    chosen: tuple[str, ...] = ()
    note: str = ""
    offer: Offer | None = None


class Command(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Base of all commands.

    A command that may change locked items sets `locks = False`.
    """

    command: ClassVar[str] = ""
    locks: ClassVar[bool] = True

    def informed(self, library: Library, sheet: Sheet) -> "Command":
        """Return the command with what the server knows about the things it names on `sheet`. Raises SheetError."""
        return self

    @classmethod
    def accept(cls, sheet: Sheet, ids: list[str]) -> None:
        """Raise SheetError if the command cannot run on this selection, whatever its other arguments.

        `run` calls it too, so that buttons, keys and commands never disagree.
        """

    @classmethod
    def refusal(cls, sheet: Sheet, ids: list[str]) -> SheetError | None:
        """Return why the command cannot run on this selection; None if it can."""
        try:
            with refusals():
                cls.accept(sheet, ids)
        except SheetError as error:
            return error
        return None

    def named(self) -> list[str]:
        """Return the ids of the items that the command changes; none of them may be locked."""
        out = list(getattr(self, "ids", ()))
        out += [i for i in (getattr(self, "id", ""), getattr(self, "into", "")) if i]
        return out

    def weight(self, sheet: Sheet) -> int:
        """Return about how many nodes the command adds to those of the items it names."""
        return 0

    def run(self, sheet: Sheet) -> Outcome:
        """Return the outcome on `sheet`. Raises SheetError or OutlineError."""
        raise NotImplementedError


COMMANDS: dict[str, type[Command]] = {}


def register(cls: type[Command]) -> type[Command]:
    COMMANDS[cls.command] = cls
    return cls


def read(name: str, args: Any) -> Command:
    """Return the command `name` with its arguments. Raises SheetError if there is none, or the arguments do not fit."""
    kind = COMMANDS.get(name)
    if kind is None:
        raise SheetError(f"There is no command “{name[:40]}”.", "Reload the page.")
    try:
        made = msgspec.convert(args, kind)
        # some arguments contain parts of a sheet
        check(made)
        return made
    except (msgspec.ValidationError, UnicodeError, RecursionError) as error:
        raise refusal_of(kind, name, args, error) from None


def perform(sheet: Sheet, command: Command) -> Outcome:
    """Run an informed command on `sheet`. Raises SheetError if it cannot be done.

    Locks and limits are checked here only, and engine errors become SheetErrors here.
    """
    if command.locks:
        for item_id in linked.with_linked(sheet, command.named()):
            locked = inside_locked(sheet, item_id)
            if locked is not None:
                unlock = ("Unlock it", "mark", {"ids": [locked.id], "field": "locked", "on": False})
                raise SheetError(f"“{locked.name}” is locked.", "Unlock it in the stack first.", "ids", unlock)
    with refusals():
        outcome = command.run(sheet)
        alike = linked.sync_linked(sheet, outcome.sheet, command.named())
        alike, frames = keep_filled(sheet, alike)
    check_size(alike)
    note = outcome.note or _emptied(sheet, alike)
    if frames and not note:
        note = f"The photo stops where it would no longer fill “{frames[0].name}”."
        if any(p.placing.scale > was.placing.scale * (1 + 1e-9) for p, was in _moved_back(alike, frames)):
            note = f"The photo is larger now, so that it fills “{frames[0].name}”."
        wanted = {p.id: list(p.matrix) for f in frames for p in f.photos}
        back = {"matrices": wanted} if len(wanted) <= MAX_BACK else {}
        off = ("Allow gaps", "stay_filled", {"ids": [f.id for f in frames], "on": False, **back})
        return replace(outcome, sheet=alike, note=note, offer=off)
    return replace(outcome, sheet=alike, note=note)


def _moved_back(sheet: Sheet, frames: list[Piece]) -> Iterator[tuple[Photo, Photo]]:
    """Yield the photos of frames as they are on a sheet, each with what it should be."""
    for frame in frames:
        for was in frame.photos:
            now = find(sheet, was.id)
            if isinstance(now, Photo):
                yield now, was


def _emptied(before: Sheet, after: Sheet) -> str:
    """Return the refusal for an outline that had an area before and has none now."""
    was = {i.id: i for i in before.items}
    for item in after.items:
        old = was.get(item.id)
        if old is None or old is item or not (isinstance(item, Piece) and isinstance(item.shape, CutList)):
            continue
        assert isinstance(old, Piece)
        if geometry.outline_of(item).is_empty and not geometry.outline_of(old).is_empty:
            return f"Nothing is left of “{item.name}” where its pieces are now. It comes back when they do."
    return ""


def apply(sheet: Sheet, name: str, args: dict[str, Any], library: Library | None = None) -> Outcome:
    """Run command `name` with `args` on `sheet`. Raises SheetError for anything that cannot be done."""
    return perform(sheet, read(name, args).informed(library or Nothing(), sheet))


def check_count(sheet: Sheet, more: int = 1) -> None:
    if len(sheet.items) + more > MAX_ITEMS:
        raise SheetError(f"A sheet has room for {MAX_ITEMS:,} items.", "Remove some, or combine them.")


def describe_items(items: list[Item]) -> str:
    if len(items) == 1:
        return items[0].name
    return f"{len(items)} items"


def require_one(sheet: Sheet, ids: list[str], needs: str, way: str) -> Item:
    """Return the one item of a selection. Raises SheetError (“`needs` one thing.”) for none or several."""
    chosen = list(dict.fromkeys(ids))
    if len(chosen) != 1:
        count = f"You selected {len(chosen)}." if chosen else "Nothing is selected."
        raise SheetError(f"{needs} one thing. {count}", way, "ids")
    return find(sheet, chosen[0])


def require_selection(sheet: Sheet, ids: list[str], what: str) -> list[Item]:
    if not ids:
        raise SheetError(f"Nothing is selected to {what}.", "Click a piece or a photo first.", "ids")
    return [find(sheet, i) for i in dict.fromkeys(ids)]


def checked(paint: Paint) -> Paint:
    if not (paint.stroke_width >= 0 and paint.stroke_width <= 1e5):
        raise SheetError("The border must be 0 or wider.", "Type a number like 4 or 0.5mm.", "stroke_width")
    if not 0 <= paint.opacity <= 1:
        raise SheetError("The opacity must be from 0 to 100 %.", "Type a number like 60 %.", "opacity")

    def named(value: Fill | None, field: str) -> Fill | None:
        return value if isinstance(value, Gradient) else check_color(value, field)

    return replace(paint, fill=named(paint.fill, "fill"), stroke=named(paint.stroke, "stroke"))
