"""Compile the kernels into the disk cache, in as many processes as there are cores: `python -m outline.compile`."""

import ast
import contextlib
import fcntl
import os
import subprocess
import sys
import threading
import time
from pathlib import Path

from .path.kernel import KERNEL_MODULES, PACKAGE, progress_file, stamp_file

__all__ = ["main", "order_of_modules"]

_CHILD = """
import importlib, os, sys, threading, time, types
# it ends with the process that leads it, whatever it is at
def look(parent=int(sys.argv[2])):
    while os.getppid() == parent:
        time.sleep(0.5)
    os._exit(1)
threading.Thread(target=look, daemon=True).start()
# the packages without what they import themselves, which would be every kernel
for part in ("", "/path", "/engine", "/curves"):
    package = types.ModuleType("outline" + part.replace("/", "."))
    package.__path__ = [sys.argv[1] + part]
    sys.modules[package.__name__] = package
for line in sys.stdin:
    importlib.import_module("outline." + line.strip())
    print("done", flush=True)
"""


def _source(name: str) -> str:
    return (PACKAGE / f"{name.replace('.', '/')}.py").read_text(encoding="utf-8")


def _called_by(name: str) -> set[str]:
    """Return the kernel modules that one imports: its kernels call theirs, so those are compiled first."""
    found = set()
    for node in ast.walk(ast.parse(_source(name))):
        if isinstance(node, ast.ImportFrom) and node.module:
            part = name.split(".")[0] + "." if node.level else ""
            found.add(part + node.module.removeprefix("outline."))
    return found & set(KERNEL_MODULES)


def order_of_modules() -> dict[str, set[str]]:
    """Return for each kernel module those that must be compiled before it."""
    return {name: _called_by(name) for name in KERNEL_MODULES}


class _Compilation:
    """The state of the compilation, shared by the threads that each drive one process."""

    def __init__(self) -> None:
        self.waiting = order_of_modules()
        self.done: set[str] = set()
        self.failed = False
        self.changed = threading.Condition()
        self.kernels = sum(_source(name).count("\n@kernel(") for name in KERNEL_MODULES)
        self.kernels_done = 0
        self.report(0)

    def report(self, percent: int) -> None:
        """Write the progress for whoever shows it."""
        progress_file().write_text(str(percent))
        print(f"compiling the engine: {percent} %", flush=True)

    def next(self) -> str | None:
        """Return the next module that can be compiled, waiting for one; None if none is left."""
        with self.changed:
            while self.waiting and not self.failed:
                for name, first in self.waiting.items():
                    if first <= self.done:
                        del self.waiting[name]
                        return name
                self.changed.wait()
            return None

    def counted(self) -> None:
        """Count one more compiled kernel."""
        with self.changed:
            before, self.kernels_done = self.kernels_done, self.kernels_done + 1
            tens = [10 * n // self.kernels for n in (before, self.kernels_done)]
            if tens[0] != tens[1] and tens[1] < 10:
                self.report(10 * tens[1])

    def lead(self) -> None:
        """Give one process module after module."""
        environment = {**os.environ, "GOUGE_KERNELS": "compile"}
        command = [sys.executable, "-c", _CHILD, str(PACKAGE), str(os.getpid())]
        with subprocess.Popen(
            command, env=environment, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True
        ) as child:
            assert child.stdin and child.stdout
            while name := self.next():
                line = ""
                with contextlib.suppress(BrokenPipeError):
                    child.stdin.write(f"{name}\n")
                    child.stdin.flush()
                    while (line := child.stdout.readline().strip()).startswith("outline."):
                        # one that another process has compiled is only loaded
                        if line == f"outline.{name}":
                            self.counted()
                with self.changed:
                    self.done.add(name)
                    self.failed |= line != "done"
                    self.changed.notify_all()
            child.stdin.close()

    def run(self, processes: int) -> bool:
        """Compile everything; return whether it succeeded."""
        leaders = [threading.Thread(target=self.lead) for _ in range(processes)]
        for leader in leaders:
            leader.start()
        for leader in leaders:
            leader.join()
        return not self.failed


def _begin_afresh() -> None:
    """Delete stale kernels: Numba's cache checks a kernel's own file only, not the kernels it calls."""
    for module in KERNEL_MODULES:
        part, _, name = module.rpartition(".")
        given = os.environ.get("NUMBA_CACHE_DIR")
        folder = Path(given) if given else PACKAGE / part / "__pycache__"
        for old in folder.rglob(f"{name}.*.nb[ci]"):
            old.unlink()


def main() -> int:
    """Compile what is not in the cache yet, with progress; return 0, also without Numba, or 1 if it fails.

    A second call waits for the first.
    """
    stamp = stamp_file()
    if stamp.exists():
        return 0
    try:
        import numba  # noqa: F401
    except ImportError:
        print("Numba is not installed: the engine will run interpreted, slower, with the same answers.")
        return 0
    stamp.parent.mkdir(parents=True, exist_ok=True)
    with stamp.with_suffix(".lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if stamp.exists():
            return 0
        start = time.monotonic()
        _begin_afresh()
        try:
            well = _Compilation().run(os.cpu_count() or 1)
        finally:
            progress_file().unlink(missing_ok=True)
        if not well:
            print("the engine could not be compiled: it will run interpreted, slower, with the same answers.")
            return 1
        for pattern in ("kernels-*.ready", "kernels-*.lock"):
            for old in stamp.parent.glob(pattern):
                old.unlink()
        stamp.touch()
        print(f"compiled in {time.monotonic() - start:.0f} s", flush=True)
    return 0


if __name__ == "__main__":
    sys.exit(main())
