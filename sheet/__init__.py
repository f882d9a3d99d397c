"""The document: a sheet is a value, and a command makes a new sheet."""

from .commands import COMMANDS, Command, Outcome, apply, perform, read
from .document.errors import SheetError, refusals
from .document.model import CutList, Ellipse, Item, Paint, Photo, Piece, Plain, Rectangle, Sheet, Step
from .document.store import dump, load
from .reading.sizes import SIZES, new_sheet

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
    "refusals",
]
