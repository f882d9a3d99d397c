"""Passwords hashed one after another, behind everything else: strangers who try many keep nobody waiting."""

import os
import threading
from concurrent.futures import ThreadPoolExecutor
from typing import Any, Final

from django.contrib.auth.hashers import PBKDF2PasswordHasher

from sheet.caching import cached

__all__ = ["Crowded", "Gentle"]

WAITING: Final = 3
"""How many may wait for their password to be hashed in one process; its other threads are left for other work."""

_places = threading.BoundedSemaphore(WAITING)


class Crowded(Exception):
    """More passwords are being looked at than there is time for."""


@cached(entries=1)
def _pool(process: int) -> ThreadPoolExecutor:
    # on Linux a thread has a priority of its own, and OpenSSL hashes without Python's lock
    return ThreadPoolExecutor(1, initializer=lambda: os.setpriority(os.PRIO_PROCESS, threading.get_native_id(), 19))


class Gentle(PBKDF2PasswordHasher):
    """PBKDF2 as Django has it, one at a time in each process and at the lowest priority."""

    def encode(self, *args: Any, **kwargs: Any) -> str:
        """Return the hash. Raises Crowded where too many wait for theirs."""
        if not _places.acquire(blocking=False):
            raise Crowded
        try:
            return _pool(os.getpid()).submit(super().encode, *args, **kwargs).result()
        finally:
            _places.release()
