"""Which elements of an SVG show something, what is in them, and where they begin (SVG 2, 5)."""

from typing import Final
from xml.etree.ElementTree import Element

from outline import Matrix

from .css import length, name_of, numbers

__all__ = ["GATHERING", "MAX_DEPTH", "SILENT", "children_of", "start_of", "target_size", "viewport_in"]

MAX_DEPTH: Final = 50
"""How deep groups may be in each other."""
SILENT: Final = {
    "title", "desc", "metadata", "defs", "style", "namedview", "linearGradient", "radialGradient", "stop", "clipPath",
    "pattern", "mask", "marker", "filter",
}  # fmt: skip
"""Elements that show nothing by themselves: they are reported where they are used."""
GATHERING: Final = {"g", "a", "svg", "symbol", "switch", "use"}
"""Elements that only show others."""


def _is_for_all(element: Element) -> bool:
    """Return whether a `switch` may show an element: those for an extension, or another language, are skipped."""
    languages = [w.strip()[:2] for w in element.get("systemLanguage", "en").split(",")]
    return bool(name_of(element)) and element.get("requiredExtensions") is None and "en" in languages


def children_of(element: Element) -> list[Element]:
    """Return the children that are shown, of a `switch` one."""
    return [c for c in element if _is_for_all(c)][:1] if name_of(element) == "switch" else list(element)


def start_of(own: dict[str, str]) -> Matrix:
    """Return the map to the x and y of a `use`, an inner `svg` or a picture."""
    return Matrix.move(length(own.get("x"), 100.0), length(own.get("y"), 100.0))


def viewport_in(element: Element, own: dict[str, str]) -> tuple[float, float]:
    """Return the size that per cent refer to within an inner `svg` or `symbol`."""
    seen = numbers(element.get("viewBox"))
    return (seen[2], seen[3]) if len(seen) == 4 else (length(own.get("width"), 100.0), length(own.get("height"), 100.0))


def target_size(own: dict[str, str]) -> tuple[tuple[str, str], ...]:
    """Return the width and height that a `use` sets for its target."""
    return tuple((key, own[key]) for key in ("width", "height") if key in own)
