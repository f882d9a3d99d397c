"""A contact sheet: the files of a batch as small pictures with their names, on pages of A4."""

from collections.abc import Iterable
from typing import Final

from msgspec.structs import replace

import outline
from outline import Matrix
from picture.draw.raster import Loader
from sheet.document.ids import new_ids
from sheet.document.model import INK, Item, Lettering, Paint, Piece, Rectangle, Sheet
from sheet.export.order import Order
from sheet.export.sizes import Exported
from sheet.geometry.copies import copied
from sheet.geometry.geometry import Box
from sheet.geometry.placing import moved

from .pdf import export_pdf_pages

__all__ = ["PER_PAGE", "contact_sheet"]

RESOLUTION: Final = 150.0
"""Px per inch: common practice for viewing."""
WIDTH, HEIGHT = round(210 / 25.4 * RESOLUTION), round(297 / 25.4 * RESOLUTION)
"""A4 (ISO 216)."""
COLUMNS, ROWS = 4, 5
PER_PAGE: Final = COLUMNS * ROWS
MARGIN, HEAD, GAP, FOOT = 70.0, 70.0, 28.0, 34.0
NAME_FONT: Final = "atkinson-hyperlegible"


def _lettered(sheet: Sheet, text: str, size: float, x: float, y: float, most: float) -> tuple[Sheet, Piece | None]:
    """Return a line of text, shortened to fit `most` px; None if the font has none of its characters."""
    while True:
        shape = Lettering(text[:200], NAME_FONT, size)
        path = outline.lettering(shape.text, NAME_FONT, size).path
        box = path.bounds
        if box is None:
            return sheet, None
        if box[2] <= most or len(text) < 8:
            break
        text = text[: max(6, int(len(text) * most / box[2]) - 2)].rstrip("…") + "…"
    sheet, (new,) = new_ids(sheet)
    return sheet, Piece(new, "Name", shape, Matrix.move(x, y).numbers(), Paint(fill=INK))


def _fitting(box: Box, cell: Box) -> Matrix:
    across, down = box[2] - box[0], box[3] - box[1]
    by = min((cell[2] - cell[0]) / across, (cell[3] - cell[1]) / down)
    x = (cell[0] + cell[2] - by * across) / 2 - by * box[0]
    y = (cell[1] + cell[3] - by * down) / 2 - by * box[1]
    return Matrix(by, 0, 0, by, x, y)


def contact_sheet(cells: Iterable[tuple[Sheet, Exported, str]], title: str, load: Loader) -> bytes:
    """Return a PDF of files, each given by its sheet, its artwork and its name; twenty on a page."""
    sheet = Sheet(float(WIDTH), float(HEIGHT), resolution=RESOLUTION)
    pages: list[Exported] = []
    items: list[Item] = []
    for number, (source, what, name) in enumerate(cells):
        if number % PER_PAGE == 0:
            if items:
                pages.append(_page(items, len(pages)))
            items = []
            sheet, head = _lettered(sheet, title, 30, MARGIN, MARGIN + 14 + HEIGHT * len(pages), WIDTH - 2 * MARGIN)
            items += [head] if head is not None else []
        column, row = number % COLUMNS, number % PER_PAGE // COLUMNS
        across = (WIDTH - 2 * MARGIN - (COLUMNS - 1) * GAP) / COLUMNS
        down = (HEIGHT - 2 * MARGIN - HEAD - ROWS * FOOT - (ROWS - 1) * GAP) / ROWS
        x = MARGIN + column * (across + GAP)
        y = MARGIN + HEAD + row * (down + FOOT + GAP) + HEIGHT * len(pages)
        m = _fitting(what.box, (x, y, x + across, y + down))
        if not what.items and source.backdrop:
            sheet, (new,) = new_ids(sheet)
            ground = Rectangle(source.width * m.a, source.height * m.a)
            items.append(Piece(new, "Backdrop", ground, Matrix.move(m.e, m.f).numbers(), Paint(fill=source.backdrop)))
        for item in what.items or source.items:
            if not item.hidden:
                sheet, copy = copied(sheet, item)
                items.append(moved(copy, m, details=True))
        sheet, line = _lettered(sheet, name, 15, x, y + down + 22, across)
        items += [line] if line is not None else []
    if items:
        pages.append(_page(items, len(pages)))
    drawn = replace(sheet, items=tuple(i for page in pages for i in page.items), height=float(HEIGHT * len(pages)))
    return export_pdf_pages(drawn, pages, load, Order(format="pdf", size=f"{RESOLUTION:g}"))


def _page(items: list[Item], number: int) -> Exported:
    box = (0.0, float(HEIGHT * number), float(WIDTH), float(HEIGHT * (number + 1)))
    return Exported(tuple(items), box, 1.0, RESOLUTION, WIDTH, HEIGHT)
