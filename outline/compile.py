"""Compile the kernels into the disk cache, two processes at a time: `python -m outline.compile`."""

import os
import subprocess
import sys
import time
from pathlib import Path

from .path.kernel import KERNEL_MODULES, PACKAGE, stamp_file

STAGES = (
    (("path.tolerance", "path.bezier"),),
    (
        ("path.monotone", "engine.faces", "engine.candidates", "engine.vertex_order", "engine.classify"),
        ("engine.monotone_frame", "engine.intersect", "engine.pairs", "engine.split", "engine.trace"),
    ),
    (("engine.build", "engine.boolean"), ("curves.offset_kernels", "curves.fit_kernels")),
)
"""What can be compiled beside what: each stage calls only kernels of the stages before it, and of its own process."""

_CHILD = """
import importlib, sys, types
# the packages without what they import themselves, which would be every kernel
for room in ("", "/path", "/engine", "/curves"):
    package = types.ModuleType("outline" + room.replace("/", "."))
    package.__path__ = [sys.argv[1] + room]
    sys.modules[package.__name__] = package
for name in sys.argv[2:]:
    importlib.import_module(f"outline.{name}")
"""


def _stage(processes: tuple[tuple[str, ...], ...], told: list[str]) -> bool:
    """Compile each process's modules, saying which as they come; tell whether all went well."""
    environment = {**os.environ, "GOUGE_KERNELS": "compile"}
    here = str(PACKAGE)
    reading, writing = os.pipe()
    running = [
        subprocess.Popen([sys.executable, "-c", _CHILD, here, *names], env=environment, stdout=writing)
        for names in processes
    ]
    os.close(writing)
    with os.fdopen(reading) as lines:
        for line in lines:
            name = line.strip()
            if name not in told:
                told.append(name)
                print(f"compiling the engine {len(told)}/{len(KERNEL_MODULES)}: {name}", flush=True)
    # every one is waited for, also where the first has failed
    codes = [process.wait() for process in running]
    return not any(codes)


def main() -> int:
    """Compile what is not in the cache yet, with progress; 0 also where Numba is missing, 1 where it fails."""
    stamp = stamp_file()
    if stamp.exists():
        return 0
    try:
        import numba  # noqa: F401
    except ImportError:
        print("Numba is not installed: the engine will run interpreted, slower, with the same answers.")
        return 0
    # Numba's cache looks at a kernel's own file only, not at the kernels it calls: begin afresh
    for module in KERNEL_MODULES:
        room, _, name = module.rpartition(".")
        folder = (
            Path(os.environ["NUMBA_CACHE_DIR"]) if "NUMBA_CACHE_DIR" in os.environ else PACKAGE / room / "__pycache__"
        )
        for old in folder.rglob(f"{name}.*.nb[ci]"):
            old.unlink()
    start = time.monotonic()
    told: list[str] = []
    for processes in STAGES:
        if not _stage(processes, told):
            print("the engine could not be compiled: it will run interpreted, slower, with the same answers.")
            return 1
    stamp.parent.mkdir(parents=True, exist_ok=True)
    for old in stamp.parent.glob("kernels-*.ready"):
        old.unlink()
    stamp.touch()
    print(f"compiled in {time.monotonic() - start:.0f} s")
    return 0


if __name__ == "__main__":
    sys.exit(main())
