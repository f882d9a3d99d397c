"""Edge runs: a repeated edge along a line or along the sides of another piece."""

from typing import Annotated, Any, Literal

import msgspec
from msgspec import Meta
from msgspec.structs import replace

import outline
from outline import Path
from sheet.document.limits import Index

from .base import Field, Kind, Tool
from .ellipse import ELLIPSE, Ellipse
from .freehand import FREEHAND, Freehand
from .plain import CURVE, Plain
from .polygon import POLYGON, Polygon
from .rectangle import RECTANGLE, Rectangle
from .star import STAR, Star

__all__ = ["EDGE", "EdgeRun"]

_BASES: dict[type, Kind] = {
    Rectangle: RECTANGLE,
    Ellipse: ELLIPSE,
    Polygon: POLYGON,
    Star: STAR,
    Plain: CURVE,
    Freehand: FREEHAND,
}
"""The shapes that an edge may run along."""

Teeth = Annotated[float, Meta(gt=0, le=1e7)]


class EdgeRun(msgspec.Struct, frozen=True, tag="edge"):
    """A repeated edge along `base`: all its sides, or those numbered; `depth` None follows from the pitch."""

    base: Rectangle | Ellipse | Polygon | Star | Plain | Freehand
    kind: Literal["zigzag", "wave", "scallop", "torn", "perforated"]
    pitch: Teeth
    flank: Annotated[float, Meta(ge=5, le=85)] = 45.0
    depth: Teeth | None = None
    seed: Annotated[int, Meta(ge=0, le=9999)] = 1
    sides: Annotated[tuple[Index, ...], Meta(max_length=5000)] | None = None
    inward: bool = False


def _base_path(base: Any) -> Path:
    return _BASES[type(base)].path(base)


def _path(shape: EdgeRun) -> Path:
    return outline.edge_run(
        _base_path(shape.base), shape.kind, shape.pitch, flank=shape.flank, depth=shape.depth,
        seed=shape.seed, sides=shape.sides, inward=shape.inward,
    )  # fmt: skip


def _depth(shape: EdgeRun) -> float:
    """Return the depth that suits the pitch: that of one tooth on a straight line."""
    line = Path.from_svg(f"M0 0H{shape.pitch!r}")
    box = outline.edge_run(line, shape.kind, shape.pitch, seed=shape.seed).bounds
    height = box[3] - box[1] if box else 0.0
    return {"wave": height / 2, "torn": shape.pitch / 2}.get(shape.kind, height)


def _value(shape: EdgeRun, field: str) -> Any:
    value = getattr(shape, field)
    return _depth(shape) if value is None and field == "depth" else value


def _weight(shape: EdgeRun) -> int:
    """Return about how many nodes its teeth have; a high estimate along a freehand line, which is fitted first."""
    size = _BASES[type(shape.base)].box(shape.base)
    if size is None and isinstance(shape.base, Freehand):
        return 2000
    if size is None:
        x0, y0, x1, y1 = _base_path(shape.base).bounds or (0.0, 0.0, 0.0, 0.0)
        # a line may cross its box once per segment
        turns = max(1.0, CURVE.weight(shape.base) / 2)
        size = turns * (x1 - x0), turns * (y1 - y0)
    return 8 + int(min(1e6, 8 * (size[0] + size[1]) / shape.pitch))


def _needless(shape: EdgeRun) -> tuple[str, ...]:
    out = [{"zigzag": "depth", "torn": "flank"}.get(shape.kind, "flank")]
    return (*out, "seed") if shape.kind != "torn" else tuple(out)


def _stretched(shape: EdgeRun, sx: float, sy: float) -> EdgeRun | None:
    base = _BASES[type(shape.base)].stretched(shape.base, sx, sy)
    return None if base is None else replace(shape, base=base)


def _grown(shape: EdgeRun, s: float) -> EdgeRun:
    return replace(shape, pitch=shape.pitch * s, depth=None if shape.depth is None else shape.depth * s)


EDGE = Kind(
    "edge",
    "Edge run",
    EdgeRun,
    path=_path,
    fields=(
        Field("kind", "Edge", "choice", choices=outline.EDGES),
        Field("pitch", "Tooth length", "length", 0.01, 1e5, short="Tooth"),
        Field("flank", "Flank angle", "degrees", 5, 85, short="Flank"),
        Field("depth", "Depth", "length", 0.01, 1e5, short="Depth"),
        Field("seed", "Seed", "count", 0, 9999),
        Field("inward", "Inwards", "switch"),
    ),
    tool=Tool(
        "edge",
        "z",
        '<path class="line" d="M2 12L5.3 6 8.6 12 12 6 15.3 12 18.6 6 22 12"/>',
        (("Drag", "along a line"), ("Click", "along a side"), ("Shift", "all sides, or steps of 15°")),
    ),
    value=_value,
    weight=_weight,
    needless=_needless,
    stretched=_stretched,
    grown=_grown,
)
