"""Room for large work: what several processes of this machine have in their memory at once stays within a budget.

Each piece of work says beforehand how many bytes it will take, and waits until there is
room beside the others; one that takes more than the whole budget is done when no other
is. Who has how much stands in one small file, locked while it is read; a process that is
gone has nothing any more.
"""

import ctypes
import fcntl
import json
import os
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import IO, Any, Final
from uuid import uuid4

from django.conf import settings

from picture.progress import report_progress
from sheet import SheetError

__all__ = ["SMALL", "reserved"]

SMALL: Final = 48_000_000
"""What takes less needs no room of its own."""
SPARE: Final = 0.1
"""The share of the budget that is left for what needs no room of its own."""
AGAIN: Final = 0.05
"""Seconds between two looks."""
AFTER: Final = 0.5
"""Seconds after which what was taken is let go of for good: whoever had it may hold a part of it until then."""
_trim: Final = getattr(ctypes.CDLL(None), "malloc_trim", None)
REMEDY: Final = "Make it smaller, or do it in parts. Whoever runs the server can allow more memory (GOUGE_MEMORY)."


def _born(pid: int) -> str:
    """Return when a process began (clock ticks since boot), empty where there is none: numbers are given again."""
    try:
        return Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()[19]
    except (OSError, IndexError):
        return ""


@contextmanager
def _ledger() -> Iterator[tuple[dict[str, Any], Callable[[dict[str, Any]], None]]]:
    """Give what stands in the file, without those that are gone, and what writes it; nobody else has it meanwhile."""
    handle = os.open(Path(settings.DATA_DIR) / "room", os.O_RDWR | os.O_CREAT, 0o600)
    with os.fdopen(handle, "r+b") as file:
        fcntl.flock(file, fcntl.LOCK_EX)
        try:
            rows = json.loads(file.read() or b"{}")
        except ValueError:
            rows = {}
        there = {key: row for key, row in rows.items() if _born(row["pid"]) == row["born"]}
        yield there, lambda now: _write(file, now)


def _write(file: IO[bytes], rows: dict[str, Any]) -> None:
    file.seek(0)
    file.truncate()
    file.write(json.dumps(rows).encode())
    file.flush()


def _taken(key: str, size: int, budget: int) -> bool:
    with _ledger() as (rows, write):
        if rows and sum(row["size"] for row in rows.values()) + size > budget:
            return False
        write({**rows, key: {"pid": os.getpid(), "born": _born(os.getpid()), "size": size}})
        return True


@contextmanager
def reserved(size: int, patience: float | None = None) -> Iterator[None]:
    """While this lasts, `size` bytes are this work's; it waits for them, `patience` seconds at most.

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
    key = uuid4().hex
    until = None if patience is None else time.monotonic() + patience
    while not _taken(key, size, int(budget * (1 - SPARE))):
        if until is not None and time.monotonic() > until:
            raise SheetError("The server is busy with other large work.", "Nothing was changed; try again in a moment.")
        report_progress(0.0)
        time.sleep(AGAIN)
    try:
        yield
    finally:
        with _ledger() as (rows, write):
            rows.pop(key, None)
            write(rows)
        if _trim is not None:
            # the C library keeps what is free for later, and this process may be at small work from now on
            later = threading.Timer(AFTER, _trim, (0,))
            later.daemon = True
            later.start()
