"""What a screen reader announces: what was done, where one is, what a refusal says; each once."""

from typing import ClassVar

from tests.studio.helpers import jpeg

from .base import SIZE, BrowserCase

LISTEN = """() => {
  window.heard = [];
  const told = "[aria-live], [role=status], [role=alert]";
  new MutationObserver((all) => {
    const regions = new Set();
    for (const { target } of all) {
      const element = target.nodeType === 1 ? target : target.parentElement;
      for (let r = element?.closest(told); r; r = r.parentElement?.closest(told)) regions.add(r);
    }
    for (const r of regions) {
      const words = r.innerText.replace(/\\s+/g, " ").replace("\u2715", "").trim();
      if (words && r.checkVisibility()) window.heard.push(words);
    }
  }).observe(document.body, { childList: true, characterData: true, subtree: true });
  document.addEventListener("focusin", ({ target }) => {
    if (target.id === "drawer") window.heard.push(`focus: ${target.getAttribute("aria-label")}`);
  });
}"""


class Hearing(BrowserCase):
    long = True
    # a context of its own, since a clock that is set forward stays so
    device: ClassVar[dict] = {"viewport": SIZE, "timezone_id": "UTC"}

    def setUp(self):
        super().setUp()
        self.page.clock.install()

    def heard(self) -> list[str]:
        """Return what was announced since the last call, once the page is at rest."""
        self.page.wait_for_function("() => !window.asking")
        # what comes together is said as one, after a rest
        self.page.clock.run_for(1000)
        words: list[str] = self.page.evaluate("() => window.heard.splice(0)")
        # long work says so too, on a machine that is busy
        return [w for w in words if not w.startswith(("Working out", "Loading"))]

    def test_each_once(self):
        page = self.open()
        page.evaluate(LISTEN)
        self.draw("rectangle", 100, 100, 300, 200)
        self.assertEqual(self.heard(), ["Done: draw Rectangle 1"])
        self.draw("ellipse", 200, 150, 300, 200)
        self.assertEqual(self.heard(), ["Done: draw Ellipse 1"])
        page.keyboard.press("Escape")
        self.assertEqual(self.heard(), ["nothing selected"])
        self.press("u", changes=False)
        self.assertEqual(len(self.heard()), 1)
        self.choose(*(i.id for i in self.sheet.items))
        self.assertEqual(self.heard()[-1], "2 selected · Rectangle 1, Ellipse 1")
        self.press("u")
        (union,) = self.heard()
        self.assertIn("Done: ", union)
        self.press("Control+z")
        (undone,) = self.heard()
        self.assertEqual(undone, union.replace("Done", "Undone"))
        # by its key the focus goes to the station and says so; by a press nothing else does
        self.station(2)
        self.assertEqual(self.heard(), ["focus: Cut"])
        page.locator("#station-finish").click()
        self.assertEqual(self.heard(), ["Finish"])

    def test_the_end_of_an_export(self):
        page = self.open()
        file = self.folder / "sea.jpg"
        file.write_bytes(jpeg(600, 400))
        self.bring(file)
        self.station(5)
        self.heard_from_now()
        with page.expect_download():
            page.locator("#export-now").click()
        saved = [words for words in self.heard() if "saved" in words]
        self.assertEqual(len(saved), 1)
        self.assertIn("card-sea.png saved", saved[0])

    def heard_from_now(self) -> None:
        self.page.wait_for_function("() => !window.asking")
        self.page.clock.run_for(5000)
        self.page.evaluate(LISTEN)
