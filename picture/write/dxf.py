"""Outlines as DXF for cutters and lasers: in mm, y upwards, each item on its own layer. ezdxf writes the file.

DXF Reference (release 2018): SPLINE, LWPOLYLINE with bulges, $INSUNITS.
"""

import io
import math
import re
from collections.abc import Iterator
from typing import TYPE_CHECKING, Final

import numpy as np

from outline import Matrix, Path
from outline.curves.measure import point_at
from picture.draw.raster import Loader
from sheet.document.errors import SheetError
from sheet.document.model import Item, Sheet
from sheet.export.order import Order
from sheet.export.sizes import Exported
from sheet.geometry import geometry
from sheet.reading.lengths import parse_length, px_per

if TYPE_CHECKING:
    from ezdxf.document import Drawing
    from ezdxf.layouts.layout import Modelspace

__all__ = ["export_dxf"]

_DEEPEST: Final = 12
"""How often a curve may be halved for its arcs to be within the tolerance."""
_SAMPLES: Final = np.linspace(0.0, 1.0, 17)

Vertex = tuple[float, float, float]
"""The start of a segment, and its bulge: the tangent of a quarter of the arc's angle."""


def export_dxf(sheet: Sheet, what: Exported, load: Loader, order: Order) -> bytes:
    """Return the outlines of an export as DXF, curves as exact splines, or as arcs within a
    tolerance. Raises SheetError if there are none."""
    tolerance = parse_length(order.tolerance, "tolerance", unit="mm", resolution=sheet.resolution) / px_per(
        "mm", sheet.resolution
    )
    if not 0.001 <= tolerance <= 10:
        raise SheetError("The tolerance must be from 0.001 to 10 mm.", "Type 0.05, for example.", "tolerance")
    # imported late: it takes a second, which every server process would spend
    from ezdxf import filemanagement, units
    from ezdxf._options import options

    # the same export is the same file, byte for byte
    options.write_fixed_meta_data_for_testing = True
    drawing = filemanagement.new("R2010", units=units.MM)
    mm = 25.4 * what.scale / what.resolution
    x0, _, _, y1 = what.box
    m = Matrix(mm, 0.0, 0.0, -mm, -x0 * mm, y1 * mm)
    count = 0
    for item in what.items or sheet.items:
        paths = list(_outlines(item))
        if not paths:
            continue
        layer = _layer(drawing, item.name)
        for path in paths:
            for part in path.transform(m).subpaths:
                _add(drawing.modelspace(), part, layer, tolerance if order.curves == "arcs" else 0.0)
                count += 1
    if not count:
        raise SheetError("There is no outline in it.", "Select an outline, or export another format.", "what")
    out = io.StringIO()
    drawing.write(out)
    return out.getvalue().encode("utf-8", "surrogateescape")


def _outlines(item: Item) -> Iterator[Path]:
    for piece in geometry.pieces_of(item):
        if not (item.hidden or piece.hidden):
            yield geometry.outline_of(piece)


def _layer(drawing: "Drawing", name: str) -> str:
    """Return an item's own layer, named after it."""
    plain = re.sub(r"[<>/\\\":;?*|=`,]", "-", name).strip()[:80] or "Outline"
    made, number = plain, 2
    while made in drawing.layers:
        made, number = f"{plain} {number}", number + 1
    drawing.layers.add(made)
    return made


def _add(space: "Modelspace", part: Path, layer: str, tolerance: float) -> None:
    """Draw one subpath: a polyline if it has no curves or they become arcs, else one spline."""
    ctrl, kind, _, closed = part.arrays
    on = {"layer": layer}
    if tolerance or not kind.any():
        vertices: list[Vertex] = []
        for row, is_curve in zip(ctrl, kind.tolist(), strict=True):
            vertices += _arcs(row, tolerance, 0.0, 1.0) if is_curve else [(*row[:2].tolist(), 0.0)]
        if not closed[0]:
            vertices.append((*ctrl[-1, 6:].tolist(), 0.0))
        space.add_lwpolyline(vertices, format="xyb", close=bool(closed[0]), dxfattribs=on)
        return
    # joined Béziers are a B-spline with triple inner knots (de Boor, A Practical Guide to Splines)
    rows = ctrl.reshape(-1, 4, 2)
    points = np.concatenate([rows[:1, 0], *rows[:, 1:]])
    knots = np.concatenate([[0.0], np.repeat(np.arange(len(rows) + 1.0), 3), [float(len(rows))]])
    spline = space.add_spline(degree=3, dxfattribs=on)
    spline.control_points = [(x, y, 0.0) for x, y in points.tolist()]
    spline.knots = knots.tolist()


def _arcs(row: np.ndarray, tolerance: float, a: float, b: float, depth: int = 0) -> list[Vertex]:
    """Return a part of a curve as arcs through its ends and middle, halved until within the tolerance."""
    p = point_at(row, a + (b - a) * _SAMPLES)
    (x0, y0), (x1, y1), (x2, y2) = p[0], p[8], p[16]
    chord = math.hypot(x2 - x0, y2 - y0)
    away = np.abs((p[:, 0] - x0) * (y2 - y0) - (p[:, 1] - y0) * (x2 - x0)).max() / max(chord, 1e-300)
    off, bulge, turn = (float(away) if chord else float(np.hypot(*(p - p[0]).T).max())), 0.0, 0.0
    # straight to a hundredth of the tolerance is a line
    if chord and off > tolerance / 100:
        area = (x1 - x0) * (y2 - y0) - (y1 - y0) * (x2 - x0)
        s1, s2 = (x1 - x0) ** 2 + (y1 - y0) ** 2, chord * chord
        if abs(area) > 1e-6 * s2:
            cx = x0 + (s1 * (y2 - y0) - s2 * (y1 - y0)) / (2 * area)
            cy = y0 + (s2 * (x1 - x0) - s1 * (x2 - x0)) / (2 * area)
            off = float(np.abs(np.hypot(*(p - (cx, cy)).T) - math.hypot(x0 - cx, y0 - cy)).max())
            turn = math.remainder(math.atan2(y2 - cy, x2 - cx) - math.atan2(y0 - cy, x0 - cx), math.tau)
            # the sign follows the middle: to the right of the chord, the arc turns left
            if (turn > 0) == (area > 0):
                turn -= math.copysign(math.tau, turn)
            bulge = math.tan(turn / 4)
    if depth < _DEEPEST and (off > tolerance or abs(turn) > math.pi):
        middle = (a + b) / 2
        return _arcs(row, tolerance, a, middle, depth + 1) + _arcs(row, tolerance, middle, b, depth + 1)
    return [(float(x0), float(y0), bulge)]
