"""Silhouettes in Fit by pointer and keyboard: pointed at, boxed, brushed, accepted, changed, left and found."""

import io
import re

import numpy as np
from PIL import Image
from playwright.sync_api import expect

from sheet.document.kinds import Silhouette
from sheet.geometry.geometry import box_of, outline_of
from tests.studio.test_silhouettes import disc

from .base import BrowserCase


def scene() -> bytes:
    """Return a PNG of a rust disc before a noisy petrol ground, with a bright square aside."""
    rng = np.random.default_rng(4)
    y, x = np.mgrid[0:400, 0:600]
    rgb = np.full((400, 600, 3), (40, 90, 100), float) + rng.normal(0, 8, (400, 600, 1))
    rgb[np.hypot(x - 300, y - 200) < 110] = (170, 70, 40)
    rgb[40:90, 40:90] = (250, 240, 220)
    out = io.BytesIO()
    Image.fromarray(rgb.clip(0, 255).astype(np.uint8)).save(out, "PNG")
    return out.getvalue()


class Silhouettes(BrowserCase):
    def begin(self, data: bytes) -> None:
        self.open()
        self.bring(data)
        (self.photo,) = self.sheet.items
        self.page.keyboard.press("Shift+S")
        expect(self.page.locator("#silhouette-bar")).to_be_visible()

    def bring(self, data: bytes) -> None:
        before = self.revision
        self.page.set_input_files("input[type=file]", {"name": "scene.png", "mimeType": "image/png", "buffer": data})
        self.wait(lambda: self.revision > before)
        self.settle()

    def on_photo(self, x: float, y: float) -> tuple[float, float]:
        return self.photo.placing(x, y)

    def words(self):
        return self.page.locator("#silhouette-bar .mode-words")

    def accept(self):
        """Accept by Enter; return the new piece."""
        expect(self.page.locator("#accept-silhouette")).to_be_enabled()
        before = self.revision
        self.page.keyboard.press("Enter")
        self.wait(lambda: self.revision > before)
        self.settle()
        expect(self.page.locator("#silhouette-bar")).to_be_hidden()
        return self.sheet.items[-1]

    def share(self, piece) -> float:
        """Return the share of the photo that a piece covers."""
        w = self.photo.placing.scale**2 * self.photo.width * self.photo.height
        return outline_of(piece).area / w

    def test_by_brightness_and_the_photo_put_in_by_one_press(self):
        self.begin(disc())
        expect(self.words()).to_contain_text("19 % of the photo")
        expect(self.page.locator("#silhouette-live .sil-line")).to_have_count(1)
        piece = self.accept()
        self.assertAlmostEqual(self.share(piece), np.pi * 120**2 / 240000, delta=0.002)
        before = self.revision
        self.page.get_by_role("button", name="Put the photo in").last.click()
        self.wait(lambda: self.revision > before)
        (frame,) = self.sheet.items
        self.assertEqual(len(frame.photos), 1)

    def test_the_nodes_that_are_told_are_those_that_are_made(self):
        self.begin(scene())
        counts = []
        for accuracy in ("0.5", "6"):
            self.page.fill("#sil-deviation", accuracy)
            self.page.locator("#desk").focus()
            # told once the hand rests; what was told for the accuracy before goes first
            expect(self.words()).to_contain_text(re.compile(r" \d+ nodes"))
            self.page.wait_for_function("() => !window.asking")
            counts.append(int(self.words().inner_text().split(" · ")[1].split()[0]))
            piece = self.accept()
            self.assertEqual(outline_of(piece).node_count, counts[-1])
            self.page.keyboard.press("Shift+S")
        self.assertLess(counts[1], counts[0])

    def test_a_slider_shows_at_once_and_a_wrong_number_is_said_at_its_field(self):
        self.begin(disc())
        page = self.page
        page.locator("#range-level").fill("20")
        expect(page.locator("#sil-level")).to_have_value("20")
        page.fill("#sil-level", "0")
        expect(self.words()).to_contain_text("Nothing that large is darker than that")
        expect(page.locator("#accept-silhouette")).to_be_disabled()
        page.fill("#sil-level", "half")
        expect(self.words()).to_contain_text("is not a number")
        page.fill("#sil-level", "")
        page.fill("#sil-grow", "20/2")
        page.locator("#desk").focus()
        expect(self.words()).to_contain_text(f"{100 * np.pi * 130**2 / 240000:.0f} % of the photo")
        piece = self.accept()
        self.assertEqual(round(piece.shape.tracing.grow, 6), 10)

    def test_a_tone_by_pointer_and_by_arrows(self):
        self.begin(scene())
        page = self.page
        page.locator("#way-tone").click()
        expect(self.words()).to_contain_text("No tone is selected")
        self.click(*self.on_photo(65, 65))
        expect(self.words()).to_contain_text("1.0 % of the photo")
        # the arrows move the place, here down and to the right until it lies in the disc
        page.locator("#desk").focus()
        for _ in range(60):
            page.keyboard.press("ArrowRight")
            page.keyboard.press("ArrowDown")
            if "16 %" in self.words().inner_text():
                break
            page.wait_for_timeout(60)
        expect(self.words()).to_contain_text("16 % of the photo")
        piece = self.accept()
        self.assertAlmostEqual(self.share(piece), np.pi * 110**2 / 240000, delta=0.003)

    def test_a_subject_by_a_box_with_strokes_and_back(self):
        self.begin(scene())
        page = self.page
        page.locator("#way-subject").click()
        self.drag(self.on_photo(150, 60), self.on_photo(450, 340))
        expect(self.words()).to_contain_text("16 % of the photo")
        page.keyboard.press("j")
        expect(page.locator("#silhouette-add")).to_have_attribute("aria-pressed", "true")
        page.locator("#silhouette-broad").click()
        self.drag(self.on_photo(60, 360), self.on_photo(120, 360))
        expect(page.locator("#silhouette-live .sil-mark.adds")).to_have_count(1)
        expect(self.words()).not_to_contain_text("16 %")
        page.keyboard.press("Backspace")
        expect(page.locator("#silhouette-live .sil-mark")).to_have_count(0)
        expect(self.words()).to_contain_text("16 % of the photo")
        piece = self.accept()
        self.assertIsInstance(piece.shape, Silhouette)
        self.assertEqual(len(piece.shape.tracing.loop), 4)
        # and again, with the box where it was: a loop instead
        self.page.keyboard.press("Shift+S")
        expect(page.locator("#silhouette-live .sil-loop")).to_have_count(1)
        expect(self.words()).to_contain_text("16 % of the photo")
        page.fill("#sil-grow", "-10")
        expect(self.words()).to_contain_text("13 % of the photo")
        page.locator("#desk").focus()
        again = self.accept()
        self.assertEqual(again.id, piece.id)
        self.assertAlmostEqual(box_of(piece)[0] + 10, box_of(again)[0], delta=0.3)

    def test_a_subject_by_keyboard_alone(self):
        self.begin(scene())
        page = self.page
        page.locator("#way-subject").focus()
        page.keyboard.press("Enter")
        page.locator("#desk").focus()
        page.keyboard.press("ArrowRight")
        expect(page.locator("#silhouette-live .sil-loop")).to_have_count(1)
        for _ in range(6):
            page.keyboard.press("Shift+ArrowLeft")
        page.keyboard.press("ArrowRight")
        # a dot of the brush in the very middle
        page.keyboard.press("j")
        page.keyboard.press("ArrowDown")
        page.keyboard.press("j")
        expect(page.locator("#silhouette-live .sil-mark.adds")).to_have_count(1)
        piece = self.accept()
        self.assertEqual(len(piece.shape.tracing.marks), 1)

    def test_dropped_left_and_found_again(self):
        self.begin(scene())
        page = self.page
        page.locator("#way-subject").click()
        self.drag(self.on_photo(150, 60), self.on_photo(450, 340))
        expect(page.locator("#silhouette-live .sil-loop")).to_have_count(1)
        # another station, and back: nothing is lost
        page.keyboard.press("1")
        expect(page.locator("#silhouette-bar")).to_be_hidden()
        expect(page.locator("#silhouette-live > *")).to_have_count(0)
        page.keyboard.press("Shift+S")
        expect(page.locator("#silhouette-live .sil-loop")).to_have_count(1)
        expect(page.locator("#way-subject")).to_have_attribute("aria-pressed", "true")
        # Escape takes the box back, and then leaves
        page.locator("#desk").focus()
        page.keyboard.press("Escape")
        expect(page.locator("#silhouette-live .sil-loop")).to_have_count(0)
        page.keyboard.press("Escape")
        expect(page.locator("#silhouette-bar")).to_be_hidden()
        self.assertEqual(len(self.sheet.items), 1)

    def test_nothing_to_trace_is_said(self):
        page = self.open()
        page.keyboard.press("Shift+S")
        expect(page.locator(".notice")).to_contain_text("Tracing needs a photo. None is selected")
        expect(page.locator("#silhouette-bar")).to_be_hidden()
