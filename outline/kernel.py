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
from collections.abc import Callable
from pathlib import Path as FilePath
from typing import Any

__all__ = ["kernel", "compiled", "stamp_file", "KERNEL_MODULES"]

KERNEL_MODULES = ("bezier", "strands", "grid", "meet", "arrange", "rotation", "faces", "chart", "border", "answer")


def _sources_digest() -> str:
    here = FilePath(__file__).parent
    digest = hashlib.sha256(f"{sys.version}{platform.machine()}".encode())
    for name in (*KERNEL_MODULES, "kernel", "tolerance"):
        file = here / f"{name}.py"
        if file.exists():
            digest.update(file.read_bytes())
    try:
        import numba

        digest.update(numba.__version__.encode())
    except ImportError:
        pass
    return digest.hexdigest()[:16]


def stamp_file() -> FilePath:
    """Return the file whose presence says that the cache holds these very kernels."""
    base = os.environ.get("NUMBA_CACHE_DIR") or str(FilePath(__file__).parent / "__pycache__")
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


def compiled() -> bool:
    """Tell whether the kernels of this process run as machine code."""
    return _compile


def kernel(signature: str) -> Callable[[Callable[..., Any]], Callable[..., Any]]:
    """Compile the decorated function for one Numba `signature`, or leave it as it is."""

    def wrap(function: Callable[..., Any]) -> Callable[..., Any]:
        if not _compile:
            return function
        if os.environ.get("GOUGE_KERNELS") == "compile" and sys.stderr.isatty():
            print(f"  {function.__module__}.{function.__name__}", file=sys.stderr)
        return numba.njit(signature, cache=True, error_model="numpy", nogil=True)(function)  # type: ignore[no-any-return]

    return wrap
