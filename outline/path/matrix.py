"""Affine maps as values: (a, b, c, d, e, f) takes (x, y) to (a x + c y + e, b x + d y + f), as in SVG."""

import math
from dataclasses import dataclass
from typing import Final

__all__ = ["Matrix", "IDENTITY"]


@dataclass(frozen=True, slots=True)
class Matrix:
    """An affine map in the order of SVG's matrix(a b c d e f)."""

    a: float = 1.0
    b: float = 0.0
    c: float = 0.0
    d: float = 1.0
    e: float = 0.0
    f: float = 0.0

    def __post_init__(self) -> None:
        # thousands are made at every step of a large sheet; a sum that is finite has no other parts
        if math.isfinite(self.a + self.b + self.c + self.d + self.e + self.f):
            return
        if not all(map(math.isfinite, self.numbers())):
            raise ValueError("a matrix needs six finite numbers")

    def __matmul__(self, other: "Matrix") -> "Matrix":
        """Return the map that does `other` first, then this one."""
        return Matrix(
            self.a * other.a + self.c * other.b,
            self.b * other.a + self.d * other.b,
            self.a * other.c + self.c * other.d,
            self.b * other.c + self.d * other.d,
            self.a * other.e + self.c * other.f + self.e,
            self.b * other.e + self.d * other.f + self.f,
        )

    def __call__(self, x: float, y: float) -> tuple[float, float]:
        """Return the image of a point."""
        return self.a * x + self.c * y + self.e, self.b * x + self.d * y + self.f

    @property
    def determinant(self) -> float:
        """The factor by which areas grow; negative where the map mirrors."""
        return self.a * self.d - self.b * self.c

    @property
    def scale(self) -> float:
        """The mean scale: the square root of the factor by which areas grow."""
        return math.sqrt(abs(self.determinant))

    @property
    def angle(self) -> float:
        """The turn of the x axis in degrees, in (-180, 180]."""
        # 0.0 for -0.0, which would be the other end of the range
        return math.degrees(math.atan2(self.b + 0.0, self.a))

    def inverse(self) -> "Matrix":
        """Return the inverse map. Raises ValueError if it is singular."""
        det = self.determinant
        if det == 0.0:
            raise ValueError("this matrix flattens the plane, so nothing undoes it")
        a, b, c, d = self.d / det, -self.b / det, -self.c / det, self.a / det
        return Matrix(a, b, c, d, -(a * self.e + c * self.f), -(b * self.e + d * self.f))

    def numbers(self) -> tuple[float, float, float, float, float, float]:
        """Return the six numbers."""
        return self.a, self.b, self.c, self.d, self.e, self.f

    @classmethod
    def move(cls, x: float, y: float) -> "Matrix":
        """Return the translation by (x, y)."""
        return cls(e=x, f=y)

    @classmethod
    def resize(cls, sx: float, sy: float, about: tuple[float, float] = (0.0, 0.0)) -> "Matrix":
        """Return the scaling by sx and sy about a point."""
        x, y = about
        return cls(sx, 0.0, 0.0, sy, x - sx * x, y - sy * y)

    @classmethod
    def turn(cls, degrees: float, about: tuple[float, float] = (0.0, 0.0)) -> "Matrix":
        """Return the rotation by `degrees` (clockwise with y downwards) about a point."""
        quarter = {0: (1.0, 0.0), 90: (0.0, 1.0), 180: (-1.0, 0.0), 270: (0.0, -1.0)}
        exact = quarter.get(degrees % 360)  # type: ignore[call-overload]
        c, s = exact or (math.cos(math.radians(degrees)), math.sin(math.radians(degrees)))
        x, y = about
        return cls(c, s, -s, c, x - c * x + s * y, y - s * x - c * y)


IDENTITY: Final = Matrix()
