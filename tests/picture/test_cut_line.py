"""The cut line: a separation on a layer of its own by pikepdf, where it should be by pdfium, and a group of SVG."""

import io
import re
import unittest

import numpy as np
import pikepdf

import outline
from outline import Path
from picture import FORMATS
from sheet import SheetError
from sheet.export.order import Order, ordered
from sheet.geometry.geometry import outline_of
from tests.sheet.helpers import Table

from .test_export import loader
from .test_pdf import shown, written


class CutLine(unittest.TestCase):
    def setUp(self):
        # 10 px are 1 mm
        self.t = Table("100", "80", "mm", "254")
        self.t.rectangle(0, 0, 1000, 800)
        a, b = self.t.ellipse(200, 150, 500, 400), self.t.rectangle(400, 300, 100, 100)
        (self.ring,) = self.t.do("combine", ids=[a, b], operation="subtract")
        self.t.do("mark", ids=[self.ring], field="hidden", on=True)

    def test_pdf_has_a_spot_colour_that_overprints_on_a_layer(self):
        for marks in (False, True):
            with self.subTest(marks=marks):
                data = written(self.t, loader, cut=self.ring, cut_name="Die cut", marks=marks, what="sheet")
                with pikepdf.open(io.BytesIO(data)) as pdf:
                    self.assertEqual([str(g.Name) for g in pdf.Root.OCProperties.OCGs], ["Die cut"])
                    resources = pdf.pages[0].resources
                    kind, name, base, tint = resources.ColorSpace.CutLine
                    self.assertEqual((str(kind), str(name), str(base)), ("/Separation", "/Die_cut", "/DeviceCMYK"))
                    self.assertEqual([int(v) for v in tint.C1], [0, 1, 0, 0])
                    over = resources.ExtGState.CutOver
                    self.assertTrue(over.OP and over.op)
                    drawn = b"".join(
                        pikepdf.unparse_content_stream(pikepdf.parse_content_stream(pdf.pages[0])).split(b"\n")
                    )
                    self.assertEqual(drawn.count(b"/CutLine CS"), 1)
                    trim = [float(v) for v in pdf.pages[0].TrimBox]
                page = shown(data, 4.0)
                # magenta alone, whatever pdfium makes of it: much more red and blue than green
                r, g, b = (page[..., k] for k in range(3))
                ys, xs = np.nonzero((r > g + 40) & (b > g + 40))
                mm = 72 / 25.4 * 4
                left, top = trim[0] * 4, page.shape[0] - trim[3] * 4
                for got, want in (
                    (xs.min() - left, 20 * mm),
                    (xs.max() - left, 70 * mm),
                    (ys.min() - top, 15 * mm),
                    (ys.max() - top, 55 * mm),
                ):
                    self.assertAlmostEqual(got, want, delta=2)

    def test_svg_has_it_as_its_topmost_group(self):
        asked = Order(format="svg", what="sheet", cut=self.ring)
        (what,) = ordered(self.t.sheet, asked)
        text = FORMATS["svg"].write(self.t.sheet, what, loader, asked).decode()
        group = re.search(r'<g id="cut-line" data-spot="CutContour".*?d="([^"]+)"/></g></svg>', text)
        path = Path.from_svg(group[1])
        want = outline_of(self.t.item(self.ring))
        self.assertLess(outline.exclude([path, want]).area, 1e-6 * want.area)
        plain = Order(format="svg", what="sheet")
        self.assertNotIn("cut-line", FORMATS["svg"].write(self.t.sheet, what, loader, plain).decode())

    def test_lines_that_are_open_stay_lines_and_what_is_gone_is_said(self):
        (line,) = self.t.do("draw_freehand", points=[[100, 100], [500, 200], [900, 100]], tolerance=1)
        data = written(self.t, loader, cut=line, what="sheet")
        with pikepdf.open(io.BytesIO(data)) as pdf:
            stream = pikepdf.unparse_content_stream(pikepdf.parse_content_stream(pdf.pages[0])).decode()
        cut = stream[stream.index("/CutLine CS") :]
        self.assertNotRegex(cut, r"\bh\b")
        with self.assertRaisesRegex(SheetError, "to cut along is gone"):
            written(self.t, loader, cut="i999", what="sheet")
