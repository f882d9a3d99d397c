"""Sheets to start from.

ISO 216 gives A4 and A5; ANSI Y14.1 gives Letter; 1280×720 is the common size of a
video cover and 300 px per inch the common practice for print in the hand.
"""

from typing import Final, NamedTuple, cast, get_args

from msgspec.structs import replace

from sheet.document.errors import SheetError
from sheet.document.model import Sheet, Unit

from .colours import CURRENT, read_css
from .lengths import UNITS, parse, parse_length, px_per, read_length

__all__ = ["MAX_SIDE", "SIZES", "PresetSize", "check_color", "fixed_size", "new_sheet"]

MAX_SIDE: Final = 100_000.0
"""Longest side of a sheet in px."""


class PresetSize(NamedTuple):
    """A named size in its own unit."""

    key: str
    name: str
    width: float
    height: float
    unit: str
    resolution: float


SIZES: Final = (
    PresetSize("a4", "A4", 210, 297, "mm", 300),
    PresetSize("a5", "A5", 148, 210, "mm", 300),
    PresetSize("letter", "Letter", 8.5, 11, "in", 300),
    PresetSize("square", "Square 2000 px", 2000, 2000, "px", 72),
    PresetSize("cover", "Video cover", 1280, 720, "px", 96),
    PresetSize("10x15", "10 × 15 cm", 10, 15, "cm", 300),
)


def check_color(text: str | None, field: str) -> str | None:
    """Return #rrggbb in lower case, or None for none. Raises SheetError for anything else.

    Colours are hex digits, with or without #, rgb(), hsl() or a name of CSS Color 4.

    >>> check_color("B5432A", "fill"), check_color("rgb(10, 20, 30)", "fill"), check_color("beige", "fill")
    ('#b5432a', '#0a141e', '#f5f5dc')
    """
    if text is None or text.strip().lower() in ("", "none"):
        return None
    typed = text.strip().lower()
    wrong = SheetError(
        f"“{text[:30]}” is not a colour.", "Type it like #b5432a, rgb(181, 67, 42) or beige; or none.", field
    )
    if len(typed) > 60:
        raise wrong
    for one in (typed, f"#{typed}"):
        colour = read_css(one)
        if colour is not None and colour[0] != CURRENT and colour[1] == 1.0:
            return colour[0]
    raise wrong


def new_sheet(
    width: str | float,
    height: str | float,
    unit: str = "px",
    resolution: str | float = 300,
    backdrop: str | None = None,
) -> Sheet:
    """Return an empty sheet. Raises SheetError naming the field that is wrong."""
    if unit not in get_args(Unit):
        raise SheetError(f"“{unit[:20]}” is not a unit.", f"Use {', '.join(UNITS)}.", "unit")
    ppi = parse(resolution, "resolution")
    if not 1 <= ppi <= 10_000:
        raise SheetError(
            "The resolution must be from 1 to 10,000 px per inch.", "300 suits print in the hand.", "resolution"
        )
    sides = []
    for field, text in (("width", width), ("height", height)):
        px = parse_length(text, field, unit=unit, resolution=ppi)
        if px < 1:
            raise SheetError(f"The {field} must be at least 1 px.", "Type a larger number.", field)
        if px > MAX_SIDE:
            raise SheetError(
                f"The {field} would be {px:,.0f} px; {MAX_SIDE:,.0f} is the most.",
                "Type a smaller number or fewer px per inch.",
                field,
            )
        sides.append(px)
    made = Sheet(sides[0], sides[1], cast(Unit, unit), ppi, backdrop=check_color(backdrop, "backdrop"))
    # the hand rounds to whole px if the unit is px, else to a tenth of a mm
    return replace(made, round_to=1.0 if unit == "px" else px_per("mm", ppi) / 10)


def fixed_size(
    sheet: Sheet, width: str, height: str, proportion: str
) -> tuple[float | None, float | None, float | None]:
    """Return the fixed width and height (px) and the proportion (width over height) that were typed, None if free.

    A proportion is typed as 3:2, 3/2 or 1.5. Raises SheetError naming the field that is wrong.
    """
    sides: list[float | None] = []
    for name, text, whole in (("width", width, sheet.width), ("height", height, sheet.height)):
        if not text.strip():
            sides.append(None)
            continue
        field = f"fixed_{name[0]}"
        px = read_length(sheet, name, text, whole, field)
        if px <= 0:
            raise SheetError(f"The {name} must be greater than 0.", "Type a larger number, or nothing.", field)
        sides.append(px)
    share = None
    if proportion.strip():
        share = parse(proportion.replace(":", "/"), "proportion", field="proportion", example="3:2 or 1.5")
        if share <= 0:
            raise SheetError("The proportion must be greater than 0.", "Type it like 3:2, or nothing.", "proportion")
    return sides[0], sides[1], share
