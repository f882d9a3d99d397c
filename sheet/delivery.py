"""What is delivered, and how large it comes out: the numbers of the Deliver station, and of the files."""

import math
import re
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import Annotated, Final, Literal

import msgspec
from msgspec import Meta

from .errors import SheetError
from .geometry import Box, join_boxes
from .lengths import parse, parse_count, parse_length, show_length
from .limits import Id, Typed
from .model import Group, Item, Piece, Sheet
from .sizes import check_color
from .tree import find, present
from .visible import delivered_box, visible_box

__all__ = [
    "EXTENTS",
    "MAX_FILES",
    "MAX_PIXELS",
    "MAX_SIDE",
    "PHOTOS",
    "SIZES",
    "Delivered",
    "Order",
    "delivered",
    "file_names",
    "frames_of",
    "ground_of",
    "ordered",
    "part_of",
    "pixel_size",
    "quality_of",
    "read_resolution",
]

MAX_SIDE: Final = 32_000
MAX_PIXELS: Final = 300_000_000
MAX_FILES: Final = 1000
NOISE: Final = 0.01
"""A hundredth of a px more is float noise of a border's extent, and would not be seen."""

EXTENTS: Final = (
    ("trimmed", "what shows"),
    ("whole", "the whole sheet"),
    ("bleed", "with its bleed"),
)
PHOTOS: Final = (
    ("cropped", "in it, cropped"),
    ("whole", "in it, whole"),
    ("linked", "beside, zipped"),
    ("none", "outlines only"),
)
"""What becomes of the photos in an SVG."""
SIZES: Final = (
    ("resolution", "Resolution"),
    ("width", "Width"),
    ("height", "Height"),
    ("factor", "Factor"),
)
"""By what a size is told. A width or height is in px, or with a unit the real size at the sheet's px per inch."""


class Order(msgspec.Struct, frozen=True):
    """What a person asks to be delivered, as it was typed.

    `what` is the sheet, what is `chosen` (the items `ids`), `each` frame and pane as a
    file of its own, or one item's id; empty, it is what is chosen, else the sheet.
    """

    what: Annotated[str, Meta(pattern=r"^(|sheet|chosen|each|i[0-9]{1,10})\Z")] = ""
    ids: Annotated[tuple[Id, ...], Meta(max_length=5000)] = ()
    extent: Literal["trimmed", "whole", "bleed"] = "trimmed"
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
    photos: Literal["cropped", "whole", "linked", "none"] = "cropped"
    pattern: Typed = "{project} {name}"
    web: Literal["path", "shape", "polygon", "clip", "data"] = "path"
    deviation: Typed = "0.5"


@dataclass(frozen=True, slots=True)
class Delivered:
    """One file: the items in it, none for the whole sheet; its box (sheet units) and its scale (px per sheet unit).

    `resolution` (px per inch) is what the file says of its real size; `width` and `height`
    are its size in px.
    """

    items: tuple[Item, ...]
    box: Box
    scale: float
    resolution: float
    width: int
    height: int

    @property
    def name(self) -> str:
        """The name of the item, empty for the sheet and for several."""
        return self.items[0].name if len(self.items) == 1 else ""

    def real(self, sheet: Sheet) -> str:
        """Return how large it is in the hand, as the file tells it: in the sheet's unit, in mm where that is px."""
        unit = "mm" if sheet.unit == "px" else sheet.unit
        sides = (show_length(px, unit, self.resolution, 1 if unit == "mm" else 2) for px in (self.width, self.height))
        return f"{' × '.join(sides)} {unit}"


def pixel_size(box: Box, scale: float) -> tuple[int, int]:
    """Return the size in px of `box` (sheet units) at `scale` px per sheet unit, rounded up.

    Raises SheetError above 32,000 px a side or 300 megapixels.
    """
    width = max(1, math.ceil((box[2] - box[0]) * scale - NOISE))
    height = max(1, math.ceil((box[3] - box[1]) * scale - NOISE))
    if max(width, height) > MAX_SIDE or width * height > MAX_PIXELS:
        raise SheetError(
            f"That would be {width:,} × {height:,} px; {MAX_SIDE:,} px a side and "
            f"{MAX_PIXELS / 1e6:.0f} megapixels are the most.",
            "Type a smaller size, or fewer px per inch.",
            "size",
        )
    return width, height


def read_resolution(sheet: Sheet, text: str) -> float:
    """Return the px per inch a person typed, the sheet's own where the text is empty. Raises SheetError."""
    if not text.strip():
        return sheet.resolution
    resolution = parse(text, "resolution", field="size", example="300")
    if not 1 <= resolution <= 10_000:
        raise SheetError("The resolution must be from 1 to 10,000 px per inch.", "Type a number like 300.", "size")
    return resolution


def _scale(sheet: Sheet, order: Order, box: Box) -> tuple[float, float]:
    """Return px per sheet unit, and the px per inch that the file tells. Raises SheetError."""
    if order.by == "resolution" or not order.size.strip():
        resolution = read_resolution(sheet, order.size if order.by == "resolution" else "")
        return resolution / sheet.resolution, resolution
    if order.by == "factor":
        factor = parse(order.size, "factor", field="size", whole=1.0, example="2 or 50 %")
        if not 0.001 <= factor <= 1000:
            raise SheetError("The factor must be from 0.001 to 1,000.", "Type a number like 2 or 50 %.", "size")
        return factor, factor * sheet.resolution
    side = box[2] - box[0] if order.by == "width" else box[3] - box[1]
    px = parse_length(order.size, order.by, field="size", unit="px", resolution=sheet.resolution, whole=side)
    if px < 1:
        raise SheetError(f"The {order.by} must be 1 px or more.", "Type a larger number.", "size")
    scale = px / side
    # with a unit it is a real size, which the file then has at the sheet's own px per inch
    real = re.search(r"mm|cm|in|pt", order.size, re.IGNORECASE)
    return scale, sheet.resolution if real else scale * sheet.resolution


def _file(sheet: Sheet, order: Order, items: tuple[Item, ...], box: Box) -> Delivered:
    margin = 0.0
    if order.margin.strip():
        margin = parse_length(order.margin, "margin", unit=sheet.unit, resolution=sheet.resolution)
        if not 0 <= margin <= 10 * max(sheet.width, sheet.height):
            raise SheetError("The margin must be 0 or wider.", "Type a number like 5 or 3mm.", "margin")
    x0, y0, x1, y1 = box
    box = (x0 - margin, y0 - margin, x1 + margin, y1 + margin)
    scale, resolution = _scale(sheet, order, box)
    return Delivered(items, box, scale, resolution, *pixel_size(box, scale))


def delivered(sheet: Sheet, resolution: float, only: Item | None = None) -> Delivered:
    """Return what is delivered of the sheet, or of one item, at `resolution` px per inch. Raises SheetError."""
    order = Order(size=repr(resolution))
    return _file(sheet, order, () if only is None else (only,), delivered_box(sheet, only))


def part_of(what: Delivered, x: float, y: float, width: int, height: int) -> Delivered:
    """Return the part of a file about a place of the sheet: so many of its own px, fewer where the file is smaller."""
    width, height = min(width, what.width), min(height, what.height)
    across = math.floor((x - what.box[0]) * what.scale) - width // 2
    down = math.floor((y - what.box[1]) * what.scale) - height // 2
    x0 = what.box[0] + max(0, min(what.width - width, across)) / what.scale
    y0 = what.box[1] + max(0, min(what.height - height, down)) / what.scale
    box = (x0, y0, x0 + width / what.scale, y0 + height / what.scale)
    return Delivered(what.items, box, what.scale, what.resolution, width, height)


def frames_of(items: Iterable[Item]) -> Iterator[Piece]:
    """Give every frame and pane among the items that is not hidden, at any depth, lowest first."""
    for item in items:
        if item.hidden:
            continue
        if isinstance(item, Group):
            yield from frames_of(item.items)
        elif isinstance(item, Piece) and item.photos:
            yield item


def ordered(sheet: Sheet, order: Order) -> list[Delivered]:
    """Return the files that are asked for. Raises SheetError where nothing shows, or where it would be too large."""
    what = order.what or ("chosen" if order.ids else "sheet")
    if what == "each":
        frames = list(frames_of(present(sheet, order.ids) or sheet.items))
        shown = [(f, box) for f in frames if (box := visible_box(f)) is not None]
        if not shown:
            raise SheetError("There is no frame to deliver.", "Put a photo into an outline first.", "what")
        if len(shown) > MAX_FILES:
            raise SheetError(f"Those are {len(shown):,} files; {MAX_FILES:,} are the most.", "Choose some.", "what")
        files = [_file(sheet, order, (f,), box) for f, box in shown]
        if sum(f.width * f.height for f in files) > 4 * MAX_PIXELS:
            raise SheetError("Those files would be too large together.", "Type a smaller size.", "size")
        return files
    if what == "chosen":
        items = tuple(i for i in sheet.items if i.id in set(order.ids))
        boxes = [b for i in items if (b := visible_box(i)) is not None]
        if not boxes:
            raise SheetError("Nothing that shows is chosen.", "Choose a piece, a frame or a photo.", "what")
        return [_file(sheet, order, items, join_boxes(boxes))]
    if what != "sheet":
        item = find(sheet, what)
        return [_file(sheet, order, (item,), delivered_box(sheet, item))]
    bleed = sheet.bleed if order.extent == "bleed" else 0.0
    if order.extent == "trimmed":
        return [_file(sheet, order, (), delivered_box(sheet))]
    return [_file(sheet, order, (), (-bleed, -bleed, sheet.width + bleed, sheet.height + bleed))]


# -- names of files

_TOKENS: Final = ("project", "name", "number", "width", "height")
_OF_RUNS: Final = (*_TOKENS, "photo")
_TOKEN: Final = re.compile(r"\{([^{}]*)\}")


def _clean(text: str) -> str:
    return re.sub(r"[^\w.]+", "-", text.strip()).strip("-._").lower()[:100]


def file_names(
    pattern: str, project: str, files: Sequence[Delivered], photos: Sequence[str] | None = None
) -> list[str]:
    """Return a name for each file, without its ending, by a pattern such as "{project} {name}"; no two are alike.

    For a run `photos` are the names of the photos, without their endings, which "{photo}" stands for.

    Raises SheetError for a word in braces that means nothing.
    """
    for token in _TOKEN.findall(pattern):
        if token not in (known_tokens := _TOKENS if photos is None else _OF_RUNS):
            known = ", ".join(f"{{{t}}}" for t in known_tokens)
            raise SheetError(f"“{{{token[:30]}}}” means nothing in a name.", f"Use {known}.", "pattern")
    digits = len(str(len(files)))
    taken: set[str] = set()
    names = []
    for number, file in enumerate(files, 1):
        values = {
            "project": project,
            "name": file.name,
            "number": f"{number:0{digits}}",
            "width": str(file.width),
            "height": str(file.height),
            "photo": photos[number - 1] if photos is not None else "",
        }
        name = stem = _clean(_TOKEN.sub(lambda m, values=values: values[m[1]], pattern)) or "gouge"  # type: ignore[misc]
        again = 2
        while name in taken:
            name, again = f"{stem}-{again}", again + 1
        taken.add(name)
        names.append(name)
    return names


def quality_of(order: Order) -> int:
    """Return the quality a person typed, 1 to 100. Raises SheetError."""
    return parse_count(order.quality or "90", "quality", 1, 100)


def ground_of(sheet: Sheet, order: Order) -> str:
    """Return the colour that what is transparent lies on, where a format needs one: the backdrop, else white."""
    if order.ground.strip():
        return check_color(order.ground, "ground") or "#ffffff"
    return sheet.backdrop or "#ffffff"
