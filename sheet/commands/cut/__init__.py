"""Commands that combine, divide and change cut lists."""

from . import cells, combining, cut_lists

__all__ = ["cells", "combining", "cut_lists"]
