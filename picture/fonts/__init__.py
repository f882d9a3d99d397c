"""A person's own font files: read, checked and cleaned in a process with limited memory."""

from .read import MOST_BYTES, FontFile, read_font

__all__ = ["MOST_BYTES", "FontFile", "read_font"]
