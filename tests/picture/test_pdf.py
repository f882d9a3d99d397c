"""PDF files: their boxes by pikepdf, what they show by pdfium, photos passed through and held once."""

import io
import unittest
from unittest import mock

import numpy as np
import pikepdf
import pypdfium2
from msgspec.structs import replace
from PIL import Image, ImageCms

from picture import FORMATS
from picture.photos.print_profiles import read_profile, use_profiles
from sheet import SheetError
from sheet.export.order import Order, ordered
from tests.made_profile import made_profile
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


class PdfCase(unittest.TestCase):
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


class Pages(PdfCase):
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


class Named(PdfCase):
    def test_title_and_author_are_told_as_typed_and_in_both_places(self):
        data = written(self.t, JpegLoader(), title="Timetable card", author=" Ada  Marram ")
        with pikepdf.open(io.BytesIO(data)) as pdf, pdf.open_metadata() as told:
            self.assertEqual((told["dc:title"], told["dc:creator"]), ("Timetable card", ["Ada Marram"]))
            self.assertEqual((pdf.docinfo["/Title"], pdf.docinfo["/Author"]), ("Timetable card", "Ada Marram"))
        self.assertNotEqual(data[-60:], written(self.t, JpegLoader())[-60:])
        with pikepdf.open(io.BytesIO(written(self.t, JpegLoader()))) as pdf:
            self.assertNotIn("/Author", pdf.docinfo)


class Standard(PdfCase):
    """A sheet with all that a standard may object to. No open validator is in the registries."""

    def setUp(self):
        super().setUp()
        t = self.t
        (pane,) = t.do("draw", kind="rectangle", x=50, y=550, width=300, height=150)
        t.do("gradient", ids=[pane], field="fill", kind="linear")
        t.do("paint", ids=[pane], field="blend", value="multiply")
        t.do("set_sheet", bleed="3")

    def written(self, **order) -> pikepdf.Pdf:
        asked = {"what": "sheet", "extent": "bleed", "marks": True, "cut": self.frame, **order}
        self.data = written(self.t, JpegLoader(), **asked)
        pdf = pikepdf.open(io.BytesIO(self.data))
        self.addCleanup(pdf.close)
        return pdf

    def check_structure(self, **standard):
        """Check what both standards forbid, by the clauses of ISO 19005-2:2011 (numbers from memory)."""
        for order in ({}, {"what": "each", "cut": ""}):
            pdf = self.written(**standard, **order)
            # 6.1.2: a header, and a comment of four bytes above 127 after it
            head, comment = self.data.split(b"\n", 2)[:2]
            self.assertRegex(head, rb"^%PDF-1\.[4-7]$")
            self.assertEqual(comment[:1], b"%")
            self.assertTrue(all(b > 127 for b in comment[1:5]))
            # 6.1.3: an identifier, nothing encrypted
            self.assertEqual(len(pdf.trailer.ID), 2)
            self.assertNotIn("/Encrypt", pdf.trailer)
            for one in pdf.objects:
                if isinstance(one, pikepdf.Stream):
                    # 6.1.7: no data outside the file, no LZW
                    self.assertFalse({"/F", "/FFilter", "/FDecodeParms"} & set(one.keys()))
                    self.assertNotIn("LZW", str(one.get("/Filter", "")))
                    if one.get("/Subtype") == "/Image":
                        # 6.2.8
                        self.assertFalse({"/Alternates", "/OPI"} & set(one.keys()))
                        self.assertFalse(bool(one.get("/Interpolate", False)))
                    if one.get("/Subtype") == "/Form":
                        # 6.2.9
                        self.assertFalse({"/OPI", "/PS", "/Ref"} & set(one.keys()))
                if isinstance(one, pikepdf.Dictionary):
                    # 6.2.5: no transfer functions or halftone origins; 6.3, 6.5, 6.10: nothing that acts
                    self.assertFalse({"/TR", "/HTO", "/AA", "/OpenAction", "/JS"} & set(one.keys()))
                    self.assertNotEqual(one.get("/Type"), "/Font")
            self.assertFalse({"/Names", "/AcroForm", "/Perms"} & set(pdf.Root.keys()))
            self.assertNotIn("/PresSteps", pdf.pages[0])

    def check_layers(self, pdf: pikepdf.Pdf):
        """Check that the layers' settings have a name, list every layer, and change nothing by themselves."""
        layers = pdf.Root.OCProperties
        self.assertTrue(str(layers.D.Name))
        self.assertEqual([o.objgen for o in layers.D.Order], [o.objgen for o in layers.OCGs])
        self.assertNotIn("/AS", layers.D)


class Archival(Standard):
    """PDF/A-2b, clause by clause of ISO 19005-2:2011 (numbers from memory)."""

    def written(self, **order) -> pikepdf.Pdf:
        return super().written(**{"standard": "archive", **order})

    def test_file_structure(self):
        self.check_structure()

    def test_colours(self):
        pdf = self.written()
        # 6.2.3: one intent of the archive's kind, whose profile is of a kind of device and of RGB (ICC.1, 7.2)
        (intent,) = pdf.Root.OutputIntents
        profile = bytes(intent.DestOutputProfile.read_bytes())
        self.assertEqual(intent.S, "/GTS_PDFA1")
        self.assertIn(profile[12:16], (b"prtr", b"mntr", b"scnr", b"spac"))
        self.assertEqual((profile[16:20], profile[36:40]), (b"RGB ", b"acsp"))
        self.assertLessEqual(profile[8], 4)
        # 6.2.4.3: no colour of a device but by that profile, also behind spot colours
        self.assertNotIn(b"DeviceCMYK", self.data)
        spaces = [o for o in pdf.objects if isinstance(o, pikepdf.Array) and len(o) and o[0] == "/Separation"]
        self.assertTrue(spaces)
        self.assertTrue(all(s[2] == "/DeviceRGB" for s in spaces))
        # 6.2.10: blend modes of ISO 32000-1, 11.3.5 alone
        modes = {str(o.BM) for o in pdf.objects if isinstance(o, pikepdf.Dictionary) and "/BM" in o}
        self.assertIn("/Multiply", modes)
        self.assertLessEqual(modes, {"/Normal", "/Multiply"})

    def test_metadata_and_layers(self):
        pdf = self.written()
        # 6.6.2: unfiltered, the same as the document's information, and it says which part and level
        self.assertNotIn("/Filter", pdf.Root.Metadata)
        with pdf.open_metadata() as told:
            self.assertEqual((told["pdfaid:part"], told["pdfaid:conformance"]), ("2", "B"))
            self.assertEqual(told["dc:title"], str(pdf.docinfo["/Title"]))
            self.assertEqual(told["xmp:CreatorTool"], str(pdf.docinfo["/Creator"]))
            self.assertEqual(told["pdf:Producer"], str(pdf.docinfo["/Producer"]))
        self.assertLessEqual(set(pdf.docinfo.keys()), {"/Title", "/Creator", "/Producer"})
        # 6.9
        self.check_layers(pdf)

    def test_only_where_it_is_asked_for_and_looks_the_same(self):
        pdf = self.written(standard="plain", cut="")
        with pdf.open_metadata() as told:
            self.assertNotIn("pdfaid:part", told)
        plain = shown(self.data, 1)
        self.written(cut="")
        self.assertEqual(int(np.abs(shown(self.data, 1) - plain).max()), 0)


class OfAPress(Standard):
    """What PDF/X-4 asks for, clause by clause of ISO 15930-7:2010 (numbers from memory)."""

    def setUp(self):
        super().setUp()
        self.press = read_profile(made_profile(), "press.icc")
        known = {self.press.digest: self.press.data}
        self.addCleanup(use_profiles, use_profiles(known.get))

    def written(self, **order) -> pikepdf.Pdf:
        return super().written(**{"standard": "print", "profile": f"{self.press.digest}:{self.press.name}", **order})

    def check_all(self):
        self.check_file()
        self.check_intent()
        self.check_boxes()
        self.check_metadata()

    def check_file(self):
        self.check_structure()
        # 6.1: PDF 1.6 at the most
        self.assertTrue(self.data.startswith(b"%PDF-1.6"))

    def check_intent(self):
        pdf = self.written()
        # 6.2.2: one intent of the kind GTS_PDFX, whose profile is of a press and inside the file
        (intent,) = pdf.Root.OutputIntents
        self.assertEqual((str(intent.Type), str(intent.S)), ("/OutputIntent", "/GTS_PDFX"))
        self.assertTrue(str(intent.OutputConditionIdentifier))
        self.assertEqual(str(intent.Info), "Skerry Coated")
        self.assertEqual(bytes(intent.DestOutputProfile.read_bytes()), self.press.data)
        self.assertEqual(int(intent.DestOutputProfile.N), 4)

    def check_boxes(self):
        for page in self.written().pages:
            # 6.3: the trim within the bleed, and both on the page; no art box beside the trim box
            media, bleed, trim = ([float(v) for v in page[f"/{n}Box"]] for n in ("Media", "Bleed", "Trim"))
            self.assertTrue(all(a <= b for a, b in zip(media[:2], bleed[:2], strict=True)))
            self.assertTrue(all(a < b for a, b in zip(bleed[:2], trim[:2], strict=True)))
            self.assertTrue(all(a > b for a, b in zip(bleed[2:], trim[2:], strict=True)))
            self.assertNotIn("/ArtBox", page)

    def check_metadata(self):
        pdf = self.written()
        with pdf.open_metadata() as told:
            # 6.7: what it is, whether it is trapped, when it was made, and what tells it from other files
            self.assertEqual(told["pdfxid:GTS_PDFXVersion"], "PDF/X-4")
            self.assertEqual(told["pdf:Trapped"], "False")
            for key in ("CreateDate", "ModifyDate", "MetadataDate"):
                self.assertRegex(told[f"xmp:{key}"], r"^20\d\d-\d\d-\d\dT\d\d:\d\d:\d\d")
            self.assertEqual(told["xmpMM:RenditionClass"], "default")
            self.assertTrue(told["xmpMM:DocumentID"] and told["xmpMM:VersionID"] and told["dc:title"])
        self.assertEqual(str(pdf.docinfo["/Trapped"]), "/False")
        self.check_layers(pdf)


class ForAPress(OfAPress):
    def test_what_the_standard_asks_for(self):
        self.check_all()

    def test_every_rgb_is_defined(self):
        pdf = self.written()
        found = [o for o in pdf.objects if isinstance(o, pikepdf.Dictionary | pikepdf.Stream) and "/Resources" in o]
        # the page and the forms that blending makes
        self.assertGreater(len(found), len(pdf.pages))
        for one in found:
            # 6.2.3: RGB that is not the press's has a default that is independent of any device
            kind, profile = one.Resources.ColorSpace.DefaultRGB
            self.assertEqual((str(kind), int(profile.N)), ("/ICCBased", 3))
            self.assertEqual(bytes(profile.read_bytes())[16:20], b"RGB ")
        for one in pdf.objects:
            group = one.get("/Group") if isinstance(one, pikepdf.Dictionary | pikepdf.Stream) else None
            # 6.2.5: what is blended is blended in a defined space
            if group is not None:
                self.assertNotEqual(group.get("/CS"), "/DeviceRGB")
        self.assertTrue(all("/CS" in page.Group for page in pdf.pages))

    def test_a_spot_colour_is_replaced_in_the_colours_of_the_press(self):
        (space,) = [o for o in self.written().objects if isinstance(o, pikepdf.Array) and o[0] == "/Separation"]
        self.assertEqual(str(space[2]), "/DeviceCMYK")
        grey = self.press._replace(space="grey")
        with mock.patch("picture.write.pdf_standards.find_profile", return_value=grey):
            (space,) = [o for o in self.written().objects if isinstance(o, pikepdf.Array) and o[0] == "/Separation"]
        self.assertEqual(str(space[2]), "/DeviceRGB")

    def test_it_looks_as_a_plain_one(self):
        self.written(standard="plain", cut="")
        plain = shown(self.data, 1)
        self.written(cut="")
        # pdfium converts what is defined as sRGB by a profile, which is off by rounding
        self.assertLessEqual(int(np.abs(shown(self.data, 1) - plain).max()), 2)

    def test_without_a_profile_it_is_refused_with_a_way_out(self):
        with self.assertRaises(SheetError) as caught:
            self.written(profile="")
        self.assertEqual((caught.exception.field, caught.exception.offer[0]), ("profile", "Bring a profile in"))
        with self.assertRaisesRegex(SheetError, "“Lost Coated” is missing"):
            self.written(profile=f"{'0' * 32}:Lost Coated")

    def test_a_press_of_other_colours_has_no_inks_to_convert_to(self):
        grey = self.press._replace(space="grey")
        with (
            mock.patch("picture.write.pdf_standards.find_profile", return_value=grey),
            self.assertRaisesRegex(SheetError, "“Skerry Coated” isn’t a CMYK profile"),
        ):
            self.written(inks=True)


class InInks(OfAPress):
    """The same in CMYK: littlecms, asked by itself, is the judge of every colour."""

    def written(self, **order) -> pikepdf.Pdf:
        return super().written(**{"inks": order.get("standard") != "plain", **order})

    def test_what_the_standard_asks_for(self):
        self.check_all()

    def setUp(self):
        super().setUp()
        self.t.do("draw_lettering", text="AB", font="alfa-slab-one", size="80", x="100", y="700")
        self.turn = ImageCms.buildTransform(
            ImageCms.createProfile("sRGB"),
            ImageCms.ImageCmsProfile(io.BytesIO(self.press.data)),
            "RGB",
            "CMYK",
            ImageCms.Intent.RELATIVE_COLORIMETRIC,
            ImageCms.Flags.BLACKPOINTCOMPENSATION,
        )

    def inks(self, colour: str) -> list[float]:
        dot = ImageCms.applyTransform(Image.new("RGB", (1, 1), colour), self.turn)
        return [v / 255 for v in dot.getpixel((0, 0))]

    def painted(self, pdf: pikepdf.Pdf) -> dict[str, set[tuple[float, ...]]]:
        """Return the operands of each operator that sets a colour, anywhere in the file."""
        found: dict[str, set[tuple[float, ...]]] = {}
        forms = [o for o in pdf.objects if isinstance(o, pikepdf.Stream) and o.get("/Subtype") == "/Form"]
        for drawn in (*pdf.pages, *forms):
            for step in pikepdf.parse_content_stream(drawn):
                if str(step.operator) in ("rg", "RG", "g", "G", "k", "K"):
                    found.setdefault(str(step.operator), set()).add(tuple(float(v) for v in step.operands))
        return found

    def test_paints_are_inks_and_black_is_black_alone(self):
        painted = self.painted(self.written())
        self.assertLessEqual(set(painted), {"k", "K"})
        for operator, colour in (("K", "#22302f"), ("k", "#b5432a")):
            near = min(np.abs(np.array(k) - self.inks(colour)).max() for k in painted[operator])
            self.assertLess(near, 1 / 255)
        # the crop marks
        self.assertIn((0, 0, 0, 1), painted["K"])

    def test_gradients_are_inks(self):
        pdf = self.written(cut="")
        shadings = [o.Shading for o in pdf.objects if isinstance(o, pikepdf.Dictionary) and "/Shading" in o]
        shadings = [s for s in shadings if "/ShadingType" in s]
        self.assertTrue(shadings)
        for shading in shadings:
            self.assertEqual(str(shading.ColorSpace), "/DeviceCMYK")
            function = shading.Function
            ends = [function, *function.get("/Functions", [])]
            self.assertTrue(any(len(f.get("/C0", [])) == 4 for f in ends))
            self.assertFalse(any(len(f.get("/C0", [])) == 3 for f in ends))

    def test_photos_are_inks(self):
        load = JpegLoader()
        pdf = self.written(cut="")
        (photo,) = [o for o in pdf.objects if isinstance(o, pikepdf.Stream) and o.get("/Subtype") == "/Image"]
        self.assertEqual((str(photo.ColorSpace), str(photo.Filter)), ("/DeviceCMYK", "/DCTDecode"))
        # as a reader takes it: the file's numbers, turned round by Decode
        self.assertEqual([int(v) for v in photo.Decode], [1, 0] * 4)
        raw = Image.open(io.BytesIO(photo.read_raw_bytes()))
        # Pillow turns such a file round by itself, since it says who wrote the first of them
        got = np.asarray(raw).astype(int)
        want = np.asarray(ImageCms.applyTransform(load(None, 1), self.turn)).astype(int)
        self.assertEqual(got.shape, want.shape)
        self.assertLess(np.abs(got - want).mean(), 4)

    def test_a_photo_with_holes_keeps_them(self):
        pdf = self.written(cut="")
        before = len([o for o in pdf.objects if isinstance(o, pikepdf.Stream) and "/SMask" in o])
        self.data = written(self.t, loader, standard="print", inks=True, profile=f"{self.press.digest}:x")
        with pikepdf.open(io.BytesIO(self.data)) as pdf:
            images = [o for o in pdf.objects if isinstance(o, pikepdf.Stream) and o.get("/Subtype") == "/Image"]
            self.assertTrue(images and not before)
            self.assertNotIn("/DeviceRGB", {str(i.ColorSpace) for i in images})

    def test_it_looks_as_a_plain_one(self):
        """Pdfium mixes inks in a way of its own: what is asked is that shapes and photos are where they were."""
        self.written(standard="plain", cut="")
        plain = shown(self.data, 1).mean(axis=2)
        self.written(cut="")
        inked = shown(self.data, 1).mean(axis=2)
        self.assertGreater(np.corrcoef(plain.ravel(), inked.ravel())[0, 1], 0.95)
