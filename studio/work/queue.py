"""The queue of long work: Huey, with SQLite beside the database, or with Redis for workers on many machines.

A job is a function of `studio.tasks` with plain arguments; it opens no database. Its
state is in the queue's own store, under its id:

    job:ID    its owner, its function and arguments, its turn; until it is done
    beat:ID   its worker, its progress, and when that was written
    stop:ID   that it is cancelled
    done:ID   how it ended

A worker that is killed leaves a job without an end whose beat has stopped; `tend`
gives such a job to another one. A job's results are stored under names made from its
input, so that two workers on the same job by mischance make one thing.
"""

import os
import socket
import sqlite3
import threading
import time
from collections.abc import Callable, Iterable
from contextlib import contextmanager, suppress
from typing import Any, Final, TypeVar
from uuid import uuid4

import msgspec
from django.conf import settings
from huey import PriorityRedisHuey, SqliteHuey, crontab
from huey.api import Huey
from huey.serializer import SignedSerializer

from outline.path.kernel import take_compiled
from picture import PictureError
from picture.progress import watched
from sheet import SheetError
from sheet.caching import cached

__all__ = ["Job", "Known", "Later", "expire", "forget", "known", "put", "queue", "stop", "task", "tend"]

Task = TypeVar("Task", bound=Callable[..., Any])
TASKS: dict[str, Callable[..., Any]] = {}
"""The functions of jobs, by name; `studio.work.tasks` registers them, and every worker imports it."""


def task(function: Task) -> Task:
    """Register a function for jobs."""
    TASKS[function.__name__] = function
    return function


BEAT: Final = 2.0
"""Seconds between two heartbeats of a worker."""
SILENT: Final = 60.0
"""Seconds without a heartbeat after which a worker on another machine counts as dead."""
UNSEEN: Final = 20.0
"""Seconds after which a job that is not in the queue, and has no worker, counts as lost."""
TRIES: Final = 3
"""How often a job may kill its worker before it is given up."""
WAITS: Final = 11
"""How often a job is retried for something it needs: nearly three hours in all."""
GIVEN_UP: Final = ("It failed three times, and was given up.", "Export it smaller.")


class Job(msgspec.Struct, frozen=True):
    """A job: a function of `studio.tasks` and its arguments, for a person."""

    owner: int
    task: str
    args: dict[str, Any]
    turn: int = 0
    put: float = 0.0
    waits: int = 0


class Known(msgspec.Struct, frozen=True):
    """The state of a job: waiting, working, done, failed or stopped; its share, its result, why it failed, its end."""

    state: str
    share: float = 0.0
    result: Any = None
    why: str = ""
    remedy: str = ""
    at: float = 0.0


class Later(Exception):
    """Something that a job needs is missing for now: it is retried after 5 s, then after twice as long each time."""


class _Stopped(Exception):
    """The job was cancelled."""


def queue() -> Huey:
    """Return the queue of the settings."""
    return _made(settings.GOUGE_QUEUE)


@cached(entries=8)
def _made(where: str) -> Huey:
    common = {"results": True, "serializer": SignedSerializer(secret=settings.SECRET_KEY, salt="gouge.queue")}
    made: Huey
    if where.startswith(("redis://", "rediss://", "unix://")):
        made = PriorityRedisHuey("gouge", url=where, **common)
    else:
        made = SqliteHuey("gouge", filename=where, **common)
    made.work = made.task(name="work")(lambda key: _work(made, key))
    made.tending = made.periodic_task(crontab(minute="*"), name="tending")(lambda: _tend_all(made))
    return made


def _get(huey: Huey, key: str) -> Any:
    return huey.get(key, peek=True)


GONE: Final = ("The queue does not answer.", "Nothing was lost; try again in a moment.")
# Redis's exceptions are known by their base alone, so that its package is optional
_TROUBLE: Final = (OSError, sqlite3.Error)


@contextmanager
def _asked() -> Any:
    """Turn errors of the queue's store into SheetError."""
    try:
        yield
    except Exception as error:
        if isinstance(error, _TROUBLE) or type(error).__module__.startswith("redis."):
            raise SheetError(*GONE) from error
        raise


def put(jobs: Iterable[Job]) -> list[str]:
    """Queue jobs for the next free worker, and return their ids.

    Turns are those of fair queueing (Parekh and Gallager, 1993, with all jobs alike): a
    person's next job comes one turn after their last, and never before the current
    turn, so that nobody's hundred come before another's one.
    """
    with _asked():
        return _put(queue(), jobs)


def _put(huey: Huey, jobs: Iterable[Job]) -> list[str]:
    ids = []
    last: dict[int, int] = {}
    for job in jobs:
        turns = (_get(huey, "turn") or 0, last.get(job.owner) or _get(huey, f"turn:{job.owner}") or 0)
        last[job.owner] = max(turns) + 1
        key = uuid4().hex
        huey.put(f"job:{key}", msgspec.structs.replace(job, turn=last[job.owner], put=time.time()))
        _give(huey, key, last[job.owner])
        ids.append(key)
    for owner, turn in last.items():
        huey.put(f"turn:{owner}", turn)
    return ids


def _give(huey: Huey, key: str, turn: int) -> None:
    huey.enqueue(huey.work.task_class((key,), {}, priority=-turn))


def _put_off(huey: Huey, key: str, job: Job) -> None:
    """Queue a job for later."""
    seconds = 5.0 * 2**job.waits
    huey.put(f"job:{key}", msgspec.structs.replace(job, put=time.time() + seconds, waits=job.waits + 1))
    huey.delete(f"beat:{key}")
    huey.work.schedule((key,), delay=seconds, priority=-job.turn)


def stop(ids: Iterable[str]) -> None:
    """Cancel jobs: waiting ones are skipped, running ones end at the next step. Raises SheetError."""
    with _asked():
        huey = queue()
        for key in ids:
            huey.put(f"stop:{key}", True)


def known(ids: Iterable[str]) -> dict[str, Known]:
    """Return the states of jobs; those lost with their worker are given to another one. Raises SheetError."""
    with _asked():
        huey = queue()
        return {key: _known(huey, key) for key in ids}


def _known(huey: Huey, key: str) -> Known:
    done = _get(huey, f"done:{key}")
    if done is not None:
        return done  # type: ignore[no-any-return]
    if _get(huey, f"stop:{key}"):
        return Known("stopped")
    tend(huey, key)
    done = _get(huey, f"done:{key}")
    if done is not None:
        return done  # type: ignore[no-any-return]
    if _get(huey, f"job:{key}") is None:
        # it may have ended in the meantime; nothing is written for an unknown job
        return _get(huey, f"done:{key}") or Known(
            "failed", why="The server was restarted before it was done.", remedy="Export it again."
        )
    beat = _get(huey, f"beat:{key}")
    return Known("working", beat["share"]) if beat else Known("waiting")


def forget(ids: Iterable[str]) -> None:
    """Delete the records of jobs whose end is stored elsewhere. Raises SheetError."""
    with _asked():
        huey = queue()
        for key in ids:
            for name in ("done", "stop", "tries"):
                huey.delete(f"{name}:{key}")


def expire(days: int) -> int:
    """Delete the records of jobs that ended so many days ago and were not asked about; return how many."""
    with _asked():
        huey, gone = queue(), 0
        names = [n.decode() if isinstance(n, bytes) else n for n in huey.storage.result_items()]
        there = {name.partition(":")[2] for name in names if name.startswith("job:")}
        for name in names:
            kind, _, rest = name.partition(":")
            key = rest.partition(":")[0]
            if kind == "done":
                done = _get(huey, name)
                if done is not None and time.time() - done.at > days * 86_400:
                    huey.delete(name)
                    gone += 1
            elif kind in ("stop", "tries", "again", "beat") and key not in there:
                huey.delete(name)
        return gone


def _alive(beat: dict[str, Any]) -> bool:
    if beat["host"] != socket.gethostname():
        return bool(time.time() - beat["at"] < SILENT)
    try:
        os.kill(beat["pid"], 0)
    except OSError:
        return False
    # the process number may have been reused by another process
    return bool(time.time() - beat["at"] < SILENT)


def tend(huey: Huey, key: str) -> None:
    """Give a job to another worker if its own is gone."""
    job = _get(huey, f"job:{key}")
    if job is None:
        return
    beat = _get(huey, f"beat:{key}")
    if beat is not None and _alive(beat):
        return
    if beat is None:
        if time.time() - job.put < UNSEEN:
            return
        if any(task.args == (key,) for task in huey.pending()):
            return
    if _get(huey, f"done:{key}") is not None:
        return
    tries = beat["tries"] if beat else 0
    # if several notice, only one passes it on
    if not huey.put_if_empty(f"again:{key}:{tries}:{job.put}", True):
        return
    huey.delete(f"beat:{key}")
    if tries >= TRIES:
        _end(huey, key, Known("failed", why=GIVEN_UP[0], remedy=GIVEN_UP[1]))
    else:
        huey.put(f"job:{key}", msgspec.structs.replace(job, put=time.time(), args=job.args))
        huey.put(f"tries:{key}", tries)
        _give(huey, key, job.turn)


def _tend_all(huey: Huey) -> None:
    for name in list(huey.storage.result_items()):
        text = name.decode() if isinstance(name, bytes) else name
        if text.startswith("job:"):
            tend(huey, text[4:])


def _end(huey: Huey, key: str, how: Known) -> None:
    huey.put(f"done:{key}", msgspec.structs.replace(how, at=time.time()))
    for name in ("job", "beat", "tries"):
        huey.delete(f"{name}:{key}")


# -- in a worker


@contextmanager
def _beating(huey: Huey, key: str, tries: int) -> Any:
    """Write a worker's heartbeat every two seconds while this context lasts; yield the function for its progress."""
    state = {"host": socket.gethostname(), "pid": os.getpid(), "share": 0.0, "tries": tries, "at": time.time()}
    huey.put(f"beat:{key}", state)
    over, stopped = threading.Event(), threading.Event()

    def beat() -> None:
        while not over.wait(BEAT):
            with suppress(Exception):  # a store that fails once may work next time
                huey.put(f"beat:{key}", {**state, "at": time.time()})
                if _get(huey, f"stop:{key}"):
                    stopped.set()

    said = 0.0

    def report(share: float) -> None:
        nonlocal said
        state["share"] = share
        if stopped.is_set():
            raise _Stopped
        if time.monotonic() - said > 0.2:
            said = time.monotonic()
            huey.put(f"beat:{key}", {**state, "at": time.time()})
            if _get(huey, f"stop:{key}"):
                raise _Stopped

    thread = threading.Thread(target=beat, daemon=True)
    thread.start()
    try:
        yield report
    finally:
        over.set()
        thread.join()


def _work(huey: Huey, key: str) -> None:
    """Do a job, unless it was done or cancelled already."""
    job = _get(huey, f"job:{key}")
    if job is None or _get(huey, f"done:{key}") is not None:
        return
    if _get(huey, f"stop:{key}"):
        _end(huey, key, Known("stopped"))
        return
    take_compiled()
    huey.put("turn", max(job.turn, _get(huey, "turn") or 0))
    try:
        with _beating(huey, key, 1 + (_get(huey, f"tries:{key}") or 0)) as report, watched(report):
            result = TASKS[job.task](**job.args)
        end = Known("done", 1.0, result)
    except _Stopped:
        end = Known("stopped")
    except Later as later:
        if job.waits < WAITS:
            _put_off(huey, key, job)
            return
        end = Known("failed", why=f"{later}.", remedy="Try it again.")
    except (SheetError, PictureError) as error:
        end = Known("failed", why=error.message, remedy=error.remedy)
    except MemoryError:
        end = Known("failed", why="That needs more memory than the server allows.", remedy="Export it smaller.")
    except Exception as error:
        _end(huey, key, Known("failed", why=f"That failed ({type(error).__name__}).", remedy="Try it again."))
        raise
    _end(huey, key, end)
