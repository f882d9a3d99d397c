"""Finding and replacing items anywhere: on the sheet, in a group, in a frame, in a cut list."""

import threading
from collections import OrderedDict
from collections.abc import Callable, Iterable, Iterator

from msgspec.structs import replace

from .errors import SheetError
from .model import CutList, Group, Item, Photo, Piece, Sheet, Step

__all__ = [
    "Found",
    "change",
    "drawn_alone",
    "find",
    "framed",
    "in_stack_order",
    "inside_locked",
    "is_leaf",
    "map_members",
    "members",
    "parent_of",
    "photos_of",
    "present",
    "remembered",
    "take_out",
    "top_ids",
    "walk",
    "with_members",
]

Found = dict[str, tuple[Item, Item | None]]
"""Every item of a sheet by id, with its parent."""

_KEPT = 6
_sheets: OrderedDict[int, tuple[Sheet, Found]] = OrderedDict()
_lock = threading.Lock()


def members(cuts: CutList) -> tuple[Piece, ...]:
    """Return the pieces of a cut list, in order."""
    return (cuts.base, *(s.member for s in cuts.steps))


def with_members(cuts: CutList, pieces: Iterable[Item]) -> CutList:
    """Return a cut list with other pieces in place of its own, in order; the same one if none differs."""
    before, after = members(cuts), tuple(pieces)
    if all(a is b for a, b in zip(before, after, strict=True)):
        return cuts
    base, *others = after
    assert isinstance(base, Piece)
    steps = []
    for step, member in zip(cuts.steps, others, strict=True):
        assert isinstance(member, Piece)
        steps.append(step if member is step.member else Step(step.operation, member, step.on))
    return replace(cuts, base=base, steps=tuple(steps))


def map_members(cuts: CutList, change: Callable[[Piece], Item]) -> CutList:
    """Return a cut list with every piece changed; the same one if none is."""
    return with_members(cuts, [change(member) for member in members(cuts)])


def walk(item: Item, parent: Item | None = None) -> Iterator[tuple[Item, Item | None]]:
    """Yield the item and everything in it, each with its parent, lowest first."""
    waiting: list[tuple[Item, Item | None]] = [(item, parent)]
    while waiting:
        one, its = waiting.pop()
        yield one, its
        inner: list[Item] = []
        if isinstance(one, Group):
            inner += one.items
        elif isinstance(one, Piece):
            inner += one.photos
            if isinstance(one.shape, CutList):
                inner += members(one.shape)
        waiting += [(i, one) for i in reversed(inner)]


def photos_of(items: Iterable[Item], hidden: bool = True) -> list[Photo]:
    """Return the photos among items, in groups and in frames, lowest first; `hidden` ones only if asked for."""
    out: list[Photo] = []
    for item in items:
        if item.hidden and not hidden:
            continue
        if isinstance(item, Photo):
            out.append(item)
        else:
            out += photos_of(item.items, hidden) if isinstance(item, Group) else item.photos
    return out


def is_leaf(item: Item) -> bool:
    """Return whether an item is a piece without contents, as most are."""
    return type(item) is Piece and not item.photos and type(item.shape) is not CutList


def remembered(sheet: Sheet) -> Found:
    """Return the index of a sheet by id, cached for the sheets in use."""
    with _lock:
        known = _sheets.get(id(sheet))
        if known is not None and known[0] is sheet:
            _sheets.move_to_end(id(sheet))
            return known[1]
    found: Found = {}
    for top in sheet.items:
        if is_leaf(top):
            found.setdefault(top.id, (top, None))
            continue
        for item, parent in walk(top):
            found.setdefault(item.id, (item, parent))
    with _lock:
        _sheets[id(sheet)] = (sheet, found)
        while len(_sheets) > _KEPT:
            _sheets.popitem(last=False)
    return found


def _located(sheet: Sheet, item_id: str) -> tuple[Item, Item | None]:
    found = remembered(sheet).get(item_id)
    if found is None:
        raise SheetError("What was selected is no longer on the sheet.", "Select it again.", "ids")
    return found


def find(sheet: Sheet, item_id: str) -> Item:
    """Return the item with this id. Raises SheetError if it is gone."""
    return _located(sheet, item_id)[0]


def present(sheet: Sheet, ids: Iterable[str]) -> list[Item]:
    """Return those of the items that still exist, each once, in the order given."""
    found = remembered(sheet)
    return [found[i][0] for i in dict.fromkeys(ids) if i in found]


def parent_of(sheet: Sheet, item_id: str) -> Item | None:
    """Return the parent of the item, None if it is on the sheet itself."""
    return _located(sheet, item_id)[1]


def framed(sheet: Sheet, items: Iterable[Item]) -> tuple[Item, ...]:
    """Return items, with each framed photo replaced by its frame, each once."""
    out: dict[str, Item] = {}
    for item in items:
        holder = parent_of(sheet, item.id) if isinstance(item, Photo) else None
        one = holder if isinstance(holder, Piece) else item
        out.setdefault(one.id, one)
    return tuple(out.values())


def _changed(item: Item, ids: frozenset[str], make: Callable[[Item], Item]) -> Item:
    if item.id in ids:
        return make(item)
    if isinstance(item, Photo):
        return item
    if isinstance(item, Group):
        inner = tuple(_changed(i, ids, make) for i in item.items)
        same = all(a is b for a, b in zip(inner, item.items, strict=True))
        return item if same else replace(item, items=inner)
    if item.photos:
        photos = tuple(_changed(p, ids, make) for p in item.photos)
        if any(a is not b for a, b in zip(photos, item.photos, strict=True)):
            item = replace(item, photos=photos)
    if isinstance(item.shape, CutList):
        cuts = map_members(item.shape, lambda member: _changed(member, ids, make))
        if cuts is not item.shape:
            item = replace(item, shape=cuts)
    return item


def _ways(sheet: Sheet, ids: Iterable[str]) -> set[str]:
    """Return the ids of the top items that are, or contain, one of `ids`."""
    out = set()
    for item_id in ids:
        item, parent = _located(sheet, item_id)
        while parent is not None:
            item, parent = _located(sheet, parent.id)
        out.add(item.id)
    return out


def change(sheet: Sheet, ids: Iterable[str], make: Callable[[Item], Item]) -> Sheet:
    """Return the sheet with `make` applied to every item of `ids`, wherever it is; the rest is unchanged."""
    wanted = frozenset(ids)
    tops = _ways(sheet, wanted)
    return replace(sheet, items=tuple(_changed(i, wanted, make) if i.id in tops else i for i in sheet.items))


def take_out(sheet: Sheet, ids: Iterable[str]) -> Sheet:
    """Return the sheet without the items or framed photos of `ids`. Members of a cut list are refused."""
    ids = list(ids)
    wanted = frozenset(ids)
    for item_id in ids:
        item, parent = _located(sheet, item_id)
        if isinstance(parent, Piece) and isinstance(item, Piece):
            raise SheetError(
                f"“{item.name}” is a step of “{parent.name}”.",
                "Turn the outline back to pieces first, then remove the piece.",
                "ids",
            )
    return replace(sheet, items=_without(sheet.items, wanted))


def _without(items: tuple[Item, ...], wanted: frozenset[str]) -> tuple[Item, ...]:
    """Return the items without those to remove; a group that is empty then goes too."""
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
    """Return the locked one of the item and its ancestors, or None."""
    at: str | None = item_id
    while at is not None:
        item, parent = _located(sheet, at)
        if item.locked:
            return item
        at = parent.id if parent is not None else None
    return None


def top_ids(sheet: Sheet) -> list[str]:
    """Return the ids of the items on the sheet itself, lowest first."""
    return [i.id for i in sheet.items]


def in_stack_order(sheet: Sheet, ids: Iterable[str]) -> list[Item]:
    """Return the items of `ids` that are on the sheet itself, lowest first. Raises SheetError if one is gone."""
    wanted = set(ids)
    for item_id in wanted:
        _located(sheet, item_id)
    return [i for i in sheet.items if i.id in wanted]


def drawn_alone(sheet: Sheet, ids: Iterable[str]) -> tuple[Item, ...]:
    """Return the items of `ids` on the sheet itself and in its groups, lowest first; of a group only itself."""
    wanted = set(ids)

    def found(items: tuple[Item, ...]) -> Iterator[Item]:
        for item in items:
            if item.id in wanted:
                yield item
            elif isinstance(item, Group):
                yield from found(item.items)

    return tuple(found(sheet.items))
