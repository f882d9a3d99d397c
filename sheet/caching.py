"""Caches: every cache above `outline` is made here, is bounded, and can be cleared with the others."""

from collections.abc import Callable, Hashable
from functools import lru_cache, wraps
from threading import RLock
from typing import Generic, ParamSpec, TypeVar

from cachetools import LRUCache

__all__ = ["Results", "cached", "cached_if_short", "clear"]

P = ParamSpec("P")
R = TypeVar("R")
CacheKey = TypeVar("CacheKey", bound=Hashable)

_clear_all: list[Callable[[], None]] = []


def cached(entries: int) -> Callable[[Callable[P, R]], Callable[P, R]]:
    """Cache the last `entries` results of a function, which are small or few, by its arguments."""

    def decorate(function: Callable[P, R]) -> Callable[P, R]:
        remembering = lru_cache(maxsize=entries)(function)
        _clear_all.append(remembering.cache_clear)
        return remembering  # type: ignore[return-value]

    return decorate


def cached_if_short(entries: int, longest: int) -> Callable[[Callable[[str], R]], Callable[[str], R]]:
    """Cache the last `entries` results of a function of a text that a stranger may have sent: of up to `longest`
    characters, since one of a megabyte is not worth its memory."""

    def decorate(function: Callable[[str], R]) -> Callable[[str], R]:
        remembering = cached(entries)(function)

        @wraps(function)
        def short(text: str) -> R:
            return remembering(text) if len(text) <= longest else function(text)

        return short

    return decorate


class Results(Generic[CacheKey, R]):
    """A cache of results by key, bounded by their total weight `most` (1 each by default); the least used go first."""

    def __init__(self, most: int, weigh: Callable[[R], int] = lambda result: 1):
        self._results: LRUCache[CacheKey, R] = LRUCache(most, getsizeof=weigh)
        self._weigh = weigh
        self._lock = RLock()
        _clear_all.append(self.clear)

    def get(self, key: CacheKey, work_out: Callable[[], R]) -> R:
        """Return the cached result, or compute it. Exceptions and results too large for the cache are not stored."""
        with self._lock:
            if key in self._results:
                return self._results[key]
        result = work_out()
        if self._weigh(result) <= self._results.maxsize:
            with self._lock:
                self._results.setdefault(key, result)
        return result

    def clear(self) -> None:
        """Forget every result."""
        with self._lock:
            self._results.clear()


def clear() -> None:
    """Clear every cache, so that a test starts like a new process."""
    for forget in _clear_all:
        forget()
