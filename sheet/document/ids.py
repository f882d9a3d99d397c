"""New ids, and unused names."""

import re

from msgspec.structs import replace

from .model import Sheet
from .tree import remembered

__all__ = ["copy_name", "new_ids", "numbered", "part_name"]


def new_ids(sheet: Sheet, count: int = 1) -> tuple[Sheet, list[str]]:
    """Return the sheet with `count` ids used up, and those ids."""
    first = sheet.next_id
    return replace(sheet, next_id=first + count), [f"i{first + k}" for k in range(count)]


def numbered(sheet: Sheet, word: str) -> str:
    """Return the word with the first number that is unused on the sheet, at any depth."""
    taken = {item.name for item, _ in remembered(sheet).values()}
    n = 1
    while f"{word} {n}" in taken:
        n += 1
    return f"{word} {n}"


def part_name(owner: str, word: str) -> str:
    """Return a name for something made from `owner`, within the limit of a name.

    >>> part_name("Ellipse 1", "Edge 2")
    'Edge 2 of Ellipse 1'
    """
    # a part of a part is a part of the whole
    return f"{word} of {owner.rpartition(' of ')[2][: 150 - len(word)]}"


def copy_name(taken: set[str], name: str) -> str:
    """Return an unused name for a copy, and add it to `taken`.

    >>> names = {"Tag", "Tag copy"}
    >>> copy_name(names, "Tag"), copy_name(names, "Tag copy 2")
    ('Tag copy 2', 'Tag copy 3')
    """
    stem = re.sub(r" copy( \d+)?$", "", name)[:150]
    made = f"{stem} copy"
    number = 2
    while made in taken:
        made = f"{stem} copy {number}"
        number += 1
    taken.add(made)
    return made
