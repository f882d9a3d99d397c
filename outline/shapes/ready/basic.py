"""Shapes, cards and signs: each a few clean curves in its own natural box."""

import math

from outline.curves.offset import round_corners
from outline.engine.operations import subtract, union
from outline.path.matrix import Matrix
from outline.path.path import Path
from outline.shapes.edges import edge_run
from outline.shapes.shapes import ellipse, polygon, rectangle, star

from .registry import at, disc, drawn, register, shelf

shelf("Shapes")
drawn(
    "heart",
    "Heart",
    "M50 24C44 8 32 0 22 0 9 0 0 10 0 24 0 46 22 62 50 92 78 62 100 46 100 24 100 10 91 0 78 0 68 0 56 8 50 24Z",
)
drawn("leaf", "Leaf", "M0 80C0 34 34 0 100 0 100 66 66 100 20 100 8 100 0 92 0 80Z")
drawn("drop", "Drop", "M40 0C52 24 80 46 80 74A40 40 0 0 1 0 74C0 46 28 24 40 0Z")
drawn("egg", "Egg", "M40 0C66 0 80 36 80 62A40 40 0 0 1 0 62C0 36 14 0 40 0Z")
drawn("crescent", "Crescent", "M62 0A50 50 0 1 0 98 66A42 42 0 0 1 62 0Z")
drawn("lens", "Lens", "M0 30A58 58 0 0 1 104 30A58 58 0 0 1 0 30Z")
drawn("lunette", "Half disc", "M0 50A50 50 0 0 1 100 50Z")
drawn("fan", "Fan", "M50 70L0 20A71 71 0 0 1 100 20Z")
register(
    "cloud",
    "Cloud",
    lambda: union(
        [disc(28, 44, 24), disc(56, 30, 30), disc(92, 40, 26), disc(116, 52, 16), at(rectangle(96, 24), 24, 44)]
    ),
)
register(
    "quatrefoil",
    "Quatrefoil",
    lambda: union(
        [disc(50, 28, 28), disc(72, 50, 28), disc(50, 72, 28), disc(28, 50, 28), at(rectangle(44, 44), 28, 28)]
    ),
)
register("rosette", "Rosette", lambda: edge_run(ellipse(46, 46), "scallop", 2 * math.pi * 46 / 16, depth=9), many=True)
register("ring", "Ring", lambda: subtract(ellipse(50, 50), [ellipse(30, 30)]))
drawn("pebble", "Pebble", "M34 4C60-6 96 8 104 36 112 66 90 86 58 88 26 90 2 76 0 48-2 26 14 12 34 4Z")


def _squircle() -> Path:
    # x⁴ + y⁴ = 1, one cubic a quarter that meets it on the axes and on the diagonal
    k = (8 * 0.5**0.25 - 4) / 3
    d = "M50 0"
    for c, t in ((1, 0), (0, 1), (-1, 0), (0, -1)):
        spots = ((1, k), (k, 1), (0, 1))
        d += "C" + " ".join(f"{50 * (c * x - t * y)!r} {50 * (t * x + c * y)!r}" for x, y in spots)
    return Path.from_svg(d + "Z")


register("squircle", "Soft square", _squircle)


# three arcs, each about the opposite corner: a curve of constant width
drawn(
    "round-triangle",
    "Round triangle",
    "M0 0A100 100 0 0 1 100 0A100 100 0 0 1 50 86.602540378443865A100 100 0 0 1 0 0Z",
)

shelf("Cards and tickets")
drawn("arch", "Arch", "M0 120V45A45 45 0 0 1 90 45V120Z")
drawn("pointed-arch", "Pointed arch", "M0 120V70C0 40 20 14 45 0 70 14 90 40 90 70V120Z")
drawn("ticket", "Ticket", "M0 0H140V26A14 14 0 0 0 140 54V80H0V54A14 14 0 0 0 0 26Z")
drawn("tag", "Luggage tag", "M22 0H68L90 26V140H0V26ZM45 16A8 8 0 0 0 45 32A8 8 0 0 0 45 16Z")
drawn("bookmark", "Bookmark", "M0 0H60V120L30 96 0 120Z")
drawn("plaque", "Plaque", "M16 0H124A16 16 0 0 0 140 16V64A16 16 0 0 0 124 80H16A16 16 0 0 0 0 64V16A16 16 0 0 0 16 0Z")
drawn(
    "bracket",
    "Bracket frame",
    "M18 0H122C122 10 128 14 140 14V34C132 34 128 36 128 42 128 48 132 50 140 50V70C128 70 122 74 122 84"
    "H18C18 74 12 70 0 70V50C8 50 12 48 12 42 12 36 8 34 0 34V14C12 14 18 10 18 0Z",
)
drawn("label", "Label", "M20 0H120L140 40 120 80H20L0 40Z")
drawn("clipped", "Clipped corners", "M18 0H102L120 18V72L102 90H18L0 72V18Z")
register("postage", "Postage stamp", lambda: edge_run(rectangle(120, 96), "perforated", 12, depth=3.6), many=True)
register("torn-card", "Torn card", lambda: edge_run(rectangle(120, 84), "torn", 6, depth=2.4, seed=11), many=True)
register("pinked", "Pinked card", lambda: edge_run(rectangle(120, 84), "zigzag", 6), many=True)
register(
    "window",
    "Window of four",
    lambda: subtract(rectangle(100, 120), [at(rectangle(38, 48), x, y) for x in (8, 54) for y in (8, 64)]),
)

shelf("Signs")
drawn("shield", "Shield", "M0 12C18 12 34 8 45 0 56 8 72 12 90 12V50C90 78 72 96 45 108 18 96 0 78 0 50Z")
drawn(
    "speech",
    "Speech balloon",
    "M14 0H116C124 0 130 6 130 14V62C130 70 124 76 116 76H58L30 100 34 76H14C6 76 0 70 0 62V14C0 6 6 0 14 0Z",
)
drawn("ribbon", "Ribbon", "M0 14H26V0H134V14H160L148 35 160 56H120V44H40V56H0L12 35Z")
drawn("pennant", "Pennant", "M0 0L140 40 0 80Z")
drawn("flag", "Waving flag", "M0 14C24-6 48-4 70 10 92 24 116 26 140 8V82C116 100 92 98 70 84 48 70 24 68 0 88Z")
drawn("arrow", "Arrow", "M0 28H74V0L130 50 74 100V72H0Z")
register("cross", "Cross", lambda: union([at(rectangle(40, 120), 40, 0), at(rectangle(120, 40), 0, 40)]))
register("burst", "Burst", lambda: star(20, 60, 48), many=True)
register("round-star", "Soft star", lambda: round_corners(star(5, 60, 34), 9))
register("octagon", "Octagon", lambda: polygon(8, 50).transform(Matrix.turn(22.5)))
drawn("keyhole", "Keyhole", "M18 62A34 34 0 1 1 50 62L62 130H6Z")


def _gear() -> Path:
    teeth = union(
        [ellipse(46, 46), *(at(rectangle(18, 24), -9, -58).transform(Matrix.turn(k * 36)) for k in range(10))]
    )
    return subtract(teeth, [ellipse(18, 18)])


register("gear", "Wheel", _gear, many=True)

shelf("Corners")
drawn(
    "corner-scroll",
    "Corner scroll",
    "M0 0H96C84 6 78 14 80 24 66 12 50 14 40 26 30 22 22 30 26 40 14 50 12 66 24 80 14 78 6 84 0 96Z",
)
drawn("corner-steps", "Corner steps", "M0 0H96V12H56V28H40V40H28V56H12V96H0Z")
drawn(
    "corner-wave",
    "Corner wave",
    "M0 0H100C84 4 76 12 70 22 62 18 50 20 44 30 38 36 34 40 30 44 20 50 18 62 22 70 12 76 4 84 0 100Z",
)
