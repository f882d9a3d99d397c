"""SVG values: lengths, numbers, transforms, shares, and inherited style (CSS Values 4, CSS Cascade 5)."""

import math
import re
from collections.abc import Callable
from typing import Final
from xml.etree.ElementTree import Element

from svgelements import Matrix as Transform

from outline import Matrix
from sheet.caching import cached_if_short

__all__ = [
    "INHERITED",
    "absolute",
    "address_of",
    "length",
    "name_of",
    "numbers",
    "share",
    "shares_in_px",
    "report_ignored",
    "transform",
    "url_of",
]

PX: Final = 96.0
"""CSS px per inch (CSS Values 4, 5.2)."""

INHERITED: Final = {
    "fill": "#000000", "stroke": "none", "stroke-width": "1", "fill-rule": "nonzero", "clip-rule": "nonzero",
    "fill-opacity": "1", "stroke-opacity": "1", "stroke-linejoin": "miter", "stroke-linecap": "butt",
    "stroke-miterlimit": "4", "stroke-dasharray": "none", "visibility": "visible", "color": "#000000",
    "font-family": "", "font-size": "16", "font-weight": "400", "text-anchor": "start", "letter-spacing": "0",
}  # fmt: skip


_LARGEST: Final = 1e12
"""Numbers in a file may exceed a sheet's, because a view box can make them small."""


def address_of(element: Element) -> str:
    """Return what an element refers to (SVG 2, 16.1.5), "" for nothing."""
    return (element.get("href") or element.get("{http://www.w3.org/1999/xlink}href") or "").strip()


def url_of(text: str) -> tuple[str, str]:
    """Return the address in a `url()`, and the text after it (CSS Values 4, 4.5)."""
    address, _, behind = text.partition(")")
    return re.sub(r"""url\(['"]?|['"]?$""", "", address.strip()), behind.strip()


def name_of(element: Element) -> str:
    """Return an element's name without its namespace."""
    return element.tag.rsplit("}", 1)[-1] if isinstance(element.tag, str) else ""


_LENGTH: Final = re.compile(
    r"\s*([+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)\s*(px|mm|cm|in|pt|pc|q|em|rem|%|)\s*\Z", re.IGNORECASE
)
_UNITS: Final = {
    "": 1.0, "px": 1.0, "in": PX, "cm": PX / 2.54, "mm": PX / 25.4, "q": PX / 101.6, "pt": PX / 72, "pc": PX / 6,
    "em": 16.0, "rem": 16.0,
}  # fmt: skip
"""CSS Values 4, 6.2; an em without a font of another size."""


@cached_if_short(entries=8192, longest=40)
def _number_and_unit(text: str) -> tuple[float, str] | None:
    found = _LENGTH.match(text)
    return None if found is None else (float(found[1]), found[2].lower())


def length(text: str | None, whole: float, default: float = 0.0) -> float:
    """Return a length in CSS px, per cent being of `whole`; the default if it is not a length."""
    found = _number_and_unit(text or "")
    if found is None:
        return default
    number, unit = found
    value = number * (whole / 100 if unit == "%" else _UNITS[unit])
    return value if math.isfinite(value) and abs(value) < _LARGEST else default


_ACROSS: Final = {"x", "width", "cx", "rx", "x1", "x2", "dx"}
_DOWN: Final = {"y", "height", "cy", "ry", "y1", "y2", "dy"}
_MEASURED: Final = _ACROSS | _DOWN | {"r", "stroke-width", "stroke-dasharray", "letter-spacing"}
_RELATIVE: Final = re.compile(r"([+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)(%|em|ex)")


def absolute(own: dict[str, str], style: dict[str, str], viewport: tuple[float, float]) -> None:
    """Turn an element's lengths in per cent of a viewport (px), and in units of its font size, into px, in its own
    declarations and in its style (SVG 2, 8.9)."""
    if _MEASURED.isdisjoint(own):
        return
    for key in own.keys() & _MEASURED:
        if _RELATIVE.search(own[key]) is None:
            continue
        # a length in neither direction refers to the diagonal
        whole = viewport[0] if key in _ACROSS else viewport[1] if key in _DOWN else math.hypot(*viewport) / math.sqrt(2)
        em = length(style["font-size"], 16.0, 16.0)
        unit = {"%": whole / 100, "em": em, "ex": em / 2}
        if key in style:
            # inherited per cent stay so
            style[key] = _in_px(own[key], {k: unit[k] for k in ("em", "ex")})
        own[key] = _in_px(own[key], unit)


def _in_px(text: str, unit: dict[str, float]) -> str:
    return _RELATIVE.sub(lambda m: repr(float(m[1]) * unit[m[2]]) if m[2] in unit else m[0], text)


def shares_in_px(style: dict[str, str], viewport: tuple[float, float]) -> dict[str, str]:
    """Return a style whose widths in per cent are in px of the viewport where it is used; itself if it has none."""
    keys = [key for key in ("stroke-width", "stroke-dasharray") if "%" in style[key]]
    unit = {"%": math.hypot(*viewport) / math.sqrt(2) / 100}
    return style | {key: _in_px(style[key], unit) for key in keys} if keys else style


def numbers(text: str | None) -> list[float]:
    """Return the numbers in a list."""
    return [float(v) for v in re.findall(r"[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?", text or "")]


_CSS_UNIT: Final = re.compile(r"([+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)(px|mm|cm|in|pt|pc|q|deg|grad|rad|turn)\b")
_DEGREES: Final = {"deg": 1.0, "grad": 0.9, "rad": 180 / math.pi, "turn": 360.0}


def transform(text: str | None) -> Matrix:
    """Return the map of a `transform`, none if it cannot be read; in CSS it has units (CSS Transforms 1)."""
    if not text:
        return Matrix()
    try:
        t = Transform(
            _CSS_UNIT.sub(lambda m: repr(float(m[1]) * _DEGREES[m[2]] if m[2] in _DEGREES else length(m[0], 0.0)), text)
        )
        made = Matrix(*(float(v) for v in (t.a, t.b, t.c, t.d, t.e, t.f)))
    except (TypeError, ValueError, ZeroDivisionError, LookupError, AttributeError):
        return Matrix()
    return made if all(math.isfinite(v) and abs(v) < _LARGEST for v in made.numbers()) else Matrix()


def share(text: str | None) -> float:
    """Return a number or per cent as a share, 0 to 1; 1 if it is neither."""
    if not text:
        return 1.0
    try:
        value = float(text[:-1]) / 100 if text.strip().endswith("%") else float(text)
    except ValueError:
        return 1.0
    return max(0.0, min(1.0, value)) if math.isfinite(value) else 1.0


_UNHEARD: Final = {
    "marker", "marker-start", "marker-mid", "marker-end", "paint-order", "vector-effect",
    "stroke-dashoffset", "font-style", "font-variant", "font-stretch", "text-decoration", "transform-origin",
    "word-spacing", "dominant-baseline", "alignment-baseline", "baseline-shift", "writing-mode",
}  # fmt: skip
_USUAL: Final = {
    "",
    "none",
    "normal",
    "0",
    "0px",
    "auto",
    "alphabetic",
    "baseline",
    "inherit",
    "horizontal-tb",
    "lr-tb",
}


_WORKED_OUT: Final = re.compile(r"\(|[\d.](?:vw|vh|vmin|vmax|ch|lh)\b")
"""CSS Values 4, 10 and 6.1.2."""


def report_ignored(own: dict[str, str], report: Callable[[str], None]) -> None:
    """Report declared properties that change how something looks and are not followed."""
    if not _MEASURED.isdisjoint(own) and any(_WORKED_OUT.search(own[key]) for key in own.keys() & _MEASURED):
        report("length that is worked out, or of the window's size")
    if _UNHEARD.isdisjoint(own):
        return
    for effect in sorted(own.keys() & _UNHEARD):
        if own[effect].strip() not in _USUAL:
            report(effect)
