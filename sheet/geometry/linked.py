"""Pieces that are part of several outlines at once, as part by part leaves them.

Each outline has a piece of its own, so that it can be moved, copied and flattened
by itself; pieces with the same `link` are kept equal. A change to one of them changes
all. An outline that is moved as a whole is unlinked.

A piece on the sheet itself may be one of them, as the neighbour whose edge an outline
follows: they share outline and place, but not paint and photos.
"""

from collections.abc import Iterable
from typing import Any

from msgspec.structs import replace

from sheet.document.model import CutList, Group, Item, Photo, Piece, Sheet
from sheet.document.tree import change, map_members, remembered, walk

from .copies import copied

__all__ = ["with_linked", "sync_linked", "others"]


def with_linked(sheet: Sheet, ids: Iterable[str]) -> list[str]:
    """Return the ids, and those of all pieces that change with one of them."""
    found = remembered(sheet)
    out = list(ids)
    keys = set()
    for item_id in out:
        at: Item | None = found[item_id][0] if item_id in found else None
        while at is not None:
            if isinstance(at, Piece) and at.link:
                keys.add(at.link)
            at = found[at.id][1]
    if keys:
        out += [i for i, (item, _) in found.items() if isinstance(item, Piece) and item.link in keys]
    return out


def others(sheet: Sheet, outline: Piece) -> list[str]:
    """Return the names of the other outlines that share some of an outline's pieces, lowest first."""
    keys = {i.link for i, _ in walk(outline) if isinstance(i, Piece) and i.link}
    if not keys:
        return []
    return [
        top.name
        for top in sheet.items
        if _has(top)
        and all(i.id != outline.id for i, _ in walk(top))
        and any(isinstance(i, Piece) and i.link in keys for i, _ in walk(top))
    ]


def _bare(item: Item) -> Item:
    """Return the item without the ids in it, for comparing."""
    if isinstance(item, Photo):
        return replace(item, id="")
    if isinstance(item, Group):
        return replace(item, id="", items=tuple(_bare(i) for i in item.items))
    item = replace(item, id="", photos=tuple(replace(p, id="") for p in item.photos))
    return replace(item, shape=map_members(item.shape, _bare)) if isinstance(item.shape, CutList) else item


def _has(item: Item) -> bool:
    """Return whether the item may be, or contain, a piece that others follow; quick for plain ones."""
    if isinstance(item, Group):
        return any(_has(i) for i in item.items)
    return isinstance(item, Piece) and (bool(item.link) or isinstance(item.shape, CutList))


def sync_linked(before: Sheet, after: Sheet, named: Iterable[str]) -> Sheet:
    """Return `after` with the pieces linked to what a command changed in `before` changed too.

    `named` are the ids the command was given: if a piece of an outline, or something in
    it, was named, its linked pieces follow; if the outline was, its pieces are unlinked.
    """
    if before.items is after.items:
        return after
    same = {id(i) for i in before.items}
    fresh = [i for i in after.items if id(i) not in same and _has(i)]
    keys = dict.fromkeys(i.link for top in fresh for i, _ in walk(top) if isinstance(i, Piece) and i.link)
    if not keys:
        return after
    was = remembered(before)
    wanted = set(named)
    for key in keys:
        found = [(i, on) for i, on in remembered(after).values() if isinstance(i, Piece) and i.link == key]
        holders = [i for i, _ in found]
        form = _bare if all(isinstance(on, Piece) for _, on in found) else _place
        forms = {i.id: form(i) for i in holders}
        if all(form == forms[holders[0].id] for form in forms.values()):
            continue
        moved = [i for i in holders if i.id not in was or form(was[i.id][0]) != forms[i.id]]
        led = [i for i in moved if any(inner.id in wanted for inner, _ in walk(i))]
        if not led:
            parted = {i.id for i in moved}
            after = change(after, parted, lambda i: replace(i, link="") if isinstance(i, Piece) else i)
            continue
        late = [i for i in holders if forms[i.id] != forms[led[0].id]]
        after = _followed(after, led[0], late, whole=form is _bare)
    return after


def _place(item: Item) -> Any:
    """Return what linked pieces share with a piece of the sheet: its outline, in its place."""
    bare = _bare(item)
    return (bare.shape, bare.matrix) if isinstance(bare, Piece) else bare


def _followed(sheet: Sheet, leader: Piece, others: list[Piece], *, whole: bool) -> Sheet:
    for other in others:
        nested = {i.link: i.link for i, _ in walk(leader) if isinstance(i, Piece) and i.link}
        sheet, made = copied(sheet, leader, nested)
        assert isinstance(made, Piece)
        alike = replace(made, id=other.id)
        new = alike if whole else replace(other, shape=made.shape, matrix=made.matrix)
        sheet = change(sheet, [other.id], lambda _, new=new: new)  # type: ignore[misc]
    return sheet
