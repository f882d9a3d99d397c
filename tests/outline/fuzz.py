"""The long run: `python -m tests.outline.fuzz CASES [SEED]` counts wrong regions in generated cases."""

import random
import sys
import time

from outline import OutlineError

from .cases import any_case, wrong


def run(cases: int, first: int = 0) -> list[tuple[int, str]]:
    """Return (seed, what is wrong) of every case that came out wrong."""
    bad = []
    for seed in range(first, first + cases):
        paths = any_case(random.Random(seed))
        try:
            message = wrong(paths, seed)
        except OutlineError as error:
            message = f"{type(error).__name__}: {error} {getattr(error, 'certificates', '')}"
        if message:
            bad.append((seed, message))
    return bad


if __name__ == "__main__":
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 1000
    start = time.monotonic()
    found = run(count, int(sys.argv[2]) if len(sys.argv) > 2 else 0)
    for seed, message in found[:40]:
        print(seed, message)
    print(f"{len(found)} wrong of {count} cases in {time.monotonic() - start:.0f} s")
    sys.exit(1 if found else 0)
