"""Commands: each takes a sheet and gives a new one, or says why it cannot and what to do.

    apply(sheet, "combine", {"ids": ["i1", "i2"], "operation": "union"}) -> Outcome

A command is a frozen struct with typed fields (its arguments) and a `run`. The name in
the registry is what a page sends.
"""

from . import arranging, cells, changing, combining, cutting, details, drawing, framing, noding, ruling, shaping
from .base import COMMANDS, Command, Outcome, apply

__all__ = [
    "COMMANDS",
    "Command",
    "Outcome",
    "apply",
    "arranging",
    "cells",
    "changing",
    "combining",
    "cutting",
    "details",
    "drawing",
    "framing",
    "noding",
    "ruling",
    "shaping",
]
