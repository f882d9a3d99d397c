"""The document: immutable typed values.

Lengths are in sheet units: px at the sheet's resolution, y growing downwards. Every
item lies in sheet coordinates, members of a cut list and photos in a frame too, so
nothing needs converting when it moves in or out.
"""

from typing import Final, TypeAlias

import msgspec

from outline import Matrix

__all__ = [
    "SCHEMA",
    "OPERATIONS",
    "Paint",
    "Rectangle",
    "Ellipse",
    "Polygon",
    "Star",
    "Freehand",
    "Lettering",
    "EdgeRun",
    "Group",
    "Guide",
    "Grid",
    "Plain",
    "BLENDS",
    "CutList",
    "FINISHES",
    "Finish",
    "Step",
    "Shape",
    "Photo",
    "Piece",
    "Item",
    "Sheet",
    "Numbers",
]

SCHEMA: Final = 2
"""Version of the stored form; `store` upgrades from every earlier one."""

OPERATIONS: Final = ("union", "subtract", "intersect", "exclude")
"""What a step of a cut list can do. Divide makes several pieces, so it is no step."""

Numbers: TypeAlias = tuple[float, float, float, float, float, float]


BLENDS: Final = (
    "normal", "multiply", "screen", "overlay", "darken", "lighten", "color-dodge", "color-burn",
    "hard-light", "soft-light", "difference", "exclusion",
)  # fmt: skip
"""The separable blend modes of W3C Compositing and Blending 1."""


class Paint(msgspec.Struct, frozen=True):
    """Fill and stroke as #rrggbb or None, stroke width in sheet units, opacity 0 to 1, and one of BLENDS."""

    fill: str | None = "#c9bda4"
    stroke: str | None = "#22302f"
    stroke_width: float = 2.0
    opacity: float = 1.0
    blend: str = "normal"


class Rectangle(msgspec.Struct, frozen=True, tag="rectangle"):
    """A rectangle from its own origin; radii from top left clockwise."""

    width: float
    height: float
    radii: tuple[float, float, float, float] = (0.0, 0.0, 0.0, 0.0)


class Ellipse(msgspec.Struct, frozen=True, tag="ellipse"):
    """An ellipse in the box from its own origin."""

    width: float
    height: float


class Plain(msgspec.Struct, frozen=True, tag="plain"):
    """A path as SVG path data."""

    d: str
    fill_rule: str = "nonzero"


class Polygon(msgspec.Struct, frozen=True, tag="polygon"):
    """A polygon with its box from its own origin; at its natural proportions it is regular. Corners may be rounded."""

    width: float
    height: float
    sides: int = 6
    radius: float = 0.0


class Star(msgspec.Struct, frozen=True, tag="star"):
    """A star in its box; `inner` is its valleys' radius as a share of its tips', tips and valleys may be rounded."""

    width: float
    height: float
    points: int = 5
    inner: float = 0.5
    tip: float = 0.0
    valley: float = 0.0


class Freehand(msgspec.Struct, frozen=True, tag="freehand"):
    """The places a hand went through, and how near to them its curve must stay."""

    points: tuple[tuple[float, float], ...]
    tolerance: float
    closed: bool = False


class Lettering(msgspec.Struct, frozen=True, tag="lettering"):
    """A text; `size` is the em, tracking and kerns are thousandths of it, `leading` is in ems.

    A kern (k, amount) stands after character k. The first baseline runs through the
    piece's own origin.
    """

    text: str
    font: str
    size: float
    tracking: float = 0.0
    leading: float = 1.2
    align: str = "left"
    kerns: tuple[tuple[int, float], ...] = ()


class EdgeRun(msgspec.Struct, frozen=True, tag="edge"):
    """A repeated edge along `base`: all its sides, or those numbered; `depth` None means what suits the pitch."""

    base: "Rectangle | Ellipse | Polygon | Star | Plain | Freehand"
    kind: str
    pitch: float
    flank: float = 45.0
    depth: float | None = None
    seed: int = 1
    sides: tuple[int, ...] | None = None
    inward: bool = False


class Step(msgspec.Struct, frozen=True):
    """One step of a cut list: what is done with which member, and whether it is switched on."""

    operation: str
    member: "Piece"
    on: bool = True


FINISHES: Final = ("offset", "round", "simplify", "clean")
"""What can be done with the result of a cut list, after its steps."""


class Finish(msgspec.Struct, frozen=True):
    """One thing done with the result: offset by a distance, rounded by a radius, simplified within a tolerance,
    or cleaned of parts and holes smaller than a square of that side."""

    kind: str
    value: float
    join: str = "round"
    on: bool = True


class CutList(msgspec.Struct, frozen=True, tag="cuts"):
    """An outline made of a first piece, the steps after it, and what is done with their result."""

    base: "Piece"
    steps: tuple[Step, ...]
    finishes: tuple[Finish, ...] = ()


Shape: TypeAlias = Rectangle | Ellipse | Polygon | Star | Plain | Freehand | Lettering | EdgeRun | CutList


class Photo(msgspec.Struct, frozen=True, tag="photo"):
    """A placed picture. `file` is the SHA-256 of its bytes; `matrix` takes its px to the sheet.

    `alpha` tells that the file may be transparent in places.
    """

    id: str
    name: str
    file: str
    width: int
    height: int
    matrix: Numbers = (1.0, 0.0, 0.0, 1.0, 0.0, 0.0)
    opacity: float = 1.0
    alpha: bool = False
    locked: bool = False
    hidden: bool = False

    @property
    def placing(self) -> Matrix:
        """The matrix as a map."""
        return Matrix(*self.matrix)


class Piece(msgspec.Struct, frozen=True, tag="piece"):
    """Anything drawn. With photos inside it is a frame; with a cut list it is an outline.

    `matrix` takes the shape's own coordinates to the sheet; for a cut list it stays the
    identity, since its members carry their own.
    """

    id: str
    name: str
    shape: Shape
    matrix: Numbers = (1.0, 0.0, 0.0, 1.0, 0.0, 0.0)
    paint: Paint = Paint()
    photos: tuple[Photo, ...] = ()
    locked: bool = False
    hidden: bool = False

    @property
    def placing(self) -> Matrix:
        """The matrix as a map."""
        return Matrix(*self.matrix)

    @property
    def kind(self) -> str:
        """The word for it: frame, outline or piece."""
        if self.photos:
            return "frame"
        return "outline" if isinstance(self.shape, CutList) else "piece"


class Group(msgspec.Struct, frozen=True, tag="group"):
    """Items that are chosen and moved as one, lowest first."""

    id: str
    name: str
    items: tuple["Piece | Photo | Group", ...]
    locked: bool = False
    hidden: bool = False

    @property
    def kind(self) -> str:
        """The word for it."""
        return "group"


Item: TypeAlias = Piece | Photo | Group


class Guide(msgspec.Struct, frozen=True):
    """A line to line things up with: axis "x" at a distance from the left edge, "y" from the top."""

    axis: str
    at: float


class Grid(msgspec.Struct, frozen=True):
    """A grid over the sheet: "none", "plain" with squares of `step`, or "modules".

    Modules of `width` by `height` lie `gap` apart within `margin` of the sheet's edges.
    """

    kind: str = "none"
    step: float = 50.0
    width: float = 100.0
    height: float = 100.0
    gap: float = 20.0
    margin: float = 40.0


class Sheet(msgspec.Struct, frozen=True):
    """The surface and what lies on it, lowest first."""

    width: float
    height: float
    unit: str = "px"
    resolution: float = 300.0
    bleed: float = 0.0
    margin: float = 0.0
    backdrop: str | None = None
    items: tuple[Item, ...] = ()
    guides: tuple[Guide, ...] = ()
    guides_locked: bool = False
    grid: Grid = Grid()
    next_id: int = 1
    schema: int = SCHEMA
