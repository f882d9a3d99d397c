"""The errors of `outline`, each with the input that caused it."""

from collections.abc import Iterable
from enum import IntEnum

__all__ = ["Certificate", "OutlineError", "PathError", "MapError"]


class Certificate(IntEnum):
    """The result of checking a map as it is built."""

    SOUND = 0
    EULER = 1
    """V - E + F = 2 fails in a component."""
    OUTER_CYCLE = 2
    """A component has not exactly one outer cycle, or an inner one with a negative area."""
    WINDINGS = 3
    """The winding numbers do not add up around some edge."""


class OutlineError(Exception):
    """Base of every error that `outline` raises."""


class PathError(OutlineError):
    """The input is not a usable path.

    `position` is the index in the text where reading stopped, or None when the
    input was not text.
    """

    def __init__(self, message: str, position: int | None = None):
        super().__init__(message if position is None else f"{message} (at character {position})")
        self.position = position


class MapError(OutlineError):
    """The planar map stayed inconsistent at every tolerance that was tried."""

    def __init__(self, message: str, certificates: Iterable[int] = ()):
        super().__init__(message)
        self.certificates = tuple(Certificate(c) for c in certificates)
