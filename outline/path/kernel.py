"""Compiling the hot loops.

A kernel is an ordinary Python function over scalars and contiguous arrays. When
`python -m outline.compile` has compiled it with Numba, later processes load machine
code from the disk cache; until then, or without Numba, the same function runs
interpreted: slower, with the same answers.
"""

import hashlib
import os
import platform
import sys
import threading
from collections.abc import Callable
from pathlib import Path as FilePath
from typing import Any

__all__ = ["kernel", "compiled", "load_all", "stamp_file", "KERNEL_MODULES", "PACKAGE"]

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


def _sources_digest() -> str:
    digest = hashlib.sha256(f"{sys.version}{platform.machine()}".encode())
    for name in (*KERNEL_MODULES, "path.kernel", "path.errors"):
        digest.update((PACKAGE / f"{name.replace('.', '/')}.py").read_bytes())
    try:
        import numba

        digest.update(numba.__version__.encode())
    except ImportError:
        pass
    return digest.hexdigest()[:16]


def stamp_file() -> FilePath:
    """Return the file whose presence says that the cache holds these very kernels."""
    base = os.environ.get("NUMBA_CACHE_DIR") or str(PACKAGE / "__pycache__")
    return FilePath(base) / f"kernels-{_sources_digest()}.ready"


def _wanted() -> bool:
    choice = os.environ.get("GOUGE_KERNELS", "auto")
    if choice == "interpret":
        return False
    return choice == "compile" or stamp_file().exists()


_compile = _wanted()
if _compile:
    try:
        import numba
    except ImportError:
        _compile = False


_loads: list[Callable[[], Any]] = []
_lock = threading.RLock()


def load_all() -> None:
    """Load every kernel now, so that no later call waits for one."""
    for load in _loads:
        load()


def compiled() -> bool:
    """Tell whether the kernels of this process run as machine code."""
    return _compile


def kernel(signature: str) -> Callable[[Callable[..., Any]], Callable[..., Any]]:
    """Compile the decorated function for one Numba `signature`, or leave it as it is."""

    def wrap(function: Callable[..., Any]) -> Callable[..., Any]:
        if not _compile:
            return function
        if os.environ.get("GOUGE_KERNELS") == "compile":
            # read by outline.compile, which tells how far it is; at once, since another process writes there too
            os.write(1, f"{function.__module__.removeprefix('outline.')}\n".encode())
            return numba.njit(signature, cache=True, error_model="numpy", nogil=True)(function)  # type: ignore[no-any-return]
        return _when_called(numba.njit(cache=True, error_model="numpy", nogil=True)(function), signature)

    return wrap


def _when_called(dispatcher: Any, signature: str) -> Callable[..., Any]:
    """Return a kernel that comes from the cache when Python first calls it.

    Most kernels are called by other kernels only, whose machine code holds them already:
    not loading those takes a third off the start of a process.
    """

    def load(*_: Any) -> Any:
        with _lock:
            if not dispatcher.overloads:
                dispatcher.compile(signature)
                dispatcher.disable_compile()
        return next(iter(dispatcher.overloads.values())).entry_point

    # Numba asks this for the machine code when it has none for the arguments at hand
    dispatcher._compile_for_args = load
    _loads.append(load)
    return dispatcher  # type: ignore[no-any-return]
