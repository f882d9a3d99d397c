"""Ellipses."""

import msgspec

import outline
from sheet.document.limits import Size

from .base import Kind, Tool, boxed_stretch, own_size

__all__ = ["ELLIPSE", "Ellipse"]


class Ellipse(msgspec.Struct, frozen=True, tag="ellipse"):
    """An ellipse in the box from its own origin."""

    width: Size
    height: Size


def _path(shape: Ellipse) -> outline.Path:
    rx, ry = shape.width / 2, shape.height / 2
    return outline.ellipse(rx, ry, rx, ry)


ELLIPSE = Kind(
    "ellipse",
    "Ellipse",
    Ellipse,
    path=_path,
    tool=Tool("box", "e", '<ellipse cx="12" cy="9" rx="10" ry="7"/>', (("Shift", "equal sides"),)),
    box=own_size,
    start=Ellipse,
    stretched=boxed_stretch,
)
