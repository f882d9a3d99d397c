"""The line for a print shop's cutter: an outline stroked in a named spot colour, on its own layer.

ISO 32000-1: separation colour spaces (8.6.6.4), overprint (11.7.4.3), optional content (8.11).
"""

from html import escape
from typing import Final

import pikepdf
from pikepdf import Array, Dictionary, Name

import outline
from outline import Matrix, Path
from picture.draw.drawn import text_of
from sheet.document.errors import SheetError
from sheet.document.limits import clean_name
from sheet.document.model import Sheet
from sheet.document.tree import present
from sheet.export.order import Order
from sheet.geometry import geometry

__all__ = ["add_to_page", "as_group", "cut_line"]

WIDTH: Final = 0.25
"""Points (common practice)."""
SHOWN: Final = "#ff00ff"
"""Its colour on a screen (common practice: one that no artwork has)."""


def cut_line(sheet: Sheet, order: Order) -> tuple[Path, str] | None:
    """Return the outline to cut along and the name of its spot colour, None if there is none. Raises SheetError.

    It may be a hidden item, so that the line is cut without being printed.
    """
    if not order.cut:
        return None
    pieces = [p for item in present(sheet, [order.cut]) for p in geometry.pieces_of(item)]
    paths = [geometry.outline_of(p) for p in pieces]
    closed = [p for p in paths if p.is_closed]
    name = clean_name(order.cut_name) or "CutContour"
    if not paths:
        raise SheetError("The outline to cut along is gone.", "Select another one under Cut line.", "cut")
    # areas are cut around, open lines along
    return Path.gather([*([outline.union(closed)] if closed else []), *(p for p in paths if not p.is_closed)]), name


def as_group(line: tuple[Path, str], sheet: Sheet) -> str:
    """Return it as an SVG group, for the top of the file."""
    path, name = line
    width = text_of(WIDTH / 72 * sheet.resolution)
    pen = f'fill="none" stroke="{SHOWN}" stroke-width="{width}"'
    said = escape(name)
    return f'<g id="cut-line" data-spot="{said}" {pen}><title>{said}</title><path d="{path.to_svg(6)}"/></g>'


def _operators(path: Path) -> str:
    """Return a path as operators of a content stream (ISO 32000-1, 8.5.2)."""
    words: list[str] = []

    def at(*values: float) -> str:
        return " ".join(text_of(v, 4) for v in values)

    for part in path.subpaths:
        ctrl, kind, _, closed = part.arrays
        words.append(f"{at(*ctrl[0, :2])} m")
        for row, is_curve in zip(ctrl.tolist(), kind.tolist(), strict=True):
            words.append(f"{at(*row[2:])} c" if is_curve else f"{at(*row[6:])} l")
        if closed[0]:
            words.append("h")
    return " ".join(words)


def add_to_page(pdf: pikepdf.Pdf, page: pikepdf.Page, line: tuple[Path, str], m: Matrix, in_rgb: bool = False) -> None:
    """Draw the line on a page, above everything; `m` takes the sheet to points from the page's lower left corner.

    Where the spot colour is missing, magenta replaces it, or its RGB with `in_rgb` if the file allows nothing else.
    """
    path, name = line
    none, full = ([1, 1, 1], [1, 0, 1]) if in_rgb else ([0, 0, 0, 0], [0, 1, 0, 0])
    tint = Dictionary(FunctionType=2, Domain=Array([0, 1]), N=1, C0=Array(none), C1=Array(full))
    space = Name.DeviceRGB if in_rgb else Name.DeviceCMYK
    separation = Array([Name.Separation, Name(f"/{_written(name)}"), space, pdf.make_indirect(tint)])
    if "/OCProperties" not in pdf.Root:
        made = pdf.make_indirect(Dictionary(Type=Name.OCG, Name=pikepdf.String(name)))
        order = Dictionary(Order=Array([made]), ON=Array([made]), Name=pikepdf.String("Layers"))
        pdf.Root.OCProperties = Dictionary(OCGs=Array([made]), D=order)
    layer = pdf.Root.OCProperties.OCGs[0]
    over = Dictionary(Type=Name.ExtGState, OP=True, op=True, OPM=1)
    for kind, key, value in (
        ("/ColorSpace", "/CutLine", separation),
        ("/ExtGState", "/CutOver", over),
        ("/Properties", "/CutLayer", layer),
    ):
        if kind not in page.resources:
            page.resources[kind] = Dictionary()
        page.resources[kind][key] = pdf.make_indirect(value) if not value.is_indirect else value
    drawn = f"/OC /CutLayer BDC q /CutOver gs /CutLine CS 1 SCN {WIDTH} w {_operators(path.transform(m))} S Q EMC"
    page.contents_add(b"q", prepend=True)
    page.contents_add(f"Q {drawn}".encode())


def _written(name: str) -> str:
    """Return a name that is valid in a PDF name object: without delimiters (ISO 32000-1, 7.3.5)."""
    return "".join(c if c.isalnum() or c in "-_." else "_" for c in name)
