"""How much of a file may be outlined: a few hundred bytes can ask for minutes."""

from collections.abc import Sequence
from typing import Final

import numpy as np

from outline import Path, length

__all__ = ["Effort", "pairs_that_meet"]

_PLENTY: Final = 200.0
"""For up to 100 kB, in ms as a slow machine takes them; for more in proportion."""
_SAMPLE: Final = 1000


class Effort:
    """What is left for outlines that a drawing can do without, if only just: of borders, masks and filters.

    It is counted and not timed, so that a file comes in the same everywhere.
    """

    def __init__(self, size: int):
        """Start with what a file of `size` bytes may take."""
        self.left = _PLENTY * max(1.0, size / 100_000)

    def allows(self, cost: float) -> bool:
        """Return whether that much is left, and take it."""
        if cost > self.left:
            return False
        self.left -= cost
        return True

    def allows_look(self, path: Path) -> bool:
        """Return whether every curve of a path can be looked at once, and take that."""
        return self.allows(_look(path))

    def allows_border(self, path: Path, dashes: Sequence[float]) -> bool:
        """Return whether the outline of a border along a path, with dashes in its px, can be afforded."""
        # that it is looked at counts, too
        self.left -= _look(path)
        cost = 0.0
        if dashes and sum(dashes) > 0:
            cost = 0.2 * length(path) * len(dashes) / (2 * sum(dashes))
        # a pair that meets has four crossings of its borders
        return cost <= self.left and self.allows(cost + 0.08 * pairs_that_meet(path))


def _look(path: Path) -> float:
    return 0.5 + 0.1 * float(np.count_nonzero(path.arrays[1]))


def pairs_that_meet(path: Path) -> float:
    """Return how many pairs of a line's curves may cross, by their boxes; of very many a part is counted for all."""
    step = -(-len(path.arrays[0]) // _SAMPLE) or 1
    q = path.arrays[0][::step].reshape(-1, 4, 2)
    low, high = q.min(axis=1), q.max(axis=1)
    meet = ((low[:, None] <= high[None]) & (high[:, None] >= low[None])).all(axis=2)
    # each with itself, and with the one that it goes on from
    return max(0.0, (int(meet.sum()) - 3 * len(q)) / 2 * step**2)
