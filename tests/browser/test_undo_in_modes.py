"""Undo belongs to the work at hand: in each mode it takes back the last mark, node or change of that work first."""

from PIL import Image, ImageDraw

from .base import BrowserCase


class Modes(BrowserCase):
    """Two rectangles that overlap, drawn before a mode begins; they stay until nothing of its work is left."""

    long = True

    def setUp(self):
        super().setUp()
        self.open()
        self.a = self.draw("rectangle", 100, 100, 400, 300)
        self.b = self.draw("rectangle", 300, 200, 400, 300)
        self.before = self.revision

    def undo(self, again: bool = False) -> None:
        self.page.keyboard.press("Control+Shift+z" if again else "Control+z")

    def count(self, selector: str, number: int) -> None:
        self.wait(lambda: self.page.locator(selector).count() == number)

    def left(self, words: str) -> None:
        """One more undo leaves the mode and goes to the project's steps."""
        self.assertEqual(self.revision, self.before)
        self.undo()
        self.wait(lambda: self.page.locator("#art > g").count() == 1)
        self.assertIn(words, self.notice())

    def test_the_nodes_of_a_curve(self):
        self.page.keyboard.press("q")
        for x, y in ((600, 600), (700, 650), (800, 600)):
            self.click(x, y)
        self.count("#curve-marks .node", 3)
        self.undo()
        self.count("#curve-marks .node", 2)
        self.undo(again=True)
        self.count("#curve-marks .node", 3)
        self.undo()
        self.undo()
        self.count("#curve-marks .node", 1)
        self.assertEqual(self.page.locator("#art > g").count(), 2)
        self.assertEqual(self.revision, self.before)

    def test_cells(self):
        self.choose(self.a, self.b)
        self.page.keyboard.press("j")
        self.page.wait_for_selector("#cells .cell")
        self.drag((150, 150), (400, 300))
        self.count("#cells .joined", 2)
        self.page.keyboard.press("l")
        self.click(650, 450)
        self.count("#cells .lifted", 1)
        self.undo()
        self.count("#cells .lifted", 0)
        self.count("#cells .joined", 2)
        self.undo()
        self.count("#cells .joined", 0)
        self.undo(again=True)
        self.count("#cells .joined", 2)
        self.undo()
        self.left("Part by part was left")

    def test_refit(self):
        self.choose(self.a)
        self.page.keyboard.press("Shift+R")
        self.page.wait_for_selector(".refit-box")
        self.page.get_by_role("button", name="1:1").click()
        height = self.page.locator("#refit-height")
        self.wait(lambda: height.input_value() == "400")
        self.page.locator("#desk").focus()
        self.undo()
        self.wait(lambda: height.input_value() == "300")
        self.left("Refit was left")

    def test_sampling(self):
        page = self.page
        page.keyboard.press(".")
        page.click("#sample-5")
        pressed = page.locator("#sample-bar [aria-pressed=true]")
        self.wait(lambda: pressed.first.get_attribute("id") == "sample-5")
        self.undo()
        self.wait(lambda: pressed.first.get_attribute("id") == "sample-1")
        self.undo(again=True)
        self.wait(lambda: pressed.first.get_attribute("id") == "sample-5")
        self.undo()
        self.left("Sampling was left")

    def test_lettering_that_is_typed(self):
        page = self.page
        page.keyboard.press("l")
        self.click(600, 600)
        page.keyboard.type("TAG")
        page.keyboard.press("Control+z")
        self.wait(lambda: page.locator("#letter textarea").input_value() != "TAG")
        self.assertEqual(self.revision, self.before)
        page.keyboard.press("Control+Shift+z")
        self.wait(lambda: page.locator("#letter textarea").input_value() == "TAG")
        self.assertEqual((self.revision, page.locator("#art > g").count()), (self.before, 2))


class Silhouettes(BrowserCase):
    def test_marks(self):
        self.open()
        self.bring(self.photo())
        self.page.keyboard.press("Shift+S")
        self.page.wait_for_selector("#silhouette-bar:not([hidden])")
        self.page.click("#silhouette-add")
        before = self.revision
        for y in (300, 400):
            self.drag((300, y), (600, y))
        self.wait(lambda: self.page.locator(".sil-mark").count() == 2)
        self.page.keyboard.press("Control+z")
        self.wait(lambda: self.page.locator(".sil-mark").count() == 1)
        self.page.keyboard.press("Control+Shift+z")
        self.wait(lambda: self.page.locator(".sil-mark").count() == 2)
        self.assertEqual(self.revision, before)

    def photo(self):
        """Return a file with a dark disc on light ground."""
        image = Image.new("RGB", (800, 600), "#e8e4da")
        ImageDraw.Draw(image).ellipse((250, 150, 550, 450), fill="#22302f")
        file = self.folder / "disc.jpg"
        image.save(file)
        return file
