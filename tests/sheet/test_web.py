"""The outline for the web as text: boxes, forms, the deviation of polygons."""

import re

import numpy as np
import shapely

import outline
from outline import Path
from picture.write.web import WEB, web_outline
from sheet import SheetError
from sheet.geometry.geometry import outline_of

from .helpers import TableCase


class Web(TableCase):
    def setUp(self):
        super().setUp()
        a, b = self.table.ellipse(200, 100, 300, 200), self.table.rectangle(300, 150, 60, 60)
        (self.ring,) = self.table.do("combine", ids=[a, b], operation="subtract")

    def text(self, kind: str, *args) -> str:
        text, width, height = web_outline(self.table.sheet, self.table.item(self.ring), kind, *args)
        self.assertAlmostEqual(width, 300, 9)
        self.assertAlmostEqual(height, 200, 9)
        return text

    def test_path_and_data_are_the_outline_from_the_corner_of_its_box(self):
        path = outline_of(self.table.item(self.ring)).transform((1, 0, 0, 1, -200, -100))
        for text in (self.text("data"), re.search(r'path\(evenodd, "([^"]+)"\)', self.text("path"))[1]):
            self.assertAlmostEqual(Path.from_svg(text, "evenodd").area, path.area, delta=2)

    def test_the_clip_path_lies_in_the_unit_square(self):
        d = re.search(r' d="([^"]+)"', self.text("clip"))[1]
        for got, want in zip(Path.from_svg(d, "evenodd").bounds, (0, 0, 1, 1), strict=True):
            self.assertAlmostEqual(got, want, 4)

    def test_a_polygon_stays_within_its_deviation(self):
        path = outline_of(self.table.item(self.ring)).transform((1, 0, 0, 1, -200, -100))
        counts = []
        for deviation in ("0.2", "1", "5"):
            text = self.text("polygon", deviation)
            points = np.array([[float(v) for v in p] for p in re.findall(r"([\d.]+)% ([\d.]+)%", text)])
            counts.append(len(points))
            drawn = Path.from_points(points * (3, 2), fill_rule="evenodd")
            self.assertLess(abs(drawn.area - path.area), float(deviation) * outline.length(path))
            line = shapely.LineString(points * (3, 2))
            # the places of the ellipse itself, by its formula
            t = np.linspace(0, 2 * np.pi, 400)
            for x, y in np.stack([150 + 150 * np.cos(t), 100 + 100 * np.sin(t)], axis=1):
                self.assertLess(line.distance(shapely.Point(x, y)), float(deviation) + 0.05)
        self.assertEqual(counts, sorted(counts, reverse=True))

    def test_refused(self):
        photo = self.table.photo()
        (line,) = self.table.do("draw_curve", d="M0 0L100 100")
        for item, args, words in (
            (photo, ("path",), "has no outline"),
            (line, ("path",), "has no area"),
            (self.ring, ("polygon", "0"), "deviation must be"),
            (self.ring, ("polygon", "none"), "is not a number"),
        ):
            with self.subTest(words), self.assertRaisesRegex(SheetError, words):
                web_outline(self.table.sheet, self.table.item(item), *args)
        self.assertEqual(len(WEB), 5)
