"""Plain paths: curves drawn by hand, ready outlines, and any shape whose nodes were edited."""

from typing import Literal

import msgspec

import outline
from outline import Path
from sheet.document.validation import StoredPathData

from .base import Field, Kind, Tool, path_weight

__all__ = ["CURVE", "READY", "Plain", "plain_of"]


class Plain(msgspec.Struct, frozen=True, tag="plain"):
    """A path as SVG path data."""

    d: StoredPathData
    fill_rule: Literal["nonzero", "evenodd"] = "nonzero"


def plain_of(path: Path) -> Plain:
    """Return a path as a shape, with its fill rule."""
    return Plain(path.to_svg(), "evenodd" if path.fill_rule == "evenodd" else "nonzero")


def _path(shape: Plain) -> Path:
    return Path.from_svg(shape.d, shape.fill_rule)


CURVE = Kind(
    "curve",
    "Curve",
    Plain,
    path=_path,
    weight=path_weight,
    fields=(Field("fill_rule", "Fill rule", "choice", choices=outline.path.FILL_RULES),),
    tool=Tool(
        "curve",
        "q",
        "pen",
        (("Click", "corner"), ("Drag", "handles"), ("Backspace", "take back"), ("Enter", "leave it open")),
    ),
    word="path",
)
READY = Kind(
    "ready",
    "Shapes",
    Plain,
    path=_path,
    tool=Tool(
        "box",
        "y",
        '<path d="M12 4.6C11 1.8 8.8.8 7 .8 4.8.8 3.2 2.6 3.2 5 3.2 9 7 11.6 12 17 17 11.6 20.8 9 20.8 5 '
        '20.8 2.6 19.2.8 17 .8 15.2.8 13 1.8 12 4.6Z"/>',
        (("Shift", "its own proportions"),),
    ),
    word="shape",
)
