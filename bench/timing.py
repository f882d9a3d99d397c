"""Timing whole calls, warm, best of several; and what goes on meanwhile."""

import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager

__all__ = ["best", "meanwhile", "median"]


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


def _runs(call: Callable[[], object], runs: int, seconds: float) -> list[float]:
    call()
    out: list[float] = []
    end = time.perf_counter() + seconds
    while len(out) < runs and (len(out) < 3 or time.perf_counter() < end):
        start = time.perf_counter()
        call()
        out.append(time.perf_counter() - start)
    return out


def best(call: Callable[[], object], runs: int = 7, seconds: float = 4.0) -> float:
    """Return the shortest of several runs, in seconds, after one to warm up."""
    return min(_runs(call, runs, seconds))


def median(call: Callable[[], object], runs: int = 60, seconds: float = 6.0) -> float:
    """Return the median of several runs, in seconds, after one to warm up."""
    times = sorted(_runs(call, runs, seconds))
    return times[len(times) // 2]
