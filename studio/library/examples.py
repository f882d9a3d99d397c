"""The names of the examples, in the order in which they are shown."""

from typing import Final

__all__ = ["EXAMPLES"]

EXAMPLES: Final = ("Timetable card", "Window poster", "Nine windows")
