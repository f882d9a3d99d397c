"""Repeated edges along a line, starting and ending exactly at the line's ends."""

import math
import random
from collections.abc import Iterable, Sequence
from typing import TypeAlias

import numpy as np

from outline.curves.arclength import Chain
from outline.curves.measure import end_directions
from outline.path.builder import Builder
from outline.path.errors import OutlineError
from outline.path.path import Path

__all__ = ["EDGES", "edge_run", "runs_of"]

EDGES = ("zigzag", "wave", "scallop", "torn", "perforated")
MAX_TEETH = 5000
CORNER = math.radians(15)
"""A line that turns more than this at a node counts as two, each with whole teeth."""

SINE, SINE_TOP = 0.512286623256592433, 1.002313685767898599
"""Handles (0.5123, 0.5123) and (1.0023, 1) of the cubic nearest to sin x from 0 to π/2 (from memory, tested)."""

CIRCLE = 4.0 / 3.0 * (math.sqrt(2.0) - 1.0)

Profile: TypeAlias = list[tuple[float, ...]]
"""Steps in (along, out) from (0, 0): (s, h) a line, (s1, h1, s2, h2, s, h) a cubic."""


def _zigzag(length: float, n: int, height: float, _: random.Random) -> Profile:
    tooth = length / n
    steps: Profile = []
    for k in range(n):
        steps += [((k + 0.5) * tooth, height), ((k + 1) * tooth, 0.0)]
    return steps


def _wave(length: float, n: int, height: float, _: random.Random) -> Profile:
    quarter = length / n / 4
    unit = quarter / (math.pi / 2)
    grip, flat, rise = SINE * unit, (math.pi / 2 - SINE_TOP) * unit, SINE * height
    steps: Profile = []
    for k in range(2 * n):
        side = 1 if k % 2 == 0 else -1
        a, b, c = 2 * k * quarter, (2 * k + 1) * quarter, (2 * k + 2) * quarter
        steps.append((a + grip, side * rise, b - flat, side * height, b, side * height))
        steps.append((b + flat, side * height, c - grip, side * rise, c, 0.0))
    return steps


def _scallop(length: float, n: int, height: float, _: random.Random) -> Profile:
    tooth = length / n
    r = tooth / 2
    steps: Profile = []
    for k in range(n):
        a, b, c = k * tooth, k * tooth + r, (k + 1) * tooth
        steps.append((a, CIRCLE * height, b - CIRCLE * r, height, b, height))
        steps.append((b + CIRCLE * r, height, c, CIRCLE * height, c, 0.0))
    return steps


def _torn(length: float, n: int, height: float, dice: random.Random) -> Profile:
    stops = sorted(
        {min(length, max(0.0, (k + dice.uniform(-0.42, 0.42)) * length / n)) for k in range(1, n)} | {length}
    )
    steps: Profile = []
    for s in stops:
        steps.append((s, 0.0 if s == length else height * dice.uniform(-1, 1)))
    return steps


def _perforated(length: float, n: int, height: float, _: random.Random) -> Profile:
    pitch = length / n
    r = pitch * 0.3
    steps: Profile = []
    for k in range(n):
        a, b, c = k * pitch + pitch / 2 - r, k * pitch + pitch / 2, k * pitch + pitch / 2 + r
        steps.append((a, 0.0))
        steps.append((a, -CIRCLE * height, b - CIRCLE * r, -height, b, -height))
        steps.append((b + CIRCLE * r, -height, c, -CIRCLE * height, c, 0.0))
        steps.append(((k + 1) * pitch, 0.0))
    return steps


_PROFILES = {"zigzag": _zigzag, "wave": _wave, "scallop": _scallop, "torn": _torn, "perforated": _perforated}


def _height(kind: str, pitch: float, flank: float, depth: float | None) -> float:
    """Return the height of the teeth: for a zigzag by its flank angle, else `depth`, or what suits the pitch."""
    if kind == "zigzag":
        return pitch / 2 * (1.0 if flank == 45 else math.tan(math.radians(flank)))
    if depth is not None:
        return depth
    return {"wave": pitch / 4, "scallop": pitch / 2, "torn": pitch / 2, "perforated": pitch * 0.3}[kind]


def _edged(
    line: Chain, out: Builder, kind: str, pitch: float, flank: float, depth: float | None, seed: int, side: int
) -> None:
    n = max(1, round(line.length / pitch))
    height = side * _height(kind, line.length / n, flank, depth)
    dice = random.Random(seed)
    s0 = 0.0
    p0, t0 = line.place(0.0)
    end = line.ctrl[-1][6:]
    steps = _PROFILES[kind](line.length, n, height, dice)

    def lifted(p: np.ndarray, t: np.ndarray, ds: float, h: float) -> np.ndarray:
        # outwards from a clockwise outline on a sheet: the tangent turned a quarter to the left
        return p + ds * t + h * np.array([t[1], -t[0]])

    for number, step in enumerate(steps):
        s, h = step[-2:]
        p, t = line.place(s)
        if number == len(steps) - 1:
            p = end
        target = p if h == 0 else lifted(p, t, 0.0, h)
        if len(step) == 2:
            out.line(*target.tolist())
        else:
            a = lifted(p0, t0, step[0] - s0, step[1])
            b = lifted(p, t, step[2] - s, step[3])
            out.cubic(*a.tolist(), *b.tolist(), *target.tolist())
        s0, p0, t0 = s, p, t


def runs_of(path: Path) -> list[tuple[int, int]]:
    """Return the sides of `path`: (first curve, curve after the last) of each stretch without a corner.

    Curves count through all subpaths; a stretch never goes over the start of a subpath.
    """
    ctrl, _, starts, _ = path._arrays
    first_ways, last_ways = end_directions(ctrl)
    sides = []
    for k in range(len(starts) - 1):
        first = int(starts[k])
        for i in range(first + 1, int(starts[k + 1])):
            a, b = last_ways[i - 1], first_ways[i]
            if abs(math.atan2(a[0] * b[1] - a[1] * b[0], float(a @ b))) > CORNER:
                sides.append((first, i))
                first = i
        sides.append((first, int(starts[k + 1])))
    return sides


def edge_run(
    path: Path,
    kind: str,
    pitch: float,
    *,
    flank: float = 45.0,
    depth: float | None = None,
    seed: int = 1,
    sides: Iterable[int] | None = None,
    inward: bool = False,
) -> Path:
    """Return `path` with the edge `kind` along its sides (all, or those numbered as `runs_of` gives them).

    `pitch` is the length of a tooth (sheet units), fitted so that whole teeth fill a
    side; a zigzag's height is pitch/2 · tan(flank), `flank` in degrees. `depth` is the
    height of the others. Teeth point out of a clockwise outline, or into it if
    `inward`. Raises OutlineError for an unknown kind, a pitch not above 0, a flank
    outside 5 to 85 degrees or more than 5,000 teeth.

    >>> edge_run(Path.from_svg("M0 0H30"), "zigzag", 10).to_svg()
    'M0 0L5 -5L10 0L15 -5L20 0L25 -5L30 0'
    """
    if kind not in EDGES:
        raise OutlineError(f"there is no edge {kind!r}; use {', '.join(EDGES)}")
    if not (math.isfinite(pitch) and pitch > 0):
        raise OutlineError(f"the tooth length must be greater than 0, not {pitch:g}")
    if not 5 <= flank <= 85:
        raise OutlineError(f"the flank must be from 5 to 85 degrees, not {flank:g}")
    if depth is not None and not (math.isfinite(depth) and depth > 0):
        raise OutlineError(f"the depth must be greater than 0, not {depth:g}")
    chosen: Sequence[int] | None = None if sides is None else sorted(set(sides))
    ctrl, kinds, starts, closed = path._arrays
    out = Builder()
    stretches = runs_of(path)
    total = sum(Chain(ctrl[a:b], kinds[a:b]).length for a, b in stretches)
    if total / pitch > MAX_TEETH:
        raise OutlineError(f"that would be {total / pitch:,.0f} teeth; {MAX_TEETH:,} are the most")
    for number, (a, b) in enumerate(stretches):
        if a in starts[:-1]:
            out.move(*ctrl[a][:2].tolist())
        if chosen is not None and number not in chosen:
            for c, k in zip(ctrl[a:b], kinds[a:b], strict=True):
                if k == 0:
                    out.line(*c[6:].tolist())
                else:
                    out.cubic(*c[2:].tolist())
        else:
            _edged(Chain(ctrl[a:b], kinds[a:b]), out, kind, pitch, flank, depth, seed + number, -1 if inward else 1)
        if b in starts[1:]:
            sub = int(np.searchsorted(starts, b)) - 1
            if closed[sub]:
                out.close()
            else:
                out.finish()
    return Path(*out.arrays(), fill_rule=path.fill_rule)
