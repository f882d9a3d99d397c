"""Long work in separate processes, which can be killed without anyone else waiting.

`do` hands a function, by name, and its arguments to a worker and waits for the
result. Work that takes longer than the setting GOUGE_SECONDS is killed, and so is
work that is stopped: `stop` leaves a mark in the data folder, which the waiting process
looks for, whichever process that is. Only the process that waits for a worker kills it.
Workers start when they are first needed, and stay warm.
"""

import contextlib
import hashlib
import logging
import os
import pickle
import subprocess
import sys
import threading
import time
from concurrent.futures import ThreadPoolExecutor
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any

from django.conf import settings

from sheet import SheetError

from .parent import WITH_THIS

__all__ = ["do", "start", "stop"]

log = logging.getLogger(__name__)
_starter = ThreadPoolExecutor(1, "starter")
"""The thread that starts workers: they end with it, and it lives as long as the process."""
WAITING = 2
"""How many may wait for a worker in this process; more would take its threads from everyone else."""

EVERY = 0.2
"""Seconds between two checks whether work is still wanted."""
KEPT = 3600
"""Seconds after which a mark is removed."""

STOPPED = ("That was stopped: nothing was changed.", "Do it again, perhaps with fewer pieces.")
BUSY = ("The server is busy with other long work.", "Nothing was changed; try again in a moment.")


class _Worker:
    """A process that does one job after another."""

    def __init__(self) -> None:
        self.process: subprocess.Popen | None = None
        self.line: Connection | None = None

    def started(self) -> Connection:
        """Return the connection to a running process."""
        if self.process is None or self.process.poll() is not None or self.line is None:
            ours, theirs = os.pipe(), os.pipe()
            there = [str(theirs[0]), str(ours[1])]
            command = [*WITH_THIS, "nice", "-n", "5", sys.executable, "-m", "studio.work.worker", *there]
            self.process = _starter.submit(
                subprocess.Popen,
                command,
                pass_fds=(theirs[0], ours[1]),
                cwd=settings.BASE_DIR,
                stdin=subprocess.DEVNULL,
            ).result()
            os.close(theirs[0])
            os.close(ours[1])
            self.line = _Pair(ours[0], theirs[1])
        return self.line

    def end(self) -> None:
        """Kill the process, whatever it is doing."""
        if self.process is not None:
            self.process.kill()
            self.process.wait()
        if self.line is not None:
            self.line.close()
        self.process = self.line = None


class _Pair(Connection):
    """Two one-way pipes as one connection."""

    def __init__(self, reading: int, writing: int):
        super().__init__(reading, writable=False)
        self._out = Connection(writing, readable=False)

    def send_bytes(self, buf: Any, offset: int = 0, size: int | None = None) -> None:
        self._out.send_bytes(buf, offset, size)

    def close(self) -> None:
        self._out.close()
        super().close()


_idle: list[_Worker] = []
_working: list[_Worker] = []
_free = threading.Condition()
_waiting = 0


def _taken(until: float, key: str = "") -> _Worker:
    """Return a free worker, waiting for one. Raises SheetError if there is none in time."""
    global _waiting
    with _free:
        if not _idle and len(_working) < settings.GOUGE_LONG_WORKERS:
            _idle.append(_Worker())
        if not _idle:
            if _waiting >= WAITING:
                raise SheetError(*BUSY)
            _waiting += 1
            try:
                while not _free.wait_for(lambda: bool(_idle), min(EVERY, max(0.0, until - time.monotonic()))):
                    _refuse_stopped(key)
                    if time.monotonic() >= until:
                        raise SheetError(*BUSY)
            finally:
                _waiting -= 1
        one = _idle.pop()
        _working.append(one)
        return one


def _given_back(one: _Worker) -> None:
    with _free:
        _working.remove(one)
        _idle.append(one)
        _free.notify()


def _mark(key: str) -> Path:
    return Path(settings.DATA_DIR) / "stopped" / hashlib.sha256(key.encode()).hexdigest()


def _refuse_stopped(key: str) -> None:
    """Raise SheetError if the work of a key was stopped."""
    if key and _mark(key).exists():
        raise SheetError(*STOPPED)


class _Over(Exception):
    """The work is not waited for any longer."""

    def __init__(self, why: SheetError):
        self.why = why


def _wait(line: Connection, key: str) -> None:
    """Wait for a result. Raises _Over if the work takes too long, or is stopped."""
    end = time.monotonic() + settings.GOUGE_SECONDS
    while not line.poll(min(EVERY, max(0.0, end - time.monotonic()))):
        try:
            _refuse_stopped(key)
        except SheetError as stopped:
            raise _Over(stopped) from None
        if time.monotonic() >= end:
            why = f"That takes longer than {settings.GOUGE_SECONDS:g} s and was given up: nothing was changed."
            raise _Over(SheetError(why, "Select fewer pieces, or simplify them first."))


def do(job: str, *args: Any, key: str = "") -> Any:
    """Return the result of function `job` ("module:name") for `args`.

    Raises SheetError if it refuses, takes longer than GOUGE_SECONDS, or is stopped by
    its `key`; RuntimeError if it fails.
    """
    one = _taken(time.monotonic() + settings.GOUGE_SECONDS, key)
    try:
        _refuse_stopped(key)
        line = one.started()
        line.send_bytes(pickle.dumps((job, args)))
        _wait(line, key)
        verdict, result = pickle.loads(line.recv_bytes())
    except (EOFError, OSError):
        one.end()
        raise SheetError(*STOPPED) from None
    except _Over as over:
        one.end()
        raise over.why from None
    finally:
        _given_back(one)
    if verdict == "refused":
        raise SheetError(*result)
    if verdict == "failed":
        log.error("a worker failed at %s:\n%s", job, result)
        raise RuntimeError(f"{job} failed in a worker")
    return result


def start() -> None:
    """Start a worker now, so that the first long work need not wait for it."""
    one = _taken(time.monotonic())
    try:
        one.started()
    finally:
        _given_back(one)


def stop(key: str) -> None:
    """Stop the work of `key`, or prevent it from starting, within a moment, whatever process it is in."""
    mark = _mark(key)
    mark.parent.mkdir(mode=0o700, exist_ok=True)
    mark.touch()
    for old in mark.parent.iterdir():
        with contextlib.suppress(FileNotFoundError):
            if time.time() - old.stat().st_mtime > KEPT:
                old.unlink()
