"""Sheets to start from.

ISO 216 gives A4 and A5; ANSI Y14.1 gives Letter; 1280×720 is the common size of a
video cover and 300 px per inch the common practice for print in the hand.
"""

from typing import Final, NamedTuple

from .errors import SheetError
from .lengths import UNITS, parse, parse_length
from .model import Sheet

__all__ = ["SIZES", "Size", "new_sheet", "MAX_SIDE", "check_color"]

MAX_SIDE: Final = 100_000.0
"""Longest side of a sheet in px."""


class Size(NamedTuple):
    """A named size in its own unit."""

    key: str
    name: str
    width: float
    height: float
    unit: str
    resolution: float


SIZES: Final = (
    Size("a4", "A4", 210, 297, "mm", 300),
    Size("a5", "A5", 148, 210, "mm", 300),
    Size("letter", "Letter", 8.5, 11, "in", 300),
    Size("square", "Square 2000 px", 2000, 2000, "px", 300),
    Size("cover", "Video cover", 1280, 720, "px", 96),
    Size("10x15", "10 × 15 cm", 10, 15, "cm", 300),
)


def check_color(text: str | None, field: str) -> str | None:
    """Return #rrggbb in lower case, or None for none. Raises SheetError for anything else."""
    if text is None or text in ("", "none"):
        return None
    t = text.strip().lower()
    digits = t[1:] if t.startswith("#") else t
    if len(digits) == 3:
        digits = "".join(c * 2 for c in digits)
    if len(digits) != 6 or any(c not in "0123456789abcdef" for c in digits):
        raise SheetError(f"“{text[:30]}” is no colour.", "Type six digits like #b5432a, or none.", field)
    return f"#{digits}"


def new_sheet(
    width: str | float,
    height: str | float,
    unit: str = "px",
    resolution: str | float = 300,
    backdrop: str | None = None,
) -> Sheet:
    """Return an empty sheet. Raises SheetError naming the field that is wrong."""
    if unit not in UNITS:
        raise SheetError(f"“{unit[:20]}” is no unit.", f"Use {', '.join(UNITS)}.", "unit")
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
    return Sheet(sides[0], sides[1], unit, ppi, backdrop=check_color(backdrop, "backdrop"))
