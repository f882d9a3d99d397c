"""Corners, flourishes and rosettes."""

import math

import numpy as np

from outline.engine.operations import subtract, union
from outline.path.matrix import Matrix
from outline.path.path import Path
from outline.shapes.shapes import ellipse, polygon, rectangle, star

from .registry import at, disc, fitted, mirrored, register, ring_of, shelf, swelling


def _diagonal(part: Path) -> list[Path]:
    """Return the part and its mirror image in the diagonal of a corner."""
    return [part, part.transform((0, 1, 1, 0, 0, 0))]


def _angle(length: float, thick: float, off: float = 0.0) -> Path:
    """Return the two bars of a corner."""
    return union(_diagonal(at(rectangle(length - off, thick), off, off)))


def _spiral(turns: float, size: float, width: float) -> Path:
    """Return a line that spirals outwards from a knob, ending at (size, 0) going down."""
    return swelling(
        lambda t: size * t**1.3 * np.cos(2 * np.pi * turns * (1 - t)),
        lambda t: -size * t**1.3 * np.sin(2 * np.pi * turns * (1 - t)),
        (0.16, 1.0), width, (width * 0.9, 0.0), 0.7,
    )  # fmt: skip


shelf("Corners")
register("corner-angle", "Corner angle", lambda: _angle(100, 12), "plain bracket")
register("corner-double", "Double corner", lambda: union([_angle(100, 7), _angle(84, 4, 14)]), "line bracket")
register(
    "corner-round",
    "Round corner",
    lambda: Path.from_svg("M0 100V60C0 24 24 0 60 0H100V12H60C32 12 12 32 12 60V100Z"),
    "bracket",
)
register(
    "corner-bite",
    "Bitten corner",
    lambda: Path.from_svg("M0 100V40C22 40 40 22 40 0H100V12H51C47 32 32 47 12 51V100Z"),
    "concave bracket",
)
register("corner-quarter", "Quarter rings", lambda: union([
    subtract(Path.from_svg("M0 0H100A100 100 0 0 1 0 100Z"), [Path.from_svg("M0 0H86A86 86 0 0 1 0 86Z")]),
    subtract(Path.from_svg("M0 0H72A72 72 0 0 1 0 72Z"), [Path.from_svg("M0 0H58A58 58 0 0 1 0 58Z")]),
    Path.from_svg("M0 0H44A44 44 0 0 1 0 44Z"),
]), "deco sun fan", many=True)  # fmt: skip
register("corner-rays", "Corner rays", lambda: union([
    Path.from_svg("M0 0H26A26 26 0 0 1 0 26Z"),
    *(Path.from_svg("M32 -3.4L100 -7V7L32 3.4Z").transform(Matrix.turn(a)) for a in (9, 27, 45, 63, 81)),
]), "sun deco fan", many=True)  # fmt: skip
register("corner-leaf", "Leafy corner", lambda: union([
    _angle(100, 6),
    *_diagonal(Path.from_svg("M10 10C30 2 56 10 74 30 50 40 24 32 10 10Z")),
    Path.from_svg("M10 10C40 18 60 38 66 66 38 60 18 40 10 10Z"),
]), "plant", many=True)  # fmt: skip
register("corner-curl", "Curled corner", lambda: union([
    _angle(110, 7),
    *_diagonal(at(_spiral(1.2, 26, 8), 62, 32)),
]), "scroll", many=True)  # fmt: skip
register(
    "corner-dots",
    "Corner with dots",
    lambda: union(
        [
            _angle(100, 8),
            *(
                disc(x, y, 6 - 0.5 * (abs(x - 26) + abs(y - 26)) / 17)
                for x, y in ((26, 26), (43, 26), (60, 26), (26, 43), (26, 60))
            ),
        ]
    ),
    "pearls",
    many=True,
)
register(
    "corner-fret", "Corner fret", lambda: Path.from_svg("M0 0H100V10H56V46H46V10H10V46H46V56H10V100H0Z"), "key deco"
)
register(
    "corner-petal",
    "Petal corner",
    lambda: union([ellipse(14, 40, 0, -40).transform(Matrix.turn(a)) for a in (95, 120, 150, 175)] + [disc(0, 0, 16)]),
    "fan flower",
    many=True,
)

shelf("Flourishes")


def _scroll() -> Path:
    return _spiral(1.6, 50, 14)


def _tail() -> Path:
    """Return a pen line that swings up and down, with a knob at its start."""
    return swelling(lambda t: 150 * t, lambda t: 26 * np.sin(2 * np.pi * t) * (1 - 0.35 * t), (0, 1), 15, (11, 0), 0.8)


def _s_scroll() -> Path:
    half = union([_spiral(1.25, 42, 13)])
    return union([half, half.transform(Matrix.turn(180, (42, 0)))])


def _c_scroll() -> Path:
    half = at(_spiral(1.25, 34, 11), 0, 0)
    arm = swelling(lambda t: 34 + 26 * np.sin(np.pi * t), lambda t: 90 * t, (0, 1), 13, (5, 5), 1.0)
    return union([half, arm, mirrored(half, y=45)])


register("flourish-scroll", "Scroll", _scroll, "spiral volute curl", many=True)
register("flourish-s", "S scroll", _s_scroll, "volute curl", many=True)
register("flourish-c", "C scroll", _c_scroll, "volute curl bracket", many=True)
register("flourish-tail", "Pen stroke", _tail, "swash line calligraphy", many=True)
register(
    "flourish-pair",
    "Pair of scrolls",
    lambda: union([_s_scroll(), mirrored(_s_scroll(), x=-46), disc(-46, 0, 9)]),
    "divider",
    many=True,
)
register("flourish-divider", "Divider", lambda: union([
    _tail(), mirrored(_tail(), x=-22), at(polygon(4, 12), -22, 0),
]), "rule line swash", many=True)  # fmt: skip


def _heart_side() -> Path:
    """Return half of a heart: a scroll, and a pen line from it down to the tip."""
    return union(
        [
            _spiral(1.15, 30, 10).transform(Matrix.turn(-20)),
            swelling(
                lambda t: 28 * (1 - t) ** 2 + 60 * t * (1 - t) - 36 * t**2,
                lambda t: -10 * (1 - t) ** 2 + 104 * t * (1 - t) + 84 * t**2,
                (0, 1), 11, (4, 3), 0.8,
            ),
        ]
    )  # fmt: skip


def _crest_side() -> Path:
    return at(_spiral(1.4, 40, 12), 40, 0)


register(
    "flourish-heart",
    "Heart of scrolls",
    lambda: union([_heart_side(), mirrored(_heart_side(), x=-36)]),
    "love volute",
    many=True,
)
register("flourish-crest", "Crest", lambda: union([
    _crest_side(), mirrored(_crest_side(), x=0), at(ellipse(9, 26), 0, -30), disc(0, 8, 9),
]), "crown top headpiece", many=True)  # fmt: skip
register("flourish-knot", "Knot", lambda: union([
    swelling(lambda t: 70 * np.sin(t), lambda t: 34 * np.sin(2 * t), (-2.9, 2.9), 13, (0, 0), 0.35),
]), "loop infinity bow", many=True)  # fmt: skip
register(
    "flourish-rule",
    "Swelled rule",
    lambda: Path.from_svg("M0 0C60-2 70-9 90-9 110-9 120-2 180 0 120 2 110 9 90 9 70 9 60 2 0 0Z"),
    "line divider",
)
register("flourish-lozenges", "Rule with lozenges", lambda: union([
    at(rectangle(180, 4), 0, -2),
    *(at(polygon(4, r).transform((1.3, 0, 0, 1, 0, 0)), x, 0) for x, r in ((90, 14), (58, 9), (122, 9))),
]), "line divider diamond", many=True)  # fmt: skip

shelf("Rosettes")


def _petals(count: int, length: float, width: float, heart: float) -> Path:
    petal = ellipse(width / 2, length / 2, 0, -heart * 0.6 - length / 2)
    return union([disc(0, 0, heart), *ring_of(petal, count)])


def _rose(petals: int, depth: float) -> Path:
    return fitted(
        lambda t: 60 * (1 - depth + depth * np.cos(petals * t)) * np.cos(t),
        lambda t: 60 * (1 - depth + depth * np.cos(petals * t)) * np.sin(t),
        2 * math.pi, 0.1,
    )  # fmt: skip


def _compass(points: int) -> Path:
    lens = Path.from_svg("M0 0C16-18 16-42 0-60C-16-42-16-18 0 0Z")
    return union([subtract(disc(0, 0, 66), [disc(0, 0, 60)]), *ring_of(lens, points)])


register("rosette-daisy", "Daisy", lambda: _petals(12, 44, 20, 16), "flower petals", many=True)
register("rosette-eight", "Eight petals", lambda: _petals(8, 42, 28, 18), "flower", many=True)
register("rosette-five", "Five petals", lambda: _petals(5, 46, 44, 18), "flower blossom", many=True)
register("rosette-rose", "Soft rosette", lambda: _rose(8, 0.1), "flower badge", many=True)
register("rosette-twelve", "Fluted rosette", lambda: _rose(16, 0.06), "flower badge coin", many=True)
register("rosette-compass", "Six-petalled ring", lambda: _compass(6), "compass flower", many=True)
register("rosette-ring", "Ring of discs", lambda: union(ring_of(disc(0, -46, 12.5), 12)), "pearls wreath", many=True)
register(
    "rosette-sun",
    "Sun",
    lambda: union([disc(0, 0, 34), *ring_of(Path.from_svg("M-7-40L0-66 7-40Z"), 16)]),
    "rays star",
    many=True,
)
register(
    "rosette-wind",
    "Wind rose",
    lambda: union([star(4, 66, 15), star(4, 46, 14).transform(Matrix.turn(45))]),
    "compass star",
    many=True,
)
register(
    "rosette-pierced",
    "Pierced rosette",
    lambda: subtract(_rose(10, 0.07), [disc(0, 0, 13), *ring_of(ellipse(5, 13, 0, -34), 10)]),
    "doily",
    many=True,
)
