"""The queue of long work: Huey, with SQLite beside the database, or with Redis for workers on many machines.

A job is a function of `studio.tasks` with plain arguments; it opens no database. What
is known of one lies in the queue's own store, under its id:

    job:ID    whose it is, what to do, its turn; there until it is done
    beat:ID   who is at it, how far it is, and when that was written
    stop:ID   that it is not wanted any more
    done:ID   how it ended

A worker that is killed leaves a job without an end whose beat has stopped; `tend`
gives such a job to another one. What a job makes is stored under a name made of what
went into it, so that two who did it by mischance made one thing.
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
"""What a job may do, by name; `studio.work.tasks` fills it, and every process that works has loaded that."""


def task(function: Task) -> Task:
    """Let jobs name a function."""
    TASKS[function.__name__] = function
    return function


BEAT: Final = 2.0
"""Seconds between two words of a worker."""
SILENT: Final = 60.0
"""Seconds without a word after which a worker of another machine is taken for dead."""
UNSEEN: Final = 20.0
"""Seconds after which a job that is in no queue, and that nobody is at, is looked for."""
TRIES: Final = 3
"""How often a job may end its worker before it is given up."""
WAITS: Final = 11
"""How often what a job needs is waited for: nearly three hours."""
GIVEN_UP: Final = ("It failed three times, and was given up.", "Export it smaller.")


class Job(msgspec.Struct, frozen=True):
    """What is to be done: a function of `studio.tasks` and its arguments, for a person."""

    owner: int
    task: str
    args: dict[str, Any]
    turn: int = 0
    put: float = 0.0
    waits: int = 0


class Known(msgspec.Struct, frozen=True):
    """How a job is: waiting, working, done, failed or stopped; its share, its result, why it failed, when it ended."""

    state: str
    share: float = 0.0
    result: Any = None
    why: str = ""
    remedy: str = ""
    at: float = 0.0


class Later(Exception):
    """What a job needs is not there just now: it is tried again after 5 s, and each time after twice as long."""


class _Stopped(Exception):
    """The job is not wanted any more."""


def queue() -> Huey:
    """Return the queue that the settings name."""
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
# what Redis raises is known by its base alone, so that its package is needed only where it is used
_TROUBLE: Final = (OSError, sqlite3.Error)


@contextmanager
def _asked() -> Any:
    """Raise SheetError where the queue's store does not answer."""
    try:
        yield
    except Exception as error:
        if isinstance(error, _TROUBLE) or type(error).__module__.startswith("redis."):
            raise SheetError(*GONE) from error
        raise


def put(jobs: Iterable[Job]) -> list[str]:
    """Queue jobs for the next free worker, and return their ids.

    Turns are those of fair queueing (Parekh and Gallager, 1993, with all jobs alike): a
    person's next job comes one turn after their last, and never before the turn that is
    worked at now, so that nobody's hundred come before another's one.
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
    """Have a job done later."""
    seconds = 5.0 * 2**job.waits
    huey.put(f"job:{key}", msgspec.structs.replace(job, put=time.time() + seconds, waits=job.waits + 1))
    huey.delete(f"beat:{key}")
    huey.work.schedule((key,), delay=seconds, priority=-job.turn)


def stop(ids: Iterable[str]) -> None:
    """Want jobs no more: what waits is passed over, what is worked at ends at the next step. Raises SheetError."""
    with _asked():
        huey = queue()
        for key in ids:
            huey.put(f"stop:{key}", True)


def known(ids: Iterable[str]) -> dict[str, Known]:
    """Return how jobs are; those that were lost with their worker are given to another one. Raises SheetError."""
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
        # it may have ended since it was asked for; nothing is written for a job that never was
        return _get(huey, f"done:{key}") or Known(
            "failed", why="The server was restarted before it was done.", remedy="Export it again."
        )
    beat = _get(huey, f"beat:{key}")
    return Known("working", beat["share"]) if beat else Known("waiting")


def forget(ids: Iterable[str]) -> None:
    """Keep nothing of jobs whose end is known elsewhere. Raises SheetError."""
    with _asked():
        huey = queue()
        for key in ids:
            for name in ("done", "stop", "tries"):
                huey.delete(f"{name}:{key}")


def expire(days: int) -> int:
    """Keep nothing of jobs that ended so many days ago and that nobody asked about; return of how many."""
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
    # a number is given again: whoever has it says nothing of this job
    return bool(time.time() - beat["at"] < SILENT)


def tend(huey: Huey, key: str) -> None:
    """Give a job to another worker where the one that had it is gone."""
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
    # of several that see it, one gives it on
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
    """Write every two seconds who is at a job, while this lasts; call what it gives with the share, which may raise."""
    state = {"host": socket.gethostname(), "pid": os.getpid(), "share": 0.0, "tries": tries, "at": time.time()}
    huey.put(f"beat:{key}", state)
    over, stopped = threading.Event(), threading.Event()

    def beat() -> None:
        while not over.wait(BEAT):
            with suppress(Exception):  # a store that does not answer once may do so next time
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
    """Do a job, unless it was done or stopped already."""
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
