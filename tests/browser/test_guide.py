"""The guide's jobs walked by their own steps: what a step names is on the screen when its turn comes."""

import re
from collections.abc import Iterator

from PIL import Image, ImageDraw
from playwright.sync_api import expect

from sheet.document.model import Group, Piece
from studio.guide.jobs import JOBS
from tests.studio.helpers import jpeg

from .base import BrowserCase

LABEL = re.compile(r"\*([^*]+)\*")
SVG = '<svg xmlns="http://www.w3.org/2000/svg" width="300" height="200"><circle cx="90" cy="100" r="80"/>{}</svg>'


class Walked(BrowserCase):
    """Each test walks a job: what it gives comes step by step, and after each one the step's labels were seen."""

    def setUp(self):
        super().setUp()
        self.file = self.folder / "sea.jpg"
        self.file.write_bytes(jpeg(900, 600))
        self.open()

    def walk(self, key: str, hands: Iterator[None]) -> None:
        """Do a job's steps, one for each turn of the hand. Every label a step names is on the screen in it."""
        job = next(job for job in JOBS if job.key == key)
        for number, step in enumerate(job.steps, 1):
            missing = set(LABEL.findall(step))
            missing -= self.seen(missing)
            self.assertIsNot(next(hands, self), self, f"{key}: nothing is done for step {number}")
            missing -= self.pressed | self.seen(missing)
            self.pressed = set()
            self.assertEqual(missing, set(), f"{key}, step {number}: {step}")
        self.assertIs(next(hands, self), self, f"{key}: more is done than its steps say")

    pressed: set[str] = set()

    def seen(self, labels: set[str]) -> set[str]:
        """Return which of the words can be read on the screen now."""
        return {one for one in labels if self.page.get_by_text(one).locator("visible=true").count()}

    def by_label(self, words: str) -> None:
        """Press what is called so."""
        self.pressed = self.pressed | {words}
        button = self.page.locator("button, summary, label").filter(has_text=words).locator("visible=true").first
        button.click()

    def framed(self) -> str:
        """Put a photo into a rectangle by the shortest way; return the frame, selected."""
        self.bring(self.file)
        frame = self.draw("rectangle", 200, 150, 500, 400)
        self.press("p")
        self.choose(frame)
        return frame

    def test_a_photo_in_a_shape(self):
        def hands():
            self.page.set_input_files("#files", str(self.file))
            self.wait(lambda: len(self.sheet.items) == 1)
            self.settle()
            yield
            piece = self.draw("ellipse", 300, 200, 300, 300)
            yield
            self.press("p")
            self.assertTrue(self.item(piece).photos)
            self.station(3)
            yield
            self.drag((450, 350), (500, 350))
            self.wait(lambda: self.box(piece)[0] > 340)
            self.page.keyboard.press("Enter")
            self.drag((500, 350), (510, 350))
            self.page.keyboard.press("Escape")
            yield
            self.push("#settle-cover")
            yield

        self.walk("shape", hands())

    def test_a_hole_with_even_margins(self):
        def hands():
            base = self.draw("rectangle", 200, 150, 500, 400)
            hole = self.draw("ellipse", 300, 200, 200, 200)
            yield
            self.choose(base, hole)
            self.press("s")
            yield
            self.station(2)
            expect(self.page.locator("#hole-0-left")).to_be_visible()
            yield
            self.by_label("Make margins equal")
            self.wait(lambda: self.page.locator("#hole-0-left").input_value() == "150")
            yield

        self.walk("margins", hands())

    def test_lettering_as_a_frame(self):
        self.bring(self.file)

        def hands():
            self.page.keyboard.press("l")
            self.click(200, 450)
            self.page.locator("#letter textarea").fill("Marram")
            self.by_label("Place text")
            self.wait(lambda: len(self.sheet.items) == 2)
            self.settle()
            yield
            self.press("p")
            yield
            frame = self.sheet.items[-1]
            self.assertTrue(frame.photos)
            self.page.locator("textarea#d-text").fill("Skerry")
            self.page.locator("textarea#d-text").press("Tab")
            self.wait(lambda: self.item(frame.id).shape.text == "Skerry")
            yield

        self.walk("lettering", hands())

    def test_a_subject_that_stands_out(self):
        # a light disc before something dark
        picture = Image.new("RGB", (600, 400), (30, 50, 60))
        ImageDraw.Draw(picture).ellipse((190, 90, 410, 310), fill=(240, 230, 200))
        picture.save(self.file, quality=95)
        photo = self.bring(self.file)
        self.choose(photo)
        x0, y0, x1, y1 = self.box(photo)

        def hands():
            self.page.keyboard.press("Shift+S")
            self.page.locator("#way-subject").click()
            self.drag((x0 + 150, y0 + 60), (x0 + 450, y0 + 340))
            expect(self.page.locator("#silhouette-bar .mode-words")).to_contain_text("nodes")
            self.by_label("Accept")
            self.wait(lambda: len(self.sheet.items) == 2)
            self.settle()
            yield
            self.draw("rectangle", x0 + 100, y0 + 200, 400, 200)
            yield
            self.choose(*(i.id for i in self.sheet.items[-2:]))
            self.press("u")
            yield
            self.choose(self.sheet.items[-1].id)
            self.press("p")
            frame = self.sheet.items[-1]
            self.assertTrue(frame.photos)
            self.near(self.box(frame.id), (x0 + 100, y0 + 90, x0 + 500, y0 + 400), 6)
            yield

        self.walk("out", hands())

    def test_nine_panes_of_one_photo(self):
        self.framed()

        def hands():
            self.station(3)
            yield
            self.by_label("Split into panes")
            self.page.locator("#n-columns").fill("3")
            self.page.locator("#n-rows").fill("3")
            self.page.locator("#n-gap_x").fill("10")
            yield
            self.by_label("Split up")
            self.wait(lambda: isinstance(self.sheet.items[-1], Group) and len(self.sheet.items[-1].items) == 9)
            self.settle()
            yield
            self.by_label("Undo the split")
            self.wait(lambda: isinstance(self.sheet.items[-1], Piece))
            yield

        self.walk("panes", hands())

    def test_a_zigzag_edge_through_a_photo(self):
        frame = self.framed()

        def hands():
            self.page.keyboard.press("z")
            self.drag((150, 350), (760, 350))
            self.wait(lambda: len(self.sheet.items) == 2)
            self.settle()
            yield
            self.choose(frame, self.sheet.items[-1].id)
            yield
            self.press("d")
            self.assertEqual([len(i.photos) for i in self.sheet.items], [1, 1])
            yield
            self.station(3)
            self.page.keyboard.press("Escape")
            self.drag((450, 250), (450, 200))
            self.wait(lambda: min(self.box(i.id)[1] for i in self.sheet.items) < 120)
            yield

        self.walk("zigzag", hands())

    def test_colours_part_by_part(self):
        def hands():
            a = self.draw("rectangle", 200, 150, 300, 300)
            b = self.draw("ellipse", 350, 250, 300, 300)
            self.choose(a, b)
            self.station(2)
            yield
            self.by_label("Part by part")
            self.page.locator("#accept-cells").wait_for()
            self.drag((250, 200), (420, 360))
            yield
            self.press("Enter")
            yield
            self.choose(self.sheet.items[-1].id)
            self.station(4)
            expect(self.page.locator("#p-fill-colour")).to_be_visible()
            yield

        self.walk("parts", hands())

    def test_a_frame_for_next_time(self):
        def hands():
            self.draw("ellipse", 200, 150, 300, 300)
            self.page.keyboard.press("Shift+K")
            self.page.locator("#keep-name").fill("Porthole")
            self.page.locator("#keep .btn-primary").click()
            self.pressed = {"Add to shelf"}
            self.notice("shelf")
            yield
            self.page.keyboard.press("y")
            self.page.locator("#find-category").select_option("Shelf")
            self.page.locator("#shelf-tiles .outline-tile").click()
            before = len(self.sheet.items)
            self.drag((600, 200), (900, 600))
            self.wait(lambda: len(self.sheet.items) > before)
            self.settle()
            yield
            frame = self.sheet.items[-1].id
            photo = self.bring(self.file)
            self.choose(frame, photo)
            self.press("p")
            self.assertTrue(self.item(frame).photos)
            yield

        self.walk("again", hands())

    def test_another_proportion(self):
        frame = self.framed()
        hole = self.draw("ellipse", 260, 200, 80, 80)
        self.choose(frame, hole)
        self.press("s")
        frame = self.sheet.items[-1].id
        self.choose(frame)

        def hands():
            self.page.keyboard.press("Shift+R")
            expect(self.page.locator("#accept-refit")).to_be_enabled()
            yield
            self.page.locator("#refit-bar .brushes button", has_text="1:1").click()
            expect(self.page.locator("#refit-height")).to_have_value(self.page.locator("#refit-width").input_value())
            yield
            expect(self.page.locator("#refit-pins > *").first).to_be_visible()
            yield
            self.press("Enter")
            x0, y0, x1, y1 = self.box(frame)
            self.assertEqual(x1 - x0, y1 - y0)
            yield

        self.walk("refit", hands())

    def test_a_hundred_photos_in_one_frame(self):
        self.framed()

        def hands():
            self.station(5)
            self.by_label("Same frame, many photos")
            self.page.wait_for_url("**/batches/*/")
            self.page.wait_for_selector("html[data-ready]")
            yield
            expect(self.page.locator("#batch-files")).to_be_attached()
            yield
            expect(self.page.locator("#batch-format")).to_be_visible()
            yield
            yield

        self.walk("hundred", hands())

    def test_an_outline_for_the_web(self):
        def hands():
            self.draw("ellipse", 200, 150, 300, 300)
            self.station(5)
            yield
            self.by_label("Outline for the web")
            expect(self.page.locator("#web-text")).to_be_visible()
            yield
            self.by_label("Copy")
            self.notice("opied")
            yield

        self.walk("web", hands())

    def test_artwork_from_an_svg(self):
        def hands():
            file = self.folder / "tag.svg"
            file.write_text(SVG.format('<rect x="120" y="60" width="150" height="80"/>'))
            self.page.set_input_files("#files", str(file))
            self.wait(lambda: bool(self.sheet.items))
            self.settle()
            yield
            self.assertEqual([type(i).__name__ for i in self.sheet.items], ["Group"])
            yield
            self.press("Control+Shift+g")
            self.station(2)
            expect(self.page.get_by_text("Combine uncut")).to_be_visible()
            self.pressed = {"Combine uncut"}
            self.press("u")
            outline = self.sheet.items[-1].id
            yield
            photo = self.bring(self.file)
            self.choose(outline, photo)
            self.press("p")
            self.assertTrue(self.item(outline).photos)
            yield

        self.walk("artwork", hands())
