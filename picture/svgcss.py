"""How SVG is told: lengths, numbers, transforms, shares, and the cascade of styles (CSS Values 4, CSS Cascade 5)."""

import math
import re
from collections.abc import Callable
from typing import Final, NamedTuple
from xml.etree.ElementTree import Element

from svgelements import Matrix as Transform

from outline import Matrix

__all__ = [
    "INHERITED",
    "Styles",
    "absolute",
    "address_of",
    "length",
    "name_of",
    "numbers",
    "share",
    "tell_unheard",
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


def address_of(element: Element) -> str:
    """Return what an element refers to (SVG 2, 16.1.5), "" for nothing."""
    return (element.get("href") or element.get("{http://www.w3.org/1999/xlink}href") or "").strip()


def url_of(text: str) -> tuple[str, str]:
    """Return the address in a `url()`, and what stands behind it (CSS Values 4, 4.5)."""
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
"""CSS Values 4, 6.2; an em where no font says otherwise."""


def length(text: str | None, whole: float, default: float = 0.0) -> float:
    """Return a length in CSS px, per cent being of `whole`; the default where it is none."""
    found = _LENGTH.match(text or "")
    if found is None:
        return default
    value = float(found[1]) * (whole / 100 if found[2] == "%" else _UNITS[found[2].lower()])
    return value if math.isfinite(value) and abs(value) < 1e7 else default


_ACROSS: Final = {"x", "width", "cx", "rx", "x1", "x2", "dx"}
_DOWN: Final = {"y", "height", "cy", "ry", "y1", "y2", "dy"}
_MEASURED: Final = _ACROSS | _DOWN | {"r", "stroke-width", "stroke-dasharray", "letter-spacing"}
_RELATIVE: Final = re.compile(r"([+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)(%|em|ex)")


def absolute(own: dict[str, str], style: dict[str, str], room: tuple[float, float]) -> None:
    """Turn an element's per cent of a room (px), and what is told by the size of its letters, into px, in its own
    declarations and in its style (SVG 2, 8.9)."""
    if _MEASURED.isdisjoint(own):
        return
    for key in own.keys() & _MEASURED:
        if _RELATIVE.search(own[key]) is None:
            continue
        # what is neither across nor down is of the diagonal
        whole = room[0] if key in _ACROSS else room[1] if key in _DOWN else math.hypot(*room) / math.sqrt(2)
        em = length(style["font-size"], 16.0, 16.0)
        unit = {"%": whole / 100, "em": em, "ex": em / 2}
        own[key] = _RELATIVE.sub(lambda m, unit=unit: repr(float(m[1]) * unit[m[2]]), own[key])  # type: ignore[misc]
        if key in style:
            style[key] = own[key]


def numbers(text: str | None) -> list[float]:
    """Return the numbers in a list of them."""
    return [float(v) for v in re.findall(r"[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?", text or "")]


_CSS_UNIT: Final = re.compile(r"([+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)(px|mm|cm|in|pt|pc|q|deg|grad|rad|turn)\b")
_DEGREES: Final = {"deg": 1.0, "grad": 0.9, "rad": 180 / math.pi, "turn": 360.0}


def transform(text: str | None) -> Matrix:
    """Return the map that a `transform` tells, none where it cannot be read; CSS has units in it (CSS Transforms 1)."""
    if not text:
        return Matrix()
    try:
        t = Transform(
            _CSS_UNIT.sub(lambda m: repr(float(m[1]) * _DEGREES[m[2]] if m[2] in _DEGREES else length(m[0], 0.0)), text)
        )
        made = Matrix(*(float(v) for v in (t.a, t.b, t.c, t.d, t.e, t.f)))
    except (TypeError, ValueError, ZeroDivisionError, LookupError, AttributeError):
        return Matrix()
    return made if all(math.isfinite(v) and abs(v) < 1e7 for v in made.numbers()) else Matrix()


_RULE: Final = re.compile(r"([^{}]+)\{([^{}]*)\}")


def _declared(text: str) -> dict[str, str]:
    if not text:
        return {}
    pairs = (part.split(":", 1) for part in text.split(";") if ":" in part)
    return {name.strip().lower(): value.replace("!important", "").strip() for name, value in pairs}


def share(text: str | None) -> float:
    """Return a number or per cent as a share, 0 to 1; all of it where it is none."""
    if not text:
        return 1.0
    try:
        value = float(text[:-1]) / 100 if text.strip().endswith("%") else float(text)
    except ValueError:
        return 1.0
    return max(0.0, min(1.0, value)) if math.isfinite(value) else 1.0


_UNHEARD: Final = {
    "filter", "mask", "marker", "marker-start", "marker-mid", "marker-end", "paint-order", "vector-effect",
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


def tell_unheard(own: dict[str, str], tell: Callable[[str], None]) -> None:
    """Tell what is declared that changes how something looks and is not followed."""
    if _UNHEARD.isdisjoint(own):
        return
    for effect in sorted(own.keys() & _UNHEARD):
        if own[effect].strip() not in _USUAL:
            tell(effect)


_FONT: Final = re.compile(
    r"(?:(?:bold|bolder|lighter|italic|normal|\d{3})\s+)*([\d.]+(?:px|pt|mm|em|%|in|cm)?)(?:/\S+)?\s+(.+)"
)
"""CSS Fonts 4, 2.7: the weight is left out, since each shipped font has one."""


_AT_RULE: Final = re.compile(r"@[\w-]++[^{};]*+(?:;|\{(?:[^{}]++|\{[^{}]*+\})*+\})")
"""CSS Syntax 3, 5.4.2: up to its semicolon, or with its block."""
_COMPOUND: Final = re.compile(r"(?=.)(\*|[\w-]+)?((?:[.#][\w-]+)*)\Z")
"""A selector of an element's name, classes and id, whatever it lies in (Selectors 4, 3.1)."""


class _Rule(NamedTuple):
    """What is declared for elements of a name ("*" for any) that have all of some marks: "#id" and ".class"."""

    weight: tuple[int, int, int]
    order: int
    name: str
    marks: frozenset[str]
    body: dict[str, str]


class Styles:
    """The rules of a file's style sheets, and what is declared for each element."""

    def __init__(self, root: Element):
        self._rules: dict[str, list[_Rule]] = {}
        self._count = 0
        self.unread = 0
        """Rules for elements in their surroundings or in a state, or for some screens, which are not followed."""
        for element in root.iter():
            if name_of(element) == "style":
                css = re.sub(r"/\*.*?\*/", "", "".join(element.itertext()), flags=re.DOTALL)
                at_rules = _AT_RULE.findall(css)
                self.unread += sum(not rule.startswith(("@font-face", "@charset")) for rule in at_rules)
                css = _AT_RULE.sub("", css)
                for selectors, declared in _RULE.findall(css):
                    for selector in selectors.split(","):
                        self._keep(selector.strip(), _declared(declared))

    def _keep(self, selector: str, body: dict[str, str]) -> None:
        found = _COMPOUND.match(selector)
        if found is None:
            self.unread += 1
            return
        name, marks = found[1] or "*", re.findall(r"[.#][\w-]+", found[2])
        # Selectors 4, 17: ids, then classes, then names
        weight = (sum(m[0] == "#" for m in marks), sum(m[0] == "." for m in marks), int(name != "*"))
        self._count += 1
        rule = _Rule(weight, self._count, name, frozenset(marks), body)
        self._rules.setdefault(marks[0] if marks else name, []).append(rule)

    def own(self, element: Element) -> dict[str, str]:
        """Return what is declared for an element: attributes, then rules, then its own style (CSS Cascade 5)."""
        own = {k: v for k, v in element.attrib.items() if not k.startswith("{")}
        if not self._rules:
            return own | _declared(element.get("style", ""))
        name = name_of(element)
        marks = {f"#{element.get('id', '')}", *(f".{c}" for c in element.get("class", "").split())}
        near = [r for key in (name, "*", *marks) for r in self._rules.get(key, ())]
        # no two are of the same order, so that more than that is never compared
        for rule in sorted(r for r in near if r.name in ("*", name) and r.marks <= marks):
            own |= rule.body
        return own | _declared(element.get("style", ""))

    def styled(self, element: Element, before: dict[str, str]) -> tuple[dict[str, str], dict[str, str]]:
        """Return what is declared for an element itself, and its style with what it inherits."""
        own = self.own(element)
        style = dict(before)
        short = _FONT.match(own["font"]) if "font" in own else None
        if short:
            own = {"font-size": short[1], "font-family": short[2], **own}
        for name, value in own.items():
            if name in INHERITED and value and value != "inherit":
                style[name] = value
        # an em is of the size around it, and what is inherited is worked out (CSS Values 4, 6.1.1)
        size = own.get("font-size", "")
        if size and re.search(r"(?<!r)em\s*\Z|%\s*\Z", size):
            around = length(before["font-size"], 16.0, 16.0)
            by = re.sub(r"em|%", "", size)
            style["font-size"] = str(length(by, 16.0, 1.0) * around / (100 if "%" in size else 1))
        return own, style
