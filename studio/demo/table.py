"""A sheet that commands are run on, without a project, for the demo and the guide."""

from typing import Any

from sheet import Sheet, apply, new_sheet
from sheet.document.library import Library

__all__ = ["Table"]


class Table:
    """A sheet that commands are run on, without a project."""

    def __init__(self, width: str, height: str, library: Library | None = None) -> None:
        self.sheet: Sheet = new_sheet(width, height, "px", "300")
        self.library = library

    def do(self, command: str, **args: Any) -> str:
        """Run a command, and return the first item of the new selection."""
        outcome = apply(self.sheet, command, args, self.library)
        self.sheet = outcome.sheet
        return next(iter(outcome.chosen), "")

    def draw(self, kind: str, x: float, y: float, width: float, height: float, name: str, **more: Any) -> str:
        """Draw a piece and name it."""
        new = self.do("draw", kind=kind, x=x, y=y, width=width, height=height, **more)
        return self.do("rename", id=new, name=name)

    def paint(self, item: str, **values: str) -> None:
        """Set paints of one item."""
        for field, value in values.items():
            self.do("paint", ids=[item], field=field, value=value)
