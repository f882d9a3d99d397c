"""Gradients of a file (SVG 2, 14.2): their own attributes, and those of the gradient they refer to."""

from collections.abc import Callable
from typing import Any, Final, NamedTuple
from xml.etree.ElementTree import Element

from outline import Matrix
from sheet.document.gradients import SPREADS, Gradient, Stop
from sheet.geometry.geometry import Box
from sheet.reading.colours import CURRENT, read_css

from .css import address_of, length, name_of, share, transform
from .styles import Styles

__all__ = ["MOST_STOPS", "SvgGradient", "gradient_at", "read_gradient"]

MOST_STOPS: Final = 256
_MOST_LINKS: Final = 32


class SvgGradient(NamedTuple):
    """A gradient of a file: its kind, its attributes, and its stops in order."""

    kind: str
    own: dict[str, str]
    stops: tuple[Stop, ...]


def read_gradient(
    found: Element, styles: Styles, linked: Callable[[str], Element | None], colour: str, report: Callable[[str], None]
) -> SvgGradient | None:
    """Read a gradient's element, None for other elements; `colour` is that of the surrounding text."""
    kind = {"linearGradient": "linear", "radialGradient": "radial"}.get(name_of(found))
    if kind is None:
        return None
    own: dict[str, str] = {}
    stops: list[Element] = []
    seen: list[Element] = []
    one: Element | None = found
    while one is not None and "Gradient" in name_of(one) and one not in seen and len(seen) < _MOST_LINKS:
        own = {**styles.own(one), **own}
        stops = stops or one.findall("{*}stop")
        seen.append(one)
        one = linked(address_of(one))
    if len(stops) > MOST_STOPS:
        report(f"gradient of more than {MOST_STOPS} stops")
    read: list[Stop] = []
    for stop in stops[:MOST_STOPS]:
        its = styles.own(stop)
        hexed, alpha = read_css(its.get("stop-color", "#000000")) or ("#000000", 1.0)
        if hexed == CURRENT:
            hexed, alpha = read_css(its.get("color", own.get("color", colour))) or ("#000000", 1.0)
        # a position before an earlier stop's becomes that one's
        at = max(_offset(its.get("offset")), read[-1].at if read else 0.0)
        read.append(Stop(at, hexed if hexed != CURRENT else "#000000", alpha * share(its.get("stop-opacity"))))
    return SvgGradient(kind, own, tuple(read))


def _offset(text: str | None) -> float:
    return share(text) if text else 0.0


def gradient_at(source: SvgGradient, matrix: Matrix, box: Box | None, viewport: tuple[float, float]) -> Gradient | None:
    """Return a gradient of two or more stops as placed on the sheet.

    `matrix` takes the element's own px to the sheet, `box` is the element's in its own px, and per
    cent are of `viewport`. None if its ends coincide, so that it is its last colour everywhere.
    Raises ValueError if the element has no box to measure by: it is not painted then.
    """
    own = source.own
    if own.get("gradientUnits", "").strip() != "userSpaceOnUse":
        if box is None or box[2] <= box[0] or box[3] <= box[1]:
            raise ValueError("no box")
        matrix = matrix @ Matrix(box[2] - box[0], 0.0, 0.0, box[3] - box[1], box[0], box[1])
        viewport = (1.0, 1.0)
    if "gradientTransform" in own:
        matrix = matrix @ transform(own["gradientTransform"])
    across, down = viewport
    round_ = ((across * across + down * down) / 2) ** 0.5
    spread: Any = own.get("spreadMethod", "pad")
    spread = spread if spread in SPREADS else "pad"

    def at(key: str, whole: float, usual: float) -> float:
        return length(own.get(key), whole, usual)

    focus, focal = (0.0, 0.0), 0.0
    if source.kind == "linear":
        x, y = at("x1", across, 0.0), at("y1", down, 0.0)
        dx, dy = at("x2", across, across) - x, at("y2", down, 0.0) - y
        matrix = matrix @ Matrix(dx, dy, -dy, dx, x, y)
    else:
        x, y, r = at("cx", across, across / 2), at("cy", down, down / 2), at("r", round_, round_ / 2)
        matrix = matrix @ Matrix(r, 0.0, 0.0, r, x, y)
        if r > 0:
            focus = ((at("fx", across, x) - x) / r, (at("fy", down, y) - y) / r)
            focal = min(1.0, max(0.0, at("fr", round_, 0.0) / r))
    if abs(matrix.determinant) < 1e-12 or max(map(abs, matrix.numbers())) > 1e8:
        return None
    kind: Any = source.kind
    return Gradient(kind, source.stops, matrix.numbers(), spread, focus, focal)
