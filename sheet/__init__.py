"""The document: a sheet is a value, and a command makes a new sheet."""

from .commands import COMMANDS, Command, Outcome, apply, perform, read
from .errors import SheetError
from .model import CutList, Ellipse, Item, Paint, Photo, Piece, Plain, Rectangle, Sheet, Step
from .sizes import SIZES, new_sheet
from .store import dump, load

__all__ = [
    "COMMANDS",
    "Command",
    "SIZES",
    "CutList",
    "Ellipse",
    "Item",
    "Outcome",
    "Paint",
    "Photo",
    "Piece",
    "Plain",
    "Rectangle",
    "Sheet",
    "SheetError",
    "Step",
    "apply",
    "dump",
    "load",
    "new_sheet",
    "perform",
    "read",
]
