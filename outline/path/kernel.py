"""Compiling the hot loops.

A kernel is an ordinary Python function over scalars and contiguous arrays. When
`python -m outline.compile` has compiled it with Numba, later processes load machine
code from the disk cache; until then, or without Numba, the same function runs
interpreted: slower, with the same answers. Other Python calls a kernel by its `entry`: a
process that begins with little work does it interpreted, without waiting for Numba, and
one that began before the machine code was there takes it later (`take_compiled`, `watch`).
"""

import contextlib
import hashlib
import os
import platform
import sys
import threading
import time
from collections.abc import Callable
from functools import cache
from importlib.metadata import PackageNotFoundError, version
from importlib.util import find_spec
from pathlib import Path as FilePath
from typing import Any, Final, Literal

import numpy as np

__all__ = [
    "KERNEL_MODULES",
    "PACKAGE",
    "compiled",
    "entry",
    "kernel",
    "load_all",
    "progress_file",
    "stamp_file",
    "take_compiled",
    "warming",
    "watch",
]

KERNEL_MODULES = (
    "path.tolerance",
    "path.bezier",
    "path.monotone",
    "engine.candidates",
    "engine.monotone_frame",
    "engine.intersect",
    "engine.pairs",
    "engine.split",
    "engine.vertex_order",
    "engine.faces",
    "engine.classify",
    "engine.build",
    "engine.trace",
    "engine.boolean",
    "curves.offset_kernels",
    "curves.fit_kernels",
)
"""Every module with kernels, below `outline`."""

PACKAGE = FilePath(__file__).parent.parent


def _cache_folder() -> FilePath:
    """Return the folder for the record of compiled kernels: beside the sources, or the person's cache if read-only."""
    if "NUMBA_CACHE_DIR" in os.environ:
        return FilePath(os.environ["NUMBA_CACHE_DIR"])
    if os.access(PACKAGE, os.W_OK):
        return PACKAGE / "__pycache__"
    return FilePath(os.environ.get("XDG_CACHE_HOME") or FilePath.home() / ".cache") / "outline"


@cache
def _sources_digest() -> str:
    digest = hashlib.sha256(f"{sys.version}{platform.machine()}".encode())
    for name in (*KERNEL_MODULES, "path.kernel", "path.errors"):
        digest.update((PACKAGE / f"{name.replace('.', '/')}.py").read_bytes())
    with contextlib.suppress(PackageNotFoundError):
        digest.update(version("numba").encode())
    return digest.hexdigest()[:16]


def stamp_file() -> FilePath:
    """Return the file whose existence says that the cache holds these very kernels."""
    return _cache_folder() / f"kernels-{_sources_digest()}.ready"


def progress_file() -> FilePath:
    """Return the file in which a running compilation writes its progress in per cent."""
    return stamp_file().with_suffix(".progress")


_choice = os.environ.get("GOUGE_KERNELS", "auto")
_compile = _choice == "compile" or (_choice == "auto" and find_spec("numba") is not None and stamp_file().exists())

_signatures: dict[Callable[..., Any], str] = {}
_entries: list["_Entry"] = []
_lock = threading.RLock()

COLD: Final = 0.15
"""Seconds that a process runs interpreted before it loads machine code, which takes half a second."""
_left = COLD


def compiled() -> bool:
    """Return whether this process has machine code for its kernels."""
    return _compile


def warming() -> int | None:
    """Return how many per cent of the kernels are compiled; None if no compilation is running for this process."""
    if _compile or _choice != "auto":
        return None
    try:
        return int(progress_file().read_text() or 0)
    except (OSError, ValueError):
        return None


def kernel(signature: str, *, inline: bool = False) -> Callable[[Callable[..., Any]], Callable[..., Any]]:
    """Mark the decorated function as a kernel with one Numba `signature`; only `outline.compile` compiles it.

    With `inline` it becomes part of its caller: for the inside of a loop, where passing arrays would take
    as long as the work.
    """

    def wrap(function: Callable[..., Any]) -> Callable[..., Any]:
        if _choice != "compile":
            _signatures[function] = signature
            return function
        import numba

        how: Literal["always", "never"] = "always" if inline else "never"
        made = numba.njit(signature, cache=True, error_model="numpy", nogil=True, inline=how)(function)
        # read by outline.compile, which reports its progress
        print(function.__module__, flush=True)
        return made  # type: ignore[no-any-return]

    return wrap


class _TooLong(Exception):
    """Interpreted work has used up its time."""


def _interpreted(seconds: float, function: Callable[..., Any], args: tuple[Any, ...]) -> Any:
    """Return a function's result. Raises _TooLong, with arrays among `args` restored, if it takes longer."""
    end = time.perf_counter() + seconds
    before = [a.copy() if isinstance(a, np.ndarray) else None for a in args]

    def look(*_: Any) -> None:
        if time.perf_counter() > end:
            raise _TooLong

    profile = sys.getprofile()
    sys.setprofile(look)
    try:
        return function(*args)
    except _TooLong:
        for array, was in zip(args, before, strict=True):
            if was is not None:
                array[...] = was
        raise
    finally:
        end = np.inf
        sys.setprofile(profile)


class _Entry:
    """A kernel as other Python calls it: as machine code if available, which includes all that it calls."""

    __slots__ = ("call", "function")

    def __init__(self, function: Callable[..., Any]):
        self.function = function
        self.call = self._first if _compile else function

    def __call__(self, *args: Any) -> Any:
        return self.call(*args)

    def _first(self, *args: Any) -> Any:
        global _left
        began = time.perf_counter()
        if _left > 0:
            try:
                return _interpreted(_left, self.function, args)
            except _TooLong:
                pass
            finally:
                _left -= time.perf_counter() - began
        self.load()
        return self.call(*args)

    def load(self) -> None:
        """Load the machine code from the cache."""
        import numba

        with _lock:
            if self.call in (self.function, self._first):
                made = numba.njit(cache=True, error_model="numpy", nogil=True)(self.function)
                made.compile(_signatures[self.function])
                made.disable_compile()
                self.call = made


def entry(function: Callable[..., Any]) -> Callable[..., Any]:
    """Return a kernel in the form that Python outside of kernels calls. Kernels call one another as they are."""
    if _choice == "compile":
        return function
    _entries.append(_Entry(function))
    return _entries[-1]


def load_all() -> None:
    """Load all machine code now, so that no later call waits for it."""
    for one in _entries if _compile else ():
        one.load()


def take_compiled() -> bool:
    """Switch to machine code if it has been compiled by now; return whether this process has it.

    A running kernel finishes as it began.
    """
    global _compile
    if not _compile and _choice == "auto" and stamp_file().exists() and find_spec("numba") is not None:
        for one in _entries:
            one.load()
        _compile = True
    return _compile


def watch(every: float = 1.0) -> None:
    """Switch to machine code as soon as it is compiled, in a thread that checks every so many seconds."""

    def wait() -> None:
        while not take_compiled():
            time.sleep(every)

    if not _compile and _choice == "auto":
        threading.Thread(target=wait, name="kernels", daemon=True).start()
