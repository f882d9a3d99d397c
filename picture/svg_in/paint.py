"""Colours and paint of SVG (SVG 2, 13; CSS Color 4)."""

from collections.abc import Callable
from operator import itemgetter
from typing import Final
from xml.etree.ElementTree import Element

from msgspec.structs import replace

from outline import Matrix
from sheet.caching import cached, cached_if_short
from sheet.document.gradients import Fill, Gradient, mean
from sheet.document.model import BLENDS, CAPS, Paint
from sheet.geometry.geometry import Box
from sheet.reading.colours import CURRENT, read_css

from .css import length, name_of, numbers, share, url_of
from .gradients import SvgGradient, gradient_at, read_gradient
from .styles import Styles

__all__ = ["Paints", "shares"]

PAINTING: Final = (
    "fill", "stroke", "stroke-width", "fill-opacity", "stroke-opacity", "stroke-linejoin", "stroke-linecap",
    "stroke-dasharray",
)  # fmt: skip
_painting: Final = itemgetter(*PAINTING)


@cached(entries=8192)
def plain_paint(values: tuple[str, ...], opacity: str | None, blend: str | None, scale: float) -> Paint | None:
    """Return the paint if its colours are plain CSS colours; None if they are more than that."""
    try:
        fill, stroke = (None if text in ("none", "transparent") else css_colour(text)[0] for text in values[:2])
    except (ValueError, TypeError):
        return None
    if any(text.startswith("url(") for text in values[:2]):
        return None
    return paint_of(fill, stroke, values, opacity, blend, scale)


def paint_of(
    fill: str | None, stroke: str | None, values: tuple[str, ...], opacity: str | None, blend: str | None, scale: float
) -> Paint:
    """Return the paint for two colours and the values of `PAINTING`; `scale` is sheet px for each px."""
    style = dict(zip(PAINTING, values, strict=True))
    width = length(style["stroke-width"], 100.0, 1.0) * scale
    of_fill, of_border = shares(style)
    cap = style["stroke-linecap"] if style["stroke-linecap"] in CAPS else "butt"
    join = {"round": "round", "bevel": "bevel"}.get(style["stroke-linejoin"], "miter")
    dashes = tuple(v * scale for v in numbers(style["stroke-dasharray"]) if v >= 0)[:12]
    if stroke is None or width <= 0 or sum(dashes) <= 0:
        dashes = ()
    return Paint(
        # an invisible fill is none, so that the border keeps its own opacity
        fill=fill if of_fill > 0 else None,
        stroke=stroke if width > 0 else None,
        stroke_width=min(1e5, max(0.0, width)) or 1.0,
        opacity=max(0.0, min(1.0, share(opacity) * (of_fill if fill and of_fill > 0 else of_border))),
        blend=blend if blend in BLENDS else "normal",  # type: ignore[arg-type]
        join=join,  # type: ignore[arg-type]
        cap=cap,  # type: ignore[arg-type]
        dashes=dashes,
    )


@cached_if_short(entries=1024, longest=200)
def css_colour(text: str) -> tuple[str | None, float]:
    """Return a colour as #rrggbb, None for none, and its opacity. Raises ValueError if it is not one."""
    if text.strip().lower() == "none":
        return None, 1.0
    colour = read_css(text)
    if colour is None or colour[0] == CURRENT:
        raise ValueError(text)
    return colour


def shares(style: dict[str, str]) -> tuple[float, float]:
    """Return the opacities of fill and border, by their colours and their declarations."""

    def alpha(text: str) -> float:
        try:
            return 1.0 if text.startswith("url(") else css_colour(text)[1]
        except (ValueError, TypeError):
            return 1.0

    return share(style["fill-opacity"]) * alpha(style["fill"]), share(style["stroke-opacity"]) * alpha(style["stroke"])


class Paints:
    """The paints of a file; `linked` resolves an address, `report` receives what is not understood."""

    def __init__(self, styles: Styles, linked: Callable[[str], Element | None], report: Callable[[str], None]):
        self._styles, self._linked, self._report = styles, linked, report
        self._read: dict[tuple[str, str], SvgGradient | None] = {}
        """Gradients by their address and the colour of the text around."""

    def flat(self, style: dict[str, str]) -> dict[str, str]:
        """Return a style with one colour for each address: a placeholder for a gradient until `live` puts it in."""
        if not (style["fill"].startswith("url(") or style["stroke"].startswith("url(")):
            return style
        style = dict(style)
        for key in ("fill", "stroke"):
            if not style[key].startswith("url("):
                continue
            gradient = self._gradient(style[key], style["color"])
            if gradient is None:
                address, instead = url_of(style[key])
                found = self._linked(address)
                self._report(name_of(found) if found is not None else "paint that is not there")
                style[key] = instead or "none"
            elif len(gradient.stops) < 2:
                # one stop is its colour everywhere, and none is no paint
                style[key] = gradient.stops[0].color if gradient.stops else "none"
                alpha = gradient.stops[0].opacity if gradient.stops else 1.0
                style[f"{key}-opacity"] = str(share(style[f"{key}-opacity"]) * alpha)
            else:
                style[key] = mean(gradient.stops)[0]
        return style

    def _gradient(self, text: str, colour: str) -> SvgGradient | None:
        key = (text, colour)
        if key not in self._read:
            found = self._linked(url_of(text)[0])
            self._read[key] = (
                found if found is None else read_gradient(found, self._styles, self._linked, colour, self._report)
            )
        return self._read[key]

    def live(
        self,
        paint: Paint,
        style: dict[str, str],
        matrix: Matrix,
        viewport: tuple[float, float],
        box: Callable[[], Box | None],
    ) -> Paint:
        """Return a paint with the gradients that a style, before it was made `flat`, has for fill and border.

        `matrix` takes the element's own px to the sheet, per cent are of `viewport`, and `box`
        returns the element's box in its own px, without its border.
        """
        for key in ("fill", "stroke"):
            if getattr(paint, key) is None or not style[key].startswith("url("):
                continue
            gradient = self._gradient(style[key], style["color"])
            if gradient is None or len(gradient.stops) < 2:
                continue
            try:
                made: Fill | None = gradient_at(gradient, matrix, box(), viewport)
            except ValueError:
                of_fill, of_border = shares(style)
                if key == "fill" and of_fill > 0:
                    # what is left is the border, with its own share
                    paint = replace(paint, opacity=min(1.0, paint.opacity / of_fill * of_border))
                paint = replace(paint, **{key: None})
                continue
            if made is None:
                last = replace(gradient.stops[-1], at=0.0)
                made = Gradient("linear", (last, replace(last, at=1.0)), Matrix().numbers())
            paint = replace(paint, **{key: made})
        return paint

    def paint(self, own: dict[str, str], style: dict[str, str], scale: float) -> Paint:
        """Return the paint of an element; `scale` is sheet px for each of its own."""
        values = _painting(style)
        plain = plain_paint(values, own.get("opacity"), own.get("mix-blend-mode"), scale)
        if plain is not None:
            return plain
        fill, stroke = (self._colour(style[key], style) for key in ("fill", "stroke"))
        return paint_of(fill, stroke, values, own.get("opacity"), own.get("mix-blend-mode"), scale)

    def _colour(self, text: str, style: dict[str, str]) -> str | None:
        text = text.strip()
        if text.lower() == CURRENT:
            text = style["color"]
        if text in ("none", "transparent", ""):
            return None
        try:
            return css_colour(text)[0]
        except (ValueError, TypeError):
            # `Styles` lets no other through: the colour of the text is itself `currentcolor`, at the root
            return "#000000"
