"""The document: immutable typed values.

Lengths are in sheet units: px at the sheet's resolution, y growing downwards. Every
item lies in sheet coordinates, members of a cut list and photos in a frame too, so
nothing needs converting when it moves in or out.
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
"""What a step of a cut list can do. Divide makes several pieces, so it is no step."""

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
"""Where a border lies on a closed outline; one on an open line is always centred."""

Join = Literal["round", "miter", "bevel"]
JOINS: Final[tuple[Join, ...]] = ("miter", "round", "bevel")
"""How a border goes round a corner (SVG 2, 13.5.4; the miter limit is 4)."""

Variant = Literal["", "landscape", "square", "portrait"]
VARIANTS: Final[tuple[Variant, ...]] = get_args(Variant)
"""The proportions in which the shelf keeps an outline; "" is the one it was kept in."""

Cap = Literal["butt", "round", "square"]
CAPS: Final[tuple[Cap, ...]] = get_args(Cap)
"""How a border ends where its line is open, and each of its dashes (SVG 2, 13.5.3)."""


class Paint(msgspec.Struct, frozen=True):
    """Fill and stroke as #rrggbb, a gradient or None, stroke width in sheet units, opacity 0 to 1, and one of BLENDS.

    A border is something one gives: a new piece has none. `dashes` are the lengths of its
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
        """Return the paint of what is mapped by `m`: gradients go along, the width of the border stays."""
        if isinstance(self.fill, Gradient) or isinstance(self.stroke, Gradient):
            fill, stroke = (v.moved(m) if isinstance(v, Gradient) else v for v in (self.fill, self.stroke))
            return replace(self, fill=fill, stroke=stroke)
        return self


class Step(msgspec.Struct, frozen=True):
    """One step of a cut list: what is done with which member, and whether it is switched on."""

    operation: Operation
    member: "Piece"
    on: bool = True


FinishKind = Literal["offset", "round", "simplify", "clean"]
FINISHES: Final[tuple[FinishKind, ...]] = get_args(FinishKind)
"""What can be done with the result of a cut list, after its steps."""


class Finish(msgspec.Struct, frozen=True):
    """One thing done with the result: offset by a distance, rounded by a radius, simplified within a tolerance,
    or cleaned of parts and holes smaller than a square of that side."""

    kind: FinishKind
    value: Factor
    join: Join = "round"
    on: bool = True


class NamedCell(msgspec.Struct, frozen=True):
    """A cell among the pieces of a cut list, named by the pieces that contain it: their numbers, the base being 0.

    Where the same pieces contain several cells, `at` is a point in it (sheet units),
    and those that were not `chosen` are kept too, so that all can be told apart.
    """

    inside: Annotated[tuple[Index, ...], Meta(max_length=MAX_PARTS)]
    at: tuple[Place, Place] | None = None
    chosen: bool = True


class CellChoice(msgspec.Struct, frozen=True):
    """What an outline is made of: the chosen cells alone, or its base `without` them."""

    cells: Annotated[tuple[NamedCell, ...], Meta(max_length=MAX_CELLS)]
    without: bool = False


class CutList(msgspec.Struct, frozen=True, tag="cuts"):
    """An outline made of a first piece, the steps after it, and what is done with their result.

    With a choice of cells its pieces are one map, and the steps' operations say nothing.
    """

    base: "Piece"
    steps: Annotated[tuple[Step, ...], Meta(max_length=MAX_PARTS)]
    finishes: Annotated[tuple[Finish, ...], Meta(max_length=100)] = ()
    choice: CellChoice | None = None


Shape: TypeAlias = OwnShape | CutList

Hold = Literal["near", "middle", "far", "both", "scale"]
HOLDS: Final[tuple[Hold, ...]] = get_args(Hold)
"""How a part behaves along an axis when what it lies in gets another size: it keeps to the left or top, to the
middle, to the right or bottom, to both sides (it lengthens), or it is scaled."""

Band: TypeAlias = tuple[Place, Place]
"""From where to where, along an axis of a plain outline, it may lengthen."""


class Holds(msgspec.Struct, frozen=True):
    """How a part holds along both axes of the sheet, None where that is guessed. `x_bands` and `y_bands` are those of
    a plain outline along the axes of the sheet, in its own coordinates; none where they are found by themselves."""

    x: Hold | None = None
    y: Hold | None = None
    x_bands: Annotated[tuple[Band, ...], Meta(max_length=50)] = ()
    y_bands: Annotated[tuple[Band, ...], Meta(max_length=50)] = ()


class ShelfLink(msgspec.Struct, frozen=True):
    """Which outline of the shelf an item came from: its key, the version and the variant, and the map that takes it
    from there to the sheet."""

    item: StoredKey
    version: Annotated[int, Meta(ge=1, le=4_000_000_000)]
    variant: Variant = ""
    matrix: Numbers = (1.0, 0.0, 0.0, 1.0, 0.0, 0.0)


class Photo(msgspec.Struct, frozen=True, tag="photo"):
    """A placed picture. `file` is the SHA-256 of its bytes; `matrix` takes its px to the sheet.

    `alpha` says that the file may be transparent in places, and `shown` is then the box
    (px of the photo: x0, y0, x1, y1) outside of which it is wholly so. In a frame, it blends
    with the frame's fill and the photos below it there.
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
    identity, since its members carry their own. `grouped` says that it was a group before
    photos went into it, and is one again when they come out. Its photos are moved so that
    they keep covering it, unless `gaps` are allowed. Pieces of one `twin` are one
    piece that stands in several outlines: what is done with one is done with all. `holds`
    says how it behaves in another proportion, None where that is guessed; `shelf_link` where on
    the shelf it came from. `tried` are the photos a frame had before, each as it sat, the
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
    twin: StoredMaybeId = ""
    gaps: bool = False
    holds: Holds | None = None
    shelf_link: ShelfLink | None = msgspec.field(default=None, name="kept")
    tried: Annotated[tuple[Photo, ...], Meta(max_length=MAX_TRIED)] = ()

    @property
    def placing(self) -> Matrix:
        """The matrix as a map."""
        return Matrix(*self.matrix)

    def as_member(self) -> "Piece":
        """Return it as it is as a part of an outline, which has the photos."""
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
    """How a group of panes is cut, so that it can be cut otherwise afterwards.

    `base` is what was cut, with the photos it had; `frame` takes the box of `width` by
    `height`, in which rows and columns lie upright, to the sheet. The base is taken in by
    `margin`, parted with gaps between, and each pane grown by `bleed`. A spread moves the
    panes apart (px from one to the next), their photos staying or `travelling` with them.
    With `whole` the edges of upright panes are on whole px of the sheet, so that no px of
    an exported tile is half of one.
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
    """Items that are selected and moved as one, lowest first. Panes are such a group, with how they are cut.

    Its opacity and blend mode are those of all of it as one picture.
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
    """A line to line things up with: axis "x" at a distance from the left edge, "y" from the top."""

    axis: Axis
    at: Place


GridKind = Literal["none", "plain", "modules"]


class Grid(msgspec.Struct, frozen=True):
    """A grid over the sheet: "none", "plain" with squares of `step`, or "modules".

    Modules of `width` by `height` lie `gap` apart within `margin` of the sheet's edges.
    """

    kind: GridKind = "none"
    step: Annotated[float, Meta(ge=1, le=1e8)] = 50.0
    width: Annotated[float, Meta(ge=1, le=1e8)] = 100.0
    height: Annotated[float, Meta(ge=1, le=1e8)] = 100.0
    gap: Length = 20.0
    margin: Length = 40.0


class Sheet(msgspec.Struct, frozen=True):
    """The surface and what lies on it, lowest first.

    `round_to` is the step (px) on which the hand draws, moves and resizes; 0 where it is free.
    `swatches` are colours kept with it.
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
