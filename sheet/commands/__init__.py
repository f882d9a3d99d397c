"""Commands: each takes a sheet and gives a new one, or says why it cannot and what to do.

    apply(sheet, "combine", {"ids": ["i1", "i2"], "operation": "union"}) -> Outcome

A command is a frozen struct with typed fields (its arguments) and a `run`. The name in
the registry is what a page sends.
"""

from . import (
    arranging,
    bringing,
    cells,
    changing,
    combining,
    copying,
    cutting,
    details,
    drawing,
    framing,
    noding,
    panes,
    refitting,
    ruling,
    setting,
    shaping,
    shelving,
    silhouettes,
)
from .base import COMMANDS, Command, Outcome, apply, perform, read

__all__ = [
    "COMMANDS",
    "Command",
    "Outcome",
    "apply",
    "arranging",
    "bringing",
    "cells",
    "changing",
    "combining",
    "copying",
    "cutting",
    "details",
    "drawing",
    "framing",
    "noding",
    "panes",
    "perform",
    "read",
    "refitting",
    "ruling",
    "setting",
    "shaping",
    "shelving",
    "silhouettes",
]
