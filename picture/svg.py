"""A sheet as SVG: fragments for the screen, and whole files.

Frames use a real `clipPath` (SVG 2, CSS Masking 1) with the outline's fill rule, and
the border is drawn over the clipped photo, so that clipping never costs it.
"""

import base64
import io
from collections.abc import Callable
from html import escape

from PIL import Image

from outline import Path
from sheet import geometry
from sheet.lengths import show_length
from sheet.model import CutList, Group, Item, Numbers, Photo, Piece, Rectangle, Sheet
from sheet.tree import members

from .raster import Loader, pixel_size
from .visible import delivered_box

__all__ = ["fragment", "outline_thumb", "deliver_svg", "Href"]

Href = Callable[[Photo], str]
"""Gives the address of a photo's picture."""

DIGITS = 3
"""Decimals of a sheet unit on the screen: a thousandth of a px."""


def _n(value: float, digits: int = 6) -> str:
    return f"{value:.{digits}f}".rstrip("0").rstrip(".") or "0"


def _matrix(m: Numbers) -> str:
    return "matrix(" + " ".join(repr(round(v, 9)) for v in m) + ")"


def _image(photo: Photo, href: str) -> str:
    opacity = f' opacity="{_n(photo.opacity)}"' if photo.opacity < 1 else ""
    return (
        f'<image href="{escape(href)}" width="{photo.width}" height="{photo.height}"'
        f' preserveAspectRatio="none" transform="{_matrix(photo.matrix)}"{opacity}/>'
    )


def _rule(path: Path, name: str) -> str:
    return f' {name}="evenodd"' if path.fill_rule == "evenodd" else ""


def _body(piece: Piece, d: str, path: Path, images: str, clip: str) -> str:
    """Return fill, clipped photos and border, lowest first."""
    paint = piece.paint
    parts = []
    fill = paint.fill or "none"
    pen = ""
    if paint.stroke is not None and paint.stroke_width > 0:
        pen = f' stroke="{paint.stroke}" stroke-width="{_n(paint.stroke_width)}"'
    if not images:
        parts.append(f'<path class="shape" d="{d}" fill="{fill}"{_rule(path, "fill-rule")}{pen}/>')
        return "".join(parts)
    parts.append(f'<clipPath id="{clip}"><path d="{d}"{_rule(path, "clip-rule")}/></clipPath>')
    if geometry.fill_shows(piece):
        parts.append(f'<path d="{d}" fill="{fill}"{_rule(path, "fill-rule")}/>')
    parts.append(f'<g clip-path="url(#{clip})">{images}</g>')
    if pen:
        parts.append(f'<path class="border" d="{d}" fill="none"{pen}/>')
    return "".join(parts)


def _frame_data(item: Item) -> str:
    width, height, m = geometry.local_frame(item)
    x0, y0, x1, y1 = geometry.box_of(item)
    frame = " ".join(_n(v) for v in (width, height, *m.numbers()))
    box = " ".join(_n(v) for v in (x0, y0, x1, y1))
    return f' data-frame="{frame}" data-box="{box}"'


def _tool_data(piece: Piece) -> str:
    """Return what tools on one piece need: its paint, for choosing alike, and a rectangle's corner radii."""
    paint = piece.paint
    text = f' data-paint="{paint.fill} {paint.stroke} {_n(paint.stroke_width)} {_n(paint.opacity)}"'
    if isinstance(piece.shape, Rectangle):
        text += f' data-radii="{" ".join(_n(r) for r in piece.shape.radii)}"'
    return text


def _flags(item: Item) -> str:
    return (" data-locked" if item.locked else "") + (" data-hidden" if item.hidden else "")


def _photo_fragment(photo: Photo, href: Href) -> str:
    return (
        f'<g data-id="{photo.id}" data-kind="photo" data-name="{escape(photo.name)}"'
        f"{_flags(photo)}{_frame_data(photo)}>"
        f"{_image(photo, href(photo))}</g>"
    )


def _members(cuts: CutList) -> str:
    """Return the lines of a cut list's pieces, each with what it does; an outline among them holds its own in turn."""
    lines = []
    for m, does in zip(members(cuts), ("base", *(s.operation for s in cuts.steps)), strict=True):
        inner = f"<g>{_members(m.shape)}</g>" if isinstance(m.shape, CutList) else ""
        lines.append(
            f'<g data-id="{m.id}" data-kind="{m.kind}" data-name="{escape(m.name)}" data-does="{does}"{_frame_data(m)}>'
            f'<path d="{geometry.outline_of(m).to_svg(DIGITS)}"/>{inner}</g>'
        )
    return f'<g class="members">{"".join(lines)}</g>'


def fragment(item: Item, href: Href) -> str:
    """Return the group that shows `item` on the screen.

    It carries what gestures need: data-id, data-kind, data-frame (width, height and
    matrix of its box) and data-box. A frame also holds its photos whole ("ghost"),
    and an outline its pieces ("members"), for stepping inside.
    """
    if isinstance(item, Photo):
        return _photo_fragment(item, href)
    if isinstance(item, Group):
        inside = "".join(fragment(i, href) for i in item.items)
        return (
            f'<g data-id="{item.id}" data-kind="group" data-name="{escape(item.name)}"{_flags(item)}'
            f'{_frame_data(item)}><g class="kids">{inside}</g></g>'
        )
    path = geometry.outline_of(item)
    d = path.to_svg(DIGITS)
    images = "".join(f'<g data-photo="{p.id}">{_image(p, href(p))}</g>' for p in item.photos)
    inner = _body(item, d, path, images, f"clip-{item.id}")
    if images:
        ghosts = "".join(
            f'<g data-id="{p.id}" data-kind="photo" data-name="{escape(p.name)}"{_frame_data(p)}>'
            f"{_image(p, href(p))}</g>"
            for p in item.photos
        )
        inner = f'<g class="ghost">{ghosts}</g>{inner}'
    if isinstance(item.shape, CutList):
        inner += _members(item.shape)
    opacity = f' opacity="{_n(item.paint.opacity)}"' if item.paint.opacity < 1 else ""
    # a class, since the page's security policy lets no style attribute through
    blend = f' class="blend-{item.paint.blend}"' if item.paint.blend != "normal" else ""
    return (
        f'<g data-id="{item.id}" data-kind="{item.kind}" data-name="{escape(item.name)}"{_flags(item)}{blend}'
        f' data-outline="{d}"{_frame_data(item)}{_tool_data(item)}><g{opacity}>{inner}</g></g>'
    )


def outline_thumb(paths: list[tuple[Path, str, str | None]], width: int, height: int, pad: float = 3) -> str:
    """Return a small drawing of (path, class, fill) that fits `width` by `height` px."""
    boxes = [p.bounds for p, _, _ in paths if p.bounds]
    if not boxes:
        return f'<svg viewBox="0 0 {width} {height}" aria-hidden="true"></svg>'
    x0, y0, x1, y1 = geometry.join_boxes(boxes)
    scale = min((width - 2 * pad) / max(x1 - x0, 1e-9), (height - 2 * pad) / max(y1 - y0, 1e-9))
    dx = (width - scale * (x1 - x0)) / 2 - scale * x0
    dy = (height - scale * (y1 - y0)) / 2 - scale * y0
    drawn = "".join(
        f'<path class="{kind}" d="{p.transform((scale, 0, 0, scale, dx, dy)).to_svg(2)}"'
        f"{_rule(p, 'fill-rule')}{f' fill={chr(34)}{fill}{chr(34)}' if fill else ''}/>"
        for p, kind, fill in paths
        if not p.is_empty
    )
    return f'<svg viewBox="0 0 {width} {height}" aria-hidden="true">{drawn}</svg>'


def _data_uri(image: Image.Image) -> str:
    out = io.BytesIO()
    if image.mode == "RGBA":
        image.save(out, "PNG", compress_level=6)
        kind = "png"
    else:
        image.save(out, "JPEG", quality=92, subsampling=0)
        kind = "jpeg"
    return f"data:image/{kind};base64,{base64.b64encode(out.getvalue()).decode()}"


def _delivered(item: Item, href: Href) -> str:
    if item.hidden:
        return ""
    if isinstance(item, Photo):
        return _image(item, href(item))
    if isinstance(item, Group):
        return f"<g><title>{escape(item.name)}</title>{''.join(_delivered(i, href) for i in item.items)}</g>"
    path = geometry.outline_of(item)
    images = "".join(_image(p, href(p)) for p in item.photos)
    opacity = f' opacity="{_n(item.paint.opacity)}"' if item.paint.opacity < 1 else ""
    if item.paint.blend != "normal":
        opacity += f' style="mix-blend-mode: {item.paint.blend}"'
    body = _body(item, path.to_svg(6), path, images, f"clip-{item.id}")
    return f"<g{opacity}><title>{escape(item.name)}</title>{body}</g>"


def deliver_svg(sheet: Sheet, resolution: float, load: Loader, only: Item | None = None) -> str:
    """Return the sheet, or one item, as an SVG file of its own, photos inside it at about `resolution` px per inch.

    The file is as large as what shows. Raises PictureError where nothing does.
    """
    x0, y0, x1, y1 = delivered_box(sheet, only)
    scale = resolution / sheet.resolution
    addresses: dict[tuple[str, float], str] = {}

    def href(photo: Photo) -> str:
        m = photo.placing
        share = min(1.0, scale * max((m.a**2 + m.b**2) ** 0.5, (m.c**2 + m.d**2) ** 0.5))
        key = (photo.file, share)
        if key not in addresses:
            image = load(photo, share)
            width = max(1, min(image.width, round(photo.width * share)))
            height = max(1, min(image.height, round(photo.height * share)))
            if (width, height) != image.size:
                image = image.resize((width, height), Image.Resampling.LANCZOS, reducing_gap=2.0)
            addresses[key] = _data_uri(image)
        return addresses[key]

    parts = []
    if sheet.backdrop and only is None:
        parts.append(f'<rect width="{_n(sheet.width)}" height="{_n(sheet.height)}" fill="{sheet.backdrop}"/>')
    for item in (only,) if only is not None else sheet.items:
        parts.append(_delivered(item, href))
    unit = sheet.unit
    if unit == "px":
        # a viewer's px are whole: a fraction of one would be scaled away
        width, height = pixel_size((x0, y0, x1, y1), 1.0)
        x1, y1 = x0 + width, y0 + height
    sizes = [show_length(v, unit, sheet.resolution, 4) for v in (x1 - x0, y1 - y0)]
    return (
        '<svg xmlns="http://www.w3.org/2000/svg"'
        f' width="{sizes[0]}{unit}" height="{sizes[1]}{unit}"'
        f' viewBox="{_n(x0)} {_n(y0)} {_n(x1 - x0)} {_n(y1 - y0)}">{"".join(parts)}</svg>\n'
    )
