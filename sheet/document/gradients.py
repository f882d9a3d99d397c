"""Gradients as paints: stops along a line or from a point outwards (SVG 2, 14.2)."""

from itertools import pairwise
from typing import Annotated, Final, Literal, TypeAlias, get_args

import msgspec
from msgspec import Meta
from msgspec.structs import replace

from outline import Matrix
from sheet.caching import cached

from .limits import Numbers, Place, Share
from .validation import StoredColor

__all__ = ["GRADIENTS", "SPREADS", "Fill", "Gradient", "GradientKind", "Spread", "Stop", "colours_in", "flat", "mean"]

GradientKind = Literal["linear", "radial"]
GRADIENTS: Final[tuple[GradientKind, ...]] = get_args(GradientKind)
Spread = Literal["pad", "reflect", "repeat"]
SPREADS: Final[tuple[Spread, ...]] = get_args(Spread)
"""How a gradient continues beyond its ends: in the last colour, mirrored, or repeated."""


class Stop(msgspec.Struct, frozen=True):
    """A colour and its opacity at a position, from 0 at the gradient's start to 1 at its end."""

    at: Share
    color: StoredColor
    opacity: Share = 1.0


class Gradient(msgspec.Struct, frozen=True):
    """Colours that run into one another, mixed in sRGB without premultiplying (SVG 2, 14.2).

    `matrix` takes the gradient's own coordinates to the sheet: a linear one runs from (0, 0)
    to (1, 0), a radial one from a circle of radius `focal` around `focus` to the unit circle.
    Stops are in order; two at one place make a hard edge.
    """

    kind: GradientKind
    stops: Annotated[tuple[Stop, ...], Meta(min_length=2, max_length=256)]
    matrix: Numbers
    spread: Spread = "pad"
    focus: tuple[Place, Place] = (0.0, 0.0)
    focal: Share = 0.0

    def __post_init__(self) -> None:
        """Raise ValueError if stops are out of order, or the matrix is singular."""
        if any(a.at > b.at for a, b in pairwise(self.stops)):
            raise ValueError("the stops of a gradient are in order")
        if Matrix(*self.matrix).determinant == 0:
            raise ValueError("a gradient has a length")

    @property
    def placing(self) -> Matrix:
        """The matrix as a map."""
        return Matrix(*self.matrix)

    def moved(self, m: Matrix) -> "Gradient":
        """Return the gradient mapped by `m`; one that would collapse to a line stays as it is."""
        made = m @ self.placing
        return replace(self, matrix=made.numbers()) if made.determinant else self


Fill: TypeAlias = StoredColor | Gradient
"""The paint of a fill or a border."""


def colours_in(fill: str | Gradient | None) -> tuple[str, ...]:
    """Return the colours of a fill, in the order of its stops."""
    if fill is None:
        return ()
    return tuple(s.color for s in fill.stops) if isinstance(fill, Gradient) else (fill,)


@cached(entries=1024)
def mean(stops: tuple[Stop, ...]) -> tuple[str, float]:
    """Return the one colour that can replace stops, weighted by extent and opacity, and its opacity.

    >>> mean((Stop(0.5, "#000000"), Stop(0.5, "#ffffff")))
    ('#808080', 1.0)
    >>> mean((Stop(0, "#ff0000"), Stop(1, "#0000ff", 0)))
    ('#aa0055', 0.5)
    """
    ends = (replace(stops[0], at=0.0), *stops, replace(stops[-1], at=1.0))
    colour, alpha = [0.0, 0.0, 0.0], 0.0
    for one, other in pairwise(ends):
        far = other.at - one.at
        a, b = one.opacity, other.opacity
        alpha += far * (a + b) / 2
        for k in range(3):
            c, d = (int(s.color[1 + 2 * k : 3 + 2 * k], 16) for s in (one, other))
            # the integral of the product of two linear functions
            colour[k] += far * (2 * a * c + a * d + b * c + 2 * b * d) / 6
    if alpha <= 0:
        return stops[0].color, 0.0
    return "#" + "".join(f"{min(255, int(v / alpha + 0.5)):02x}" for v in colour), round(alpha, 9)


def flat(fill: str | Gradient | None) -> str | None:
    """Return a fill as one colour, for pictures too small for a gradient and for measuring contrast."""
    return mean(fill.stops)[0] if isinstance(fill, Gradient) else fill
