"""The outlines of the items on a sheet, and the rules that reshape, combine and place them."""

__all__ = [
    "anchor_plan",
    "anchoring",
    "cells",
    "combination",
    "copies",
    "covering",
    "geometry",
    "gradients",
    "holes",
    "linked",
    "panes",
    "placing",
    "refit",
    "silhouettes",
    "variants",
    "visible",
]
