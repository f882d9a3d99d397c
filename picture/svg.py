"""A sheet as an SVG file of its own, photos inside it."""

import base64
import io
from html import escape

from PIL import Image

from sheet import geometry
from sheet.delivery import Delivered, Order, pixel_size
from sheet.lengths import show_length
from sheet.model import Group, Item, Photo, Sheet

from .drawn import Href, blended, body, image, opacity, text_of
from .raster import Loader

__all__ = ["deliver_svg"]


def _data_uri(picture: Image.Image) -> str:
    out = io.BytesIO()
    if picture.mode == "RGBA":
        picture.save(out, "PNG", compress_level=6)
        kind = "png"
    else:
        picture.save(out, "JPEG", quality=92, subsampling=0)
        kind = "jpeg"
    return f"data:image/{kind};base64,{base64.b64encode(out.getvalue()).decode()}"


def _element(item: Item, href: Href) -> str:
    if item.hidden:
        return ""
    if isinstance(item, Photo):
        return image(item, href(item), blended(item.blend))
    if isinstance(item, Group):
        whole = f"{opacity(item.opacity)}{blended(item.blend)}"
        return f"<g{whole}><title>{escape(item.name)}</title>{''.join(_element(i, href) for i in item.items)}</g>"
    path = geometry.outline_of(item)
    images = "".join(image(p, href(p), blended(p.blend)) for p in item.photos)
    style = f"{opacity(item.paint.opacity)}{blended(item.paint.blend)}"
    drawn = body(item, path.to_svg(6), path, images, f"clip-{item.id}")
    return f"<g{style}><title>{escape(item.name)}</title>{drawn}</g>"


def deliver_svg(sheet: Sheet, what: Delivered, load: Loader, order: Order) -> bytes:
    """Return what is delivered as an SVG file, photos inside it at about its px per inch; as large as what shows.

    Raises PictureError where a photo cannot be read.
    """
    x0, y0, x1, y1 = what.box
    scale = what.scale
    addresses: dict[tuple[str, float], str] = {}

    def href(photo: Photo) -> str:
        m = photo.placing
        share = min(1.0, scale * max((m.a**2 + m.b**2) ** 0.5, (m.c**2 + m.d**2) ** 0.5))
        key = (photo.file, share)
        if key not in addresses:
            picture = load(photo, share)
            width = max(1, min(picture.width, round(photo.width * share)))
            height = max(1, min(picture.height, round(photo.height * share)))
            if (width, height) != picture.size:
                picture = picture.resize((width, height), Image.Resampling.LANCZOS, reducing_gap=2.0)
            addresses[key] = _data_uri(picture)
        return addresses[key]

    parts = []
    if sheet.backdrop and not what.items:
        place = f'x="{text_of(x0)}" y="{text_of(y0)}" width="{text_of(x1 - x0)}" height="{text_of(y1 - y0)}"'
        parts.append(f'<rect {place} fill="{sheet.backdrop}"/>')
    parts += [_element(item, href) for item in what.items or sheet.items]
    unit = sheet.unit
    # the real size that is asked for; px are those of the sheet, or those that are asked for
    real = scale if unit == "px" and order.by != "resolution" else scale * sheet.resolution / what.resolution
    if unit == "px":
        # a viewer's px are whole: a fraction of one would be scaled away
        width, height = pixel_size((x0, y0, x1, y1), real)
        x1, y1 = x0 + width / real, y0 + height / real
    sizes = [show_length(v * real, unit, sheet.resolution, 4) for v in (x1 - x0, y1 - y0)]
    text = (
        '<svg xmlns="http://www.w3.org/2000/svg"'
        f' width="{sizes[0]}{unit}" height="{sizes[1]}{unit}"'
        f' viewBox="{text_of(x0)} {text_of(y0)} {text_of(x1 - x0)} {text_of(y1 - y0)}">{"".join(parts)}</svg>\n'
    )
    return text.encode()
