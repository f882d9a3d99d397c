"""How far long work is: whoever asks is told, and may stop it by raising."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar

__all__ = ["part", "tell", "watched"]

Told = Callable[[float], None]
_told: ContextVar[Told | None] = ContextVar("told", default=None)


@contextmanager
def watched(told: Told) -> Iterator[None]:
    """While this lasts, `told` is called with the share that is done, 0 to 1; what it raises ends the work."""
    before = _told.set(told)
    try:
        yield
    finally:
        _told.reset(before)


def tell(share: float) -> None:
    """Say how much of the work is done, 0 to 1."""
    told = _told.get()
    if told is not None:
        told(share)


@contextmanager
def part(begins: float, ends: float) -> Iterator[None]:
    """While this lasts, what is told is of a part of the work: from one share of it to another."""
    told = _told.get()
    if told is None:
        yield
    else:
        with watched(lambda share: told(begins + share * (ends - begins))):
            yield
