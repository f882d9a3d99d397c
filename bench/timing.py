"""Timing whole calls, warm, best of several; and several in turn, for a machine that is not as fast all the time."""

import time
from collections.abc import Callable

__all__ = ["best", "in_turn", "median"]


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


def in_turn(*calls: Callable[[], object], runs: int = 200) -> list[float]:
    """Return the median of each of several calls, in seconds, taken one after the other again and again.

    What slows the machine down for a while slows all of them down.
    """
    times: list[list[float]] = [[] for _ in calls]
    for _ in range(runs + 1):
        for call, took in zip(calls, times, strict=True):
            start = time.perf_counter()
            call()
            took.append(time.perf_counter() - start)
    return [sorted(took[1:])[runs // 2] for took in times]
