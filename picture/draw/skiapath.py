"""Paths as Skia's, for drawing and for the extent of strokes."""

from typing import Final

import skia

from outline import Matrix, Path
from sheet.document.model import Fill, Gradient, Paint

__all__ = ["to_skia", "stroke_paint", "fill_color", "fill_paint", "skia_matrix"]

MITER_LIMIT = 4.0
"""The initial value of stroke-miterlimit in SVG 2, so that the file and the raster agree."""


def to_skia(path: Path) -> skia.Path:
    """Return `path` as a Skia path under its fill rule."""
    out = skia.PathBuilder() if not hasattr(skia.Path, "moveTo") else skia.Path()
    ctrl, kind, starts, closed = path.arrays
    rows = ctrl.tolist()
    kinds = kind.tolist()
    for k, is_closed in enumerate(closed.tolist()):
        a, b = int(starts[k]), int(starts[k + 1])
        out.moveTo(rows[a][0], rows[a][1])
        for i in range(a, b):
            r = rows[i]
            if kinds[i] == 0:
                if not (is_closed and i == b - 1):
                    out.lineTo(r[6], r[7])
            else:
                out.cubicTo(*r[2:])
        if is_closed:
            out.close()
    even = path.fill_rule == "evenodd"
    out.setFillType(skia.PathFillType.kEvenOdd if even else skia.PathFillType.kWinding)
    return out


def fill_color(text: str, opacity: float = 1.0) -> int:
    """Return #rrggbb with an opacity as a Skia colour."""
    r, g, b = (int(text[k : k + 2], 16) for k in (1, 3, 5))
    color: int = skia.ColorSetARGB(round(255 * opacity), r, g, b)
    return color


def skia_matrix(m: Matrix) -> skia.Matrix:
    """Return a map as a Skia matrix."""
    return skia.Matrix.MakeAll(m.a, m.c, m.e, m.b, m.d, m.f, 0, 0, 1)


_SPREADS: Final = {
    "pad": skia.TileMode.kClamp,
    "reflect": skia.TileMode.kMirror,
    "repeat": skia.TileMode.kRepeat,
}


def _shader(gradient: Gradient) -> skia.Shader:
    colours = [fill_color(s.color, s.opacity) for s in gradient.stops]
    places = [s.at for s in gradient.stops]
    more = (colours, places, _SPREADS[gradient.spread], 0, skia_matrix(gradient.placing))
    if gradient.kind == "linear":
        return skia.GradientShader.MakeLinear([(0, 0), (1, 0)], *more)
    return skia.GradientShader.MakeTwoPointConical(gradient.focus, gradient.focal, (0, 0), 1, *more)


def fill_paint(fill: Fill) -> skia.Paint:
    """Return the Skia paint of an area."""
    if isinstance(fill, Gradient):
        return skia.Paint(Shader=_shader(fill), AntiAlias=True, Dither=False)
    return skia.Paint(Color=fill_color(fill), AntiAlias=True)


_JOINS = {"miter": skia.Paint.kMiter_Join, "round": skia.Paint.kRound_Join, "bevel": skia.Paint.kBevel_Join}

_CAPS = {"butt": skia.Paint.kButt_Cap, "round": skia.Paint.kRound_Cap, "square": skia.Paint.kSquare_Cap}


def stroke_paint(paint: Paint, times: float = 1.0) -> skia.Paint | None:
    """Return the Skia paint of the stroke, its width multiplied, or None if there is none."""
    if paint.stroke is None or paint.stroke_width <= 0:
        return None
    pen = fill_paint(paint.stroke)
    pen.setStyle(skia.Paint.kStroke_Style)
    pen.setStrokeWidth(paint.stroke_width * times)
    pen.setStrokeMiter(MITER_LIMIT)
    pen.setStrokeJoin(_JOINS[paint.join])
    pen.setStrokeCap(_CAPS[paint.cap])
    if paint.dashes:
        # an odd list of lengths is repeated (SVG 2, 13.5.6)
        lengths = list(paint.dashes) * (1 + len(paint.dashes) % 2)
        pen.setPathEffect(skia.DashPathEffect.Make(lengths, 0.0))
    return pen
