"""Refit by pointer and keyboard: handles, proportions, pins, bands."""

from playwright.sync_api import expect

from sheet.geometry.geometry import box_of
from tests.studio.helpers import jpeg

from .base import BrowserCase


class RefitCase(BrowserCase):
    def setUp(self):
        super().setUp()
        self.open()

    def framed(self):
        """A frame with a disc cut out of its corner and a photo in it."""
        base = self.draw("rectangle", 100, 100, 400, 300)
        hole = self.draw("ellipse", 420, 120, 60, 60)
        self.choose(base, hole)
        self.press("s")
        item = self.sheet.items[-1].id
        file = self.folder / "sea.jpg"
        file.write_bytes(jpeg(600, 400))
        photo = self.bring(file)
        self.choose(photo, item)
        self.press("p")
        return item

    def begin(self, item):
        self.choose(item)
        self.page.keyboard.press("Shift+R")
        expect(self.page.locator("#accept-refit")).to_be_enabled()

    def hole(self, item):
        return next(s.member for s in self.item(item).shape.steps)

    def pull(self, name, dx, dy):
        """Drag a handle by a distance in sheet px."""
        box = self.page.locator(f"[data-refit={name}]").bounding_box()
        x, y, zoom = box["x"] + 6, box["y"] + 6, self.zoom
        mouse = self.page.mouse
        mouse.move(x, y)
        mouse.down()
        mouse.move(x + dx * zoom / 2, y + dy * zoom / 2)
        mouse.move(x + dx * zoom, y + dy * zoom)
        mouse.up()

    def type_width(self, text):
        field = self.page.locator("#refit-width")
        field.fill(text)
        field.press("Enter")
        return field

    def shown(self, width, height):
        expect(self.page.locator("#refit-width")).to_have_value(str(width))
        expect(self.page.locator("#refit-height")).to_have_value(str(height))


class Sizes(RefitCase):
    def test_the_result_follows_the_hand_and_is_dropped_or_accepted(self):
        item = self.framed()
        before = self.page.locator(f"#art g[data-id={item}]").get_attribute("data-box")
        revision = self.revision
        self.begin(item)
        expect(self.page.locator(".pin-anchor")).to_have_count(2)
        self.pull("e", 200, 0)
        self.shown(600, 300)
        # it is drawn as it would be, and nothing is stored
        self.page.wait_for_function(
            "([id, was]) => document.querySelector(`#art g[data-id=${id}]`).dataset.box !== was", arg=[item, before]
        )
        self.assertEqual(self.revision, revision)
        self.page.locator("#drop-refit").click()
        self.assertEqual(self.page.locator(f"#art g[data-id={item}]").get_attribute("data-box"), before)
        self.begin(item)
        self.shown(400, 300)
        self.pull("se", 200, 100)
        self.shown(600, 400)
        self.press("Enter")
        self.near(box_of(self.item(item)), (100, 100, 700, 500), 1e-6)
        # the hole keeps its form, its side and its margin
        self.near(box_of(self.hole(item)), (620, 120, 680, 180), 2.5)
        expect(self.page.locator("#refit-bar")).to_be_hidden()
        self.press("Control+z")
        self.assertEqual(self.box(item), (100, 100, 500, 400))

    def test_proportions_and_typed_sizes(self):
        item = self.framed()
        self.begin(item)
        self.page.get_by_role("button", name="1:1").click()
        self.shown(400, 400)
        self.type_width("2*150")
        self.shown(300, 400)
        expect(self.type_width("nonsense")).to_have_class("number is-invalid")
        self.type_width("3in")
        self.shown(300, 400)
        self.press("Enter")
        self.assertEqual(self.box(item), (100, 100, 400, 500))

    def test_what_is_too_small_offers_the_least_it_can_be(self):
        item = self.framed()
        self.begin(item)
        field = self.type_width("40")
        offer = self.page.locator("#refit-offer")
        expect(offer).to_contain_text("Make it")
        accept = self.page.locator("#accept-refit").bounding_box()
        offer.focus()
        self.page.keyboard.press("Enter")
        expect(self.page.locator("#accept-refit")).to_be_enabled()
        # nothing that is pressed moves as the words come and go, and the focus stays in the bar
        self.assertEqual(self.page.locator("#accept-refit").bounding_box(), accept)
        expect(offer).to_be_hidden()
        expect(self.page.locator("#accept-refit")).to_be_focused()
        least = float(field.input_value())
        self.press("Enter")
        x0, y0, x1, y1 = self.box(item)
        self.near((x0, y0, x1, y1), (100, 100, 100 + least, 400), 0.01)
        self.begin(item)
        self.type_width("300")
        self.shown(300, 300)
        expect(self.type_width("20")).to_have_class("number is-invalid")
        # what is shown is what is accepted
        self.page.locator("#accept-refit").click()
        expect(self.page.locator("#refit-bar")).to_be_hidden()
        self.wait(lambda: self.box(item) == (100, 100, 400, 400))

    def test_no_pin_lies_over_a_handle(self):
        # the tab's pin would be where the right handle is
        item = self.do("draw", kind="rectangle", x=100, y=100, width=300, height=200)[0]
        tab = self.do("draw", kind="rectangle", x=390, y=170, width=20, height=60)[0]
        item = self.do("combine", ids=[item, tab], operation="union")[0]
        self.open()
        self.begin(item)
        self.shown(310, 200)
        self.pull("e", 100, 0)
        self.shown(410, 200)

    def test_what_lies_under_the_bar_comes_out(self):
        item = self.do("draw", kind="rectangle", x=100, y=10, width=400, height=300)[0]
        self.open()
        self.begin(item)
        bar, box = (self.page.locator(what).bounding_box() for what in ("#refit-bar", f"#art g[data-id={item}] .shape"))
        self.assertGreater(box["y"], bar["y"] + bar["height"])

    def test_left_and_come_back_to_it_is_as_it_was(self):
        item = self.framed()
        self.begin(item)
        self.pull("e", 100, 0)
        self.shown(500, 300)
        self.page.keyboard.press("Escape")
        self.assertEqual(self.box(item), (100, 100, 500, 400))
        self.begin(item)
        self.shown(500, 300)

    def test_what_has_one_proportion_is_told(self):
        file = self.folder / "sea.jpg"
        file.write_bytes(jpeg())
        self.choose(self.bring(file))
        self.page.keyboard.press("Shift+R")
        self.assertIn("which has one proportion", self.notice())
        self.page.keyboard.press("Escape")
        self.page.keyboard.press("Escape")
        self.page.keyboard.press("Shift+R")
        self.assertIn("Refit needs one thing", self.notice("Refit needs"))


class Pins(RefitCase):
    def test_a_pin_is_changed_by_pointer(self):
        item = self.framed()
        self.begin(item)
        self.pull("e", 200, 0)
        self.shown(600, 300)
        pin = self.page.locator(".pin-anchor[title^=Ellipse]")
        expect(pin).to_have_attribute("title", "Ellipse 1: across to the right, down to the top")
        pin.click()
        self.page.locator("#anchor-x-near").click()
        expect(pin).to_have_attribute("title", "Ellipse 1: across to the left, down to the top")
        self.press("Enter")
        self.near(box_of(self.hole(item)), (420, 120, 480, 180))

    def test_and_by_keyboard(self):
        item = self.framed()
        self.begin(item)
        pin = self.page.locator(".pin-anchor[title^=Ellipse]")
        pin.focus()
        self.page.keyboard.press("Enter")
        expect(self.page.locator("#anchor-x-far")).to_be_focused()
        self.page.locator("#anchor-y-far").focus()
        self.page.keyboard.press("Enter")
        expect(pin).to_have_attribute("title", "Ellipse 1: across to the right, down to the bottom")
        self.page.keyboard.press("Escape")
        expect(pin).to_be_focused()
        self.page.locator("#refit-height").fill("500")
        self.page.keyboard.press("Enter")
        self.shown(400, 500)
        self.press("Enter")
        self.near(box_of(self.hole(item)), (420, 320, 480, 380))


class Bands(RefitCase):
    def setUp(self):
        super().setUp()
        self.page.keyboard.press("y")
        self.page.locator("#ready-ticket").click()
        before = self.revision
        self.drag((100, 100), (380, 260))
        self.wait(lambda: self.revision > before)
        self.settle()
        self.ticket = self.sheet.items[-1].id

    def test_bands_are_found_moved_added_and_taken_away(self):
        page = self.page
        self.begin(self.ticket)
        expect(page.locator(".band.x")).to_have_count(1)
        page.locator("#refit-band-x").click()
        expect(page.locator(".band.x")).to_have_count(2)
        edge = page.locator("#band-x-0-1")
        edge.focus()
        page.keyboard.press("Delete")
        expect(page.locator(".band.x")).to_have_count(1)
        first = page.locator("#band-x-0-0")
        was = float(first.get_attribute("aria-valuenow"))
        first.focus()
        page.keyboard.press("Shift+ArrowRight")
        expect(first).to_have_attribute("aria-valuenow", str(round(was + 10)))
        box = first.bounding_box()
        page.mouse.move(box["x"] + 6, box["y"] + 20)
        page.mouse.down()
        page.mouse.move(box["x"] + 6 + 20 * self.zoom, box["y"] + 20, steps=3)
        page.mouse.up()
        page.wait_for_function("was => Number(document.getElementById('band-x-0-0').ariaValueNow) > was", arg=was + 20)
        self.pull("e", 100, 0)
        self.press("Enter")
        self.near(box_of(self.item(self.ticket)), (100, 100, 480, 260), 3)
        self.assertEqual(len(self.item(self.ticket).holds.x_bands), 1)

    def test_a_curve_across_a_band_is_told(self):
        page = self.page
        self.begin(self.ticket)
        first = page.locator("#band-x-0-0")
        first.focus()
        for _ in range(3):
            page.keyboard.press("Shift+ArrowLeft")
        self.pull("e", 100, 0)
        expect(page.locator("#refit-bar .mode-words")).to_contain_text("curve")
