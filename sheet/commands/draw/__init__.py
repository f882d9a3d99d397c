"""Commands that make pieces and change their shape."""

from . import details, drawing, nodes, shaping

__all__ = ["details", "drawing", "nodes", "shaping"]
