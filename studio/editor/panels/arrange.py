"""Aligning: a panel that does not depend on the selection, and is part of the page itself."""

from .draw import NODE_SIDES

__all__ = ["ROWS"]

ROWS = {
    "aligns": (
        *((side, name, f"Align {side}") for side, name in NODE_SIDES),
        ("both", "arrows-collapse", "Centre both ways"),
    ),
    "spaces": (("x", "width", "distribute-horizontal"), ("y", "height", "distribute-vertical")),
    "orders": (("top", "Top"), ("up", "Up"), ("down", "Down"), ("bottom", "Bottom")),
    "flips": (
        ("across", "Flip left to right", "symmetry-vertical"),
        ("down", "Flip top to bottom", "symmetry-horizontal"),
    ),
}
"""The rows of buttons, as the template shows them."""
