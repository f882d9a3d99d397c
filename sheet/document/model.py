"""The document: immutable typed values.

Lengths are in sheet units: px at the sheet's resolution, y growing downwards. Every
item is in sheet coordinates, members of a cut list and photos in a frame too, so that
nothing is converted when it moves in or out.
"""

from typing import Annotated, Final, Literal, TypeAlias, get_args

import msgspec
from msgspec import Meta
from msgspec.structs import replace

from outline import Matrix

from .gradients import Fill, Gradient, Stop
from .kinds import EdgeRun, Ellipse, Freehand, Lettering, OwnShape, Plain, Polygon, Rectangle, Star
from .limits import (
    MAX_CELLS,
    MAX_GUIDES,
    MAX_PARTS,
    MAX_TRIED,
    Count,
    Factor,
    Index,
    Length,
    Numbers,
    Place,
    Share,
    Size,
)
from .validation import StoredColor, StoredFile, StoredId, StoredKey, StoredMaybeId, StoredName

__all__ = [
    "SCHEMA",
    "OPERATIONS",
    "Axis",
    "Blend",
    "Operation",
    "Paint",
    "Panes",
    "PLACES",
    "Rectangle",
    "Ellipse",
    "Polygon",
    "Star",
    "Freehand",
    "Lettering",
    "EdgeRun",
    "Group",
    "Guide",
    "HOLDS",
    "Hold",
    "Holds",
    "ShelfLink",
    "VARIANTS",
    "Variant",
    "Band",
    "Fill",
    "Gradient",
    "Stop",
    "Grid",
    "GridKind",
    "INK",
    "CAPS",
    "Cap",
    "JOINS",
    "Join",
    "Plain",
    "BLENDS",
    "CellChoice",
    "CutList",
    "NamedCell",
    "FINISHES",
    "Finish",
    "FinishKind",
    "Step",
    "Shape",
    "Photo",
    "Piece",
    "Item",
    "Sheet",
    "Numbers",
    "Unit",
]

SCHEMA: Final = 9
"""Version of the stored form; `store` upgrades from every earlier one."""

Operation = Literal["union", "subtract", "intersect", "exclude"]
OPERATIONS: Final[tuple[Operation, ...]] = get_args(Operation)
"""The operations of a cut list's steps. Divide makes several pieces, so it is not a step."""

Blend = Literal[
    "normal", "multiply", "screen", "overlay", "darken", "lighten", "color-dodge", "color-burn",
    "hard-light", "soft-light", "difference", "exclusion",
]  # fmt: skip
BLENDS: Final[tuple[Blend, ...]] = get_args(Blend)
"""The separable blend modes of W3C Compositing and Blending 1."""

Unit = Literal["px", "mm", "cm", "in", "pt"]
Axis = Literal["x", "y"]
INK: Final = "#22302f"


BorderPlace = Literal["inside", "centred", "outside"]
PLACES: Final[tuple[BorderPlace, ...]] = get_args(BorderPlace)
"""The position of a border on a closed outline; on an open line it is always centred."""

Join = Literal["round", "miter", "bevel"]
JOINS: Final[tuple[Join, ...]] = ("miter", "round", "bevel")
"""How a border goes round a corner (SVG 2, 13.5.4; the miter limit is 4)."""

Variant = Literal["", "landscape", "square", "portrait"]
VARIANTS: Final[tuple[Variant, ...]] = get_args(Variant)
"""The proportions in which the shelf stores an outline; "" is the original one."""

Cap = Literal["butt", "round", "square"]
CAPS: Final[tuple[Cap, ...]] = get_args(Cap)
"""How a border, and each of its dashes, ends on an open line (SVG 2, 13.5.3)."""


class Paint(msgspec.Struct, frozen=True):
    """Fill and stroke as #rrggbb, a gradient or None, stroke width in sheet units, opacity 0 to 1, and one of BLENDS.

    A new piece has no border. `dashes` are the lengths of its
    dashes and gaps in turn (sheet units); none for a solid one.
    """

    fill: Fill | None = "#c9bda4"
    stroke: Fill | None = None
    stroke_width: Annotated[float, Meta(ge=0, le=1e5)] = 2.0
    opacity: Share = 1.0
    blend: Blend = "normal"
    place: BorderPlace = "centred"
    join: Join = "miter"
    cap: Cap = "butt"
    dashes: Annotated[tuple[Length, ...], Meta(max_length=12)] = ()

    def moved(self, m: Matrix) -> "Paint":
        """Return the paint of an item mapped by `m`: gradients are mapped too, the border's width stays."""
        if isinstance(self.fill, Gradient) or isinstance(self.stroke, Gradient):
            fill, stroke = (v.moved(m) if isinstance(v, Gradient) else v for v in (self.fill, self.stroke))
            return replace(self, fill=fill, stroke=stroke)
        return self


class Step(msgspec.Struct, frozen=True):
    """One step of a cut list: its operation, its member, and whether it is switched on."""

    operation: Operation
    member: "Piece"
    on: bool = True


FinishKind = Literal["offset", "round", "simplify", "clean"]
FINISHES: Final[tuple[FinishKind, ...]] = get_args(FinishKind)
"""The finishes of a cut list, after its steps."""


class Finish(msgspec.Struct, frozen=True):
    """One finish of the result: offset by a distance, rounded by a radius, simplified within a tolerance,
    or cleaned of parts and holes smaller than a square of that side."""

    kind: FinishKind
    value: Factor
    join: Join = "round"
    on: bool = True


class NamedCell(msgspec.Struct, frozen=True):
    """A cell among the pieces of a cut list, named by the pieces that contain it: their numbers, the base being 0.

    If the same pieces contain several cells, `at` is a point in it (sheet units), and
    those that are not `chosen` are stored too, to tell them all apart.
    """

    inside: Annotated[tuple[Index, ...], Meta(max_length=MAX_PARTS)]
    at: tuple[Place, Place] | None = None
    chosen: bool = True


class CellChoice(msgspec.Struct, frozen=True):
    """The cells of an outline: the chosen ones alone, or its base `without` them."""

    cells: Annotated[tuple[NamedCell, ...], Meta(max_length=MAX_CELLS)]
    without: bool = False


class CutList(msgspec.Struct, frozen=True, tag="cuts"):
    """An outline made of a first piece, the steps after it, and the finishes of their result.

    With a choice of cells, its pieces form one map, and the steps' operations are not used.
    """

    base: "Piece"
    steps: Annotated[tuple[Step, ...], Meta(max_length=MAX_PARTS)]
    finishes: Annotated[tuple[Finish, ...], Meta(max_length=100)] = ()
    choice: CellChoice | None = None


Shape: TypeAlias = OwnShape | CutList

Hold = Literal["near", "middle", "far", "both", "scale"]
HOLDS: Final[tuple[Hold, ...]] = get_args(Hold)
"""How a part is anchored along an axis when its container is resized: to the left or top, to the
middle, to the right or bottom, to both sides (it lengthens), or scaled."""

Band: TypeAlias = tuple[Place, Place]
"""A range along an axis of a plain outline in which it may lengthen."""


class Holds(msgspec.Struct, frozen=True):
    """How a part is anchored along both axes of the sheet, None to guess. `x_bands` and `y_bands` are those of
    a plain outline along the axes of the sheet, in its own coordinates; none to find them.

    What was `guessed` at a refit stays for the next ones, until the part itself is moved.
    """

    x: Hold | None = None
    y: Hold | None = None
    guessed: Literal["", "x", "y", "xy"] = ""
    x_bands: Annotated[tuple[Band, ...], Meta(max_length=50)] = ()
    y_bands: Annotated[tuple[Band, ...], Meta(max_length=50)] = ()


class ShelfLink(msgspec.Struct, frozen=True):
    """The outline of the shelf that an item came from: its key, version and variant, and the map from there
    to the sheet."""

    item: StoredKey
    version: Annotated[int, Meta(ge=1, le=4_000_000_000)]
    variant: Variant = ""
    matrix: Numbers = (1.0, 0.0, 0.0, 1.0, 0.0, 0.0)


class Photo(msgspec.Struct, frozen=True, tag="photo"):
    """A placed picture. `file` is the SHA-256 of its bytes; `matrix` takes its px to the sheet.

    `alpha` is whether the file has transparent px, and `shown` is then the box
    (px of the photo: x0, y0, x1, y1) of what is not wholly transparent. In a frame, it blends
    with the frame's fill and the photos below it.
    """

    id: StoredId
    name: StoredName
    file: StoredFile
    width: Count
    height: Count
    matrix: Numbers = (1.0, 0.0, 0.0, 1.0, 0.0, 0.0)
    opacity: Share = 1.0
    alpha: bool = False
    shown: tuple[Index, Index, Count, Count] | None = None
    locked: bool = False
    hidden: bool = False
    blend: Blend = "normal"

    @property
    def placing(self) -> Matrix:
        """The matrix as a map."""
        return Matrix(*self.matrix)


class Piece(msgspec.Struct, frozen=True, tag="piece"):
    """Anything drawn. With photos inside it is a frame; with a cut list it is an outline.

    `matrix` takes the shape's own coordinates to the sheet; for a cut list it stays the
    identity, since its members have their own. `grouped` is whether it was a group before
    photos were put in, to become one again without them. Its photos are moved to keep
    covering it, unless `gaps` are allowed. Pieces with the same `link` are one
    piece that is part of several outlines: a change to one changes all. `holds`
    is its anchoring in another proportion, None to guess; `shelf_link` its origin on
    the shelf. `tried` are the photos a frame had before, each in the place it had, the
    next one first.
    """

    id: StoredId
    name: StoredName
    shape: Shape
    matrix: Numbers = (1.0, 0.0, 0.0, 1.0, 0.0, 0.0)
    paint: Paint = Paint()
    photos: Annotated[tuple[Photo, ...], Meta(max_length=MAX_PARTS)] = ()
    locked: bool = False
    hidden: bool = False
    grouped: bool = False
    link: StoredMaybeId = msgspec.field(default="", name="twin")
    gaps: bool = False
    holds: Holds | None = None
    shelf_link: ShelfLink | None = msgspec.field(default=None, name="kept")
    tried: Annotated[tuple[Photo, ...], Meta(max_length=MAX_TRIED)] = ()

    @property
    def placing(self) -> Matrix:
        """The matrix as a map."""
        return Matrix(*self.matrix)

    def as_member(self) -> "Piece":
        """Return it in the form of a member of an outline, which has the photos."""
        return replace(self, photos=(), tried=())

    @property
    def kind(self) -> str:
        """The word for it: frame, outline or piece."""
        if self.photos:
            return "frame"
        return "outline" if isinstance(self.shape, CutList) else "piece"


CellCount = Annotated[int, Meta(ge=1, le=100)]
"""How many rows or columns panes may have."""


class Panes(msgspec.Struct, frozen=True):
    """How a group of panes is split, so that the split can be changed afterwards.

    `base` is what was split, with the photos it had; `frame` takes the box of `width` by
    `height`, with upright rows and columns, to the sheet. The base is inset by
    `margin`, divided with gaps between, and each pane grown by `bleed`. A spread moves the
    panes apart (px from one to the next); their photos stay, or move if `travelling`.
    With `whole` the edges of upright panes are on whole px of the sheet, so that
    exported tiles have no half px.
    Cells are numbered row * 100 + column; each pane has those it covers.
    """

    base: "Piece"
    frame: Numbers
    width: Size
    height: Size
    columns: CellCount
    rows: CellCount
    gap_x: Length = 0.0
    gap_y: Length = 0.0
    margin: Length = 0.0
    bleed: Length = 0.0
    spread_x: Place = 0.0
    spread_y: Place = 0.0
    travelling: bool = False
    whole: bool = False
    pane_width: Length = 0.0
    pane_height: Length = 0.0
    panes: Annotated[tuple[tuple[StoredId, tuple[Index, ...]], ...], Meta(max_length=MAX_PARTS)] = ()
    out: Annotated[tuple[Index, ...], Meta(max_length=MAX_PARTS)] = ()
    joined: Annotated[tuple[tuple[Index, ...], ...], Meta(max_length=MAX_PARTS)] = ()


class Group(msgspec.Struct, frozen=True, tag="group"):
    """Items that are selected and moved as one, lowest first. Panes are such a group, with their split.

    Its opacity and blend mode apply to all of it as one picture.
    """

    id: StoredId
    name: StoredName
    items: Annotated[tuple["Piece | Photo | Group", ...], Meta(min_length=1, max_length=MAX_PARTS)]
    locked: bool = False
    hidden: bool = False
    panes: Panes | None = None
    opacity: Share = 1.0
    blend: Blend = "normal"
    holds: Holds | None = None
    shelf_link: ShelfLink | None = msgspec.field(default=None, name="kept")

    @property
    def kind(self) -> str:
        """The word for it: group or panes."""
        return "group" if self.panes is None else "panes"


Item: TypeAlias = Piece | Photo | Group


class Guide(msgspec.Struct, frozen=True):
    """A line to align things with: axis "x" at a distance from the left edge, "y" from the top."""

    axis: Axis
    at: Place


GridKind = Literal["none", "plain", "modules"]


class Grid(msgspec.Struct, frozen=True):
    """A grid over the sheet: "none", "plain" with squares of `step`, or "modules".

    Modules of `width` by `height` are `gap` apart within `margin` of the sheet's edges.
    """

    kind: GridKind = "none"
    step: Annotated[float, Meta(ge=1, le=1e8)] = 50.0
    width: Annotated[float, Meta(ge=1, le=1e8)] = 100.0
    height: Annotated[float, Meta(ge=1, le=1e8)] = 100.0
    gap: Length = 20.0
    margin: Length = 40.0


class Sheet(msgspec.Struct, frozen=True):
    """The surface and the items on it, lowest first.

    `round_to` is the step (px) of drawing, moving and resizing by hand; 0 for none.
    `swatches` are the project's own colours.
    """

    width: Size
    height: Size
    unit: Unit = "px"
    resolution: Annotated[float, Meta(ge=1, le=10_000)] = 300.0
    bleed: Length = 0.0
    margin: Length = 0.0
    backdrop: StoredColor | None = None
    items: Annotated[tuple[Item, ...], Meta(max_length=MAX_PARTS)] = ()
    guides: Annotated[tuple[Guide, ...], Meta(max_length=MAX_GUIDES)] = ()
    guides_locked: bool = False
    grid: Grid = Grid()
    round_to: Length = 0.0
    swatches: Annotated[tuple[StoredColor, ...], Meta(max_length=48)] = ()
    next_id: Annotated[int, Meta(ge=1, le=4_000_000_000)] = 1
    schema: int = SCHEMA
