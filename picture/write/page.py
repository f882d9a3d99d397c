"""A framed picture for the web: a page with the markup to copy, and the photo cropped in three widths.

HTML Living Standard (`picture`, `srcset`), CSS Masking 1 (`clip-path`), CSS Shapes 1 and 2 (`path()`, `shape()`).
"""

import io
import zipfile
from collections.abc import Iterator
from html import escape
from typing import Final

from msgspec.structs import replace

import outline
from outline import Matrix
from picture.draw.drawn import body, text_of
from picture.draw.raster import Loader
from sheet.document.errors import SheetError
from sheet.document.kinds import Rectangle
from sheet.document.model import Piece, Sheet
from sheet.export.order import Order
from sheet.export.sizes import Exported, pixel_size
from sheet.geometry import geometry

from .encoding import export_avif, export_webp
from .web import web_outline

__all__ = ["WRITERS", "export_page", "pictures_of"]

SHARES: Final = (0.5, 1.0, 2.0)
"""The widths of the pictures, as multiples of the frame's width on the page."""
WRITERS: Final = {"avif": export_avif, "webp": export_webp}
"""The best first: a browser takes the first one it supports."""


def _frame(what: Exported) -> Piece:
    """Return the only frame or outline of an export. Raises SheetError for anything else."""
    if len(what.items) == 1 and isinstance(what.items[0], Piece):
        return what.items[0]
    raise SheetError(
        "A web page shows one frame or outline.", "Select one, or export each frame as a file of its own.", "what"
    )


def pictures_of(what: Exported) -> Iterator[Exported]:
    """Yield the contents of the frame without its outline and border, in each width. Raises SheetError."""
    piece = _frame(what)
    box = geometry.outline_of(piece).bounds
    if box is None:
        raise SheetError(f"“{piece.name}” has no area.", "Select a closed outline.", "what")
    x0, y0, x1, y1 = box
    paint = replace(piece.paint, stroke=None, dashes=(), opacity=1.0, blend="normal")
    whole = Rectangle(x1 - x0, y1 - y0)
    inner = Piece(piece.id, piece.name, whole, Matrix.move(x0, y0).numbers(), paint, photos=piece.photos)
    for share in SHARES:
        scale = what.scale * share
        yield Exported((inner,), box, scale, what.resolution, *pixel_size(box, scale))


def _border(piece: Piece) -> str:
    """Return a drawing of the border to put over the picture, empty if there is none."""
    if not geometry.has_border(piece):
        return ""
    path = geometry.outline_of(piece)
    x0, y0, x1, y1 = path.bounds or (0.0, 0.0, 1.0, 1.0)
    bare = replace(piece, paint=replace(piece.paint, fill=None, opacity=1.0, blend="normal"), photos=())
    drawn = body(bare, path.to_svg(3), path, "", f"border-{piece.id}")
    view = " ".join(text_of(v) for v in (x0, y0, x1 - x0, y1 - y0))
    return f'\n  <svg viewBox="{view}" preserveAspectRatio="none" aria-hidden="true">{drawn}</svg>'


def export_page(sheet: Sheet, what: Exported, load: Loader, order: Order) -> bytes:
    """Return a zip with the page and its pictures. Raises SheetError for anything but one frame or outline."""
    piece = _frame(what)
    made = list(pictures_of(what))
    width, height = made[1].width, made[1].height
    plain = replace(order, lossless=False, own_profile=False, format="webp")
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as box:
        for kind, write in WRITERS.items():
            for one in made:
                # a fixed date: the same export is the same file, byte for byte
                name = zipfile.ZipInfo(f"pictures/{one.width}.{kind}", (2026, 1, 1, 0, 0, 0))
                box.writestr(name, write(sheet, one, load, plain))
        text = _page(sheet, piece, (width, height), [one.width for one in made], order.alt.strip() or piece.name)
        box.writestr(zipfile.ZipInfo("index.html", (2026, 1, 1, 0, 0, 0)), text, zipfile.ZIP_DEFLATED)
    return out.getvalue()


def _page(sheet: Sheet, piece: Piece, size: tuple[int, int], widths: list[int], alt: str) -> str:
    width, height = size
    bounds = geometry.outline_of(piece).bounds
    assert bounds is not None
    at = Matrix.resize(width / (bounds[2] - bounds[0]), height / (bounds[3] - bounds[1]))
    region = outline.union([geometry.outline_of(piece)]).transform(at @ Matrix.move(-bounds[0], -bounds[1]))
    shape, _, _ = web_outline(sheet, piece, "shape")
    fades = f"\n    opacity: {text_of(piece.paint.opacity)};" if piece.paint.opacity < 1 else ""
    sources = "".join(
        f'\n    <source type="image/{kind}" sizes="(max-width: {width}px) 100vw, {width}px" srcset="'
        + ", ".join(f"pictures/{w}.{kind} {w}w" for w in widths)
        + '">'
        for kind in WRITERS
    )
    return f"""<!DOCTYPE html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width">
<title>{escape(piece.name)}</title>
<style>
  body {{
    margin: 0;
  }}
  /* to copy: from here */
  .framed {{
    position: relative;
    display: block;
    width: 100%;
    max-width: {width}px;
    aspect-ratio: {width} / {height};{fades}
  }}
  .framed img {{
    display: block;
    width: 100%;
    height: 100%;
    object-fit: cover;
    object-position: 50% 50%;
    /* for browsers without shape(), in px: right at the full width */
    clip-path: path(evenodd, "{region.to_svg(2)}");
    {shape}
  }}
  .framed svg {{
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
    overflow: visible;
  }}
  /* to here */
</style>
</head>
<body>
<!-- to copy: from here -->
<span class="framed">
  <picture>{sources}
    <img src="pictures/{widths[1]}.webp" width="{width}" height="{height}" alt="{escape(alt)}">
  </picture>{_border(piece)}
</span>
<!-- to here -->
</body>
</html>
"""
