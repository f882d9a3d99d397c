"""An estimate of the work, from the input alone: counted in nodes, without computing any outline."""

from collections.abc import Iterable
from typing import Final, Protocol

from sheet.document.kinds import kind_of
from sheet.document.model import CutList, Group, Item, Photo, Sheet
from sheet.document.tree import members, present, remembered
from sheet.geometry.linked import with_linked


class Weighed(Protocol):
    """What a command says about its own work."""

    def named(self) -> Iterable[str]:
        """The ids it works on."""
        ...

    def weight(self, sheet: Sheet) -> int:
        """About how many nodes it adds."""
        ...


__all__ = ["LIGHT", "effort_of", "weight"]

LIGHT: Final = 1500
"""Up to this many nodes an answer takes about a second, even if every line crosses every other."""


def weight(item: Item) -> int:
    """Return about how many nodes an item involves, including everything in it."""
    return _weighed(item)[1]


def _weighed(item: Item) -> tuple[int, int]:
    """Return about how many nodes an item has, and how many must be processed for it."""
    if isinstance(item, Photo):
        return 1, 1
    if isinstance(item, Group):
        inner = [_weighed(i) for i in item.items]
        return sum(n for n, _ in inner), 1 + sum(w for _, w in inner)
    shape = item.shape
    if not isinstance(shape, CutList):
        own = kind_of(shape).weight(shape)
        return own, own + len(item.photos)
    # members are drawn, and combined; one that is an outline itself is not computed twice
    inner = [_weighed(m) for m in members(shape)]
    nodes = sum(n for n, _ in inner)
    return nodes, nodes + sum(w for _, w in inner) + 50 * len(shape.finishes) + len(item.photos)


def effort_of(sheet: Sheet, ids: Iterable[str] = (), command: Weighed | None = None) -> int:
    """Return about how many nodes a command involves: those of the items named, and those it adds.

    An item in an outline counts with the whole outline, since that is drawn again.
    """
    found = remembered(sheet)
    named = set(ids) | set(command.named() if command is not None else ())
    tops = {}
    for item in present(sheet, with_linked(sheet, named)):
        top = item
        while (parent := found[top.id][1]) is not None:
            top = parent
        tops[top.id] = top
    total = sum(weight(t) for t in tops.values())
    return total + (command.weight(sheet) if command is not None else 0)
