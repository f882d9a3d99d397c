"""Where gradients run, relative to the box of what they paint: along a line at an angle, or outwards from a point."""

import math

import numpy as np
from msgspec.structs import replace

from outline import Matrix
from sheet.document.gradients import Gradient, Stop
from sheet.document.model import Paint
from sheet.reading.colours import from_oklab, hex_of, rgb_of, to_oklab

from .geometry import Box

__all__ = ["angle_of", "begun", "even", "fitted", "linear", "more_stops", "place_of", "radial", "swapped"]

_APART = 0.28
"""How much lighter or darker (OKLab's L, 0 to 1) the other end of a new gradient is."""


def _sides(box: Box) -> tuple[float, float]:
    """Return the sides of a box; those of a line are at least 1 px, so that a gradient on it has a length."""
    return max(1.0, box[2] - box[0]), max(1.0, box[3] - box[1])


def linear(box: Box, degrees: float) -> Matrix:
    """Return where a linear gradient runs at an angle, clockwise from the right: its end colours are at the
    corners (CSS Images 3, 3.1.1, whose angles begin at the top)."""
    width, height = _sides(box)
    x, y = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    long = abs(width * x) + abs(height * y)
    cx, cy = (box[0] + box[2]) / 2, (box[1] + box[3]) / 2
    return Matrix(long * x, long * y, -long * y, long * x, cx - long * x / 2, cy - long * y / 2)


def _farthest(box: Box, x: float, y: float) -> float:
    width, height = _sides(box)
    return math.hypot(max(x, 1 - x) * width, max(y, 1 - y) * height)


def radial(box: Box, x: float = 0.5, y: float = 0.5, size: float = 1.0) -> Matrix:
    """Return where a radial gradient runs from a point (shares of the box), 1 reaching the farthest corner
    (CSS Images 3, 3.2.1)."""
    width, height = _sides(box)
    r = size * _farthest(box, x, y)
    return Matrix(r, 0.0, 0.0, r, box[0] + x * width, box[1] + y * height)


def angle_of(gradient: Gradient) -> float:
    """Return the angle of a gradient, degrees clockwise from the right."""
    m = gradient.placing
    return math.degrees(math.atan2(m.b, m.a))


def place_of(gradient: Gradient, box: Box) -> tuple[float, float, float]:
    """Return the start of a radial gradient (shares of the box), and its extent as `radial` measures it."""
    width, height = _sides(box)
    m = gradient.placing
    x, y = (m.e - box[0]) / width, (m.f - box[1]) / height
    return x, y, m.scale / _farthest(box, x, y)


def begun(colour: str) -> tuple[Stop, ...]:
    """Return the stops of a new gradient: from a colour to a lighter one of its kind, or a darker one if it is light
    itself."""
    lab = to_oklab(np.array([rgb_of(colour)]))
    lab[0, 0] += _APART if lab[0, 0] < 0.6 else -_APART
    return Stop(0.0, colour), Stop(1.0, hex_of(from_oklab(lab)[0]))


def swapped(stops: tuple[Stop, ...]) -> tuple[Stop, ...]:
    """Return the stops reversed."""
    return tuple(replace(s, at=1.0 - s.at) for s in reversed(stops))


def even(stops: tuple[Stop, ...]) -> tuple[Stop, ...]:
    """Return the stops evenly spaced from one end to the other."""
    return tuple(replace(s, at=k / (len(stops) - 1)) for k, s in enumerate(stops))


def more_stops(stops: tuple[Stop, ...]) -> tuple[Stop, ...]:
    """Return the stops with one more in the middle of the widest gap, in the colour already there."""
    at = max(range(len(stops) - 1), key=lambda k: stops[k + 1].at - stops[k].at)
    one, other = stops[at], stops[at + 1]
    colour = [(a + b) / 2 for a, b in zip(rgb_of(one.color), rgb_of(other.color), strict=True)]
    middle = Stop((one.at + other.at) / 2, hex_of(tuple(colour)), (one.opacity + other.opacity) / 2)
    return (*stops[: at + 1], middle, *stops[at + 1 :])


def fitted(paint: Paint, before: Box | None, after: Box | None) -> Paint:
    """Return a paint whose gradients are mapped from the box before to another one."""
    if before is None or after is None or before == after:
        return paint
    across, down = (a / b for a, b in zip(_sides(after), _sides(before), strict=True))
    x, y = after[0] - before[0] * across, after[1] - before[1] * down
    return paint.moved(Matrix(across, 0.0, 0.0, down, x, y))
