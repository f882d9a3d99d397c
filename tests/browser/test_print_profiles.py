"""A print profile: added where an export without one was refused, and the PDF/X-4 made with it."""

import pikepdf
from playwright.sync_api import expect

from tests.made_profile import made_profile

from .base import BrowserCase


class Profiles(BrowserCase):
    def setUp(self):
        super().setUp()
        page = self.open()
        # the dialog itself is the system's: that it is asked for is seen, and its answer given
        page.evaluate(
            "() => document.getElementById('profile-file').addEventListener('click', e => e.preventDefault())"
        )
        self.draw("rectangle", 100, 100, 400, 300)
        self.station(5)
        page.locator("#format-pdf").click()
        page.select_option("#d-standard", "print")
        expect(page.locator("#d-profile")).to_have_value("")

    def choose_file(self, data: bytes) -> None:
        file = self.folder / "press.icc"
        file.write_bytes(data)
        self.page.set_input_files("#profile-file", str(file))

    def test_the_way_out_of_the_refusal_leads_to_the_file(self):
        page = self.page
        page.keyboard.press("Control+Enter")
        self.notice("PDF/X-4 needs the profile of the press.")
        page.locator(".notice button", has_text="Bring a profile in").click()
        self.choose_file(made_profile())
        self.notice("“Skerry Coated” is in your profiles.")
        expect(page.locator("#d-profile option:checked")).to_have_text("Skerry Coated")
        page.fill("#d-author", "Ada Marram")
        page.press("#d-author", "Enter")
        page.wait_for_function("() => !window.asking")
        page.get_by_label("Convert to CMYK").check()
        page.wait_for_function("() => !window.asking")
        with page.expect_download() as made:
            page.locator("#export-now").click()
        with pikepdf.open(made.value.path()) as pdf, pdf.open_metadata() as told:
            self.assertEqual((told["pdfxid:GTS_PDFXVersion"], told["dc:title"]), ("PDF/X-4", "Card"))
            self.assertEqual(str(pdf.docinfo["/Author"]), "Ada Marram")
            self.assertEqual(str(pdf.Root.OutputIntents[0].Info), "Skerry Coated")
            painted = {str(step.operator) for step in pikepdf.parse_content_stream(pdf.pages[0])}
            self.assertTrue("k" in painted and "rg" not in painted)
        # the order is remembered
        self.open()
        self.station(5)
        expect(page.locator("#d-profile option:checked")).to_have_text("Skerry Coated")
        expect(page.locator("#d-author")).to_have_value("Ada Marram")

    def test_another_kind_of_file_is_told_and_nothing_changes(self):
        self.page.locator("#drawer button", has_text="Bring a profile in").click()
        self.choose_file(made_profile(kind=b"mntr"))
        self.notice("“press.icc” doesn’t describe a press or printer.")
        expect(self.page.locator("#d-profile")).to_have_value("")
