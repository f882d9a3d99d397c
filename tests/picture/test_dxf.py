"""DXF files read back by ezdxf, and their outlines held against those of the sheet by shapely."""

import io
import unittest

import ezdxf
from ezdxf import path as dxf_path
from shapely import Polygon, transform

import outline
from picture import FORMATS
from sheet import SheetError
from sheet.export.order import Order, ordered
from sheet.geometry.geometry import outline_of
from tests.sheet.helpers import Table

from .test_export import loader


class Cut(unittest.TestCase):
    def setUp(self):
        # 254 px per inch: 10 px are 1 mm
        t = self.t = Table("100", "80", "mm", "254")
        a, b = t.ellipse(100, 100, 500, 400), t.rectangle(300, 200, 100, 100)
        (self.ring,) = t.do("combine", ids=[a, b], operation="subtract")
        (self.word,) = t.do("draw_lettering", text="Tide", x=150, y=700, size=150, font="bitter")

    def written(self, **order) -> ezdxf.document.Drawing:
        asked = Order(format="dxf", what="sheet", extent="whole", **order)
        (what,) = ordered(self.t.sheet, asked)
        data = FORMATS["dxf"].write(self.t.sheet, what, loader, asked)
        self.assertEqual(data, FORMATS["dxf"].write(self.t.sheet, what, loader, asked))
        return ezdxf.read(io.StringIO(data.decode()))

    def region(self, drawing, layer: str, apart: float):
        """Return what the closed lines of a layer enclose, the inner ones taken out (mm, y upwards)."""
        found = Polygon()
        for entity in drawing.modelspace().query(f'*[layer=="{layer}"]'):
            ring = [(v.x, v.y) for v in dxf_path.make_path(entity).flattening(apart, segments=32)]
            found = found.symmetric_difference(Polygon(ring))
        return found

    def wanted(self, item_id: str):
        path = outline.union([outline_of(self.t.item(item_id))])
        rings = outline.flattened(path, 0.001)
        whole = Polygon()
        for ring in rings:
            whole = whole.symmetric_difference(Polygon(ring))
        # a tenth of the size, 800 px being 80 mm upwards
        return transform(whole, lambda at: at * (0.1, -0.1) + (0, 80))

    def test_splines_are_the_outline_itself_in_mm(self):
        drawing = self.written()
        self.assertEqual((drawing.units, drawing.audit().has_errors), (ezdxf.units.MM, False))
        for item_id in (self.ring, self.word):
            with self.subTest(item_id):
                found = self.region(drawing, self.t.item(item_id).name, 1e-5)
                want = self.wanted(item_id)
                self.assertLess(found.symmetric_difference(want).area, 1e-4 * want.area)
        x0, y0, x1, y1 = self.region(drawing, self.t.item(self.ring).name, 1e-5).bounds
        for got, want in ((x0, 10), (x1, 60), (y0, 80 - 50), (y1, 80 - 10)):
            self.assertAlmostEqual(got, want, delta=1e-3)

    def test_arcs_are_within_the_tolerance(self):
        for tolerance in ("0.2", "0.01mm"):
            with self.subTest(tolerance):
                drawing = self.written(curves="arcs", tolerance=tolerance)
                kinds = {e.dxftype() for e in drawing.modelspace()}
                self.assertEqual(kinds, {"LWPOLYLINE"})
                most = float(tolerance.removesuffix("mm"))
                exact = self.region(self.written(), self.t.item(self.word).name, 1e-5)
                near = self.region(drawing, self.t.item(self.word).name, 1e-5)
                self.assertLess(exact.boundary.hausdorff_distance(near.boundary), most * 1.01)
                self.assertGreater(exact.symmetric_difference(near).area, 0)

    def test_layers_lines_and_what_is_left_out(self):
        t = self.t
        (line,) = t.do("draw_freehand", points=[[700, 100], [800, 200], [900, 300]], tolerance=1)
        t.do("rename", id=line, name="Fold: 1/2")
        drawing = self.written()
        (fold,) = drawing.modelspace().query('*[layer=="Fold- 1-2"]')
        self.assertFalse(fold.closed)
        # four letters and the dot of the i
        self.assertEqual(len(self.region(drawing, self.t.item(self.word).name, 1e-4).geoms), 5)
        self.t.do("mark", ids=[self.word], field="hidden", on=True)
        self.assertEqual({e.dxf.layer for e in self.written().modelspace()}, {"Ellipse 1", "Fold- 1-2"})

    def test_what_has_no_outline_and_a_tolerance_that_is_none_are_refused(self):
        with self.assertRaisesRegex(SheetError, "0.001 to 10 mm"):
            self.written(curves="arcs", tolerance="0")
        t = Table()
        t.photo()
        asked = Order(format="dxf")
        with self.assertRaisesRegex(SheetError, "no outline"):
            FORMATS["dxf"].write(t.sheet, ordered(t.sheet, asked)[0], loader, asked)
