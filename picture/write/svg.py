"""A sheet as an SVG file: photos embedded or beside it, or its outlines alone."""

import base64
import io
import zipfile
from collections.abc import Callable, Iterator
from html import escape
from typing import Final

from PIL import Image

import outline
from outline import Matrix
from picture.draw.drawn import blended, body, opacity, rule, text_of
from picture.draw.raster import Loader
from picture.mapped_pixels import has_alpha
from sheet.document.model import Group, Item, Photo, Piece, Sheet
from sheet.export.order import Order
from sheet.export.sizes import Exported, pixel_size
from sheet.geometry import geometry
from sheet.geometry.geometry import Box, join_boxes
from sheet.geometry.placing import needed_share
from sheet.reading.lengths import show_length

from .cut_line import as_group, cut_line
from .profiles import Files

__all__ = ["export_svg", "photo_boxes"]

AROUND: Final = 2
"""Px of a photo kept beyond its visible part, because its edge is blended with them."""
QUALITY: Final = 92
HAIRLINE: Final = 0.25
"""Points (common practice for outlines that a cutter follows)."""


def _placed(items: tuple[Item, ...]) -> Iterator[tuple[Photo, Piece | None]]:
    """Yield each visible photo, with the outline that contains it."""
    for item in items:
        if item.hidden:
            continue
        if isinstance(item, Photo):
            yield item, None
        elif isinstance(item, Group):
            yield from _placed(item.items)
        else:
            yield from ((photo, item) for photo in item.photos)


def photo_boxes(items: tuple[Item, ...], box: Box, scale: float) -> dict[str, tuple[Box, float]]:
    """Return for each photo's file the box (px) that shows anywhere, and the needed share of its size."""
    found: dict[str, tuple[Box, float]] = {}
    x0, y0, x1, y1 = box
    around = outline.rectangle(x1 - x0, y1 - y0).transform(Matrix.move(x0, y0))
    for photo, piece in _placed(items):
        if photo.placing.determinant == 0:
            continue
        # in the photo's own px, so that a turned photo is cropped as little as possible
        back = photo.placing.inverse()
        x0, y0, x1, y1 = 0.0, 0.0, float(photo.width), float(photo.height)
        for path in (around, *((geometry.outline_of(piece),) if piece is not None else ())):
            left, top, right, bottom = path.transform(back).bounds or (0.0, 0.0, 0.0, 0.0)
            x0, y0, x1, y1 = max(x0, left), max(y0, top), min(x1, right), min(y1, bottom)
        if x0 >= x1 or y0 >= y1:
            continue
        seen: Box = (x0, y0, x1, y1)
        share = needed_share(photo, scale)
        if photo.file in found:
            before, most = found[photo.file]
            seen, share = join_boxes([before, seen]), max(share, most)
        found[photo.file] = (seen, share)
    return found


def _encoded(picture: Image.Image) -> tuple[bytes, str]:
    out = io.BytesIO()
    if has_alpha(picture):
        picture.save(out, "PNG", compress_level=6)
        return out.getvalue(), "png"
    plain = picture if picture.mode == "RGB" else picture.convert("RGB")
    plain.save(out, "JPEG", quality=QUALITY, subsampling=0)
    return out.getvalue(), "jpg"


class _Pictures:
    """The embedded pictures, each once, and the elements that show them."""

    def __init__(self, items: tuple[Item, ...], what: Exported, load: Loader, order: Order):
        self.load, self.order = load, order
        self.boxes = photo_boxes(items, what.box, what.scale)
        self.count: dict[str, int] = {}
        for photo, _ in _placed(items):
            self.count[photo.file] = self.count.get(photo.file, 0) + 1
        self.defs: list[str] = []
        self.files: dict[str, bytes] = {}
        self.known: dict[str, str] = {}

    def _address(self, photo: Photo) -> tuple[str, tuple[int, int, int, int]]:
        """Return the address of a photo's picture, and the box (px of the photo) that it shows."""
        box, share = self.boxes[photo.file]
        x0, y0, x1, y1 = 0, 0, photo.width, photo.height
        if self.order.photos != "whole":
            around = AROUND / share
            x0, y0 = max(0, int(box[0] - around)), max(0, int(box[1] - around))
            x1, y1 = min(photo.width, int(box[2] + around) + 1), min(photo.height, int(box[3] + around) + 1)
        data, kind = b"", "jpg"
        if share > 0.99 and (x0, y0, x1, y1) == (0, 0, photo.width, photo.height) and isinstance(self.load, Files):
            data = self.load.encoded(photo) or b""
        if not data:
            picture = self.load(photo, share)
            across, down = picture.width / photo.width, picture.height / photo.height
            size = (max(1, round((x1 - x0) * share)), max(1, round((y1 - y0) * share)))
            part = (x0 * across, y0 * down, x1 * across, y1 * down)
            if size != picture.size or part != (0, 0, *picture.size):
                # never larger than the original
                size = (min(size[0], max(1, round(part[2] - part[0]))), min(size[1], max(1, round(part[3] - part[1]))))
                picture = picture.resize(size, Image.Resampling.LANCZOS, box=part, reducing_gap=2.0)
            data, kind = _encoded(picture)
        if self.order.photos == "linked":
            name = f"photos/{len(self.files) + 1}-{photo.file[:8]}.{kind}"
            self.files[name] = data
            return name, (x0, y0, x1, y1)
        media = "jpeg" if kind == "jpg" else kind
        return f"data:image/{media};base64,{base64.b64encode(data).decode()}", (x0, y0, x1, y1)

    def element(self, photo: Photo) -> str:
        """Return the element that shows a photo, empty if nothing of it shows."""
        if photo.file not in self.boxes:
            return ""
        m = " ".join(repr(round(v, 9)) for v in photo.matrix)
        more = f' transform="matrix({m})"{opacity(photo.opacity)}{blended(photo.blend)}'
        if photo.file not in self.known:
            address, (x0, y0, x1, y1) = self._address(photo)
            at = f' x="{x0}" y="{y0}"' if x0 or y0 else ""
            shape = f'href="{escape(address)}"{at} width="{x1 - x0}" height="{y1 - y0}" preserveAspectRatio="none"'
            if self.count[photo.file] == 1:
                return f"<image {shape}{more}/>"
            name = f"photo-{len(self.known) + 1}"
            self.defs.append(f'<image id="{name}" {shape}/>')
            self.known[photo.file] = name
        return f'<use href="#{self.known[photo.file]}"{more}/>'


def _element(item: Item, show: Callable[[Photo], str]) -> str:
    if item.hidden:
        return ""
    if isinstance(item, Photo):
        return show(item)
    if isinstance(item, Group):
        whole = f"{opacity(item.opacity)}{blended(item.blend)}"
        return f"<g{whole}><title>{escape(item.name)}</title>{''.join(_element(i, show) for i in item.items)}</g>"
    path = geometry.outline_of(item)
    images = "".join(show(p) for p in item.photos)
    style = f"{opacity(item.paint.opacity)}{blended(item.paint.blend)}"
    drawn = body(item, path.to_svg(6), path, images, f"clip-{item.id}")
    return f"<g{style}><title>{escape(item.name)}</title>{drawn}</g>"


def _outline(item: Item, width: str) -> str:
    """Return an item's outlines alone, as hairlines."""
    if item.hidden or isinstance(item, Photo):
        return ""
    if isinstance(item, Group):
        return f"<g><title>{escape(item.name)}</title>{''.join(_outline(i, width) for i in item.items)}</g>"
    path = geometry.outline_of(item)
    pen = f'fill="none"{rule(path, "fill-rule")} stroke="#000000" stroke-width="{width}"'
    return f'<path d="{path.to_svg(6)}" {pen}><title>{escape(item.name)}</title></path>'


def export_svg(sheet: Sheet, what: Exported, load: Loader, order: Order) -> bytes:
    """Return an export as an SVG file of the size of the artwork, or as a zip of it with its photos beside it.

    Photos are resampled to the px per inch asked for and cropped to what shows of them;
    one that is shown several times is embedded once. Raises PictureError if a photo
    cannot be read.
    """
    x0, y0, x1, y1 = what.box
    scale = what.scale
    items = what.items or sheet.items
    pictures = _Pictures(items, what, load, order)
    parts = []
    if order.photos == "none":
        width = text_of(HAIRLINE / 72 * sheet.resolution)
        parts += [_outline(item, width) for item in items]
    else:
        if sheet.backdrop and not what.items:
            place = f'x="{text_of(x0)}" y="{text_of(y0)}" width="{text_of(x1 - x0)}" height="{text_of(y1 - y0)}"'
            parts.append(f'<rect {place} fill="{sheet.backdrop}"/>')
        parts += [_element(item, pictures.element) for item in items]
    line = cut_line(sheet, order)
    if line is not None:
        parts.append(as_group(line, sheet))
    if pictures.defs:
        parts.insert(0, f"<defs>{''.join(pictures.defs)}</defs>")
    unit = sheet.unit
    # the real size asked for; px are those of the sheet, or those asked for
    real = scale if unit == "px" and order.by != "resolution" else scale * sheet.resolution / what.resolution
    if unit == "px":
        # viewers round to whole px: a fraction would be scaled away
        width_px, height_px = pixel_size((x0, y0, x1, y1), real)
        x1, y1 = x0 + width_px / real, y0 + height_px / real
    sizes = [show_length(v * real, unit, sheet.resolution, 4) for v in (x1 - x0, y1 - y0)]
    text = (
        '<svg xmlns="http://www.w3.org/2000/svg"'
        f' width="{sizes[0]}{unit}" height="{sizes[1]}{unit}"'
        f' viewBox="{text_of(x0)} {text_of(y0)} {text_of(x1 - x0)} {text_of(y1 - y0)}">{"".join(parts)}</svg>\n'
    )
    if order.photos != "linked":
        return text.encode()
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as box:
        box.writestr("drawing.svg", text, zipfile.ZIP_DEFLATED)
        for name, data in pictures.files.items():
            box.writestr(name, data)
    return out.getvalue()
