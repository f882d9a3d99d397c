"""Commands: each takes a sheet and returns a new one, or says why it cannot and what to do.

    apply(sheet, "combine", {"ids": ["i1", "i2"], "operation": "union"}) -> Outcome

A command is a frozen struct with typed fields (its arguments) and a `run`. The name in
the registry is what a page sends.
"""

from . import arrange, changing, cut, draw, painting, photo, setting, shelving
from .base import COMMANDS, Command, Outcome, apply, perform, read

__all__ = [
    "COMMANDS",
    "Command",
    "Outcome",
    "apply",
    "arrange",
    "changing",
    "cut",
    "draw",
    "painting",
    "perform",
    "photo",
    "read",
    "setting",
    "shelving",
]
