"""Leaves and waves."""

import math

import numpy as np

from outline.curves.fitting import fit
from outline.engine.operations import subtract, union
from outline.path.matrix import Matrix
from outline.path.path import Path
from outline.shapes.shapes import ellipse

from .registry import at, disc, fitted, mirrored, register, ring_of, shelf, swelling


def _leaf(length: float, width: float) -> Path:
    """Return a pointed leaf from (0, 0) upwards."""
    w, h = width / 2, length
    return Path.from_svg(
        f"M0 0C{w * 1.3} {-h * 0.25} {w * 1.1} {-h * 0.7} 0 {-h}C{-w * 1.1} {-h * 0.7} {-w * 1.3} {-h * 0.25} 0 0Z"
    )


def _sprig(pairs: int, length: float, leaf: float) -> Path:
    """Return a stem with pairs of leaves and one at its tip."""
    parts = [Path.from_svg(f"M-2.4 0L-1 {-length}H1L2.4 0Z")]
    for k in range(pairs):
        y = -length * (0.12 + 0.8 * k / pairs)
        size = leaf * (1 - 0.45 * k / pairs)
        for side in (-1, 1):
            parts.append(at(_leaf(size, size * 0.42).transform(Matrix.turn(side * 52)), 0, y))
    parts.append(at(_leaf(leaf * 0.6, leaf * 0.28), 0, -length))
    return union(parts)


def _lobed(lobes: int, depth: float) -> Path:
    """Return an oak leaf: a pointed oval whose sides swing in and out."""

    def side(t: np.ndarray) -> np.ndarray:
        return 34 * np.sin(np.pi * t) ** 0.7 * (1 - depth * (0.5 + 0.5 * np.cos(2 * np.pi * lobes * t)))

    def x(t: np.ndarray) -> np.ndarray:
        return np.where(t < 1, side(np.clip(t, 0, 1)), -side(np.clip(2 - t, 0, 1)))

    blade = fitted(x, lambda t: -120 * np.where(t < 1, t, 2 - t), 2.0, 0.25)
    return union([blade, Path.from_svg("M-2.5 22L-1.6 -30H1.6L2.5 22Z")])


def _wreath(leaves: int) -> Path:
    parts = []
    for k in range(leaves):
        turn = Matrix.turn(360 * k / leaves)
        for lean, far in ((118, 46), (62, 54)):
            parts.append(at(_leaf(24, 10).transform(Matrix.turn(lean)), 0, -far).transform(turn))
    band = subtract(disc(0, 0, 51.5), [disc(0, 0, 48.5)])
    return union([band, *parts])


def _fern(count: int) -> Path:
    parts = [Path.from_svg("M-2.6 0L-.6 -150H.6L2.6 0Z")]
    for k in range(count):
        share = k / count
        size = 46 * math.sin(math.pi * (0.22 + 0.74 * share)) * (1 - 0.25 * share)
        for side in (-1, 1):
            parts.append(at(_leaf(size, 11).transform(Matrix.turn(side * 64)), 0, -10 - 132 * share))
    return union(parts)


shelf("Leaves")
register("leaf-pointed", "Pointed leaf", lambda: _leaf(120, 56), "willow")
register("leaf-slim", "Slim leaf", lambda: _leaf(140, 34), "willow blade")
register("leaf-oak", "Lobed leaf", lambda: _lobed(4, 0.42), "oak", many=True)
register(
    "leaf-pair",
    "Two leaves",
    lambda: union([_leaf(100, 44).transform(Matrix.turn(38)), _leaf(100, 44).transform(Matrix.turn(-38))]),
    "sprout",
)
register(
    "leaf-three",
    "Three leaves",
    lambda: union([_leaf(100, 40).transform(Matrix.turn(a)) for a in (-52, 0, 52)]),
    "trefoil sprout",
)
register("sprig", "Sprig", lambda: _sprig(4, 120, 46), "twig branch laurel", many=True)
register("laurel", "Laurel branch", lambda: _sprig(7, 150, 36), "twig wreath", many=True)
register("fern", "Fern", lambda: _fern(10), "frond palm", many=True)
register("wreath", "Wreath", lambda: _wreath(18), "laurel garland ring", many=True)
register(
    "clover",
    "Clover",
    lambda: union(
        [
            *(
                p
                for p in ring_of(
                    Path.from_svg("M0 0C-30-14-34-52-12-54-5-55 0-50 0-44 0-50 5-55 12-54 34-52 30-14 0 0Z"), 3
                )
            ),
            Path.from_svg("M-3 0L8 60H16L4 0Z"),
        ]
    ),
    "shamrock",
    many=True,
)


def _blade(lean: float, height: float) -> Path:
    """Return a blade of grass that leans more and more."""
    return swelling(lambda t: 70 * lean * t**2, lambda t: -height * t, (0, 1), 8, (8, 0), 0.6)


def _grass() -> Path:
    blades = ((-1.0, 80), (-0.5, 110), (-0.12, 130), (0.25, 122), (0.7, 96), (1.15, 70))
    return union([_blade(lean, height) for lean, height in blades])


register("grass", "Marram grass", _grass, "dune reed blades", many=True)


def _breaker(size: float) -> Path:
    """Return a wave that curls over to the right."""
    return Path.from_svg("M0 80C30 80 44 60 56 36 68 12 96 0 120 16 104 12 88 20 88 36 88 60 112 76 150 80Z").transform(
        Matrix(size, 0, 0, size, 0, 0)
    )


def _swell(bumps: int, height: float, thick: float) -> Path:
    """Return a band that goes up and down."""
    x = np.linspace(0, 1, 400)
    top = np.column_stack([160 * x, height * np.sin(2 * np.pi * bumps * x)])
    below = top[::-1] + np.array([0.0, thick])
    # each side fitted by itself, so that the ends stay sharp
    there, back = (fit(side, 0.1).to_svg()[1:] for side in (top, below))
    return Path.from_svg(f"M{there}L{back}Z")


shelf("Waves")
register("wave-breaker", "Breaker", lambda: _breaker(1), "sea crest surf")
register(
    "wave-breakers",
    "Three breakers",
    lambda: union([at(_breaker(1), 112 * k, 0) for k in range(3)]),
    "sea surf",
    many=True,
)
register("wave-band", "Wave band", lambda: _swell(3, 8, 18), "sea ripple strip", many=True)
register(
    "wave-ripples",
    "Ripples",
    lambda: union([at(_swell(3, 5, 9), 0, 22 * k) for k in range(3)]),
    "sea water lines",
    many=True,
)
register(
    "wave-swell",
    "Swell",
    lambda: union([Path.from_svg("M0 40C30 0 60 0 80 20 100 40 130 40 160 10V90H0Z")]),
    "sea horizon",
)
register("wave-shell", "Scallop shell", lambda: union([
    Path.from_svg("M40 96L24 108H76L60 96Z"),
    *(ellipse(11, 46, 50, 50).transform(Matrix.turn(a, (50, 96))) for a in (-56, -34, -11, 11, 34, 56)),
]), "sea scallop", many=True)  # fmt: skip
register(
    "wave-drop",
    "Two drops",
    lambda: union(
        [
            Path.from_svg("M40 0C52 24 80 46 80 74A40 40 0 0 1 0 74C0 46 28 24 40 0Z"),
            at(Path.from_svg("M20 0C26 12 40 23 40 37A20 20 0 0 1 0 37C0 23 14 12 20 0Z"), 88, 50),
        ]
    ),
    "water",
    many=True,
)
register(
    "wave-moon",
    "Moon over water",
    lambda: union([disc(80, 30, 30), at(_swell(3, 5, 10), 0, 74), at(_swell(3, 5, 10), 0, 96)]),
    "sea night",
    many=True,
)
register("wave-mirrored", "Wave and its reflection", lambda: union([_breaker(1), mirrored(_breaker(1), y=84)]), "sea")
