"""The numbers of the selection: place, size, angle, nodes, length, area, margins, px per inch."""

import math
from dataclasses import dataclass, field

import outline
from sheet.document.kinds import Field
from sheet.document.kinds.lettering import Lettering
from sheet.document.model import Item, Photo, Piece, Sheet
from sheet.geometry import geometry
from sheet.geometry.holes import Of, base_of, holes
from sheet.geometry.placing import angle_of, skew_of
from sheet.reading.details import details_of
from sheet.reading.lengths import px_per, show_degrees, show_length

__all__ = ["Dimensions", "HoleMargins", "Number", "dimensions_of", "margins_of", "px_per_inch"]

SIDES = ("left", "right", "top", "bottom")
HOLES_SHOWN = 4


@dataclass(frozen=True, slots=True)
class Number:
    """A number of the dimensions: its field, its symbol, its name, and its value as text."""

    field: str
    sign: str
    name: str
    value: str


@dataclass(frozen=True, slots=True)
class HoleMargins:
    """The margins of a hole: its number, largest first, each side's margin as text, whether opposite
    ones are equal, the hole's outline, and the name of its lettering."""

    number: int
    sides: tuple[tuple[str, str], ...]
    even: bool
    path: outline.Path
    lettering: str = ""


@dataclass(frozen=True, slots=True)
class Dimensions:
    """Everything that the dimensions show of the selected items."""

    numbers: tuple[Number, ...]
    details: tuple[tuple[Field, str], ...] = ()
    facts: tuple[tuple[str, str], ...] = ()
    margins: tuple[HoleMargins, ...] = field(default=())


def px_per_inch(sheet: Sheet, photo: Photo) -> int:
    """Return the photo's px per inch as placed: its own px over the inches they take on the sheet."""
    return round(sheet.resolution / max(photo.placing.scale, 1e-9))


def margins_of(sheet: Sheet, item: Piece, of: Of = "border") -> tuple[HoleMargins, ...]:
    """Return the margins of an outline's four largest holes, in the sheet's unit."""
    rows = []
    for k, (m, lettering) in enumerate(holes(item, HOLES_SHOWN, of)):
        sides = tuple((side, show_length(getattr(m, side), sheet.unit, sheet.resolution)) for side in SIDES)
        rows.append(HoleMargins(k, sides, m.even, m.hole, lettering))
    return tuple(rows)


def dimensions_of(sheet: Sheet, items: list[Item], of: Of = "border") -> Dimensions | None:
    """Return the dimensions of the selected items; None for none."""
    if not items:
        return None
    x0, y0, x1, y1 = geometry.join_boxes([geometry.box_of(i) for i in items])

    def show(v: float) -> str:
        return show_length(v, sheet.unit, sheet.resolution)

    numbers = [
        Number("x", "X", "Left edge", show(x0)),
        Number("y", "Y", "Top edge", show(y0)),
        Number("width", "W", "Width", show(x1 - x0)),
        Number("height", "H", "Height", show(y1 - y0)),
        Number("angle", "Turn", "Angle in degrees", show_degrees(angle_of(items))),
    ]
    if not any(isinstance(i, Photo) for i in items):
        numbers.append(Number("skew", "Skew", "Skew in degrees", show_degrees(skew_of(items))))
    pieces = [i for i in items if isinstance(i, Piece)]
    one = pieces[0] if len(items) == 1 and pieces else None
    # the insides of letters are not holes to set margins of
    begun = one and (base_of(one) or one)
    margins = margins_of(sheet, one, of) if one and begun and not isinstance(begun.shape, Lettering) else ()
    return Dimensions(tuple(numbers), _details(sheet, items, pieces), _facts(sheet, items, pieces), margins)


def _details(sheet: Sheet, items: list[Item], pieces: list[Piece]) -> tuple[tuple[Field, str], ...]:
    """Return the details of pieces of one kind, "mixed" where they differ."""
    if not pieces or len(pieces) < len(items) or len({type(p.shape) for p in pieces}) > 1:
        return ()
    rows = details_of(sheet, pieces[0].shape)
    differ: set[str] = set()
    # of thousands most are alike, or the first few are not
    for shape in dict.fromkeys(p.shape for p in pieces[1:]):
        if len(differ) == len(rows):
            break
        other = {d.field: text for d, text in details_of(sheet, shape)}
        differ |= {d.field for d, text in rows if other.get(d.field, text) != text}
    return tuple((d, "mixed" if d.field in differ else text) for d, text in rows)


def _facts(sheet: Sheet, items: list[Item], pieces: list[Piece]) -> tuple[tuple[str, str], ...]:
    facts = []
    if pieces:
        facts.append(("Nodes", str(sum(geometry.own_path(p.shape).node_count for p in pieces))))
    if len(items) == 1 and pieces:
        path = geometry.outline_of(pieces[0])
        facts.append(("Length", f"{show_length(outline.length(path), sheet.unit, sheet.resolution, 1)} {sheet.unit}"))
        if not geometry.is_line(pieces[0]):
            area = path.area / px_per(sheet.unit, sheet.resolution) ** 2
            facts.append(("Area", f"{area:.{0 if sheet.unit == 'px' else 2}f} {sheet.unit}²"))
    photos = [i for i in items if isinstance(i, Photo)]
    if len(photos) == 1:
        facts.append(("Photo", f"{photos[0].width} × {photos[0].height} px"))
        facts.append(("As placed", f"{px_per_inch(sheet, photos[0])} px/in"))
    return tuple(facts)


def suggested(sheet: Sheet) -> dict[str, str]:
    """Return the default lengths of tools and finishes, as texts in the sheet's unit: they suit its size."""
    side = min(sheet.width, sheet.height)

    def length(px: float, digits: int = 1) -> str:
        # as short as possible, and never 0
        texts = (show_length(px, sheet.unit, sheet.resolution, d) for d in range(digits, 9))
        return next(text for text in texts if text != "0")

    return {
        "letter": length(max(1, round(side / 6))),
        "tooth": length(max(1, round(side / 40))),
        "near": length(max(0.5, side / 400), 2),
        "large": length(max(1, round(side / 50))),
        "fine": length(max(0.05, side / 1000), 2),
        "nudge": length(math.ceil(side / 1000)),
    }
