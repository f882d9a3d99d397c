"""Text of an SVG as lettering (SVG 2, 11): runs, their anchors, and each one's own font, or the nearest shipped."""

import re
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from typing import Final, NamedTuple
from xml.etree.ElementTree import Element

import outline
from sheet.document.kinds import Lettering
from sheet.document.kinds.lettering import lettered
from sheet.geometry.geometry import Box

from .css import length, name_of, report_ignored
from .styles import Styles

__all__ = ["TextRun", "runs_of"]

_GENERIC: Final = {
    "serif": "bitter", "sans-serif": "atkinson-hyperlegible", "cursive": "pacifico", "fantasy": "bungee",
    "monospace": "atkinson-hyperlegible", "system-ui": "atkinson-hyperlegible",
}  # fmt: skip
_NAMES: Final = {re.sub(r" bold$", "", f.name.lower()): f.key for f in outline.FONTS.values()}
_BOLD: Final = ("bold", "bolder", "600", "700", "800", "900")
FALLBACK: Final = "atkinson-hyperlegible"
PLAIN: Final = ("tspan", "a")
MAX_RUNS: Final = 2000


class TextRun(NamedTuple):
    """A lettering, the start of its baseline in the text's own coordinates, and its declarations."""

    shape: Lettering
    x: float
    y: float
    own: dict[str, str]
    style: dict[str, str]
    wide: float

    @property
    def box(self) -> Box:
        """The box of its glyphs' cells in the text's own coordinates (SVG 2, 8.10)."""
        above, below = outline.extents(self.shape.font, dict(self.shape.axes))
        size = self.shape.size
        return self.x, self.y - above * size, self.x + self.wide, self.y + below * size


@dataclass(slots=True)
class _Piece:
    text: str
    own: dict[str, str]
    style: dict[str, str]
    x: float | None = None
    y: float | None = None
    dx: float = 0.0
    dy: float = 0.0


def _own_font(name: str, weight: str, fonts: Mapping[str, str]) -> tuple[str, tuple[tuple[str, float], ...]] | None:
    """Return the key of the person's own font with a name and a weight, and its position on the weight axis, if any."""
    bold = weight in _BOLD
    key = fonts.get(f"{name} bold") if bold else None
    key = key or fonts.get(name) or fonts.get(f"{name} regular")
    if key is None:
        return None
    heavy = {"normal": 400.0, "bold": 700.0}.get(weight) or (float(weight) if weight.isdigit() else 400.0)
    axes = [a for a in outline.axes_of(key) if a.tag == "wght"]
    return key, tuple((a.tag, min(a.high, max(a.low, heavy))) for a in axes if heavy != a.usual)


def _font(
    families: str, weight: str, fonts: Mapping[str, str], report: Callable[[str], None]
) -> tuple[str, tuple[tuple[str, float], ...]]:
    """Return the first of the families that is available, else a font of the same kind; both are reported, with the
    weight; and positions on the font's axes."""
    names = [n.strip().strip("'\"").lower() for n in families.split(",") if n.strip()]
    for name in names:
        own = _own_font(name, weight, fonts)
        if own is not None:
            return own
        found = _NAMES.get(re.sub(r" bold$", "", name)) or (name if name in outline.FONTS else None)
        if found:
            shipped = outline.FONTS[found].name
            if shipped.endswith(" Bold") and weight not in _BOLD and not name.endswith(" bold"):
                report(f"font {shipped.removesuffix(' Bold')} of weight {weight} (Bold instead)")
            return found, ()
    key = next((_GENERIC[n] for n in names if n in _GENERIC), FALLBACK)
    first = families.split(",")[0].strip().strip("'\"")[:40]
    name = outline.FONTS[key].name
    report(f"font {first} ({name} instead)" if first else f"text without a font (in {name})")
    return key, ()


def _parts(
    element: Element, own: dict[str, str], style: dict[str, str], styles: Styles, report: Callable[[str], None]
) -> Iterator[_Piece]:
    """Yield the stretches of a text in order, each with the position that starts it."""

    def place(key: str) -> float | None:
        if not own.get(key):
            return None
        places = own[key].replace(",", " ").split()
        if not places:
            return None
        if len(places) > 1:
            report("letters with places of their own")
        return length(places[0], 100.0)

    first = _Piece("", own, style, place("x"), place("y"), place("dx") or 0.0, place("dy") or 0.0)
    for key in ("rotate", "textLength"):
        if own.get(key):
            report(f"{key} of a text")
    first.text = element.text or ""
    yield first
    for child in element:
        if name_of(child) in PLAIN:
            inner, its = styles.styled(child, style)
            report_ignored(inner, report)
            if inner.get("display") != "none":
                yield from _parts(child, inner, its, styles, report)
        elif name_of(child) and name_of(child) not in ("title", "desc"):
            report(name_of(child))
        if child.tail:
            yield _Piece(child.tail, own, style)


_BLANK: Final = str.maketrans("\t\n\r", "   ")


def _spaced(parts: list[_Piece], keep: bool) -> list[_Piece]:
    """Return the stretches with white space collapsed as in SVG 1.1, 10.15."""
    before = " "
    for part in parts:
        text = part.text.translate(_BLANK)
        if not keep:
            text = re.sub(r" {2,}", " ", text) if "  " in text else text
            if before.endswith(" "):
                text = text.lstrip(" ")
        before = text or before
        part.text = text
    if not keep:
        for part in reversed(parts):
            part.text = part.text.rstrip(" ")
            if part.text:
                break
    return parts


def runs_of(
    element: Element,
    own: dict[str, str],
    style: dict[str, str],
    styles: Styles,
    fonts: Mapping[str, str],
    report: Callable[[str], None],
) -> list[TextRun]:
    """Return the letterings of a text element, in the person's own `fonts` where it names one; `report` receives what
    differs from the file."""
    keep = element.get("{http://www.w3.org/XML/1998/namespace}space") == "preserve" or own.get("white-space") == "pre"
    parts = _spaced(list(_parts(element, own, style, styles, report))[:MAX_RUNS], keep)
    runs: list[TextRun] = []
    chunk: list[TextRun] = []
    x = y = 0.0

    def end() -> None:
        """Move everything that starts at one position so that its anchor is there."""
        if not chunk:
            return
        # there is no spacing after the last letter
        wide = x - chunk[0].x - chunk[-1].shape.tracking * chunk[-1].shape.size / 1000
        shift = {"middle": 0.5, "end": 1.0}.get(chunk[0].style["text-anchor"], 0.0) * wide
        runs.extend(r._replace(x=r.x - shift) for r in chunk)
        chunk.clear()

    for part in parts:
        if part.x is not None or part.y is not None:
            end()
        x, y = (part.x if part.x is not None else x) + part.dx, (part.y if part.y is not None else y) + part.dy
        if not part.text:
            continue
        size = length(part.style["font-size"], 16.0, 16.0)
        if not 0 < size < 1e6:
            continue
        tracking = max(-1000.0, min(10_000.0, 1000 * length(part.style["letter-spacing"], 0.0) / size))
        font, axes = _font(part.style["font-family"], part.style["font-weight"], fonts, report)
        for k in range(0, len(part.text), 400):
            shape = Lettering(part.text[k : k + 400], font, size, tracking, axes=axes)
            got = lettered(shape)
            if got.missing:
                report(f"letters that {outline.font_name(font)} has not")
            last = got.glyphs[-1] if got.glyphs else None
            wide = last.x + last.advance + tracking * size / 1000 if last else 0.0
            if not got.is_blank:
                chunk.append(TextRun(shape, x, y, part.own, part.style, wide))
            x += wide
    end()
    return runs
