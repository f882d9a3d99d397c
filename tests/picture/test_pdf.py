"""PDF files: their boxes by pikepdf, what they show by pdfium, photos passed through and held once."""

import io
import unittest

import numpy as np
import pikepdf
import pypdfium2
from msgspec.structs import replace
from PIL import Image

from picture import FORMATS
from sheet import SheetError
from sheet.export.order import Order, ordered
from tests.sheet.helpers import Table

from .test_export import loader, pixels


class JpegLoader:
    """Photos that have a JPEG file of noise in two halves."""

    def __init__(self, alpha: bool = False):
        rng = np.random.default_rng(3)
        rgb = (rng.random((400, 600, 3)) * 80).astype(np.uint8)
        rgb[:, 300:] += np.uint8(150)
        out = io.BytesIO()
        Image.fromarray(rgb).save(out, "JPEG", quality=90)
        self.data = out.getvalue()
        self.alpha = alpha

    def __call__(self, photo, at_least):
        return Image.open(io.BytesIO(self.data)).convert("RGB")

    def encoded(self, photo):
        return self.data


def written(t: Table, load, **order) -> bytes:
    asked = Order(format="pdf", **order)
    files = ordered(t.sheet, asked)
    pdf = FORMATS["pdf"]
    return pdf.pages(t.sheet, files, load, asked) if asked.what == "each" else pdf.write(t.sheet, files[0], load, asked)


def shown(data: bytes, scale: float, page: int = 0) -> np.ndarray:
    """Return a page on white as pdfium draws it, `scale` px for each point."""
    drawn = pypdfium2.PdfDocument(data)[page].render(scale=scale)
    return np.asarray(drawn.to_pil().convert("RGB")).astype(int)


class Pages(unittest.TestCase):
    def setUp(self):
        self.t = Table("100", "80", "mm", "254")
        t = self.t
        self.frame = t.ellipse(200, 200, 400, 300)
        t.do("paint", ids=[self.frame], field="stroke", value="#22302f")
        t.do("paint", ids=[self.frame], field="stroke_width", value="20")
        t.do("put_in", ids=[self.frame, t.photo(600, 400, 400, 350)])
        (star,) = t.do("draw", kind="star", x=650, y=450, width=200, height=200)
        t.do("paint", ids=[star], field="fill", value="#b5432a")
        t.do("paint", ids=[star], field="opacity", value="60")

    def boxes(self, data: bytes, page: int = 0) -> dict[str, list[float]]:
        with pikepdf.open(io.BytesIO(data)) as pdf:
            return {n: [float(v) for v in pdf.pages[page][f"/{n}"]] for n in ("MediaBox", "BleedBox", "TrimBox")}

    def near(self, box, want):
        for a, b in zip(box, want, strict=True):
            self.assertAlmostEqual(a, b, 3)

    def test_looks_as_the_png_does(self):
        self.t.do("backdrop", value="#fcfaf5")
        load = JpegLoader()
        png = pixels(FORMATS["png"].write(self.t.sheet, ordered(self.t.sheet, Order())[0], load, Order()))
        pdf = shown(written(self.t, load), 254 / 72)
        # pdfium rounds a page's size up
        pdf = pdf[: png.shape[0], : png.shape[1]]
        apart = np.abs(pdf - png[..., :3].astype(int))
        self.assertLess(apart.mean(), 2)
        # edges: what differs much is a line of px at most, and nothing lies elsewhere
        self.assertLess((apart.max(axis=-1) > 60).mean(), 0.004)

    def test_boxes_in_points_with_bleed_and_marks(self):
        mm = 72 / 25.4
        whole = self.boxes(written(self.t, loader, extent="whole"))
        for box in whole.values():
            self.near(box, (0, 0, 100 * mm, 80 * mm))
        self.t.sheet = replace(self.t.sheet, bleed=30)
        bled = self.boxes(written(self.t, loader, extent="bleed"))
        self.near(bled["MediaBox"], (0, 0, 106 * mm, 86 * mm))
        self.near(bled["BleedBox"], (0, 0, 106 * mm, 86 * mm))
        self.near(bled["TrimBox"], (3 * mm, 3 * mm, 103 * mm, 83 * mm))
        marked = self.boxes(written(self.t, loader, extent="bleed", marks=True))
        self.near(marked["MediaBox"], (0, 0, 121 * mm, 101 * mm))
        self.near(marked["BleedBox"], (7.5 * mm, 7.5 * mm, 113.5 * mm, 93.5 * mm))
        self.near(marked["TrimBox"], (10.5 * mm, 10.5 * mm, 110.5 * mm, 90.5 * mm))
        # a mark at the trimmed edge, and none inside of the bleed
        page = shown(written(self.t, loader, extent="bleed", marks=True), 4)
        x = round(10.5 * mm * 4)
        self.assertLess(page[: round(4 * mm * 4), x - 1 : x + 2].min(), 200)
        self.assertEqual(page[round(6 * mm * 4) : round(7 * mm * 4)].min(), 255)

    def test_a_jpeg_is_passed_through_untouched(self):
        load = JpegLoader()
        with pikepdf.open(io.BytesIO(written(self.t, load))) as pdf:
            images = [o for o in pdf.objects if isinstance(o, pikepdf.Stream) and o.get("/Subtype") == "/Image"]
            self.assertEqual(
                [bytes(i.read_raw_bytes()) for i in images if i.get("/Filter") == "/DCTDecode"], [load.data]
            )
        # below its own size it is made smaller
        with pikepdf.open(io.BytesIO(written(self.t, load, size="100"))) as pdf:
            (image,) = [o for o in pdf.objects if isinstance(o, pikepdf.Stream) and o.get("/Subtype") == "/Image"]
            self.assertLess(int(image.Width), 300)

    def test_a_hundred_frames_hold_their_photo_once(self):
        t = Table()
        frames = [t.ellipse(90 * (k % 10), 70 * (k // 10), 80, 60) for k in range(100)]
        t.do("put_in", ids=[t.photo(600, 400, 500, 400), *frames])
        load = JpegLoader()
        data = written(t, load)
        self.assertLess(len(data), len(load.data) + 100_000)
        self.assertEqual(data.count(load.data[:64]), 1)

    def test_outlines_and_clips_are_vectors(self):
        with pikepdf.open(io.BytesIO(written(self.t, loader))) as pdf:
            ops = [str(i.operator) for i in pikepdf.parse_content_stream(pdf.pages[0])]
            forms = [o for o in pdf.objects if isinstance(o, pikepdf.Stream) and o.get("/Subtype") == "/Form"]
            inner = [str(i.operator) for f in forms for i in pikepdf.parse_content_stream(f)]
        self.assertTrue({"W", "W*"} & set(ops + inner))
        self.assertIn("c", ops + inner)
        # enlarged tenfold the border is as sharp: hardly a px between its colours
        t = Table()
        a = t.rectangle(10, 10, 30, 30)
        t.do("paint", ids=[a], field="fill", value="#000000")
        page = shown(written(t, loader), 40)
        self.assertLess(((page > 5) & (page < 250)).mean(), 0.01)

    def test_each_frame_is_a_page(self):
        other = self.t.ellipse(650, 100, 200, 100)
        self.t.do("put_in", ids=[other, self.t.photo(600, 400, 750, 150)])
        data = written(self.t, JpegLoader(), what="each")
        with pikepdf.open(io.BytesIO(data)) as pdf:
            self.assertEqual(len(pdf.pages), 2)
        self.near(self.boxes(data, 1)["MediaBox"], (0, 0, 20 * 72 / 25.4, 10 * 72 / 25.4))

    def test_transparency_is_kept_intent_and_metadata_are_told(self):
        with pikepdf.open(io.BytesIO(written(self.t, loader))) as pdf:
            states = [o for o in pdf.objects if isinstance(o, pikepdf.Dictionary) and "/ca" in o]
            self.assertTrue(any(abs(float(s.ca) - 0.6) < 0.01 for s in states))
            (intent,) = pdf.Root.OutputIntents
            self.assertIn("sRGB", str(intent.OutputConditionIdentifier))
            self.assertEqual(int(intent.DestOutputProfile.N), 3)
            with pdf.open_metadata() as told:
                self.assertEqual(told["xmp:CreatorTool"], "Gouge")

    def test_the_same_is_the_same_file_and_anything_else_has_another_identifier(self):
        def identifier(**order):
            with pikepdf.open(io.BytesIO(written(self.t, JpegLoader(), **order))) as pdf:
                first, second = (bytes(half) for half in pdf.trailer.ID)
            # ISO 32000-1, 14.4: both are the same in a file as it was written first
            self.assertEqual(first, second)
            self.assertEqual(len(first), 16)
            return first

        self.assertEqual(written(self.t, JpegLoader()), written(self.t, JpegLoader()))
        before = identifier(), identifier(marks=True)
        self.t.do("backdrop", value="#fcfaf5")
        self.assertEqual(len({*before, identifier(), identifier(marks=True), identifier(what="each")}), 5)

    def test_a_page_beyond_what_readers_open_is_refused(self):
        with self.assertRaises(SheetError) as caught:
            written(self.t, loader, by="width", size="6000mm")
        self.assertEqual(caught.exception.field, "size")
