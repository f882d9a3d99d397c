"""A corpus of hostile SVG files: refused or read in part, in words, in bounded memory; and nothing of them runs."""

import unittest
from pathlib import Path
from typing import ClassVar
from unittest.mock import patch

from msgspec.structs import replace

import picture.svg_in.read as read_module
from picture import FORMATS, PictureError
from picture.svg_in.clips import MAX_PARTS
from picture.svg_in.effort import Effort
from picture.svg_in.read import MAX_NODES, Drawing, read_svg
from sheet import new_sheet
from sheet.commands.photo.importing import PlacedDrawing
from sheet.document import library
from sheet.document.store import check_size
from sheet.export.order import Order, ordered
from tests.sheet.helpers import Table

from .dense import PLAINLY, UNEVEN, dense_files

NS = 'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"'
RECT = '<rect width="9" height="9"/>'
MOST = 150_000_000
"""Bytes that reading any of them may take."""


def svg(body: str, more: str = "") -> bytes:
    return f'<svg {NS} width="100" height="100" {more}>{body}</svg>'.encode()


def uses(levels: int, of: int) -> str:
    first = f'<g id="l0">{RECT}</g>'
    return first + "".join(
        f'<g id="l{k}">{"".join(f"""<use href="#l{k - 1}"/>""" for _ in range(of))}</g>' for k in range(1, levels)
    )


def clips(levels: int, of: int) -> str:
    """Return clip paths each of which has parts that are clipped by the one before it."""
    first = f'<clipPath id="c0">{RECT}</clipPath>'
    part = '<rect width="90" height="9" clip-path="url(#c{})"/>'
    return first + "".join(
        f'<clipPath id="c{k}" clip-path="url(#c{k - 1})">{part.format(k - 1) * of}</clipPath>' for k in range(1, levels)
    )


REFUSED = {
    "entities that grow": b'<!DOCTYPE svg [<!ENTITY a "'
    + b"a" * 10_000
    + b'">]>'
    + svg("<text>" + "&a;" * 5000 + "</text>"),
    "entities in entities": b'<!DOCTYPE svg [<!ENTITY a "ha"><!ENTITY b "&a;&a;&a;&a;">]>' + svg("&b;"),
    "an entity of a file": b'<!DOCTYPE svg [<!ENTITY x SYSTEM "file:///etc/hostname">]>' + svg("<text>&x;</text>"),
    "a parameter entity": b'<!DOCTYPE svg [<!ENTITY % x SYSTEM "http://127.0.0.1:9/x.dtd">%x;]>' + svg(RECT),
    "a million elements": svg("<g/>" * 1_000_000),
    "more paths than are read": svg("<path d='M0 0h1v1z'/>" * (MAX_NODES + 1)),
    "a hundred thousand deep": svg("<g>" * 100_000 + RECT + "</g>" * 100_000),
    "forty thousand deep": svg("<g>" * 40_000 + RECT + "</g>" * 40_000),
    "copies of copies": svg(uses(8, 10) + '<use href="#l7"/>'),
    "a clip path of far too many parts": svg(
        f'<clipPath id="c">{RECT * (MAX_PARTS + 1)}</clipPath><rect width="9" height="9" clip-path="url(#c)"/>'
    ),
    "cut short": svg(RECT)[:-9],
    "not XML": b"\x00\x01\x02<svg",
    "another kind of XML": b'<rss version="2.0"><svg/></rss>',
    "utf-7": b'<?xml version="1.0" encoding="utf-7"?>' + svg(RECT),
    "an unknown encoding": b'<?xml version="1.0" encoding="x-unheard-of"?>' + svg(RECT),
    "21 megabytes": svg("<!--" + "x" * 21_000_000 + "-->"),
}
READ = {
    "a script": svg(f"<script>alert(1)</script>{RECT}"),
    "event handlers": svg('<rect width="9" height="9" onclick="alert(1)" onload="alert(1)"/>', 'onload="alert(1)"'),
    "a link that runs": svg(f'<a href="javascript:alert(1)">{RECT}</a>'),
    "HTML inside": svg(f'<foreignObject><iframe xmlns="http://www.w3.org/1999/xhtml" src="/"/></foreignObject>{RECT}'),
    "an image elsewhere": svg(f'<image href="http://127.0.0.1:9/a.png" width="9" height="9"/>{RECT}'),
    "an image of the disk": svg(f'<image xlink:href="file:///etc/passwd" width="9" height="9"/>{RECT}'),
    "an image that is an SVG": svg(f'<image href="data:image/svg+xml;base64,PHN2Zy8+" width="9" height="9"/>{RECT}'),
    "an image that is none": svg(f'<image href="data:image/png;base64,AAAA" width="9" height="9"/>{RECT}'),
    "a use elsewhere": svg(f'<use href="other.svg#a"/>{RECT}'),
    "a use of itself": svg(f'<g id="a"><use href="#a"/></g>{RECT}'),
    "uses in a ring": svg(f'<g id="a"><use href="#b"/></g><g id="b"><use href="#a"/></g>{RECT}'),
    "a clip of itself": svg(
        f'<clipPath id="c" clip-path="url(#c)"><use href="#c"/></clipPath><g clip-path="url(#c)">{RECT}</g>{RECT}'
    ),
    "clip paths of clip paths": svg(clips(30, 10) + f'<rect width="9" height="9" clip-path="url(#c29)"/>{RECT}'),
    "thirty clip paths on one another": svg(clips(30, 0) + f'<g clip-path="url(#c29)">{RECT}</g>{RECT}'),
    "a gradient of itself": svg(f'<linearGradient id="g" href="#g"/><rect width="9" height="9" fill="url(#g)"/>{RECT}'),
    "a style sheet elsewhere": svg(
        f'<style>@import url("http://127.0.0.1:9/a.css"); rect{{fill:url(http://x/)}}</style>{RECT}'
    ),
    "NaN in a path": svg(f'<path d="M0 0 L NaN 5"/><path d="M1e999 0L5 5"/>{RECT}'),
    "infinite numbers": svg(f'<rect width="1e400" height="inf"/><circle r="NaN"/>{RECT}'),
    "huge numbers": svg(f'<rect x="1e300" width="1e300" height="1e300"/><path d="M-1e14 0L1e14 1e14z"/>{RECT}'),
    "a map to nothing": svg(f'<g transform="scale(0)"><rect width="9" height="9"/></g>{RECT}'),
    "a map that is none": svg(f'<g transform="matrix(1 2 three)"><rect width="9" height="9"/></g>{RECT}'),
    "a view box of nothing": svg(RECT, 'viewBox="0 0 0 0"'),
    "a view box of no numbers": svg(RECT, 'viewBox="a b c d"'),
    "names with control characters": svg('<rect id="a&#x9;b&#xA;c" width="9" height="9"/>'),
    "a name of a megabyte": svg(f'<g id="{"n" * 1_000_000}">{RECT}{RECT}</g>'),
    "a colour of a megabyte": svg(f'<rect width="9" height="9" fill="{"f" * 1_000_000}"/>{RECT}'),
    "brackets without end": svg(
        f'<style>{"a{" * 50_000}</style><rect width="9" height="9" fill="rgb({"(" * 50_000}"/>{RECT}'
    ),
    "a dash of nothing": svg(f'<rect width="9" height="9" stroke="red" stroke-dasharray="0 0 0"/>{RECT}'),
    "text without end": svg(f'<text font-size="1e9">{"x" * 2_000}</text>{RECT}'),
    "text of nothing": svg(f'<text font-size="0">x</text><text font-size="-5"/>{RECT}'),
}


def most_memory() -> int:
    """Return what this process has had of memory at most (bytes)."""
    status = Path("/proc/self/status").read_text()
    return 1024 * int(status.split("VmHWM:")[1].split()[0])


class Counting(Effort):
    """What is left of the last file's effort."""

    last: ClassVar[Effort]

    def __init__(self, size: int):
        super().__init__(size)
        Counting.last = self


class Hostile(unittest.TestCase):
    def read(self, data: bytes) -> Drawing:
        """Read it, without much memory at once."""
        # what a process had at most is counted from here again (proc(5))
        Path("/proc/self/clear_refs").write_text("5")
        before = most_memory()
        try:
            return read_svg(data, "hostile.svg", 1.0)
        finally:
            self.assertLess(most_memory() - before, MOST)

    def test_what_would_take_minutes_comes_in_plainly_and_says_so(self):
        for name, data, told in dense_files(40_000):
            with self.subTest(name), patch.object(read_module, "Effort", Counting):
                drawing = self.read(data)
                self.assertEqual(drawing.unknown.keys() & PLAINLY, {told} - {""})
                # little more than all of it was spent, and where something is told little is left
                self.assertGreater(Counting.last.left, -100)
                self.assertLess(Counting.last.left, 50 if told else 301)

    def test_a_border_may_take_as_much_as_a_file_of_its_size(self):
        lines = "".join(f"M0 {k}H500" for k in range(0, 300, 3))
        body = f'<path d="{lines}" stroke="#000" stroke-dasharray="9 9" transform="scale(2 1)"/>'
        self.assertEqual(sum(self.read(svg(body)).unknown.values()), 1)
        large = svg(body + f"<!--{'x' * 500_000}-->")
        self.assertEqual(sum(read_svg(large, "large.svg", 1.0).unknown.values()), 0)

    def test_borders_alike_stay_few_enough_for_a_sheet(self):
        """Each that is outlined is a fill, a border and their group."""
        body = '<rect width="9" height="9" stroke="#000"/>' * 2_400
        drawing = self.read(svg(f'<g transform="scale(2 1)">{body}</g>'))
        self.assertIn(UNEVEN, drawing.unknown)
        check_size(replace(new_sheet("100", "100", "px", "96"), items=drawing.items))

    def test_refused_in_words(self):
        for name, data in REFUSED.items():
            with self.subTest(name):
                with self.assertRaises(PictureError) as caught:
                    self.read(data)
                self.assertTrue(caught.exception.remedy)
                self.assertLess(len(str(caught.exception)), 300)

    def test_the_rest_comes_in_and_goes_out_harmless(self):
        for name, data in READ.items():
            with self.subTest(name):
                drawing = self.read(data)
                self.assertGreaterEqual(len(drawing.items), 1)
                table = Table("100", "100", "px", "96")
                brought = PlacedDrawing(library.Brought("hostile", drawing.items, drawing.box, drawing.unknown))
                table.sheet = brought.run(new_sheet("100", "100", "px", "96")).sheet
                order = Order(what="sheet", extent="whole", format="svg")
                text = (
                    FORMATS["svg"].write(table.sheet, ordered(table.sheet, order)[0], lambda p, s: None, order).decode()
                )
                for word in ("script", "alert", "http://127", "file:", "javascript", "onload", "onclick", "NaN", "inf"):
                    self.assertNotIn(word, text.replace("http://www.w3.org", ""))
                # what goes out is well formed, and comes in again
                self.assertTrue(self.read(text.encode()).items)
