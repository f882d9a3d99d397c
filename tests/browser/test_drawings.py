"""SVG pasted, dropped and chosen: the sheet then shows what Chromium shows of the file itself."""

import io
import re

import numpy as np
from PIL import Image
from playwright.sync_api import expect

from .base import BrowserCase

HEAD = '<svg xmlns="http://www.w3.org/2000/svg" width="400" height="300" viewBox="0 0 400 300">'
CASES = {
    "shapes": """<rect x="20" y="20" width="100" height="60" rx="20" ry="10" fill="#000"/>
        <circle cx="200" cy="80" r="50"/>
        <ellipse cx="320" cy="80" rx="60" ry="30"/><polygon points="20,200 120,200 70,280"/>
        <polyline points="150,200 200,280 250,200" fill="none" stroke="#000" stroke-width="12"
        stroke-linejoin="round"/>""",
    "paths": """<path d="M50 50c40 -60 120 60 160 0s60 90 0 120q-40 60 -80 0t-80 0a30 20 15 1 0 -10 -60z"/>
        <path fill-rule="evenodd" d="M250 50h120v120h-120zm30 30h60v60h-60z"/>""",
    "transforms": """<g transform="translate(200 150) rotate(30) skewX(10) scale(1.5 .7)"><circle r="60"/></g>
        <g transform="translate(80 80) rotate(-20) scale(2)"><rect x="-25" y="-25" width="50" height="50" stroke="#000"
        stroke-width="6" fill="none"/></g>""",
    "use": """<defs><g id="a"><rect width="60" height="40"/><circle cx="80" cy="20" r="20"/></g>
        <symbol id="s" viewBox="0 0 10 10"><path d="M0 0L10 5L0 10Z"/></symbol></defs><use href="#a" x="30" y="30"/>
        <use href="#a" transform="translate(150 150) scale(1.5)"/>
        <use href="#s" x="250" y="20" width="100" height="100"/>""",
    "clips": """<clipPath id="c"><circle cx="150" cy="150" r="100"/></clipPath>
        <clipPath id="d"><rect x="100" width="300" height="300"/></clipPath>
        <g clip-path="url(#d)"><g clip-path="url(#c)"><rect width="400" height="300"/></g></g>""",
    "styles": """<style>.k{fill:#000} path{fill:none;stroke:#000;stroke-width:9}</style>
        <rect class="k" x="20" y="20" width="90" height="90"/><path d="M150 40H350V250"/>
        <path style="stroke-dasharray:30 15" d="M40 200H300"/>""",
}


class Drawings(BrowserCase):
    long = True

    def paste(self, text: str) -> None:
        before = self.revision
        self.page.locator("#desk").focus()
        self.page.evaluate(
            "text => { const d = new DataTransfer(); d.setData('text/plain', text);"
            " const paste = new ClipboardEvent('paste', { clipboardData: d, bubbles: true });"
            " document.activeElement.dispatchEvent(paste); }",
            text,
        )
        self.wait(lambda: self.revision > before)
        self.settle()

    def dark(self, png: bytes) -> np.ndarray:
        return np.asarray(Image.open(io.BytesIO(png)).convert("L")) < 128

    def test_each_feature_looks_as_in_the_file(self):
        self.open()
        shown = self.context.new_page()
        shown.set_viewport_size({"width": 400, "height": 300})
        for name, body in CASES.items():
            with self.subTest(name):
                text = f"{HEAD}{body}</svg>"
                self.paste(text)
                shown.set_content(f"<style>body{{margin:0;background:#fff}}</style>{text}")
                want = self.dark(shown.screenshot())
                # the drawing's box lies in the middle of the sheet of 1000 by 800
                jpg = self.exported(what="sheet", extent="whole", format="jpg", quality="100")
                got = self.dark(jpg)[250:550, 300:700]
                self.press("Control+z")
                both = np.logical_and(got, want).sum() / np.logical_or(got, want).sum()
                self.assertGreater(both, 0.985)

    def test_copied_it_is_svg_for_others_and_itself_here(self):
        page = self.open()
        self.context.grant_permissions(["clipboard-read", "clipboard-write"])
        piece = self.draw("rectangle", 100, 100, 300, 200)
        self.choose(piece)
        page.locator("#desk").focus()
        page.keyboard.press("Control+c")
        text = page.evaluate("navigator.clipboard.readText()")
        self.assertTrue(text.startswith("<svg "))
        self.assertIn('width="300px" height="200px"', text)
        # here it stays what it was
        self.press("Control+v")
        again = self.sheet.items[-1]
        self.assertEqual((type(again.shape), again.name), (type(self.item(piece).shape), "Rectangle 1"))
        # without our mark it comes as any other SVG does
        self.paste(text.replace("<!--", "<!-- no "))
        (x0, y0, x1, y1) = self.box(self.sheet.items[-1].id)
        self.assertEqual((round(x1 - x0), round(y1 - y0)), (300, 200))

    def test_path_data_alone_is_a_piece(self):
        self.open()
        self.paste("M10 10H110V60H10Z")
        (piece,) = self.sheet.items
        self.near(self.box(piece.id), (450, 375, 550, 425))

    def test_what_comes_in_while_one_is_inside_a_group_steps_out(self):
        ids = [self.do("draw", kind="ellipse", x=x, y=50, width=90, height=90)[0] for x in (50, 200)]
        (group,) = self.do("group", ids=ids)
        page = self.open()
        self.choose(group)
        page.keyboard.press("Enter")
        expect(page.locator("#art")).to_have_class(re.compile("inside"))
        before = self.revision
        file = {
            "name": "plan.svg",
            "mimeType": "image/svg+xml",
            "buffer": f"{HEAD}<rect width='9' height='9'/></svg>".encode(),
        }
        page.set_input_files("input[type=file]", file)
        self.wait(lambda: self.revision > before)
        expect(page.locator("#art")).not_to_have_class(re.compile("inside"))
        expect(page.locator(f"#art > [data-id={self.sheet.items[-1].id}]")).to_have_count(1)

    def test_dropped_with_what_is_not_understood_told(self):
        page = self.open()
        before = self.revision
        body = '<rect width="400" height="300" fill="#2b7a72"/><foreignObject/>'
        file = {"name": "plan.svg", "mimeType": "image/svg+xml", "buffer": f"{HEAD}{body}</svg>".encode()}
        page.set_input_files("input[type=file]", file)
        self.wait(lambda: self.revision > before)
        expect(page.locator(".notice").last).to_contain_text("Not understood, and left out: foreignObject (1).")
        self.assertEqual(self.sheet.items[0].paint.fill, "#2b7a72")
