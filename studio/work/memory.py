"""Memory for large work: what the processes of this machine hold in memory at once stays within a budget.

The budget has shares, each a locked file. Large work says beforehand how many bytes it will take, and waits until that
many shares are free; work that takes more than the budget gets all of them. Who comes first is served first, so nothing
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
"""What takes less waits for nobody."""
SPARE: Final = 0.1
"""The part of the budget that is left for small work."""
SHARES: Final = 18
"""Shares of the budget: each is about as much as small work takes, where the budget is as it comes."""
AGAIN: Final = 0.05
"""Seconds between two looks."""
AFTER: Final = 0.5
"""Seconds after which memory is given back to the system for good: whoever used it may still have a part of it."""
_trim: Final = getattr(ctypes.CDLL(None), "malloc_trim", None)
REMEDY: Final = "Make it smaller, or do it in parts. Whoever runs the server can allow more memory (GOUGE_MEMORY)."


@contextmanager
def _locked(path: Path, create: bool = True) -> Iterator[bool]:
    """Give whether the file could be locked; it stays so as long as this lasts."""
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
            # said, and not left to closing: a process that was forked meanwhile has the file open too
            fcntl.flock(handle, fcntl.LOCK_UN)
        os.close(handle)


@contextmanager
def _turn(folder: Path, wait: Callable[[], None]) -> Iterator[None]:
    """Wait until nobody who came before waits any more; while this lasts, whoever comes later waits."""
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
    """Tell whether nobody waits with a ticket any more; one that a killed process left is thrown away."""
    with _locked(ticket, create=False) as left:
        if left:
            ticket.unlink(missing_ok=True)
        return left or not ticket.exists()


@contextmanager
def reserved(size: int, patience: float | None = None) -> Iterator[None]:
    """While this lasts, `size` bytes of memory are this work's; it waits for them, `patience` seconds at most.

    Raises SheetError where no process may ever have so many, or not in time; whoever
    watches the work's progress may stop it while it waits.
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
                # the C library keeps what is free for later, and this process may be at small work from now on
                later = threading.Timer(AFTER, _trim, (0,))
                later.daemon = True
                later.start()


def _taken(shares: ExitStack, path: Path) -> bool:
    """Tell whether a share was free; it is one of `shares` then."""
    with ExitStack() as tried:
        if not tried.enter_context(_locked(path)):
            return False
        shares.enter_context(tried.pop_all())
        return True
