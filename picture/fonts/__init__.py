"""Font files of one's own: read, checked and cleaned in a process of limited memory."""

from .read import MOST_BYTES, FontFile, read_font

__all__ = ["MOST_BYTES", "FontFile", "read_font"]
