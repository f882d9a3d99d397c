"""The record of each ready outline, and short ways to draw one."""

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np

from outline.curves.fitting import fit
from outline.engine.operations import union
from outline.path import svgpath
from outline.path.errors import OutlineError
from outline.path.matrix import Matrix
from outline.path.path import Path
from outline.shapes.shapes import ellipse

__all__ = [
    "READY",
    "Ready",
    "at",
    "disc",
    "drawn",
    "fitted",
    "register",
    "mirrored",
    "ready",
    "ring_of",
    "shelf",
    "swelling",
]


@dataclass(frozen=True, slots=True)
class Ready:
    """A ready outline: its key, its name, its drawing function, its category, and more words to find it by.

    One of `many` nodes repeats something, or is drawn with a swelling line.
    """

    key: str
    name: str
    draw: Callable[[], Path]
    category: str
    words: str = ""
    many: bool = False


READY: dict[str, Ready] = {}
_category = [""]


def shelf(category: str) -> None:
    """Put all outlines registered from here on into a category."""
    _category[0] = category


def register(key: str, name: str, draw: Callable[[], Path], words: str = "", many: bool = False) -> None:
    """Register an outline and its drawing function."""
    READY[key] = Ready(key, name, draw, _category[0], words, many)


def drawn(key: str, name: str, d: str, words: str = "", fill_rule: str = "nonzero") -> None:
    """Register an outline given as SVG path data."""
    # one cubic per quarter circle: few nodes, and at most 0.03 % of the radius off
    register(key, name, lambda: Path(*svgpath.read(d, math.pi / 2).arrays(), fill_rule=fill_rule), words)


@lru_cache(maxsize=256)
def ready(key: str) -> Path:
    """Return the ready outline with its box at the origin. Raises OutlineError for an unknown key."""
    if key not in READY:
        raise OutlineError(f"there is no ready outline {key!r}")
    path = READY[key].draw()
    x0, y0, _, _ = path.bounds or (0.0, 0.0, 0.0, 0.0)
    return path.transform(Matrix.move(-x0, -y0)) if (x0, y0) != (0.0, 0.0) else path


# -- helpers


def at(path: Path, x: float, y: float) -> Path:
    """Return the path translated."""
    return path.transform(Matrix.move(x, y))


def disc(x: float, y: float, r: float) -> Path:
    """Return a disc about (x, y)."""
    return ellipse(r, r, x, y)


def mirrored(path: Path, x: float | None = None, y: float | None = None) -> Path:
    """Return the path mirrored in the vertical line at `x`, or the horizontal one at `y`."""
    sx, sy = (-1.0 if x is not None else 1.0), (-1.0 if y is not None else 1.0)
    return path.transform((sx, 0.0, 0.0, sy, 2 * (x or 0.0), 2 * (y or 0.0)))


def ring_of(path: Path, count: int, about: tuple[float, float] = (0.0, 0.0)) -> list[Path]:
    """Return `count` copies of the path turned evenly about a point."""
    return [path.transform(Matrix.turn(360 * k / count, about)) for k in range(count)]


def fitted(x: Callable[[Any], Any], y: Callable[[Any], Any], end: float, near: float = 0.12) -> Path:
    """Return the closed outline that (x(t), y(t)) draws for t from 0 to `end`."""
    t = np.linspace(0.0, end, 721)[:-1]
    return union([fit(np.column_stack([x(t), y(t)]), near, closed=True)])


def swelling(
    x: Callable[[Any], Any], y: Callable[[Any], Any], span: tuple[float, float], width: float,
    ends: tuple[float, float] = (0.0, 0.0), bulge: float = 1.0,
) -> Path:  # fmt: skip
    """Return a pen line (x(t), y(t)) that swells to `width` in its middle, and is `ends` wide at its ends:
    round there, or pointed if that is 0."""
    t = np.linspace(*span, 401)
    p = np.column_stack([x(t), y(t)])
    slope = np.gradient(p, axis=0)
    normal = np.column_stack([-slope[:, 1], slope[:, 0]]) / np.hypot(*slope.T)[:, None]
    share = np.linspace(0.0, 1.0, len(t))
    least = ends[0] * (1 - share) + ends[1] * share
    half = (least + (width - least) * np.sin(np.pi * share) ** bulge)[:, None] / 2
    sides = np.concatenate([p + normal * half, (p - normal * half)[::-1]])
    knobs = [disc(float(p[k, 0]), float(p[k, 1]), r / 2) for k, r in ((0, ends[0]), (-1, ends[1])) if r > 0]
    return union([fit(sides, width / 60, closed=True), *knobs])
