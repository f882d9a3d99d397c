"""Something done again and again beside other work."""

import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager

__all__ = ["meanwhile"]


@contextmanager
def meanwhile(every: float, call: Callable[[], object]) -> Iterator[None]:
    """While this lasts, call something every so many seconds, in another thread."""
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
