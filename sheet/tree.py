"""Finding and replacing items wherever they lie: on the sheet, in a frame, in a cut list."""

from collections.abc import Callable, Iterator

from msgspec.structs import replace

from .errors import SheetError
from .model import CutList, Group, Item, Photo, Piece, Sheet, Step

__all__ = ["walk", "find", "parent_of", "change", "take_out", "top_ids", "in_stack_order", "members", "inside_locked"]


def members(cuts: CutList) -> tuple[Piece, ...]:
    """Return the pieces of a cut list, the first one first."""
    return (cuts.base, *(s.member for s in cuts.steps))


def walk(item: Item, parent: Item | None = None) -> Iterator[tuple[Item, Item | None]]:
    """Yield the item and everything in it, each with its parent."""
    yield item, parent
    if isinstance(item, Group):
        for inner in item.items:
            yield from walk(inner, item)
    if isinstance(item, Piece):
        for photo in item.photos:
            yield photo, item
        if isinstance(item.shape, CutList):
            for member in members(item.shape):
                yield from walk(member, item)


def _located(sheet: Sheet, item_id: str) -> tuple[Item, Item | None]:
    # most lie on the sheet itself, which needs no walk
    for top in sheet.items:
        if top.id == item_id:
            return top, None
    for top in sheet.items:
        for item, parent in walk(top):
            if item.id == item_id:
                return item, parent
    raise SheetError("What was chosen is no longer on the sheet.", "Choose it again.", "ids")


def find(sheet: Sheet, item_id: str) -> Item:
    """Return the item with this id. Raises SheetError where it is gone."""
    return _located(sheet, item_id)[0]


def parent_of(sheet: Sheet, item_id: str) -> Item | None:
    """Return what the item lies in, or None where it lies on the sheet itself."""
    return _located(sheet, item_id)[1]


def _changed(item: Item, ids: frozenset[str], make: Callable[[Item], Item]) -> Item:
    if item.id in ids:
        return make(item)
    if isinstance(item, Photo):
        return item
    if isinstance(item, Group):
        inner = tuple(_changed(i, ids, make) for i in item.items)
        same = all(a is b for a, b in zip(inner, item.items, strict=True))
        return item if same else replace(item, items=inner)
    photos = tuple(_changed(p, ids, make) for p in item.photos)
    if any(a is not b for a, b in zip(photos, item.photos, strict=True)):
        item = replace(item, photos=photos)
    if isinstance(item.shape, CutList):
        base = _changed(item.shape.base, ids, make)
        steps = []
        for step in item.shape.steps:
            member = _changed(step.member, ids, make)
            assert isinstance(member, Piece)
            steps.append(step if member is step.member else Step(step.operation, member, step.on))
        assert isinstance(base, Piece)
        if base is not item.shape.base or any(a is not b for a, b in zip(steps, item.shape.steps, strict=True)):
            item = replace(item, shape=replace(item.shape, base=base, steps=tuple(steps)))
    return item


def change(sheet: Sheet, ids: list[str], make: Callable[[Item], Item]) -> Sheet:
    """Return the sheet with `make` applied to every item of `ids`, wherever it lies; the rest is kept as it is."""
    wanted = frozenset(ids)
    for item_id in ids:
        find(sheet, item_id)
    return replace(sheet, items=tuple(_changed(i, wanted, make) for i in sheet.items))


def take_out(sheet: Sheet, ids: list[str]) -> Sheet:
    """Return the sheet without the items or framed photos of `ids`. Members of a cut list are refused."""
    wanted = frozenset(ids)
    for item_id in ids:
        parent = parent_of(sheet, item_id)
        if isinstance(parent, Piece) and not any(p.id == item_id for p in parent.photos):
            raise SheetError(
                f"“{find(sheet, item_id).name}” is a step of “{parent.name}”.",
                "Take the outline apart first, then remove the piece.",
                "ids",
            )
    return replace(sheet, items=_without(sheet.items, wanted))


def _without(items: tuple[Item, ...], wanted: frozenset[str] | set[str]) -> tuple[Item, ...]:
    """Return the items without those wanted away; a group that holds nothing any more goes too."""
    kept: list[Item] = []
    for item in items:
        if item.id in wanted:
            continue
        if isinstance(item, Group):
            inner = _without(item.items, wanted)
            if not inner:
                continue
            item = item if len(inner) == len(item.items) and inner == item.items else replace(item, items=inner)
        elif isinstance(item, Piece) and any(p.id in wanted for p in item.photos):
            item = replace(item, photos=tuple(p for p in item.photos if p.id not in wanted))
        kept.append(item)
    return tuple(kept)


def inside_locked(sheet: Sheet, item_id: str) -> Item | None:
    """Return what is locked of the item and all it lies in, or None."""
    at: str | None = item_id
    while at is not None:
        item, parent = _located(sheet, at)
        if item.locked:
            return item
        at = parent.id if parent is not None else None
    return None


def top_ids(sheet: Sheet) -> list[str]:
    """Return the ids of what lies on the sheet itself, lowest first."""
    return [i.id for i in sheet.items]


def in_stack_order(sheet: Sheet, ids: list[str]) -> list[Item]:
    """Return the items of `ids` that lie on the sheet itself, lowest first. Raises SheetError where one is gone."""
    for item_id in ids:
        find(sheet, item_id)
    return [i for i in sheet.items if i.id in ids]
