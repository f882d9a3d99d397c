"""Generated inputs, generic and degenerate, and an outside answer to hold results against.

The answer needs no engine: sample points are held against the inputs' winding numbers
on fine polylines, by NumPy alone; points nearer to a border than the flattening error
are left out.
"""

import math
import random

import numpy as np

import outline
from outline import Matrix, Path


def flatten(path: Path, steps: int = 64, close: bool = True) -> list[np.ndarray]:
    """Return each subpath as points (n, 2); lines get no points between."""
    ctrl, kind, starts, _ = path.arrays
    out = []
    t = np.arange(1, steps + 1) / steps
    b = np.stack([(1 - t) ** 3, 3 * (1 - t) ** 2 * t, 3 * (1 - t) * t * t, t**3], axis=1)
    for k in range(len(starts) - 1):
        points = [ctrl[starts[k], :2].reshape(1, 2)]
        for i in range(starts[k], starts[k + 1]):
            c = ctrl[i].reshape(4, 2)
            points.append(c[3:] if kind[i] == 0 else b @ c)
        ring = np.concatenate(points)
        if close:
            ring = np.concatenate([ring, ring[:1]])
        out.append(ring)
    return out


def windings(path: Path, points: np.ndarray, steps: int = 64) -> np.ndarray:
    """Return the winding number of each point."""
    total = np.zeros(len(points), int)
    x, y = points[:, :1], points[:, 1:]
    for ring in flatten(path, steps):
        a, b = ring[:-1], ring[1:]
        left = (b[:, 0] - a[:, 0]) * (y - a[:, 1]) - (x - a[:, 0]) * (b[:, 1] - a[:, 1])
        up = (a[:, 1] <= y) & (b[:, 1] > y) & (left > 0)
        down = (a[:, 1] > y) & (b[:, 1] <= y) & (left < 0)
        total += up.sum(axis=1) - down.sum(axis=1)
    return total


def inside(path: Path, points: np.ndarray, steps: int = 64) -> np.ndarray:
    """Return whether each point is filled."""
    w = windings(path, points, steps)
    return w != 0 if path.fill_rule == "nonzero" else w % 2 == 1


def distance(path: Path, points: np.ndarray, steps: int = 64) -> np.ndarray:
    """Return the distance of each point to the flattened border."""
    best = np.full(len(points), np.inf)
    for ring in flatten(path, steps):
        a, d = ring[:-1], np.diff(ring, axis=0)
        size = np.maximum((d * d).sum(axis=1), 1e-300)
        rel = points[:, None, :] - a[None]
        t = np.clip((rel * d).sum(axis=2) / size, 0, 1)
        best = np.minimum(best, np.hypot(*np.moveaxis(rel - t[..., None] * d, 2, 0)).min(axis=1))
    return best


# -- generators: each takes a random.Random and returns a path


def _loop(r: random.Random, n: int, grid: bool) -> Path:
    def p() -> tuple[float, float]:
        return (r.randint(0, 8), r.randint(0, 8)) if grid else (r.uniform(0, 8), r.uniform(0, 8))

    d = "M{} {}".format(*p())
    for _ in range(n):
        d += "C{} {} {} {} {} {}".format(*p(), *p(), *p()) if r.random() < 0.6 else "L{} {}".format(*p())
    return Path.from_svg(d + "Z", r.choice(("nonzero", "evenodd")))


def plain_loops(r: random.Random) -> list[Path]:
    """Return two or three loops of lines and cubics that cross and touch one another."""
    return [_loop(r, r.randint(3, 7), r.random() < 0.5) for _ in range(r.randint(2, 3))]


def any_path(r: random.Random) -> Path:
    """Return one path from about [0, 8]²."""
    grid = r.random() < 0.5

    def v(a: float, b: float) -> float:
        return r.randint(int(a), int(b)) if grid else r.uniform(a, b)

    kind = r.randrange(7)
    if kind == 0:
        return outline.rectangle(max(1, v(1, 5)), max(1, v(1, 5))).transform(Matrix.move(v(0, 4), v(0, 4)))
    if kind == 1:
        radius = max(1, v(1, 3))
        return outline.ellipse(radius, radius if r.random() < 0.6 else max(1, v(1, 3)), v(1, 7), v(1, 7))
    if kind == 2:
        return outline.polygon(r.randint(3, 8), max(1, v(1, 4)), v(2, 6), v(2, 6))
    if kind == 3:
        return outline.star(r.randint(3, 7), max(2, v(2, 4)), max(0.5, v(1, 2)), v(2, 6), v(2, 6))
    if kind == 4:
        w, h = max(2, v(2, 6)), max(2, v(2, 6))
        return outline.rectangle(w, h, (1, 0.5, 1, 0)).transform(Matrix.move(v(0, 3), v(0, 3)))
    return _loop(r, r.randint(2, 6), grid)


def any_case(r: random.Random) -> list[Path]:
    """Return two to five paths that stand in a generic or a degenerate relation."""
    first = any_path(r)
    paths = [first]
    for _ in range(r.randint(1, 4)):
        how = r.randrange(6)
        if how == 0:
            other = first
        elif how == 1:
            step = 10.0 ** r.uniform(-12, -2)
            other = first.transform(Matrix.move(step * r.uniform(-1, 1), step * r.uniform(-1, 1)))
        elif how == 2:
            other = first.transform(Matrix.turn(r.choice((90, 180, 45, 1e-6, 1e-9, 30)), (4, 4)))
        elif how == 3:
            other = first.transform(Matrix.move(r.choice((1, 2, 0.5, 4)), r.choice((0, 0, 1))))
        else:
            other = any_path(r)
        paths.append(other)
    if r.random() < 0.25:
        scale = 10.0 ** r.uniform(-3, 5)
        m = Matrix.turn(r.uniform(0, 360)) @ Matrix.resize(scale, scale)
        paths = [p.transform(m) for p in paths]
    return paths


def wrong(paths: list[Path], seed: int, samples: int = 60) -> str:
    """Return what is wrong with the engine's answers for `paths`, or an empty text."""
    m = outline.PlanarMap(paths)
    m.check_structure()
    answers = {
        "union": m.union(),
        "intersect": m.intersect(),
        "exclude": m.exclude(),
        "subtract": m.subtract(),
    }
    rng = np.random.default_rng(seed)
    corners = np.concatenate([p.arrays[0].reshape(-1, 2) for p in paths])
    low, high = corners.min(axis=0), corners.max(axis=0)
    extent = float((high - low).max())
    points = rng.uniform(low - 0.02 * extent, high + 0.02 * extent, (samples, 2))
    # the flattening error of a cubic falls with the square of the steps
    clear = np.min([distance(p, points) for p in paths], axis=0) > 2e-3 * extent
    points = points[clear]
    held = np.array([inside(p, points) for p in paths])
    wanted = {
        "union": held.any(axis=0),
        "intersect": held.all(axis=0),
        "exclude": held.sum(axis=0) % 2 == 1,
        "subtract": held[0] & (held.sum(axis=0) == 1),
    }
    for name, path in answers.items():
        for rule in outline.path.FILL_RULES:
            got = inside(path.with_fill_rule(rule), points)
            if (got != wanted[name]).any():
                return f"{name} under {rule} differs at {points[got != wanted[name]][0]}"
    a, b = (outline.union([p]).area for p in paths[:2])
    both = outline.union(paths[:2]).area + outline.intersect(paths[:2]).area
    if not math.isclose(a + b, both, rel_tol=1e-6, abs_tol=1e-6 * extent**2):
        return f"area {a} + {b} != {both}"
    parts = sum(c.area for c in m.divide())
    if not math.isclose(parts, answers["union"].area, rel_tol=1e-6, abs_tol=1e-6 * extent**2):
        return f"the cells add up to {parts}, the union to {answers['union'].area}"
    return ""
