"""Lining things up: a panel that is the same whatever is chosen, and stands in the page itself."""

from .draw import NODE_SIDES

__all__ = ["ALIGNS"]

ALIGNS = (
    *((side, name, f"Align {side}") for side, name in NODE_SIDES),
    ("both", "arrows-collapse", "Centre both ways"),
)
