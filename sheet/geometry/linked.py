"""Pieces that stand in several outlines at once, as working by cell leaves them.

Each outline holds a piece of its own, so that it can be moved, copied and taken apart
by itself; pieces of one `twin` are kept alike. What is done with one of them is done
with all. An outline that is moved as a whole goes its own way.

A piece of the sheet itself may be one of them, as the neighbour whose edge an outline
follows: its outline and place are alike then, its paint and photos are its own.
"""

from collections.abc import Iterable
from typing import Any

from msgspec.structs import replace

from sheet.document.model import CutList, Group, Item, Photo, Piece, Sheet
from sheet.document.tree import change, members, remembered, walk

from .copies import copied

__all__ = ["with_linked", "sync_linked", "others"]


def with_linked(sheet: Sheet, ids: Iterable[str]) -> list[str]:
    """Return the ids, and those of all pieces that change along with one of them."""
    found = remembered(sheet)
    out = list(ids)
    keys = set()
    for item_id in out:
        at: Item | None = found[item_id][0] if item_id in found else None
        while at is not None:
            if isinstance(at, Piece) and at.twin:
                keys.add(at.twin)
            at = found[at.id][1]
    if keys:
        out += [i for i, (item, _) in found.items() if isinstance(item, Piece) and item.twin in keys]
    return out


def others(sheet: Sheet, outline: Piece) -> list[str]:
    """Return the names of the other outlines that some of an outline's pieces stand in, lowest first."""
    keys = {i.twin for i, _ in walk(outline) if isinstance(i, Piece) and i.twin}
    if not keys:
        return []
    return [
        top.name
        for top in sheet.items
        if _has(top)
        and all(i.id != outline.id for i, _ in walk(top))
        and any(isinstance(i, Piece) and i.twin in keys for i, _ in walk(top))
    ]


def _bare(item: Item) -> Item:
    """Return the item without the ids in it, to be compared."""
    if isinstance(item, Photo):
        return replace(item, id="")
    if isinstance(item, Group):
        return replace(item, id="", items=tuple(_bare(i) for i in item.items))
    item = replace(item, id="", photos=tuple(replace(p, id="") for p in item.photos))
    cuts = item.shape
    if isinstance(cuts, CutList):
        base, *others = (_bare(m) for m in members(cuts))
        assert isinstance(base, Piece)
        steps = []
        for step, member in zip(cuts.steps, others, strict=True):
            assert isinstance(member, Piece)
            steps.append(replace(step, member=member))
        item = replace(item, shape=replace(cuts, base=base, steps=tuple(steps)))
    return item


def _has(item: Item) -> bool:
    """Tell whether the item may be, or hold, a piece that others follow; quick for what is plain."""
    if isinstance(item, Group):
        return any(_has(i) for i in item.items)
    return isinstance(item, Piece) and (bool(item.twin) or isinstance(item.shape, CutList))


def sync_linked(before: Sheet, after: Sheet, named: Iterable[str]) -> Sheet:
    """Return `after` with the twins of what a command changed in `before` changed too.

    `named` are the ids the command was given: where a piece of an outline, or something in
    it, was named, its twins follow it; where the outline was, its pieces are twins no more.
    """
    if before.items is after.items:
        return after
    same = {id(i) for i in before.items}
    fresh = [i for i in after.items if id(i) not in same and _has(i)]
    keys = dict.fromkeys(i.twin for top in fresh for i, _ in walk(top) if isinstance(i, Piece) and i.twin)
    if not keys:
        return after
    was = remembered(before)
    wanted = set(named)
    for key in keys:
        found = [(i, on) for i, on in remembered(after).values() if isinstance(i, Piece) and i.twin == key]
        holders = [i for i, _ in found]
        form = _bare if all(isinstance(on, Piece) for _, on in found) else _place
        forms = {i.id: form(i) for i in holders}
        if all(form == forms[holders[0].id] for form in forms.values()):
            continue
        moved = [i for i in holders if i.id not in was or form(was[i.id][0]) != forms[i.id]]
        led = [i for i in moved if any(inner.id in wanted for inner, _ in walk(i))]
        if not led:
            parted = {i.id for i in moved}
            after = change(after, parted, lambda i: replace(i, twin="") if isinstance(i, Piece) else i)
            continue
        late = [i for i in holders if forms[i.id] != forms[led[0].id]]
        after = _followed(after, led[0], late, whole=form is _bare)
    return after


def _place(item: Item) -> Any:
    """Return what is alike of a piece of the sheet and of those that follow it: its outline, where it is."""
    bare = _bare(item)
    return (bare.shape, bare.matrix) if isinstance(bare, Piece) else bare


def _followed(sheet: Sheet, leader: Piece, others: list[Piece], *, whole: bool) -> Sheet:
    for other in others:
        nested = {i.twin: i.twin for i, _ in walk(leader) if isinstance(i, Piece) and i.twin}
        sheet, made = copied(sheet, leader, nested)
        assert isinstance(made, Piece)
        alike = replace(made, id=other.id)
        new = alike if whole else replace(other, shape=made.shape, matrix=made.matrix)
        sheet = change(sheet, [other.id], lambda _, new=new: new)  # type: ignore[misc]
    return sheet
