"""Commands on guides and grids."""

from msgspec.structs import replace

from sheet.commands.base import Command, Outcome, register
from sheet.document.errors import SheetError
from sheet.document.limits import MAX_GUIDES, Index, Place, Typed
from sheet.document.model import Axis, GridKind, Guide, Sheet
from sheet.reading.lengths import read_length


def _free(sheet: Sheet) -> None:
    if sheet.guides_locked:
        unlock = ("Unlock the guides", "lock_guides", {"on": False})
        raise SheetError("The guides are locked.", "Unlock them first.", "guides", unlock)


@register
class SetGuide(Command, frozen=True):
    """Add a guide at a distance (px, or a text with units), or move guide `number` there."""

    command = "set_guide"
    axis: Axis
    at: Place | Typed
    number: Index | None = None

    def run(self, sheet: Sheet) -> Outcome:
        _free(sheet)
        at = read_length(sheet, "position of the guide", self.at, sheet.width if self.axis == "x" else sheet.height)
        guides = list(sheet.guides)
        guide = Guide(self.axis, round(at, 6))
        if self.number is None:
            if len(guides) >= MAX_GUIDES:
                raise SheetError(f"A sheet has {MAX_GUIDES} guides at most.", "Clear some.", "guides")
            guides.append(guide)
            label = "place a guide"
        elif 0 <= self.number < len(guides):
            guides[self.number] = guide
            label = "move a guide"
        else:
            raise SheetError("That guide is gone.", "Place a new one.", "number")
        return Outcome(replace(sheet, guides=tuple(guides)), label)


@register
class DropGuide(Command, frozen=True):
    """Remove guide `number`, or all guides."""

    command = "drop_guide"
    number: Index | None = None

    def run(self, sheet: Sheet) -> Outcome:
        _free(sheet)
        if self.number is None:
            if not sheet.guides:
                raise SheetError("There are no guides.", "Drag one out of a ruler.")
            return Outcome(replace(sheet, guides=()), "clear the guides")
        if not 0 <= self.number < len(sheet.guides):
            raise SheetError("That guide is gone.", "Place a new one.", "number")
        guides = tuple(g for k, g in enumerate(sheet.guides) if k != self.number)
        return Outcome(replace(sheet, guides=guides), "remove a guide")


@register
class LockGuides(Command, frozen=True):
    """Lock or unlock all guides."""

    command = "lock_guides"
    on: bool

    def run(self, sheet: Sheet) -> Outcome:
        word = "lock the guides" if self.on else "unlock the guides"
        return Outcome(replace(sheet, guides_locked=self.on), word)


@register
class SetGrid(Command, frozen=True):
    """Set the grid, "none", "plain" or "modules", and its numbers (lengths); those left out stay."""

    command = "set_grid"
    kind: GridKind
    step: Typed = ""
    width: Typed = ""
    height: Typed = ""
    gap: Typed = ""
    margin: Typed = ""

    def run(self, sheet: Sheet) -> Outcome:
        grid = replace(sheet.grid, kind=self.kind)
        for field in ("step", "width", "height", "gap", "margin"):
            text = getattr(self, field)
            if not text.strip():
                continue
            value = read_length(sheet, field, text, sheet.height if field == "height" else sheet.width)
            least = 0.0 if field in ("gap", "margin") else 1.0
            if value < least:
                raise SheetError(
                    f"The {field} must be {'0' if least == 0 else '1 px'} or more.", "Type a larger number.", field
                )
            grid = replace(grid, **{field: value})
        if self.kind == "modules" and 2 * grid.margin >= min(sheet.width, sheet.height):
            raise SheetError("The margins leave no room for modules.", "Type a smaller margin.", "margin")
        return Outcome(replace(sheet, grid=grid), "set the grid" if self.kind != "none" else "hide the grid")
