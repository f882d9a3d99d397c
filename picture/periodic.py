"""Calling something repeatedly beside other work."""

import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager

__all__ = ["repeating"]


@contextmanager
def repeating(every: float, call: Callable[[], object]) -> Iterator[None]:
    """While this context lasts, call a function every so many seconds, in another thread."""
    over = threading.Event()

    def again() -> None:
        while not over.wait(every):
            call()

    hand = threading.Thread(target=again)
    hand.start()
    try:
        yield
    finally:
        over.set()
        hand.join()
