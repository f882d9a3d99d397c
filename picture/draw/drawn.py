"""Pieces and photos as SVG elements, for both the screen's fragments and the exported files.

Frames use a real `clipPath` (SVG 2, CSS Masking 1) with the outline's fill rule, and
the border is drawn over the clipped photo, so that clipping never removes it.
"""

import hashlib
from collections.abc import Callable
from html import escape

import outline
from outline import Path
from sheet.document.model import Fill, Gradient, Numbers, Photo, Piece
from sheet.geometry import geometry

__all__ = ["Href", "blended", "body", "image", "opacity", "painted", "rule", "text_of"]

Href = Callable[[Photo], str]
"""Returns the address of a photo's picture."""


def text_of(value: float, digits: int = 6) -> str:
    """Return a number as text, without trailing zeros."""
    return f"{value:.{digits}f}".rstrip("0").rstrip(".") or "0"


def _matrix(m: Numbers) -> str:
    return "matrix(" + " ".join(repr(round(v, 9)) for v in m) + ")"


def opacity(value: float) -> str:
    """Return the attribute, if it is needed."""
    return f' opacity="{text_of(value)}"' if value < 1 else ""


def blended(mode: str) -> str:
    """Return the attribute of a blend mode, if there is one."""
    return f' style="mix-blend-mode: {mode}"' if mode != "normal" else ""


def painted(fill: Fill | None) -> tuple[str, str]:
    """Return the paint of a fill or a border as an attribute's value, and the element it refers to.

    A gradient is named by its content, so that equal ones share one element.
    """
    if not isinstance(fill, Gradient):
        return fill or "none", ""
    stops = "".join(
        f'<stop offset="{text_of(s.at)}" stop-color="{s.color}"'
        f"{f' stop-opacity={chr(34)}{text_of(s.opacity)}{chr(34)}' if s.opacity < 1 else ''}/>"
        for s in fill.stops
    )
    ends = 'x2="1"'
    if fill.kind == "radial":
        ends = 'cx="0" cy="0" r="1"'
        if fill.focus != (0.0, 0.0) or fill.focal:
            x, y = (text_of(v) for v in fill.focus)
            ends += f' fx="{x}" fy="{y}" fr="{text_of(fill.focal)}"'
    spread = f' spreadMethod="{fill.spread}"' if fill.spread != "pad" else ""
    inner = f'gradientUnits="userSpaceOnUse" {ends}{spread} gradientTransform="{_matrix(fill.matrix)}">{stops}'
    name = f"g-{hashlib.blake2b(inner.encode(), digest_size=8).hexdigest()}"
    return f"url(#{name})", f'<{fill.kind}Gradient id="{name}" {inner}</{fill.kind}Gradient>'


def image(photo: Photo, href: str, more: str = "") -> str:
    """Return the element of a photo, with `more` attributes."""
    return (
        f'<image href="{escape(href)}" width="{photo.width}" height="{photo.height}"'
        f' preserveAspectRatio="none" transform="{_matrix(photo.matrix)}"{opacity(photo.opacity)}{more}/>'
    )


def rule(path: Path, name: str) -> str:
    """Return the attribute `name` for a fill rule, unless it is the default."""
    return f' {name}="evenodd"' if path.fill_rule == "evenodd" else ""


def body(piece: Piece, d: str, path: Path, images: str, clip: str, mark: str = "") -> str:
    """Return fill, clipped photos and border, lowest first; `mark` is an attribute for the shape itself."""
    paint = piece.paint
    fill, defined = painted(paint.fill)
    pen, of_pen = _pen(piece)
    defined += of_pen
    centred = geometry.border_place(piece) == "centred" if pen else True
    if not images:
        own = pen if centred else ""
        shape = f'<path{mark} d="{d}" fill="{fill}"{rule(path, "fill-rule")}{own}/>'
        return defined + shape + ("" if centred else _border(piece, d, path, pen, f"{clip}-b"))
    parts = [f'{defined}<clipPath id="{clip}"><path d="{d}"{rule(path, "clip-rule")}/></clipPath>']
    if geometry.fill_shows(piece) and any(p.blend != "normal" for p in piece.photos):
        # a clipped group is composited by itself (Compositing 1, 3.4.2): the fill must be in it to be blended with
        x0, y0, x1, y1 = path.bounds or (0.0, 0.0, 0.0, 0.0)
        size = f'width="{text_of(x1 - x0 + 2)}" height="{text_of(y1 - y0 + 2)}"'
        images = f'<rect x="{text_of(x0 - 1)}" y="{text_of(y0 - 1)}" {size} fill="{fill}"/>{images}'
    elif geometry.fill_shows(piece):
        parts.append(f'<path d="{d}" fill="{fill}"{rule(path, "fill-rule")}/>')
    parts.append(f'<g clip-path="url(#{clip})">{images}</g>')
    if pen:
        parts.append(f'<path d="{d}" fill="none"{pen}/>' if centred else _border(piece, d, path, pen, f"{clip}-b"))
    return "".join(parts)


def _pen(piece: Piece) -> tuple[str, str]:
    """Return the attributes of a border, and the elements they refer to; off centre it is half of a double one."""
    if not geometry.has_border(piece):
        return "", ""
    paint = piece.paint
    stroke, defined = painted(paint.stroke)
    width = paint.stroke_width * (1 if geometry.border_place(piece) == "centred" else 2)
    pen = f' stroke="{stroke}" stroke-width="{text_of(width)}"'
    if paint.join != "miter":
        pen += f' stroke-linejoin="{paint.join}"'
    if paint.cap != "butt":
        pen += f' stroke-linecap="{paint.cap}"'
    if paint.dashes:
        pen += f' stroke-dasharray="{" ".join(text_of(v) for v in paint.dashes)}"'
    return pen, defined


def _border(piece: Piece, d: str, path: Path, pen: str, clip: str) -> str:
    """Return a border inside or outside an outline: one twice as wide, clipped to the inside or the outside."""
    inner, clip_rule = d, rule(path, "clip-rule")
    if geometry.border_place(piece) == "outside":
        x0, y0, x1, y1 = path.bounds or (0.0, 0.0, 0.0, 0.0)
        far = 4 * (1 + piece.paint.stroke_width)
        whole = f"M{text_of(x0 - far)} {text_of(y0 - far)}H{text_of(x1 + far)}V{text_of(y1 + far)}H{text_of(x0 - far)}Z"
        inner, clip_rule = f"{whole}{outline.union([path]).to_svg()}", ' clip-rule="evenodd"'
    return (
        f'<g><clipPath id="{clip}"><path d="{inner}"{clip_rule}/></clipPath>'
        f'<path d="{d}" fill="none"{pen} clip-path="url(#{clip})"/></g>'
    )
