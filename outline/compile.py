"""Compile the kernels into the disk cache: `python -m outline.compile`."""

import os
import sys
import time


def main() -> int:
    """Compile what is not in the cache yet, with progress; 0 also where Numba is missing."""
    os.environ["GOUGE_KERNELS"] = "auto"
    from .kernel import KERNEL_MODULES, stamp_file

    if stamp_file().exists():
        return 0
    try:
        import numba  # noqa: F401
    except ImportError:
        print("Numba is not installed: the engine will run interpreted, slower, with the same answers.")
        return 0
    os.environ["GOUGE_KERNELS"] = "compile"
    # Numba's cache looks at a kernel's own file only, not at the kernels it calls: begin afresh
    for old in stamp_file().parent.glob("*.nb[ci]"):
        if old.name.split(".")[0] in KERNEL_MODULES:
            old.unlink()
    for name in [m for m in sys.modules if m.startswith("outline.") and m != "outline.compile"]:
        del sys.modules[name]
    sys.modules.pop("outline", None)
    import importlib

    start = time.monotonic()
    for name in KERNEL_MODULES:
        importlib.import_module(f"outline.{name}")
    stamp = stamp_file()
    stamp.parent.mkdir(parents=True, exist_ok=True)
    for old in stamp.parent.glob("kernels-*.ready"):
        old.unlink()
    stamp.touch()
    print(f"compiled in {time.monotonic() - start:.0f} s")
    return 0


if __name__ == "__main__":
    sys.exit(main())
