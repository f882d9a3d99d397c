"""The long run for what is done with one outline: `python -m tests.outline.fuzz_curves CASES [SEED]`.

Offsets, borders, dashes, rounded corners, simplified and fitted curves of generated paths are held against
distances from finely sampled curves, by NumPy alone.
"""

import math
import random
import sys
import time
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor

import numpy as np

import outline
from outline import OutlineError, Path

from .cases import any_path, distance, flatten, inside

__all__ = ["OPERATIONS", "wrong"]

STEPS = 96
SAMPLES = 400
FLAT = 1e-3
"""How far a sampled curve of the size of these paths may be from its chords, and the engine's tolerance."""


def _around(path: Path, by: float, seed: int) -> np.ndarray:
    """Return points in the box of a path grown by a distance."""
    x0, y0, x1, y1 = path.bounds or (0.0, 0.0, 1.0, 1.0)
    spread = np.random.default_rng(seed).random((SAMPLES, 2))
    return np.array([x0 - by, y0 - by]) + spread * np.array([x1 - x0 + 2 * by, y1 - y0 + 2 * by])


def _differs(got: Path, want: np.ndarray, far: np.ndarray, points: np.ndarray) -> str:
    """Compare the region at the points that are `far` from where it ends; return what is wrong."""
    found = inside(got, points, STEPS) if not got.is_empty else np.zeros(len(points), bool)
    bad = (found != want) & far
    return f"{bad.sum()} of {far.sum()} points, first {points[np.argmax(bad)]}" if bad.any() else ""


def _offset(r: random.Random, seed: int) -> str:
    region = outline.union([any_path(r)])
    if region.is_empty:
        return ""
    by = r.choice((-1, 1)) * 10.0 ** r.uniform(-2, 0.5)
    points = _around(region, abs(by) * 1.2, seed)
    near, filled = distance(region, points, STEPS), inside(region, points, STEPS)
    want = filled | (near < by) if by > 0 else filled & (near > -by)
    return _differs(outline.offset(region, by), want, abs(near - abs(by)) > FLAT + 0.004 * abs(by), points)


def _border(r: random.Random, seed: int) -> str:
    line = any_path(r)
    width = 10.0 ** r.uniform(-1.5, 0.7)
    points = _around(line, width, seed)
    near = distance(line, points, STEPS)
    got = outline.stroke_outline(line, width, join="round", cap="round")
    return _differs(got, near < width / 2, abs(near - width / 2) > FLAT + 0.002 * width, points)


def _dashes(r: random.Random, seed: int) -> str:
    line = any_path(r)
    pattern = [r.uniform(0.05, 2) for _ in range(r.randint(1, 4))]
    got = outline.dashed(line, pattern)
    if len(pattern) % 2:
        pattern *= 2
    want = 0.0
    for part in line.subpaths:
        long, at, k = outline.length(part), 0.0, 0
        while at < long:
            end = min(long, at + pattern[k % len(pattern)])
            want += end - at if k % 2 == 0 else 0.0
            at, k = end, k + 1
    if abs(outline.length(got) - want) > 3e-5 * (1 + want):
        return f"dashes of {outline.length(got):.9f} for {want:.9f}"
    points = np.concatenate(flatten(got, 8, close=False)) if got.node_count else np.empty((0, 2))
    off = distance(line, points, STEPS).max() if len(points) else 0.0
    return f"a dash {off:g} off its line" if off > FLAT else ""


def _rounded(r: random.Random, seed: int) -> str:
    region = outline.union([any_path(r)])
    if region.is_empty:
        return ""
    radius = 10.0 ** r.uniform(-1.5, 0.5)
    got = outline.round_corners(region, radius)
    if outline.length(got) > outline.length(region) * (1 + 1e-6):
        return f"longer by {outline.length(got) - outline.length(region):g}"
    if region.arrays[1].any():
        # what rounds a curve may be further from it
        return ""
    off = distance(region, np.concatenate(flatten(got, 16)), STEPS).max()
    return f"{off:g} off, with a radius of {radius:g}" if off > radius * 1.01 + FLAT else ""


def _simplified(r: random.Random, seed: int) -> str:
    path = any_path(r)
    tolerance = 10.0 ** r.uniform(-2, -0.3)
    got = outline.simplify(path, tolerance)
    if got.node_count > path.node_count:
        return f"{got.node_count} nodes for {path.node_count}"
    sides = [(path, got), (got, path)]
    off = max(distance(b, np.concatenate(flatten(a, 32)), STEPS).max() for a, b in sides)
    return f"{off:g} off, more than {tolerance:g}" if off > tolerance + FLAT else ""


def _fitted(r: random.Random, seed: int) -> str:
    rings = flatten(any_path(r), r.randint(4, 40))
    tolerance = 10.0 ** r.uniform(-2.5, -0.5)
    points = rings[0] + np.random.default_rng(seed).normal(0, tolerance / 8, rings[0].shape)
    got = outline.fit(points, tolerance)
    off = distance(got, points, STEPS).max()
    return f"{off:g} off, more than {tolerance:g}" if off > tolerance + FLAT else ""


OPERATIONS: dict[str, Callable[[random.Random, int], str]] = {
    "offset": _offset,
    "border": _border,
    "dashes": _dashes,
    "rounded": _rounded,
    "simplified": _simplified,
    "fitted": _fitted,
}


def wrong(seed: int) -> str:
    """Return what is wrong with a case of one operation, the next for each seed; an empty text if nothing."""
    name = list(OPERATIONS)[seed % len(OPERATIONS)]
    try:
        message = OPERATIONS[name](random.Random(seed), seed)
    except OutlineError as error:
        message = f"{type(error).__name__}: {error}"
    return f"{name}: {message}" if message else ""


LOT = 600


def _lot(first: int, count: int) -> list[tuple[int, str]]:
    return [(seed, message) for seed in range(first, first + count) if (message := wrong(seed))]


def main(count: int, first: int = 0) -> int:
    """Run cases on all cores; print what is wrong, and return how many are."""
    began = time.monotonic()
    firsts = range(first, first + count, LOT)
    with ProcessPoolExecutor() as pool:
        found = [one for lot in pool.map(_lot, firsts, [min(LOT, first + count - f) for f in firsts]) for one in lot]
    for seed, message in found[:40]:
        print(seed, message)
    print(f"{len(found)} wrong of {count} cases in {time.monotonic() - began:.0f} s")
    return math.ceil(len(found) / max(1, count))


if __name__ == "__main__":
    sys.exit(main(*map(int, sys.argv[1:])))
