"""Colours and paint as SVG tells them (SVG 2, 13; CSS Color 4)."""

import re
from functools import lru_cache
from typing import Final

from svgelements import Color

from sheet.model import BLENDS, CAPS, Paint

from .svgcss import length, numbers, share

__all__ = ["PAINTING", "css_colour", "paint_of", "plain_paint", "shares"]

PAINTING: Final = (
    "fill", "stroke", "stroke-width", "fill-opacity", "stroke-opacity", "stroke-linejoin", "stroke-linecap",
    "stroke-dasharray",
)  # fmt: skip


@lru_cache(maxsize=8192)
def plain_paint(told: tuple[str, ...], opacity: str | None, blend: str | None, scale: float) -> Paint | None:
    """Return the paint where its colours are those of CSS by themselves; None where they are more than that."""
    try:
        fill, stroke = (None if text in ("none", "transparent") else css_colour(text)[0] for text in told[:2])
    except (ValueError, TypeError):
        return None
    if any(text == "currentColor" or text.startswith("url(") for text in told[:2]):
        return None
    return paint_of(fill, stroke, told, opacity, blend, scale)


def paint_of(
    fill: str | None, stroke: str | None, told: tuple[str, ...], opacity: str | None, blend: str | None, scale: float
) -> Paint:
    """Return the paint of two colours and of what is told (as `PAINTING` names it); `scale` is sheet px for each px."""
    style = dict(zip(PAINTING, told, strict=True))
    width = length(style["stroke-width"], 100.0, 1.0) * scale
    of_fill, of_border = shares(style)
    cap = style["stroke-linecap"] if style["stroke-linecap"] in CAPS else "butt"
    join = {"round": "round", "bevel": "bevel"}.get(style["stroke-linejoin"], "miter")
    dashes = tuple(v * scale for v in numbers(style["stroke-dasharray"]) if v >= 0)[:12]
    if stroke is None or width <= 0 or sum(dashes) <= 0:
        dashes = ()
    return Paint(
        fill=fill,
        stroke=stroke if width > 0 else None,
        stroke_width=min(1e5, max(0.0, width)) or 1.0,
        opacity=max(0.0, min(1.0, share(opacity) * (of_fill if fill else of_border))),
        blend=blend if blend in BLENDS else "normal",  # type: ignore[arg-type]
        join=join,  # type: ignore[arg-type]
        cap=cap,  # type: ignore[arg-type]
        dashes=dashes,
    )


@lru_cache(maxsize=4096)
def css_colour(text: str) -> tuple[str | None, float]:
    """Return a colour as #rrggbb, None for none, and how opaque it is. Raises ValueError.

    Numbers may stand apart by spaces (CSS Color 4, 5.1).
    """
    called = re.match(r"(rgb|hsl)a?\(([^)]*)\)", text.strip(), re.IGNORECASE)
    if called:
        numbers_told = [v for v in re.split(r"[\s,/]+", called[2].strip()) if v]
        text = f"{called[1]}{'a' if len(numbers_told) > 3 else ''}({', '.join(numbers_told)})"
    colour = Color(text)
    if colour.value is None:
        return None, 1.0
    return f"#{colour.red:02x}{colour.green:02x}{colour.blue:02x}", float(colour.alpha) / 255


def shares(style: dict[str, str]) -> tuple[float, float]:
    """Return how opaque fill and border are, by their colours and by what is declared for them."""

    def alpha(text: str) -> float:
        try:
            return 1.0 if text.startswith("url(") else css_colour(text)[1]
        except (ValueError, TypeError):
            return 1.0

    return share(style["fill-opacity"]) * alpha(style["fill"]), share(style["stroke-opacity"]) * alpha(style["stroke"])
