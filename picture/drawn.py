"""Pieces and photos as SVG elements: what the screen's fragments and the delivered files have in common.

Frames use a real `clipPath` (SVG 2, CSS Masking 1) with the outline's fill rule, and
the border is drawn over the clipped photo, so that clipping never costs it.
"""

from collections.abc import Callable
from html import escape

from outline import Path
from sheet import geometry
from sheet.model import Numbers, Photo, Piece

__all__ = ["Href", "body", "image", "opacity", "rule", "text_of"]

Href = Callable[[Photo], str]
"""Gives the address of a photo's picture."""


def text_of(value: float, digits: int = 6) -> str:
    """Return a number as text, without trailing zeros."""
    return f"{value:.{digits}f}".rstrip("0").rstrip(".") or "0"


def _matrix(m: Numbers) -> str:
    return "matrix(" + " ".join(repr(round(v, 9)) for v in m) + ")"


def opacity(value: float) -> str:
    """Return the attribute, where it is needed."""
    return f' opacity="{text_of(value)}"' if value < 1 else ""


def image(photo: Photo, href: str) -> str:
    """Return the element of a photo."""
    return (
        f'<image href="{escape(href)}" width="{photo.width}" height="{photo.height}"'
        f' preserveAspectRatio="none" transform="{_matrix(photo.matrix)}"{opacity(photo.opacity)}/>'
    )


def rule(path: Path, name: str) -> str:
    """Return the attribute `name` for a fill rule, where it is not the first one."""
    return f' {name}="evenodd"' if path.fill_rule == "evenodd" else ""


def body(piece: Piece, d: str, path: Path, images: str, clip: str, mark: str = "") -> str:
    """Return fill, clipped photos and border, lowest first; `mark` is an attribute for the shape itself."""
    paint = piece.paint
    fill = paint.fill or "none"
    pen = ""
    if paint.stroke is not None and paint.stroke_width > 0:
        pen = f' stroke="{paint.stroke}" stroke-width="{text_of(paint.stroke_width)}"'
    if not images:
        return f'<path{mark} d="{d}" fill="{fill}"{rule(path, "fill-rule")}{pen}/>'
    parts = [f'<clipPath id="{clip}"><path d="{d}"{rule(path, "clip-rule")}/></clipPath>']
    if geometry.fill_shows(piece):
        parts.append(f'<path d="{d}" fill="{fill}"{rule(path, "fill-rule")}/>')
    parts.append(f'<g clip-path="url(#{clip})">{images}</g>')
    if pen:
        parts.append(f'<path d="{d}" fill="none"{pen}/>')
    return "".join(parts)
