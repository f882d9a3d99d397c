"""Ready outlines for frames, drawn here: each a few clean curves in its own natural box."""

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

from . import svgpath
from .edges import edge_run
from .errors import OutlineError
from .matrix import Matrix
from .offset import round_corners
from .operations import subtract, union
from .path import Path
from .shapes import ellipse, polygon, rectangle, star

__all__ = ["READY", "Ready", "ready"]


@dataclass(frozen=True, slots=True)
class Ready:
    """A ready outline: its key, its name, and what draws it."""

    key: str
    name: str
    draw: Callable[[], Path]


READY: dict[str, Ready] = {}


def _kept(key: str, name: str, draw: Callable[[], Path]) -> None:
    READY[key] = Ready(key, name, draw)


def _drawn(key: str, name: str, d: str, fill_rule: str = "nonzero") -> None:
    # a quarter circle by one cubic: few nodes, and 0.03 % of the radius off at most
    _kept(key, name, lambda: Path(*svgpath.read(d, math.pi / 2).arrays(), fill_rule=fill_rule))


@lru_cache(maxsize=128)
def ready(key: str) -> Path:
    """Return the ready outline with its box at the origin. Raises OutlineError for an unknown key."""
    if key not in READY:
        raise OutlineError(f"there is no ready outline {key!r}")
    path = READY[key].draw()
    x0, y0, _, _ = path.bounds or (0.0, 0.0, 0.0, 0.0)
    return path.transform(Matrix.move(-x0, -y0)) if (x0, y0) != (0.0, 0.0) else path


def _at(path: Path, x: float, y: float) -> Path:
    return path.transform(Matrix.move(x, y))


def _disc(x: float, y: float, r: float) -> Path:
    return ellipse(r, r, x, y)


# -- rounded and leafy
_drawn(
    "heart",
    "Heart",
    "M50 24C44 8 32 0 22 0 9 0 0 10 0 24 0 46 22 62 50 92 78 62 100 46 100 24 100 10 91 0 78 0 68 0 56 8 50 24Z",
)
_drawn("leaf", "Leaf", "M0 80C0 34 34 0 100 0 100 66 66 100 20 100 8 100 0 92 0 80Z")
_drawn("drop", "Drop", "M40 0C52 24 80 46 80 74A40 40 0 0 1 0 74C0 46 28 24 40 0Z")
_drawn("egg", "Egg", "M40 0C66 0 80 36 80 62A40 40 0 0 1 0 62C0 36 14 0 40 0Z")
_drawn("crescent", "Crescent", "M62 0A50 50 0 1 0 98 66A42 42 0 0 1 62 0Z")
_drawn("lens", "Lens", "M0 30A58 58 0 0 1 104 30A58 58 0 0 1 0 30Z")
_drawn("lunette", "Half disc", "M0 50A50 50 0 0 1 100 50Z")
_drawn("fan", "Fan", "M50 70L0 20A71 71 0 0 1 100 20Z")
_kept(
    "cloud",
    "Cloud",
    lambda: union(
        [_disc(28, 44, 24), _disc(56, 30, 30), _disc(92, 40, 26), _disc(116, 52, 16), _at(rectangle(96, 24), 24, 44)]
    ),
)
_kept(
    "quatrefoil",
    "Quatrefoil",
    lambda: union(
        [_disc(50, 28, 28), _disc(72, 50, 28), _disc(50, 72, 28), _disc(28, 50, 28), _at(rectangle(44, 44), 28, 28)]
    ),
)
_kept("rosette", "Rosette", lambda: edge_run(ellipse(46, 46), "scallop", 2 * math.pi * 46 / 16, depth=9))
_kept("ring", "Ring", lambda: subtract(ellipse(50, 50), [ellipse(30, 30)]))
_drawn("pebble", "Pebble", "M34 4C60-6 96 8 104 36 112 66 90 86 58 88 26 90 2 76 0 48-2 26 14 12 34 4Z")


def _squircle() -> Path:
    # x⁴ + y⁴ = 1, one cubic a quarter that meets it on the axes and on the diagonal
    k = (8 * 0.5**0.25 - 4) / 3
    d = "M50 0"
    for c, t in ((1, 0), (0, 1), (-1, 0), (0, -1)):
        spots = ((1, k), (k, 1), (0, 1))
        d += "C" + " ".join(f"{50 * (c * x - t * y)!r} {50 * (t * x + c * y)!r}" for x, y in spots)
    return Path.from_svg(d + "Z")


_kept("squircle", "Soft square", _squircle)


# three arcs, each about the opposite corner: a curve of constant width
_drawn(
    "round-triangle",
    "Round triangle",
    "M0 0A100 100 0 0 1 100 0A100 100 0 0 1 50 86.602540378443865A100 100 0 0 1 0 0Z",
)

# -- cards, tickets and tags
_drawn("arch", "Arch", "M0 120V45A45 45 0 0 1 90 45V120Z")
_drawn("pointed-arch", "Pointed arch", "M0 120V70C0 40 20 14 45 0 70 14 90 40 90 70V120Z")
_drawn("ticket", "Ticket", "M0 0H140V26A14 14 0 0 0 140 54V80H0V54A14 14 0 0 0 0 26Z")
_drawn("tag", "Luggage tag", "M22 0H68L90 26V140H0V26ZM45 16A8 8 0 0 0 45 32A8 8 0 0 0 45 16Z")
_drawn("bookmark", "Bookmark", "M0 0H60V120L30 96 0 120Z")
_drawn(
    "plaque", "Plaque", "M16 0H124A16 16 0 0 0 140 16V64A16 16 0 0 0 124 80H16A16 16 0 0 0 0 64V16A16 16 0 0 0 16 0Z"
)
_drawn(
    "bracket",
    "Bracket frame",
    "M18 0H122C122 10 128 14 140 14V34C132 34 128 36 128 42 128 48 132 50 140 50V70C128 70 122 74 122 84"
    "H18C18 74 12 70 0 70V50C8 50 12 48 12 42 12 36 8 34 0 34V14C12 14 18 10 18 0Z",
)
_drawn("label", "Label", "M20 0H120L140 40 120 80H20L0 40Z")
_drawn("clipped", "Clipped corners", "M18 0H102L120 18V72L102 90H18L0 72V18Z")
_kept("postage", "Postage stamp", lambda: edge_run(rectangle(120, 96), "perforated", 12, depth=3.6))
_kept("torn-card", "Torn card", lambda: edge_run(rectangle(120, 84), "torn", 6, depth=2.4, seed=11))
_kept("pinked", "Pinked card", lambda: edge_run(rectangle(120, 84), "zigzag", 6))
_kept(
    "window",
    "Window of four",
    lambda: subtract(rectangle(100, 120), [_at(rectangle(38, 48), x, y) for x in (8, 54) for y in (8, 64)]),
)

# -- signs
_drawn("shield", "Shield", "M0 12C18 12 34 8 45 0 56 8 72 12 90 12V50C90 78 72 96 45 108 18 96 0 78 0 50Z")
_drawn(
    "speech",
    "Speech balloon",
    "M14 0H116C124 0 130 6 130 14V62C130 70 124 76 116 76H58L30 100 34 76H14C6 76 0 70 0 62V14C0 6 6 0 14 0Z",
)
_drawn("ribbon", "Ribbon", "M0 14H26V0H134V14H160L148 35 160 56H120V44H40V56H0L12 35Z")
_drawn("pennant", "Pennant", "M0 0L140 40 0 80Z")
_drawn("flag", "Waving flag", "M0 14C24-6 48-4 70 10 92 24 116 26 140 8V82C116 100 92 98 70 84 48 70 24 68 0 88Z")
_drawn("arrow", "Arrow", "M0 28H74V0L130 50 74 100V72H0Z")
_kept("cross", "Cross", lambda: union([_at(rectangle(40, 120), 40, 0), _at(rectangle(120, 40), 0, 40)]))
_kept("burst", "Burst", lambda: star(20, 60, 48))
_kept("round-star", "Soft star", lambda: round_corners(star(5, 60, 34), 9))
_kept("octagon", "Octagon", lambda: polygon(8, 50).transform(Matrix.turn(22.5)))
_drawn("keyhole", "Keyhole", "M18 62A34 34 0 1 1 50 62L62 130H6Z")


def _gear() -> Path:
    teeth = union(
        [ellipse(46, 46), *(_at(rectangle(18, 24), -9, -58).transform(Matrix.turn(k * 36)) for k in range(10))]
    )
    return subtract(teeth, [ellipse(18, 18)])


_kept("gear", "Wheel", _gear)

# -- ornaments for corners
_drawn(
    "corner-scroll",
    "Corner scroll",
    "M0 0H96C84 6 78 14 80 24 66 12 50 14 40 26 30 22 22 30 26 40 14 50 12 66 24 80 14 78 6 84 0 96Z",
)
_drawn("corner-steps", "Corner steps", "M0 0H96V12H56V28H40V40H28V56H12V96H0Z")
_drawn(
    "corner-wave",
    "Corner wave",
    "M0 0H100C84 4 76 12 70 22 62 18 50 20 44 30 38 36 34 40 30 44 20 50 18 62 22 70 12 76 4 84 0 100Z",
)
