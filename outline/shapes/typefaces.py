"""The fonts for lettering: the shipped ones, and a person's own, stored by the caller."""

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cache, lru_cache
from pathlib import Path as FilePath
from typing import Any, Final

from outline.path.errors import OutlineError

__all__ = [
    "FONTS",
    "FontAxis",
    "Font",
    "axes_of",
    "extents",
    "font_name",
    "has_font",
    "own_font",
    "typeface",
    "use_fonts",
]


@dataclass(frozen=True, slots=True)
class Font:
    """A shipped font: its file's name, its display name, and its kind of letters."""

    key: str
    name: str
    kind: str


FONTS = {
    f.key: f
    for f in (
        Font("alfa-slab-one", "Alfa Slab One", "heavy slab"),
        Font("archivo-black", "Archivo Black", "heavy sans"),
        Font("bebas-neue", "Bebas Neue", "condensed capitals"),
        Font("league-gothic", "League Gothic", "condensed"),
        Font("bungee", "Bungee", "signboard"),
        Font("abril-fatface", "Abril Fatface", "fat face"),
        Font("bitter", "Bitter Bold", "slab serif"),
        Font("atkinson-hyperlegible", "Atkinson Hyperlegible Bold", "legible sans"),
        Font("josefin-sans", "Josefin Sans Bold", "geometric sans"),
        Font("pacifico", "Pacifico", "round script"),
        Font("kaushan-script", "Kaushan Script", "brush script"),
        Font("caveat-brush", "Caveat Brush", "handwriting"),
    )
}
"""All under the SIL Open Font License; the licences are beside the files in `outline/shapes/fonts`."""


@dataclass(frozen=True, slots=True)
class FontAxis:
    """An axis of a variable font: its tag, its name, and its range (OpenType, `fvar`)."""

    tag: str
    name: str
    low: float
    usual: float
    high: float


_OWN: Final = re.compile(r"own:([0-9a-f]{32}):(.{1,60})\Z")
_find: list[Callable[[str], bytes | None]] = [lambda digest: None]


def own_font(digest: str, name: str) -> str:
    """Return the key of a person's own font: 32 hexadecimal digits of its file's SHA-256, and its name.

    >>> own_font("0" * 32, "Marram Sans")
    'own:00000000000000000000000000000000:Marram Sans'
    """
    return f"own:{digest}:{name[:60]}"


Find = Callable[[str], bytes | None]


def use_fonts(find: Find) -> Find:
    """Set `find` to look up a person's own fonts: it returns a file's bytes by the digits of its key, or None;
    return the previous one."""
    before, _find[0] = _find[0], find
    _own_face.cache_clear()
    return before


def has_font(key: str) -> bool:
    """Return whether a font is available for setting letters now."""
    return key in FONTS or _own(key) is not None


def font_name(key: str) -> str:
    """Return the display name of a font, even a missing one."""
    if key in FONTS:
        return FONTS[key].name
    found = _OWN.match(key)
    return found[2] if found else key


def axes_of(key: str) -> tuple[FontAxis, ...]:
    """Return the axes of a variable font; none for others."""
    if key in FONTS or not has_font(key):
        return ()
    face, _ = _face(key)
    return tuple(
        FontAxis(a.tag, face.get_name(a.name_id) or a.tag, a.min_value, a.default_value, a.max_value)
        for a in face.axis_infos
        if a.min_value < a.max_value and not a.flags & 1  # hidden from people
    )


def extents(key: str, axes: Mapping[str, float]) -> tuple[float, float]:
    """Return how far a font's lines reach above and below the baseline, in ems.

    Raises OutlineError for an unknown font.
    """
    font, upem = typeface(key, axes)
    found = font.get_font_extents("ltr")
    return found.ascender / upem, -found.descender / upem


@cache
def shaper() -> Any:
    """Return HarfBuzz, loaded when text is first set. Raises OutlineError if it is not installed."""
    try:
        import uharfbuzz
    except ImportError:
        raise OutlineError("lettering needs HarfBuzz: pip install gouge[lettering]") from None
    return uharfbuzz


@lru_cache(maxsize=64)
def _own_face(digest: str) -> Any:
    data = _find[0](digest)
    if data is None:
        raise LookupError(digest)
    hb = shaper()
    return hb.Face(hb.Blob(data))


def _own(key: str) -> Any:
    """Return the face of a person's own font, None if it is missing; only found ones are cached."""
    found = _OWN.match(key)
    if not found:
        return None
    try:
        return _own_face(found[1])
    except LookupError:
        return None


@lru_cache(maxsize=32)
def _shipped(key: str) -> Any:
    hb = shaper()
    return hb.Face(hb.Blob.from_file_path(str(FilePath(__file__).parent / "fonts" / f"{key}.ttf")))


def _face(key: str) -> tuple[Any, int]:
    face = _shipped(key) if key in FONTS else _own(key)
    if face is None:
        raise OutlineError(f"there is no font {font_name(key)!r}; use one of {', '.join(FONTS)}")
    return face, face.upem


def typeface(key: str, axes: Mapping[str, float]) -> tuple[Any, int]:
    """Return HarfBuzz's font with its axes set, and its units per em. Raises OutlineError for an unknown font."""
    face, upem = _face(key)
    font = shaper().Font(face)
    if axes:
        font.set_variations(dict(axes))
    return font, upem
