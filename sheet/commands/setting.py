"""Commands on the sheet itself: its size, unit, resolution, bleed and margin, and the rounding step."""

from typing import Literal

from msgspec.structs import replace

from outline import Matrix
from sheet.document.errors import SheetError
from sheet.document.limits import Ids, Typed
from sheet.document.model import Item, Photo, Sheet, Unit
from sheet.document.tree import change
from sheet.geometry import geometry, placing
from sheet.reading.lengths import parse_length, read_length, show_length
from sheet.reading.sizes import check_color, new_sheet

from .base import Command, Outcome, describe_items, register, require_selection

__all__ = ["SetSwatch", "RoundNow", "SetRounding", "SetSheet"]

SWATCHES = 48
"""The swatches of a project."""


@register
class SetSheet(Command, frozen=True):
    """Change the sheet; what is left out stays. The artwork stays in place, is centred, or is scaled with the sheet.

    Another resolution changes how many px an inch has, and the artwork keeps
    its real size; a new width or height is read in the new unit at the new resolution.
    """

    command = "set_sheet"
    width: Typed = ""
    height: Typed = ""
    unit: Unit | None = None
    resolution: Typed = ""
    bleed: Typed = ""
    margin: Typed = ""
    keep: Literal["place", "centre", "scale"] = "place"

    def run(self, sheet: Sheet) -> Outcome:
        unit = self.unit or sheet.unit
        width, height, ppi = (text.strip() or None for text in (self.width, self.height, self.resolution))
        resolution = ppi or f"{sheet.resolution!r}"
        by = new_sheet("1in", "1in", unit, resolution).resolution / sheet.resolution
        sized = new_sheet(width or f"{sheet.width * by!r}px", height or f"{sheet.height * by!r}px", unit, resolution)
        edges = {}
        for name in ("bleed", "margin"):
            text = getattr(self, name)
            value = getattr(sheet, name) * by
            if text.strip():
                value = parse_length(text, name, unit=unit, resolution=sized.resolution, whole=sized.width)
            if not 0 <= value <= min(sized.width, sized.height) / 2:
                raise SheetError(f"The {name} must be from 0 to half of the sheet.", "Type another number.", name)
            edges[name] = value
        whole = Matrix.resize(by, by)
        if self.keep == "scale":
            s = min(sized.width / (sheet.width * by), sized.height / (sheet.height * by))
            whole = Matrix.resize(s, s) @ whole
        if self.keep != "place":
            x, y = whole(sheet.width, sheet.height)
            whole = Matrix.move((sized.width - x) / 2, (sized.height - y) / 2) @ whole
        items = sheet.items
        if whole != Matrix():
            grow = self.keep == "scale" or by != 1
            items = tuple(placing.moved(i, whole, details=grow) for i in items)
        guides = tuple(replace(g, at=whole(g.at, g.at)[0 if g.axis == "x" else 1]) for g in sheet.guides)
        made = replace(
            sheet, width=sized.width, height=sized.height, unit=sized.unit, resolution=sized.resolution,
            items=items, guides=guides, round_to=sheet.round_to * by, **edges,
        )  # fmt: skip
        if made == sheet:
            raise SheetError("The sheet already has these settings.", "")
        return Outcome(made, "change the sheet")


@register
class SetRounding(Command, frozen=True):
    """Set the rounding step of drawing, moving, resizing and nodes: a length, or 0 for none."""

    command = "set_rounding"
    step: Typed

    def run(self, sheet: Sheet) -> Outcome:
        text = self.step.strip().lower()
        step = 0.0 if text in ("", "off", "none") else read_length(sheet, "step", self.step)
        if step < 0 or step > min(sheet.width, sheet.height) / 2:
            raise SheetError("The step must be from 0 to half of the sheet.", "Type a number like 1, or off.", "step")
        word = f"{show_length(step, sheet.unit, sheet.resolution)} {sheet.unit}" if step else "nothing"
        return Outcome(replace(sheet, round_to=step), f"round to {word}")


@register
class RoundNow(Command, frozen=True):
    """Round the edges of the selection now; of a photo, whose proportions stay, only the place."""

    command = "round_now"
    ids: Ids

    def run(self, sheet: Sheet) -> Outcome:
        chosen = require_selection(sheet, self.ids, "round")
        step = sheet.round_to
        if step <= 0:
            raise SheetError("Rounding is off.", "Choose a step to round to first.", "step")
        moves: dict[str, Matrix] = {}
        for item in chosen:
            m = rounding(item, step)
            if m != Matrix():
                moves[item.id] = m
        if not moves:
            raise SheetError("Nothing would change: everything is already on the step.", "")
        sheet = change(sheet, list(moves), lambda i: placing.moved(i, moves[i.id]))
        return Outcome(sheet, f"round {describe_items(chosen)}", tuple(self.ids))


def rounding(item: Item, step: float) -> Matrix:
    """Return the map that puts the box of an item on multiples of `step`; it is never narrower than one step."""
    x0, y0, x1, y1 = geometry.box_of(item)
    a, b = placing.on_step(x0, step), placing.on_step(y0, step)
    sides = []
    for low, high, at in ((x0, x1, a), (y0, y1, b)):
        if high - low < 1e-9 or isinstance(item, Photo):
            sides.append(1.0)
            continue
        sides.append(max(step, placing.on_step(high - at, step)) / (high - low))
    if abs(sides[0] - 1) < 1e-12 and abs(sides[1] - 1) < 1e-12 and abs(a - x0) < 1e-9 and abs(b - y0) < 1e-9:
        return Matrix()
    return Matrix(sides[0], 0, 0, sides[1], a - sides[0] * x0, b - sides[1] * y0)


@register
class SetSwatch(Command, frozen=True):
    """Add a swatch to the project, or remove it."""

    command = "set_swatch"
    value: Typed
    on: bool = True

    def run(self, sheet: Sheet) -> Outcome:
        color = check_color(self.value, "value")
        if color is None:
            raise SheetError("“None” can’t be a swatch.", "Choose a colour first.", "value")
        if self.on and color in sheet.swatches:
            raise SheetError(f"{color} is already a swatch.", "Choose another colour.", "value")
        if not self.on and color not in sheet.swatches:
            raise SheetError(f"{color} is not among the swatches.", "Reload the page.", "value")
        kept = tuple(c for c in sheet.swatches if c != color) + ((color,) if self.on else ())
        if len(kept) > SWATCHES:
            raise SheetError(f"A project has room for {SWATCHES} swatches.", "Remove one first.", "value")
        return Outcome(replace(sheet, swatches=kept), f"{'keep' if self.on else 'let go of'} the swatch {color}")
