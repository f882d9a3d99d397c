"""Sheets and frames as pages of a PDF: outlines and clips as vectors, each photo once. Skia draws, pikepdf completes.

ISO 32000-1: page boundaries (14.11.2), identifiers (14.4). `pdf_standards` adds what PDF/A-2b and PDF/X-4 ask for.
"""

import hashlib
import io
import math
from collections.abc import Sequence
from typing import Final

import numpy as np
import pikepdf
import skia
from PIL import Image

from outline import Matrix
from picture.draw.raster import Images, Loader, Sampled, as_skia, draw_item
from picture.draw.skiapath import fill_color
from picture.mapped_pixels import has_alpha
from picture.progress import report_progress
from sheet import SheetError
from sheet.document.model import Photo, Sheet
from sheet.document.store import encoded
from sheet.export.order import Order
from sheet.export.sizes import Exported
from sheet.geometry.geometry import Box

from .cut_line import add_to_page, cut_line
from .pdf_standards import describe, finish, press_of, titled
from .profiles import Files

__all__ = ["export_pdf", "export_pdf_pages"]

POINTS: Final = 72.0
MAX_PAGE: Final = 14_400.0
"""The longest side of a page in points (ISO 32000-1, annex C)."""
MARK: Final = 5.0
"""The length of a crop mark; its distance from the bleed is half of that (mm; common practice)."""
QUALITY: Final = 92
_NO_ID: Final = b"<31415926535897932384626433832795>"
"""What qpdf writes for each half of an identifier that it should not make."""


def _images(load: Loader) -> Images:
    """Return the photos for Skia to embed: JPEG data as they are, each once."""
    known: dict[tuple[str, float], skia.Image] = {}
    pages: list[bytes] = []

    def image(photo: Photo, at_least: float, part: Box) -> Sampled:
        share = round(min(1.0, at_least), 4) or 1e-4
        key = (photo.file, share)
        if key not in known:
            known[key], data = _embedded(photo, share, load)
            # Skia reads them again when the document is closed
            pages.append(data)
        return Sampled(known[key], known[key].width(), known[key].height())

    return image


def _embedded(photo: Photo, share: float, load: Loader) -> tuple[skia.Image, bytes]:
    """Return a photo for Skia to embed, and the bytes that must live as long as it does."""
    if share > 0.99 and isinstance(load, Files):
        data = load.encoded(photo)
        if data is not None:
            return skia.Image.MakeFromEncoded(skia.Data.MakeWithoutCopy(data)), data
    picture = load(photo, share)
    width, height = max(1, round(photo.width * share)), max(1, round(photo.height * share))
    if width < picture.width:
        picture = picture.resize((width, height), Image.Resampling.LANCZOS, reducing_gap=2.0)
    if has_alpha(picture) and np.asarray(picture.getchannel("A")).min() < 255:
        return as_skia(picture), b""
    out = io.BytesIO()
    picture.convert("RGB").save(out, "JPEG", quality=QUALITY, subsampling=0)
    data = out.getvalue()
    return skia.Image.MakeFromEncoded(skia.Data.MakeWithoutCopy(data)), data


def export_pdf(sheet: Sheet, what: Exported, load: Loader, order: Order) -> bytes:
    """Return an export as a PDF of one page."""
    return export_pdf_pages(sheet, [what], load, order)


def export_pdf_pages(sheet: Sheet, files: Sequence[Exported], load: Loader, order: Order) -> bytes:
    """Return a PDF with a page for each of the files. Raises SheetError for a page that is too large."""
    images = _images(load)
    marks = 1.5 * MARK * POINTS / 25.4 if order.marks else 0.0
    stream = skia.DynamicMemoryWStream()
    metadata = skia.PDF.Metadata()
    metadata.fTitle, metadata.fCreator, metadata.fProducer = titled(order, files[0].name), "Gouge", "Gouge"
    document = skia.PDF.MakeDocument(stream, metadata)
    boxes: Boxes = []
    press = press_of(order)
    line = cut_line(sheet, order)
    for number, what in enumerate(files):
        report_progress(number / len(files))
        x0, y0, x1, y1 = what.box
        # points for each sheet unit
        scale = POINTS * what.scale / what.resolution
        width, height = (x1 - x0) * scale, (y1 - y0) * scale
        page = (width + 2 * marks, height + 2 * marks)
        if max(page) > MAX_PAGE:
            raise SheetError(
                f"A PDF page of {max(page) / POINTS:,.0f} inches is too large; {MAX_PAGE / POINTS:.0f} are the most.",
                "Type a smaller size, or export another format.",
                "size",
            )
        # Skia flips y about a whole number of points: the excess is removed below
        canvas = document.beginPage(*(math.ceil(side) for side in page))
        canvas.save()
        canvas.translate(marks, marks)
        canvas.clipRect(skia.Rect.MakeWH(width, height))
        if sheet.backdrop and not what.items:
            canvas.drawRect(skia.Rect.MakeWH(width, height), skia.Paint(Color=fill_color(sheet.backdrop)))
        canvas.scale(scale, scale)
        canvas.translate(-x0, -y0)
        for item in what.items or sheet.items:
            draw_item(canvas, item, what.scale, images)
        canvas.restore()
        bleed = min(sheet.bleed if order.extent == "bleed" and not what.items else 0.0, (x1 - x0) / 2) * scale
        if marks:
            _draw_marks(canvas, page, marks, bleed)
        document.endPage()
        to_page = Matrix(scale, 0.0, 0.0, -scale, marks - x0 * scale, page[1] - marks + y0 * scale)
        boxes.append((page, marks, bleed, to_page))
    document.close()
    shown = [(what, None if what.items else sheet) for what in files]
    cut = line and (line[0].to_svg(4), line[1])
    stated = [
        v
        for v in (order.standard, press and order.profile, order.inks and press and "inks", order.title, order.author)
        if v and v != "plain"
    ]
    identity = hashlib.blake2b(encoded((shown, order.extent, order.marks, cut, *stated)), digest_size=16).hexdigest()
    with pikepdf.open(io.BytesIO(bytes(stream.detachAsData()))) as pdf:
        _add_boxes(pdf, boxes)
        if line is not None:
            in_rgb = press.space != "CMYK" if press else order.standard == "archive"
            for sheet_page, (*_, to_page) in zip(pdf.pages, boxes, strict=True):
                add_to_page(pdf, sheet_page, line, to_page, in_rgb=in_rgb)
        finish(pdf, press, order.inks)
        describe(pdf, files[0].name, identity, order)
        return _saved(pdf, identity, "1.6" if press else "")


def _draw_marks(canvas: skia.Canvas, page: tuple[float, float], marks: float, bleed: float) -> None:
    """Draw a hairline at each end of the trimmed edges, outside the bleed."""
    pen = skia.Paint(Color=skia.ColorBLACK, StrokeWidth=0.25, Style=skia.Paint.kStroke_Style)
    long = MARK * POINTS / 25.4
    width, height = page
    inset = marks + bleed
    for x in (inset, width - inset):
        canvas.drawLine(x, 0, x, long, pen)
        canvas.drawLine(x, height - long, x, height, pen)
    for y in (inset, height - inset):
        canvas.drawLine(0, y, long, y, pen)
        canvas.drawLine(width - long, y, width, y, pen)


Boxes = list[tuple[tuple[float, float], float, float, Matrix]]
"""For each page its size, the width of the marks, its bleed (points), and the map from the sheet to it."""


def _add_boxes(pdf: pikepdf.Pdf, boxes: Boxes) -> None:
    for page, (size, marks, bleed, _) in zip(pdf.pages, boxes, strict=True):
        width, height = size
        page.contents_add(f"1 0 0 1 0 {height - math.ceil(height):.4f} cm ".encode(), prepend=True)
        page.MediaBox = pikepdf.Array([0, 0, round(width, 4), round(height, 4)])
        for name, inset in (("BleedBox", marks), ("TrimBox", marks + bleed)):
            edges = (inset, inset, width - inset, height - inset)
            page[f"/{name}"] = pikepdf.Array([round(v, 4) for v in edges])


def _saved(pdf: pikepdf.Pdf, identifier: str, version: str) -> bytes:
    """Return the file, with an identifier (32 hex digits) instead of a random one, and of a PDF version if given."""
    out = io.BytesIO()
    # Skia has compressed everything already
    level = pikepdf.StreamDecodeLevel.none
    pdf.save(out, compress_streams=False, stream_decode_level=level, static_id=True, force_version=version)
    # ISO 32000-1, 14.4: both halves are the same in a new file. A digest of the whole file, photos
    # included, would take longer than writing it; the sheet names its photos by their digests
    trailer = out.getvalue().rindex(b"trailer")
    out.seek(trailer)
    end = out.read()
    assert end.count(_NO_ID) == 2
    out.seek(trailer)
    out.write(end.replace(_NO_ID, f"<{identifier}>".encode()))
    return out.getvalue()
