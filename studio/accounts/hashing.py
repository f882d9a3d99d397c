"""Passwords hashed one after another, at low priority: strangers who try many slow nobody down."""

import os
import threading
from concurrent.futures import ThreadPoolExecutor
from typing import Any, Final

from django.contrib.auth.hashers import PBKDF2PasswordHasher

from sheet.caching import cached

__all__ = ["Crowded", "Gentle"]

WAITING: Final = 3
"""How many passwords may wait to be hashed in one process; its other threads stay free."""

_places = threading.BoundedSemaphore(WAITING)


class Crowded(Exception):
    """More passwords wait to be hashed than there is time for."""


@cached(entries=1)
def _pool(process: int) -> ThreadPoolExecutor:
    # on Linux a thread has its own priority, and OpenSSL hashes without Python's lock
    return ThreadPoolExecutor(1, initializer=lambda: os.setpriority(os.PRIO_PROCESS, threading.get_native_id(), 19))


class Gentle(PBKDF2PasswordHasher):
    """Django's PBKDF2, one at a time in each process and at the lowest priority."""

    def encode(self, *args: Any, **kwargs: Any) -> str:
        """Return the hash. Raises Crowded if too many are waiting."""
        if not _places.acquire(blocking=False):
            raise Crowded
        try:
            return _pool(os.getpid()).submit(super().encode, *args, **kwargs).result()
        finally:
            _places.release()
