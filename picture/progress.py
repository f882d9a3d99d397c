"""Progress of long work: a listener receives it, and may stop the work by raising an exception."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar

__all__ = ["part", "report_progress", "watched"]

Listener = Callable[[float], None]
_listener: ContextVar[Listener | None] = ContextVar("listener", default=None)


@contextmanager
def watched(report_to: Listener) -> Iterator[None]:
    """While this context lasts, call `report_to` with the share done, 0 to 1; its exceptions end the work."""
    before = _listener.set(report_to)
    try:
        yield
    finally:
        _listener.reset(before)


def report_progress(share: float) -> None:
    """Report how much of the work is done, 0 to 1."""
    report_to = _listener.get()
    if report_to is not None:
        report_to(share)


@contextmanager
def part(begins: float, ends: float) -> Iterator[None]:
    """While this context lasts, reports are of a part of the work: from one share of it to another."""
    report_to = _listener.get()
    if report_to is None:
        yield
    else:
        with watched(lambda share: report_to(begins + share * (ends - begins))):
            yield
