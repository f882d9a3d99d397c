"""The long run: `python -m tests.outline.fuzz CASES [SEED]` counts wrong regions in generated cases."""

import random
import sys
import time
from concurrent.futures import ProcessPoolExecutor

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


LOT = 500


def main(count: int, first: int = 0) -> int:
    """Run cases on all cores, a lot at a time; print how far it is, and what is wrong."""
    start = time.monotonic()
    firsts = range(first, first + count, LOT)
    sizes = [min(LOT, first + count - f) for f in firsts]
    found: list[tuple[int, str]] = []
    with ProcessPoolExecutor() as pool:
        for number, lot in enumerate(pool.map(run, sizes, firsts), 1):
            found += lot
            if number % 20 == 0:
                print(f"{number * LOT:,} cases, {len(found)} wrong so far", flush=True)
    for seed, message in found[:40]:
        print(seed, message)
    print(f"{len(found)} wrong of {count} cases in {time.monotonic() - start:.0f} s")
    return 1 if found else 0


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]) if len(sys.argv) > 1 else 1000, int(sys.argv[2]) if len(sys.argv) > 2 else 0))
