"""Memory for large work: the processes of this machine together stay within a budget.

The budget has shares, each a locked file. Large work states beforehand how many bytes it needs, and waits for
that many free shares; work that needs more than the budget gets all of them. The order of arrival is kept, so nothing
large waits behind small work for ever. The kernel frees the locks of a process that ends, however it ends.
"""

import ctypes
import fcntl
import math
import os
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager
from pathlib import Path
from typing import Final
from uuid import uuid4

from django.conf import settings

from picture.progress import report_progress
from sheet import SheetError

__all__ = ["SMALL", "reserved"]

SMALL: Final = 48_000_000
"""Work that needs less than this does not wait."""
SPARE: Final = 0.1
"""The part of the budget that is left for small work."""
SHARES: Final = 18
"""Shares of the budget: with the default budget, each is about what small work needs."""
AGAIN: Final = 0.05
"""Seconds between two checks."""
AFTER: Final = 0.5
"""Seconds before released memory is available to others: the process may still have a part of it."""
_trim: Final = getattr(ctypes.CDLL(None), "malloc_trim", None)
REMEDY: Final = "Make it smaller, or do it in parts. Whoever runs the server can allow more memory (GOUGE_MEMORY)."


@contextmanager
def _locked(path: Path, create: bool = True) -> Iterator[bool]:
    """Yield whether the file could be locked; the lock lasts as long as this context."""
    try:
        handle = os.open(path, os.O_RDWR | (os.O_CREAT if create else 0), 0o600)
    except FileNotFoundError:
        yield False
        return
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        locked = True
    except BlockingIOError:
        locked = False
    try:
        yield locked
    finally:
        if locked:
            # unlocked explicitly: a process forked in the meantime has the file open too
            fcntl.flock(handle, fcntl.LOCK_UN)
        os.close(handle)


@contextmanager
def _turn(folder: Path, wait: Callable[[], None]) -> Iterator[None]:
    """Wait until everyone who came before has been served; while this context lasts, later ones wait."""
    ticket = folder / f"waiting-{time.time_ns():020}-{uuid4().hex}"
    new = folder / f"new-{uuid4().hex}"
    with _locked(new):
        new.rename(ticket)
        try:
            for other in sorted(folder.glob("waiting-*")):
                while other < ticket and not _is_gone(other):
                    wait()
            yield
        finally:
            ticket.unlink(missing_ok=True)


def _is_gone(ticket: Path) -> bool:
    """Return whether nobody with a ticket is waiting any more; tickets of killed processes are removed."""
    with _locked(ticket, create=False) as left:
        if left:
            ticket.unlink(missing_ok=True)
        return left or not ticket.exists()


@contextmanager
def reserved(size: int, patience: float | None = None) -> Iterator[None]:
    """While this context lasts, `size` bytes of memory are reserved; waits for them, at most `patience` seconds.

    Raises SheetError if they can never be reserved, or not in time; a
    progress listener may stop the work while it waits.
    """
    if size <= SMALL:
        yield
        return
    budget, most = settings.GOUGE_BUDGET * 1_000_000, settings.GOUGE_MEMORY * 1_000_000
    if size > most:
        message = (
            f"That takes about {size / 1e9:.1f} GB of memory, and this server gives one thing {most / 1e9:.1f} GB."
        )
        raise SheetError(message, REMEDY)
    folder = Path(settings.DATA_DIR) / "memory"
    folder.mkdir(mode=0o700, exist_ok=True)
    until = None if patience is None else time.monotonic() + patience
    wanted = min(SHARES, math.ceil(size * SHARES / (budget * (1 - SPARE))))

    def wait() -> None:
        if until is not None and time.monotonic() > until:
            raise SheetError("The server is busy with other large work.", "Nothing was changed; try again in a moment.")
        report_progress(0.0)
        time.sleep(AGAIN)

    with ExitStack() as shares:
        with _turn(folder, wait):
            free = set(range(SHARES))
            while True:
                for k in sorted(free):
                    if len(free) > SHARES - wanted and _taken(shares, folder / f"share-{k}"):
                        free.discard(k)
                if len(free) == SHARES - wanted:
                    break
                wait()
        try:
            yield
        finally:
            if _trim is not None:
                # the C library keeps free memory for later, and this process may do only small work from now on
                later = threading.Timer(AFTER, _trim, (0,))
                later.daemon = True
                later.start()


def _taken(shares: ExitStack, path: Path) -> bool:
    """Return whether a share was free; it is added to `shares` then."""
    with ExitStack() as tried:
        if not tried.enter_context(_locked(path)):
            return False
        shares.enter_context(tried.pop_all())
        return True
