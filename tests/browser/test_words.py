"""What the screen says about errors, values and names; and the pages around the editor."""

from django.conf import settings
from django.test import Client
from playwright.sync_api import expect

from sheet import new_sheet
from sheet.geometry.geometry import box_of
from studio.history import changes
from tests.studio.helpers import jpeg

from .base import BrowserCase


class Trouble(BrowserCase):
    """Three errors, three different messages, and nothing is lost."""

    expected = ("status of 4", "status of 5", "ERR_INTERNET_DISCONNECTED")

    def test_a_lost_connection(self):
        self.open()
        a = self.draw("rectangle", 100, 100, 200, 100)
        self.context.set_offline(True)
        self.page.keyboard.press("ArrowRight")
        expect(self.page.locator(".name small")).to_contain_text("No connection, retrying…")
        self.assertIn("The server does not answer", self.notice("answer"))
        self.context.set_offline(False)
        self.press("ArrowRight")
        self.near(self.box(a), (101, 100, 301, 200), 3)

    def test_a_server_error(self):
        self.open()
        self.draw("rectangle", 100, 100, 200, 100)
        self.page.route("**/command", lambda route: route.fulfill(status=500, body="<h1>oh</h1>"))
        self.page.keyboard.press("ArrowRight")
        self.assertIn("The server has a problem", self.notice("problem"))
        self.page.unroute("**/command")
        self.press("ArrowRight")

    def test_signed_out_and_in_again_elsewhere(self):
        self.open()
        a = self.draw("rectangle", 100, 100, 200, 100)
        self.context.clear_cookies()
        self.page.keyboard.press("ArrowRight")
        self.assertIn("You are signed out", self.notice("signed out"))
        other = self.context.new_page()
        other.goto(f"{self.live_server_url}/sign-in")
        other.fill("[name=username]", "ada")
        other.fill("[name=password]", "a-long-enough-word")
        other.locator("main button, form button").first.click()
        expect(other.get_by_role("heading", name="Projects")).to_be_visible()
        other.close()
        # this window goes on by itself
        x0 = self.box(a)[0]
        self.press("ArrowRight")
        self.assertGreater(self.box(a)[0], x0)


class Values(BrowserCase):
    def refused(self, selector: str, value: str, words: str) -> None:
        field = self.page.locator(selector)
        field.fill(value)
        field.press("Enter")
        expect(self.page.locator(".field-error", has_text=words).first).to_be_visible()
        field.press("Escape")

    def test_each_field_gives_an_example_of_its_own_kind(self):
        self.open()
        self.draw("rectangle", 100, 100, 200, 100)
        self.refused("#g-width", "wide", "2000/3")
        self.refused("#g-angle", "left", "like 45.")
        self.station(4)
        self.refused("#p-opacity", "half", "%")

    def test_a_radius_held_shows_what_it_was_held_at(self):
        self.open()
        self.draw("rectangle", 100, 100, 200, 100)
        field = self.page.locator("#d-radius")
        self.fill("#d-radius", "4000")
        (piece,) = self.sheet.items
        held = min(piece.shape.width, piece.shape.height) / 2
        expect(field).to_have_value(f"{held:g}")
        self.assertIn("is now", self.notice("largest"))

    def test_guides_have_a_colour_of_their_own(self):
        self.open()
        a = self.draw("rectangle", 100, 100, 200, 100)
        changes.run(self.user, self.project.pk, "", "set_guide", {"axis": "x", "at": "300"}, self.revision)
        self.open()
        self.choose(a)

        def colour(css: str) -> str:
            return self.page.locator(css).first.evaluate("e => getComputedStyle(e).stroke")

        self.assertNotEqual(colour(".guide"), colour(".chosen-line"))

    def test_copies_and_parts_have_names_of_their_own(self):
        self.open()
        a = self.draw("rectangle", 100, 100, 200, 200)
        self.choose(a)
        for _ in range(2):
            self.choose(a)
            self.press("Control+d")
        names = [i.name for i in self.sheet.items]
        self.assertEqual(sorted(names), ["Rectangle 1", "Rectangle 1 copy", "Rectangle 1 copy 2"])
        b = self.draw("ellipse", 250, 150, 200, 100)
        self.choose(a, b)
        self.station(2)
        self.press("s")
        first = self.page.locator("#undo").inner_text()
        self.press("Control+z")
        self.choose(a, b)
        self.page.keyboard.press("m")
        self.press("s")
        # subtract is told from subtract with the other base
        self.assertIn("subtract Ellipse 1 from Rectangle 1", first)
        self.assertIn("subtract Rectangle 1 from Ellipse 1", self.page.locator("#undo").inner_text())


class Pairs(BrowserCase):
    def test_two_photos_and_two_outlines_pair_off_in_reading_order(self):
        self.open()
        left, right = (self.folder / f"{n}.jpg" for n in ("left", "right"))
        left.write_bytes(jpeg(300, 200, "#0a5a78"))
        right.write_bytes(jpeg(300, 200, "#e0a030"))
        one = self.bring(left)
        self.fill("#g-x", "50")
        two = self.bring(right)
        self.fill("#g-x", "600")
        second = self.draw("rectangle", 600, 100, 200, 150)
        first = self.draw("rectangle", 100, 100, 200, 150)
        photos = {"left.jpg": first, "right.jpg": second}
        self.choose(two, second, one, first)
        self.press("p")
        for name, outline in photos.items():
            (photo,) = self.item(outline).photos
            self.assertEqual(photo.name, name)
            # it covers its outline
            x0, y0, x1, y1 = box_of(photo)
            a0, b0, a1, b1 = box_of(self.item(outline))
            self.assertTrue(x0 <= a0 and y0 <= b0 and x1 >= a1 and y1 >= b1, (name, x0, y0, x1, y1))

    def test_pasted_in_place(self):
        self.context.grant_permissions(["clipboard-read", "clipboard-write"])
        self.open()
        a = self.draw("rectangle", 100, 100, 200, 100)
        self.choose(a)
        self.page.keyboard.press("Control+c")
        self.press("Control+Shift+V")
        self.assertEqual(box_of(self.sheet.items[-1]), box_of(self.item(a)))
        self.assertEqual(len(self.sheet.items), 2)


class Around(BrowserCase):
    def test_the_projects_page_by_keyboard(self):
        page = self.page
        page.goto(f"{self.live_server_url}/projects/new")
        expect(page.get_by_role("heading", name="Projects", exact=True)).to_be_visible()
        page.keyboard.press("Tab")
        expect(page.locator(":focus")).to_have_text("Skip to the content")
        page.keyboard.press("n")
        expect(page.locator("#n-name")).to_be_focused()

    def test_ones_own_size_begins_in_the_unit_used_last(self):
        changes.start(self.user, "Plate", new_sheet("120", "80", "mm", "254"))
        page = self.page
        page.goto(self.live_server_url)
        page.locator("label.size", has_text="Square").first.click()
        expect(page.locator("#n-unit")).to_have_value("px")
        expect(page.locator("#n-resolution")).to_have_value("72")
        page.locator("label.size", has_text="Custom").click()
        expect(page.locator("#n-unit")).to_have_value("mm")
        expect(page.locator("#n-resolution")).to_have_value("254")

    def test_a_stranger_is_led_to_the_door(self):
        self.assertEqual(Client().get("/projects/new").status_code, 302)
        self.assertTrue(settings.LOGIN_URL)
