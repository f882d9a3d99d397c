"""Tickets, labels, brackets and scalloped edges: frames for a photo."""

import math

from outline.curves.offset import round_corners
from outline.engine.operations import intersect, subtract, union
from outline.path.matrix import Matrix
from outline.path.path import Path
from outline.shapes.edges import edge_run
from outline.shapes.shapes import ellipse, polygon, rectangle

from .registry import at, disc, drawn, mirrored, register, shelf


def _bitten(width: float, height: float, places: list[tuple[float, float]], r: float) -> Path:
    return subtract(rectangle(width, height), [disc(x, y, r) for x, y in places])


def _on_corners(width: float, height: float) -> list[tuple[float, float]]:
    return [(0, 0), (width, 0), (width, height), (0, height)]


shelf("Cards and tickets")
register(
    "ticket-corners", "Ticket, corners bitten", lambda: _bitten(150, 80, _on_corners(150, 80), 16), "admission concave"
)
register(
    "ticket-stub",
    "Ticket with a stub",
    lambda: _bitten(180, 80, [(126, 0), (126, 80), *_on_corners(180, 80)], 9),
    "counterfoil admission",
)
register(
    "ticket-raffle",
    "Raffle ticket",
    lambda: _bitten(170, 80, [(x, 8 + 16 * k) for x in (0, 170) for k in range(5)], 5),
    "perforated ends",
    many=True,
)
register(
    "ticket-ferry",
    "Boarding ticket",
    lambda: subtract(rectangle(180, 90, (14, 14, 14, 14)), [disc(128, 0, 8), disc(128, 90, 8)]),
    "boarding pass rounded notch",
)
register(
    "ticket-coupon",
    "Coupon",
    lambda: edge_run(rectangle(150, 84), "perforated", 12, sides=(0, 2)),
    "voucher perforated",
    many=True,
)
register(
    "ticket-zigzag",
    "Torn-off ticket",
    lambda: edge_run(rectangle(150, 80), "zigzag", 8, sides=(1, 3)),
    "pinked",
    many=True,
)
register(
    "card-tab",
    "Card with a tab",
    lambda: union([rectangle(140, 90, (6, 6, 6, 6)), at(rectangle(52, 24, (8, 8, 0, 0)), 12, -16)]),
    "index folder",
)
register("card-fold", "Card, corner folded", lambda: Path.from_svg("M0 0H104L130 26V96H0Z"), "dog-ear page")

shelf("Labels and ribbons")
register("label-oval", "Oval label", lambda: union([ellipse(80, 50)]), "ellipse cameo")
register("label-bottle", "Bottle label", lambda: intersect([rectangle(120, 150), ellipse(96, 88, 60, 75)]), "jar")
register(
    "label-hang",
    "Hang tag",
    lambda: subtract(rectangle(80, 140, (40, 40, 8, 8)), [disc(40, 22, 8)]),
    "price hole round",
)
register(
    "label-arrowed",
    "Arrowed label",
    lambda: subtract(Path.from_svg("M30 0H140V70H30L0 35Z"), [disc(34, 35, 7)]),
    "price tag hole",
)
register(
    "label-ogee",
    "Ogee label",
    lambda: Path.from_svg(
        "M24 0H136C136 16 144 24 160 24V76C144 76 136 84 136 100H24C24 84 16 76 0 76V24C16 24 24 16 24 0Z"
    ),
    "cartouche plaque",
)
register(
    "label-stepped",
    "Stepped label",
    lambda: Path.from_svg("M24 0H136V12H148V24H160V76H148V88H136V100H24V88H12V76H0V24H12V12H24Z"),
    "deco plaque",
)
register(
    "label-double",
    "Label, doubly bitten",
    lambda: subtract(
        rectangle(160, 100), [*(disc(x, y, 14) for x, y in _on_corners(160, 100)), disc(0, 50, 10), disc(160, 50, 10)]
    ),
    "concave plaque",
)
register("label-six", "Six-sided label", lambda: Path.from_svg("M28 0H132L160 45 132 90H28L0 45Z"), "hexagon")
register(
    "ribbon-swallow",
    "Swallow-tailed ribbon",
    lambda: Path.from_svg("M0 0H180L162 24 180 48H0L18 24Z"),
    "banner flag",
)
register(
    "ribbon-arched",
    "Arched ribbon",
    lambda: Path.from_svg("M0 40C50 6 130 6 180 40L170 58 180 92C130 58 50 58 0 92L10 58Z"),
    "banner curved",
)
register(
    "ribbon-wavy",
    "Wavy ribbon",
    lambda: Path.from_svg("M0 18C40-8 60 4 90 18 120 32 140 44 180 18V66C140 92 120 80 90 66 60 52 40 40 0 66Z"),
    "banner pennant",
)
register(
    "seal",
    "Seal",
    lambda: edge_run(disc(0, 0, 46), "zigzag", 2 * math.pi * 46 / 24),
    "badge burst sticker",
    many=True,
)
register(
    "seal-ribbons",
    "Seal with ribbons",
    lambda: union([
        edge_run(disc(0, 0, 40), "scallop", 2 * math.pi * 40 / 16, depth=6),
        Path.from_svg("M-30 20L-12 100-4 78 4 78 12 100 30 20Z").transform(Matrix()),
    ]),
    "award rosette badge",
    many=True,
)  # fmt: skip

shelf("Brackets and frames")


def _brace(height: float) -> Path:
    half = Path.from_svg(
        f"M40 0C18 0 22 {height * 0.18} 22 {height * 0.3}C22 {height * 0.44} 14 {height * 0.5} 0 {height * 0.5}"
        f"C22 {height * 0.5} 32 {height * 0.44} 32 {height * 0.3}C32 {height * 0.18} 30 12 40 12Z"
    )
    return union([half, mirrored(half, y=height / 2)])


register("brace", "Curly bracket", lambda: _brace(160), "brace")
register("brace-pair", "Pair of curly brackets", lambda: union([_brace(120), mirrored(_brace(120), x=80)]), "braces")
register(
    "bracket-pair",
    "Pair of brackets",
    lambda: union(
        [
            p
            for x in (None, 70.0)
            for b in [Path.from_svg("M0 0H34V12H13V108H34V120H0Z")]
            for p in [b if x is None else mirrored(b, x=x)]
        ]
    ),
    "square brackets",
)
register(
    "frame-bracketed",
    "Bracketed frame",
    lambda: Path.from_svg(
        "M14 0H64C70 0 74 3 80-8 86 3 90 0 96 0H146C146 9 151 14 160 14V40C160 46 157 49 168 55 157 61 160 64 160 70V96"
        "C151 96 146 101 146 110H96C90 110 86 107 80 118 74 107 70 110 64 110H14C14 101 9 96 0 96V70C0 64 3 61-8 55"
        " 3 49 0 46 0 40V14C9 14 14 9 14 0Z"
    ),
    "ornamental plaque",
    many=True,
)
register(
    "frame-arched",
    "Arched frame",
    lambda: subtract(
        Path.from_svg("M0 140V50A50 50 0 0 1 100 50V140Z"), [Path.from_svg("M14 126V50A36 36 0 0 1 86 50V126Z")]
    ),
    "window border",
    many=True,
)
register("frame-round", "Round frame", lambda: subtract(disc(60, 60, 60), [disc(60, 60, 48)]), "ring border porthole")
register(
    "frame-plain", "Plain frame", lambda: subtract(rectangle(150, 110), [at(rectangle(126, 86), 12, 12)]), "border"
)
register(
    "frame-double",
    "Double frame",
    lambda: union([
        subtract(rectangle(160, 120), [at(rectangle(148, 108), 6, 6)]),
        subtract(at(rectangle(136, 96), 12, 12), [at(rectangle(118, 78), 21, 21)]),
    ]),
    "border line",
)  # fmt: skip
register(
    "frame-porthole",
    "Porthole",
    lambda: subtract(
        disc(0, 0, 60),
        [
            disc(0, 0, 42),
            *(disc(51 * math.cos(k * math.pi / 4), 51 * math.sin(k * math.pi / 4), 3.4) for k in range(8)),
        ],
    ),
    "ship window bolts",
    many=True,
)
register("frame-oval", "Oval frame", lambda: subtract(ellipse(80, 58), [ellipse(66, 44)]), "cameo border")

shelf("Scallops and edges")
register(
    "scallop-card", "Scalloped card", lambda: edge_run(rectangle(144, 96), "scallop", 12), "edge biscuit", many=True
)
register(
    "scallop-disc",
    "Scalloped disc",
    lambda: edge_run(disc(0, 0, 50), "scallop", 2 * math.pi * 50 / 20),
    "doily",
    many=True,
)
register("scallop-oval", "Scalloped oval", lambda: edge_run(ellipse(80, 54), "scallop", 14), "doily cameo", many=True)
register(
    "scallop-in",
    "Card scalloped inwards",
    lambda: union([edge_run(rectangle(144, 96), "scallop", 16, inward=True, depth=6)]),
    "bitten edge",
    many=True,
)
register(
    "scallop-strip",
    "Scalloped strip",
    lambda: edge_run(rectangle(168, 30), "scallop", 14, sides=(2,)),
    "border awning",
    many=True,
)
register("wave-card", "Wavy card", lambda: edge_run(rectangle(144, 96), "wave", 18, depth=3), "edge", many=True)
register(
    "zigzag-strip",
    "Zigzag strip",
    lambda: edge_run(rectangle(168, 28), "zigzag", 14, sides=(0, 2)),
    "border",
    many=True,
)
register(
    "film-strip",
    "Perforated strip",
    lambda: subtract(
        rectangle(176, 90), [at(rectangle(9, 8, (2, 2, 2, 2)), 6.5 + 22 * k, y) for k in range(8) for y in (6, 76)]
    ),
    "film photo",
    many=True,
)
register(
    "cloud-card",
    "Cloud card",
    lambda: edge_run(rectangle(150, 90, (20, 20, 20, 20)), "scallop", 26, depth=12),
    "thought bubble",
    many=True,
)
register(
    "awning",
    "Awning",
    lambda: union(
        [rectangle(150, 40), *(at(intersect([disc(15, 0, 15), rectangle(30, 20)]), 30 * k, 40) for k in range(5))]
    ),
    "scallop shop",
    many=True,
)
drawn("diamond", "Lozenge", "M60 0L120 45 60 90 0 45Z", "diamond rhombus")
register(
    "soft-octagon", "Soft octagon", lambda: round_corners(polygon(8, 60).transform(Matrix.turn(22.5)), 10), "rounded"
)
