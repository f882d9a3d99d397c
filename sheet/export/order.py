"""An export order and its sizes: the numbers of the Export station, and of the files."""

from collections.abc import Iterable, Iterator
from typing import Annotated, Final, Literal

import msgspec
from msgspec import Meta

from sheet.document.errors import SheetError
from sheet.document.limits import Id, MaybeId, Typed
from sheet.document.model import Group, Item, Piece, Sheet
from sheet.document.tree import drawn_alone, find, framed, present
from sheet.geometry.geometry import Box, join_boxes
from sheet.geometry.visible import exported_box, visible_box
from sheet.reading.lengths import parse_count, read_length
from sheet.reading.sizes import check_color

from .sizes import MAX_PIXELS, Exported, pixel_size, scale_of

__all__ = [
    "CHOICES",
    "EXTENTS",
    "MAX_FILES",
    "SIZES",
    "TICKS",
    "Order",
    "exported",
    "extent_of",
    "frames_of",
    "ground_of",
    "ordered",
    "quality_of",
]

MAX_FILES: Final = 1000

EXTENTS: Final = (
    ("trimmed", "cropped to the artwork"),
    ("whole", "the whole sheet"),
    ("bleed", "with its bleed"),
)
PHOTOS: Final = (
    ("cropped", "in it, cropped"),
    ("whole", "in it, whole"),
    ("linked", "beside, zipped"),
    ("none", "outlines only"),
)
"""How an SVG includes its photos."""
PACKINGS: Final = (
    ("lzw", "LZW"),
    ("deflate", "deflate, smaller"),
    ("none", "none, for any reader"),
)
"""The compression of a TIFF."""
EFFORTS: Final = (
    ("quick", "quick"),
    ("thorough", "thorough, slower"),
)
"""How much effort goes into a smaller AVIF."""
STANDARDS: Final = (
    ("plain", "none"),
    ("archive", "PDF/A-2b"),
    ("print", "PDF/X-4"),
)
"""The ISO standard that a PDF follows."""
CURVES: Final = (
    ("splines", "as splines, exact"),
    ("arcs", "as arcs, within"),
)
"""How a DXF represents curves; many machines take only arcs."""
CHOICES: Final = (
    ("photos", "Photos", PHOTOS),
    ("packing", "Packed", PACKINGS),
    ("effort", "Effort", EFFORTS),
    ("curves", "Curves", CURVES),
    ("standard", "Standard", STANDARDS),
)
"""Settings of some formats with one of several values: field, label, and the values with their words."""
TICKS: Final = (
    ("palette", "Up to 256 colours"),
    ("marks", "Crop marks"),
    ("lossless", "Lossless"),
    ("full_chroma", "Full colour detail (4:4:4)"),
    ("own_profile", "Keep the photo’s own colour profile"),
)
"""Settings of some formats that are on or off: field, and label."""
SIZES: Final = (
    ("resolution", "Resolution"),
    ("width", "Width"),
    ("height", "Height"),
    ("factor", "Factor"),
)
"""How a size is given. A width or height is in px, or with a unit the real size at the sheet's px per inch."""


class Order(msgspec.Struct, frozen=True):
    """An export order, as it was typed.

    `what` is the sheet, what is `chosen` (the items `ids`), `each` frame and pane as its
    own file, or one item's id; empty for the selection, or without one the sheet.
    `extent` is how much of the sheet; empty for all of a sheet with a backdrop, and
    the artwork of any other. `cut` is the item that a cutter follows, in the spot colour `cut_name`.
    `title` is the project's name, which the server adds. `profile` is the key of the print profile
    for the standard "print": its digest and its name; with `inks` all is converted to its CMYK.
    """

    what: Annotated[str, Meta(pattern=r"^(|sheet|chosen|each|i[0-9]{1,10})\Z")] = ""
    ids: Annotated[tuple[Id, ...], Meta(max_length=5000)] = ()
    extent: Literal["", "trimmed", "whole", "bleed"] = ""
    margin: Typed = ""
    by: Literal["resolution", "width", "height", "factor"] = "resolution"
    size: Typed = ""
    format: Annotated[str, Meta(max_length=8)] = "png"
    quality: Typed = "90"
    lossless: bool = False
    full_chroma: bool = True
    palette: bool = False
    own_profile: bool = False
    ground: Typed = ""
    marks: bool = False
    standard: Literal["plain", "archive", "print"] = "plain"
    inks: bool = False
    author: Typed = ""
    title: Typed = ""
    profile: Annotated[str, Meta(max_length=120, pattern=r"^([0-9a-f]{32}:[^\x00-\x1f\x7f]{1,80})?\Z")] = ""
    photos: Literal["cropped", "whole", "linked", "none"] = "cropped"
    packing: Literal["lzw", "deflate", "none"] = "lzw"
    effort: Literal["quick", "thorough"] = "quick"
    curves: Literal["splines", "arcs"] = "splines"
    tolerance: Typed = "0.05"
    cut: MaybeId = ""
    cut_name: Typed = "CutContour"
    alt: Typed = ""
    pattern: Typed = "{project} {name}"
    web: Literal["path", "shape", "polygon", "clip", "data"] = "path"
    deviation: Typed = "0.5"


def _file(sheet: Sheet, order: Order, items: tuple[Item, ...], box: Box) -> Exported:
    margin = 0.0
    if order.margin.strip():
        margin = read_length(sheet, "margin", order.margin)
        if not 0 <= margin <= 10 * max(sheet.width, sheet.height):
            raise SheetError("The margin must be 0 or wider.", "Type a number like 5 or 3mm.", "margin")
    x0, y0, x1, y1 = box
    box = (x0 - margin, y0 - margin, x1 + margin, y1 + margin)
    scale, resolution = scale_of(sheet, order.by, order.size, box)
    return Exported(items, box, scale, resolution, *pixel_size(box, scale))


def exported(sheet: Sheet, resolution: float, only: Item | None = None) -> Exported:
    """Return the artwork of the sheet, or of one item, for export at `resolution` px per inch. Raises SheetError."""
    order = Order(what="sheet", size=repr(resolution))
    return ordered(sheet, order)[0] if only is None else _file(sheet, order, (only,), exported_box(sheet, only))


def extent_of(sheet: Sheet, order: Order) -> str:
    """Return the extent that is exported."""
    return order.extent or ("trimmed" if sheet.backdrop is None else "whole")


def frames_of(items: Iterable[Item]) -> Iterator[Piece]:
    """Yield every visible frame and pane among the items, at any depth, lowest first."""
    for item in items:
        if item.hidden:
            continue
        if isinstance(item, Group):
            yield from frames_of(item.items)
        elif isinstance(item, Piece) and item.photos:
            yield item


def ordered(sheet: Sheet, order: Order) -> list[Exported]:
    """Return the files of an order. Raises SheetError if nothing shows, or a file would be too large."""
    what = order.what or ("chosen" if order.ids else "sheet")
    if what == "each":
        frames = list(frames_of(framed(sheet, present(sheet, order.ids)) or sheet.items))
        shown = [(f, box) for f in frames if (box := visible_box(f)) is not None]
        if not shown:
            raise SheetError("There is no frame to export.", "Put a photo into an outline first.", "what")
        if len(shown) > MAX_FILES:
            raise SheetError(f"Those are {len(shown):,} files; {MAX_FILES:,} are the most.", "Select some.", "what")
        files = [_file(sheet, order, (f,), box) for f, box in shown]
        if sum(f.width * f.height for f in files) > 4 * MAX_PIXELS:
            raise SheetError("Those files would be too large together.", "Type a smaller size.", "size")
        return files
    if what == "chosen":
        items = drawn_alone(sheet, [i.id for i in framed(sheet, present(sheet, order.ids))])
        boxes = [b for i in items if (b := visible_box(i)) is not None]
        if not boxes:
            raise SheetError("Nothing that shows is selected.", "Select a piece, a frame or a photo.", "what")
        return [_file(sheet, order, items, join_boxes(boxes))]
    if what != "sheet":
        item = find(sheet, what)
        return [_file(sheet, order, (item,), exported_box(sheet, item))]
    extent = extent_of(sheet, order)
    bleed = sheet.bleed if extent == "bleed" else 0.0
    if extent == "trimmed":
        return [_file(sheet, order, (), exported_box(sheet))]
    return [_file(sheet, order, (), (-bleed, -bleed, sheet.width + bleed, sheet.height + bleed))]


def quality_of(order: Order) -> int:
    """Return the quality a person typed, 1 to 100. Raises SheetError."""
    return parse_count(order.quality or "90", "quality", 1, 100)


def ground_of(sheet: Sheet, order: Order) -> str:
    """Return the colour behind what is transparent, for formats that need one: the backdrop, else white."""
    if order.ground.strip():
        return check_color(order.ground, "ground") or "#ffffff"
    return sheet.backdrop or "#ffffff"
