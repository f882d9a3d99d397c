"""SVG files read as pieces: each feature held against resvg-like drawing by Chromium is in the browser tests; here
against formulas, our own files, and hostile ones."""

import base64
import codecs
import gzip
import io
import math
import random
import unittest

from PIL import Image

from outline import Path
from picture import FORMATS, PictureError
from picture.svg_in.plain import MAX_SVG, is_svg
from picture.svg_in.read import MAX_NODES, read_svg
from sheet.document.limits import MAX_ITEMS
from sheet.document.model import CutList, Ellipse, Group, Photo, Piece, Plain, Rectangle
from sheet.document.tree import walk
from sheet.export.order import Order, ordered
from sheet.geometry.geometry import box_of, outline_of, pieces_of
from tests.sheet.helpers import Table

from .test_export import loader

SVG = 'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"'


def read(body: str, scale: float = 1.0, head: str = 'width="100" height="100"'):
    return read_svg(f"<svg {SVG} {head}>{body}</svg>".encode(), "a.svg", scale)


def picture() -> str:
    out = io.BytesIO()
    Image.new("RGB", (40, 20), (10, 90, 120)).save(out, "PNG")
    return "data:image/png;base64," + base64.b64encode(out.getvalue()).decode()


def one(body: str, **how) -> Piece:
    (item,) = read(body, **how).items
    return item


class Shapes(unittest.TestCase):
    def near(self, item, box):
        for got, want in zip(box_of(item), box, strict=True):
            self.assertAlmostEqual(got, want, 6)

    def test_live_kinds_and_paths(self):
        rect = one('<rect x="10" y="20" width="30" height="40" rx="5"/>')
        self.assertEqual((type(rect.shape), rect.shape.radii), (Rectangle, (5, 5, 5, 5)))
        self.near(rect, (10, 20, 40, 60))
        self.assertIsInstance(one('<circle cx="50" cy="50" r="20"/>').shape, Ellipse)
        self.near(one('<ellipse cx="50" cy="50" rx="20" ry="10"/>'), (30, 40, 70, 60))
        rounded = one('<rect width="60" height="40" rx="20" ry="10"/>')
        self.assertAlmostEqual(outline_of(rounded).area, 60 * 40 - (4 - math.pi) * 20 * 10, delta=0.5)
        self.near(one('<polygon points="0,0 50,0 50 50"/>'), (0, 0, 50, 50))
        self.assertFalse(outline_of(one('<polyline points="0,0 50,0 50 50" fill="none" stroke="red"/>')).is_closed)
        self.near(one('<line x1="1" y1="2" x2="30" y2="40" stroke="#123456"/>'), (1, 2, 30, 40))

    def test_every_path_command(self):
        d = "M10 10h20v20H10V10zm40 0l10 0 0 10c0 5 -5 5 -5 10s5 5 5 10q-10 0 -10 -10t-10 -10a5 5 0 0 1 10 0Z"
        got = outline_of(one(f'<path d="{d}"/>'))
        self.assertAlmostEqual(got.area, Path.from_svg(d).area, 9)
        ring = one('<path fill-rule="evenodd" d="M0 0H30V30H0ZM10 10H20V20H10Z"/>')
        self.assertEqual(outline_of(ring).area, 800)

    def test_transforms_nest_and_scale_strokes(self):
        piece = one(
            '<g transform="translate(10 10) scale(2)"><g transform="rotate(90)">'
            '<path d="M0 0H10V5H0Z" stroke="red" stroke-width="3"/></g></g>'
        )
        self.near(piece, (0, 10, 10, 30))
        self.assertAlmostEqual(piece.paint.stroke_width, 6)
        self.near(one('<rect width="10" height="10" transform="matrix(1 0 0.5 1 5 0)"/>'), (5, 0, 20, 10))

    def test_real_size_and_view_box(self):
        # 50 mm at 254 px per inch are 500 px; the view box of 100 fits into it
        scale = 254 / 96
        head = 'width="50mm" height="50mm" viewBox="-50 -50 100 100"'
        drawing = read('<rect x="-50" y="-50" width="100" height="50"/>', scale, head)
        for got, want in zip(drawing.box, (0, 0, 500, 500), strict=True):
            self.assertAlmostEqual(got, want, 6)
        self.near(drawing.items[0], (0, 0, 500, 250))
        wide = read('<rect width="10" height="10"/>', 1, 'width="100" height="50" viewBox="0 0 10 10"')
        self.near(wide.items[0], (25, 0, 75, 50))
        bare = read('<rect x="40" y="40" width="20" height="20"/>', 1, "")
        self.assertEqual(bare.box, (40, 40, 60, 60))

    def test_sizes_that_are_not_given_follow_the_view_box(self):
        # CSS Images 3, 5.3: a side alone follows the proportion; per cent of nothing is not a size
        for head, size in (
            ('width="100%" height="100%" viewBox="0 0 400 300"', (400, 300)),
            ('width="800" viewBox="0 0 400 300"', (800, 600)),
            ('height="60" viewBox="0 0 400 300"', (80, 60)),
            ('viewBox="0 0 400 300"', (400, 300)),
        ):
            with self.subTest(head):
                drawing = read('<rect width="400" height="300"/>', head=head)
                self.assertEqual(drawing.box, (0, 0, *size))
                self.near(drawing.items[0], (0, 0, *size))

    def test_use_symbols_and_nested_drawings(self):
        drawing = read(
            '<defs><circle id="dot" cx="5" cy="5" r="5"/><symbol id="s" viewBox="0 0 10 10" width="20" height="20">'
            '<rect width="10" height="10"/></symbol></defs>'
            '<use href="#dot" x="20"/><use xlink:href="#dot" y="40" fill="#ff0000"/><use href="#s" x="50" y="50"/>'
            '<svg x="80" y="0" width="20" height="20" viewBox="0 0 5 5"><rect width="5" height="5"/></svg>'
        )
        a, b, c, d = drawing.items
        self.near(a, (20, 0, 30, 10))
        self.near(b, (0, 40, 10, 50))
        self.assertEqual(b.paint.fill, "#ff0000")
        self.near(c, (50, 50, 70, 70))
        self.near(d, (80, 0, 100, 20))

    def test_what_is_used_often_is_the_first_one_moved(self):
        """A use has a copy of its own of all that is in its target (SVG 2, 5.5)."""
        drawing = read(
            '<linearGradient id="g"><stop stop-color="red"/><stop offset="1"/></linearGradient><clipPath id="c">'
            '<circle cx="5" cy="5" r="4"/></clipPath><defs><g id="a"><rect width="9" height="6" fill="url(#g)"/>'
            '<rect width="9" height="9" clip-path="url(#c)"/><text font-family="Nobody">ab</text></g></defs>'
            '<g transform="scale(2 1)"><use href="#a"/><use href="#a" x="10" y="5"/><use href="#a" fill="blue"/></g>'
        )
        (group,) = drawing.items
        first, second, blue = group.items
        for one, other in zip(first.items, second.items, strict=True):
            x0, y0, x1, y1 = box_of(one)
            self.near(other, (x0 + 20, y0 + 5, x1 + 20, y1 + 5))
        one, other = (i.items[0].paint.fill.matrix for i in (first, second))
        self.assertEqual((other[4] - one[4], other[5] - one[5]), (20, 5))
        self.assertEqual(blue.items[1].paint.fill, "#0000ff")
        ids = [item.id for top in drawing.items for item, _ in walk(top)]
        self.assertEqual(len(ids), len(set(ids)))
        self.assertEqual(sum(drawing.unknown.values()), 3)

    def test_what_is_used_under_a_clip_is_clipped_where_it_is(self):
        """Each use is the same as the shape written out there (SVG 2, 5.5), its border and all."""
        shape = '<path d="M5 5h30q9 9 0 20l-30 9z" stroke="red" stroke-width="6" stroke-dasharray="9 4"/>'
        path = shape.replace("<path", '<path id="p"')
        clips = ("M0 0H60V40H0z", "M30 0H90V90z", "M0 0L90 20V99z")
        places = [(x, y, clip) for clip in range(3) for x, y in ((0, 0), (25, 10), (40, 3.5))]
        defs = "".join(f'<clipPath id="c{k}"><path d="{d}"/></clipPath>' for k, d in enumerate(clips))
        for scale in ("1", "2 1", "-1 1.5"):
            used, written = (
                read(
                    f"<defs>{defs}{path}</defs>"
                    + "".join(
                        f'<g clip-path="url(#c{clip})" transform="scale({scale})">{one.format(x=x, y=y)}</g>'
                        for x, y, clip in places
                    )
                )
                for one in (
                    '<use href="#p" x="{x}" y="{y}"/>',
                    f'<g transform="translate({{x}} {{y}})">{shape}</g>',
                )
            )
            self.assertEqual(len(used.items), len(places))
            self.assertEqual(used.unknown, written.unknown)
            for one, other in zip(used.items, written.items, strict=True):
                for (mine, _), (its, _) in zip(walk(one), walk(other), strict=True):
                    self.assertEqual(type(mine), type(its))
                    if isinstance(mine, Piece):
                        self.assertEqual(mine.paint, its.paint)
                        self.assertAlmostEqual(outline_of(mine).area, outline_of(its).area, 8)
                        self.near(mine, box_of(its))

    def test_what_is_turned_has_its_sizes_in_px_of_the_sheet(self):
        drawing = read('<rect width="40" height="20" rx="5" transform="rotate(30) scale(2)"/>', scale=1.5)
        (piece,) = drawing.items
        self.assertEqual((piece.shape.width, piece.shape.height, piece.shape.radii[0]), (120, 60, 15))
        self.assertAlmostEqual(piece.placing.scale, 1, 12)


def nested(depth: int) -> str:
    """Return a rectangle so many groups deep."""
    return "<g>" * depth + '<rect width="9" height="9"/>' + "</g>" * depth

    def test_a_border_is_outlined_unless_it_crosses_itself_too_often(self):
        def scribble(count: int) -> str:
            hand = random.Random(count)
            return "M0 0" + "".join(f"C{' '.join(str(hand.randrange(500)) for _ in range(6))}" for _ in range(count))

        pen = 'fill="none" stroke="#000" stroke-width="4" transform="scale(2 1)"'
        few = read(f'<path d="{scribble(40)}" {pen}/>')
        self.assertEqual((few.items[0].paint.stroke, dict(few.unknown)), (None, {}))
        many = read(f'<path d="{scribble(600)}" {pen}/>')
        self.assertEqual(many.items[0].paint.stroke, "#000000")
        self.assertAlmostEqual(many.items[0].paint.stroke_width, 4 * math.sqrt(2), 6)
        self.assertEqual(dict(many.unknown), {"border that is wider one way (its mean width)": 1})
        # thousands that are beside one another are no tangle
        dashes = read(f'<circle cx="50" cy="50" r="40" stroke-dasharray=".05" {pen}/>')
        self.assertEqual((dashes.items[0].paint.stroke, dict(dashes.unknown)), (None, {}))
        dots = read(f'<circle cx="50" cy="50" r="40" stroke-dasharray=".02" {pen}/>')
        self.assertEqual(dots.items[0].paint.dashes, (0.02 * math.sqrt(2), 0.02 * math.sqrt(2)))
        self.assertEqual(dict(dots.unknown), {"border that is wider one way (its mean width)": 1})

    def test_a_mask_that_crosses_itself_too_often_is_told(self):
        hand = random.Random(1)
        line = "M0 0" + "".join(f"C{' '.join(str(hand.randrange(500)) for _ in range(6))}" for _ in range(600))
        for mask in (f'<path fill="#fff" d="{line}"/>', f'<path fill="none" stroke="#fff" d="{line}"/>'):
            drawing = read(f'<mask id="m">{mask}</mask><rect width="50" height="50" mask="url(#m)"/>')
            self.assertEqual((len(drawing.items), dict(drawing.unknown)), (1, {"mask that cannot be read": 1}))


class Styles(unittest.TestCase):
    def test_attributes_rules_and_own_styles_in_their_order(self):
        drawing = read(
            "<style>/* a */ rect { fill: #111111 } .warm, .hot { fill: orange; stroke: rgb(1, 2, 3) }"
            "#x{fill:#222222}</style>"
            '<rect width="9" height="9" fill="#999999"/><rect class="big warm" width="9" height="9"/>'
            '<rect class="warm" id="x" width="9" height="9"/>'
            '<rect class="warm" id="y" style="fill:#333333" width="9" height="9"/>'
        )
        self.assertEqual([i.paint.fill for i in drawing.items], ["#111111", "#ffa500", "#222222", "#333333"])
        self.assertEqual(drawing.items[1].paint.stroke, "#010203")

    def test_nothing_that_changes_how_it_looks_is_dropped_without_a_word(self):
        drawing = read(
            "<style>rect { fill: red } rect:: { fill: blue } @media print { rect { fill: none } }</style>"
            "<style media='print'>rect { fill: blue }</style><style type='text/other'>rect { fill: blue }</style>"
            '<rect width="9" height="9" marker-end="url(#m)" stroke-dashoffset="3" vector-effect="non-scaling-stroke"/>'
            '<text y="9" font-family="Bungee" font-style="italic" dominant-baseline="auto">a</text>'
            '<text y="9" font-family="Bitter"><tspan baseline-shift="super">a</tspan></text>'
            '<rect width="5" height="5" mask="none"/><rect width="calc(1px + 2px)" height="5"/>'
        )
        told = {"length that is worked out, or of the window's size": 1} | {
            "marker-end": 1,
            "stroke-dashoffset": 1,
            "vector-effect": 1,
            "font-style": 1,
            "style rule": 3,
        }
        told |= {"baseline-shift": 1, "font Bitter of weight 400 (Bold instead)": 1}
        self.assertEqual(drawing.unknown, told)

    def test_what_is_told_by_style_alone(self):
        (rect, path) = read(
            "<style>rect { x: 10px; y: 20px; width: 4px; height: 50% } path { d: path('M0 0H9V9Z') }</style>"
            "<rect/><path/>"
        ).items
        self.assertEqual(box_of(rect), (10, 20, 14, 70))
        self.assertEqual(box_of(path), (0, 0, 9, 9))

    def test_what_is_hostile_in_a_style_sheet_is_told_or_passed_over(self):
        for css, told in (
            (" ".join(["g"] * 60) + " rect { fill: blue }", 1),
            ("rect" + ":not(" * 50_000 + "{ fill: blue }", 1),
            ("*:has(* ~ *) { fill: blue }", 1),
            ("rect { stroke: " + "(" * 50_000 + "}", 0),
            ("@font-face { src: url(data:font/woff2;base64," + "QUFB" * 1_000_000 + ") }", 0),
        ):
            with self.subTest(css[:30]):
                (piece,) = (drawing := read(f"<style>rect {{ fill: red }} {css}</style>" + nested(45))).items
                self.assertEqual(piece.paint.fill, "#ff0000")
                self.assertEqual(drawing.unknown, {"style rule": told} if told else {})

    def test_inheritance_opacity_and_blend(self):
        (group,) = read(
            '<g fill="none" stroke="#0000ff" opacity="50%" style="mix-blend-mode: multiply">'
            '<path d="M0 0H9V9" stroke-dasharray="4 2" stroke-linejoin="round"/>'
            '<path d="M0 0H9V9Z" fill="currentColor" color="red"/></g>'
        ).items
        self.assertEqual((type(group), group.opacity, group.blend), (Group, 0.5, "multiply"))
        a, b = group.items
        self.assertEqual(
            (a.paint.fill, a.paint.stroke, a.paint.dashes, a.paint.join), (None, "#0000ff", (4, 2), "round")
        )
        self.assertEqual(b.paint.fill, "#ff0000")

    def test_colours_of_css_color_4(self):
        # worked examples of CSS Color 4 (6, 8 to 10 and 15), and of the named colours
        for text, want in (
            ("rgb(200 50 50 / 50%)", "#c83232"),
            ("hsl(120deg 50% 50%)", "#40bf40"),
            ("rgb(46.27% 32.94% 80.39%)", "#7654cd"),
            ("HWB(150 20% 10%)", "#33e68c"),
            ("lab(46.277% -47.562 48.583)", "#008000"),
            ("lch(29.2345% 44.2 27)", "#7d2329"),
            ("oklab(51.975% -0.1403 0.10768)", "#008000"),
            ("oklch(51.975% 0.17686 142.495)", "#008000"),
            ("color(srgb-linear 0.5 0.5 0.5)", "#bcbcbc"),
            ("color(display-p3 0.21604 0.49418 0.13151)", "#008000"),
            ("LightGoldenrodYellow", "#fafad2"),
        ):
            with self.subTest(text):
                self.assertEqual(one(f'<rect width="9" height="9" fill="{text}"/>').paint.fill, want)

    def test_what_stands_for_a_colour(self):
        inside = '<g color="#0000ff" fill="#008000" style="--edge: #ff0000">{}</g>'
        for value, want in (
            ("CURRENTCOLOR", "#0000ff"),
            ("var(--edge)", "#ff0000"),
            ("var(--none, var(--edge))", "#ff0000"),
            ("inherit", "#008000"),
            ("unset", "#008000"),
            ("initial", "#000000"),
        ):
            with self.subTest(value):
                piece = one(inside.format(f'<rect width="9" height="9" fill="{value}"/>'))
                self.assertEqual(piece.paint.fill, want)
        drawing = read(inside.format('<rect width="9" height="9" fill="nonsense(3)"/>'))
        self.assertEqual(drawing.unknown, {"colour that is not understood": 1})
        self.assertEqual(drawing.items[0].paint.fill, "#008000")

    def test_what_is_not_understood_is_counted_and_the_rest_comes(self):
        drawing = read(
            '<rect width="9" height="9" fill="url(#g)"/><text><textPath>Hallo</textPath></text><foreignObject/>'
            '<rect width="5" height="5" filter="url(#f)"/>'
            '<image href="https://example.org/a.png" width="5" height="5"/>'
            '<rect display="none" width="5" height="5"/><script>alert(1)</script><path d="M0 0 Lnan 5"/>'
        )
        self.assertEqual(len(drawing.items), 2)
        self.assertIsNone(drawing.items[0].paint.fill)
        self.assertEqual(
            drawing.unknown,
            {
                "paint that is not there": 1,
                "textPath": 1,
                "foreignObject": 1,
                "filter": 1,
                "picture outside of the file": 1,
                "hidden element": 1,
                "script": 1,
                "path that cannot be read": 1,
            },
        )

    def test_a_filter_that_no_copy_can_show_is_told(self):
        shape = '<rect width="50" height="50" fill="#a33" filter="url(#f)"/>'
        photo = f'<image href="{picture()}" width="9" height="9" filter="url(#f)"/>'
        shadow = '<feDropShadow dx="1" dy="1" stdDeviation="0"/>'
        for steps, of in (
            ('<feDropShadow dx="1" dy="1" stdDeviation="3"/>', shape),
            ('<feDropShadow dx="1" dy="1"/>', shape),
            ('<feTurbulence baseFrequency="1"/>', shape),
            ("<feFlood/>", shape),
            ('<feOffset in="nothing" dx="1"/>', shape),
            ('<feOffset dx="1" width="5"/>', shape),
            ('<feColorMatrix type="saturate" values="0"/>', shape),
            ("<feMerge>" + '<feMergeNode in="SourceGraphic"/>' * 9 + "</feMerge>", shape),
            (shadow + shadow.replace("/>", ' flood-opacity=".5"/>'), shape),
            (shadow, photo),
        ):
            with self.subTest(steps):
                drawing = read(f'<filter id="f">{steps}</filter>{of}')
                self.assertEqual(drawing.unknown, {"filter": 1})
        self.assertEqual(read(f'<filter id="f">{shadow * 2}</filter>{shape}').unknown, {})
        drawing = read(f'<filter id="f"></filter>{shape}')
        self.assertEqual((drawing.items, drawing.unknown), ((), {}))

    def test_a_filter_that_mixes_in_linear_light_is_told(self):
        half = '<rect width="50" height="50" fill-opacity=".5" filter="url(#f)"/>'
        for space, told in (("", {"filter in linear light (mixed as usual)": 1}), ("sRGB", {})):
            own = f'color-interpolation-filters="{space}"' if space else ""
            shadow = f'<filter id="f" {own}><feDropShadow dx="1" dy="1" stdDeviation="0"/></filter>'
            self.assertEqual(read(shadow + half).unknown, told)

    def test_filters_in_filters_are_followed_as_deep_as_is_told(self):
        shadow = '<filter id="f"><feDropShadow dx="1" dy="1" stdDeviation="0"/></filter>'
        for deep, told in ((3, {}), (40, {"filter": 37 * 8})):
            inside = '<g filter="url(#f)">' * deep + '<rect width="50" height="50"/>' + "</g>" * deep
            drawing = read(shadow + inside)
            self.assertEqual(drawing.unknown, told)
            self.assertEqual(len([p for item in drawing.items for p in pieces_of(item)]), 8)

    def test_what_is_used_a_million_times_is_measured_once(self):
        many = '<g id="g0"><rect width="9" height="9"/></g>' + "".join(
            f'<g id="g{k}">{10 * f"""<use href="#g{k - 1}"/>"""}</g>' for k in range(1, 7)
        )
        clip = '<clipPath id="c" clipPathUnits="objectBoundingBox"><rect width=".5" height="1"/></clipPath>'
        with self.assertRaisesRegex(PictureError, "5,000 items"):
            read(f'{clip}<defs>{many}</defs><use href="#g6" clip-path="url(#c)"/>')

    def test_a_shadow_is_moved_in_the_px_of_what_throws_it(self):
        # Filter Effects 1, 8.4: the steps' lengths are in the element's user space
        shadow, shape = one(
            '<filter id="f" x="-1" y="-1" width="3" height="3"><feDropShadow dx="3" dy="4" stdDeviation="0"/></filter>'
            '<rect width="20" height="10" transform="rotate(90)" filter="url(#f)"/>'
        ).items
        self.assertEqual((shadow.name, shape.name), ("Shadow", "Rectangle"))
        (x0, y0, *_), (x1, y1, *_) = outline_of(shape).bounds, outline_of(shadow).bounds
        self.assertAlmostEqual(x1 - x0, -4)
        self.assertAlmostEqual(y1 - y0, 3)

    def test_what_stands_in_for_something_is_told(self):
        drawing = read(
            '<pattern id="p"/><rect width="9" height="9" fill="url(#p) #102030"/>'
            '<rect width="9" height="9" fill="url(#q)"/>'
            '<clipPath id="c"/><rect width="9" height="9" clip-path="url(#c)"/>'
            '<clipPath id="d"><circle r="9"/></clipPath><path d="M0 5H99" stroke="red" clip-path="url(#d)"/>'
            '<path d="M0 0L9 0L0 1" stroke="red" stroke-miterlimit="20"/>'
            '<rect width="9" height="9" stroke="red" stroke-miterlimit="20"/>'
        )
        self.assertEqual([i.paint.fill for i in drawing.items[:2]], ["#102030", None])
        # the line that was cut is an area
        self.assertEqual((drawing.items[2].paint.fill, drawing.items[2].paint.stroke), ("#ff0000", None))
        told = {"pattern": 1, "paint that is not there": 1, "element clipped wholly away": 1}
        told |= {"mitre limit (4 instead)": 1}
        self.assertEqual(drawing.unknown, told)

    def test_masks_that_are_not_hard_are_told(self):
        for inside in ('fill="#888"', 'fill="#fff" opacity=".5"', 'fill="url(#g)"'):
            with self.subTest(inside):
                drawing = read(
                    '<linearGradient id="g"><stop/><stop offset="1" stop-color="#fff"/></linearGradient>'
                    f'<mask id="m"><rect width="99" height="99" {inside}/></mask>'
                    '<rect width="9" height="9" mask="url(#m)"/>'
                )
                self.assertEqual(drawing.unknown, {"soft mask (all of it is shown)": 1})
                self.assertEqual(len(drawing.items), 1)
        of_itself = '<mask id="m"><circle r="9" fill="#fff" mask="url(#m)"/></mask><circle r="9" mask="url(#m)"/>'
        self.assertEqual(read(of_itself).unknown, {"mask that is not there, or of itself": 1})
        hidden = read('<mask id="m"><circle r="9"/></mask><circle r="9" mask="url(#m)"/>')
        self.assertEqual((hidden.items, hidden.unknown), ((), {"element that a mask hides wholly": 1}))
        # nothing shows outside of a mask's own area, whatever is in it (CSS Masking 1, 7.7)
        for area in ('width="0"', 'maskUnits="userSpaceOnUse" x="50" y="50" width="9" height="9"'):
            body = f'<mask id="m" {area}><circle r="9" fill="#fff"/></mask><circle r="9" mask="url(#m)"/>'
            self.assertEqual(read(body).unknown, {"element that a mask hides wholly": 1})
        soft = '<mask id="m" width="0"><circle r="9" fill="#888"/></mask><circle r="9" mask="url(#m)"/>'
        self.assertEqual(read(soft).items, ())

    def test_dashes_are_shares_of_the_length_that_is_told(self):
        (piece,) = read(
            '<circle r="50" fill="none" stroke="#000" pathLength="100" stroke-dasharray="10 5" transform="scale(2)"/>'
        ).items
        # SVG 2, 9.6.1: of a circle of radius 100
        around = 2 * math.pi * 100
        self.assertAlmostEqual(piece.paint.dashes[0], around / 10, delta=0.01)
        self.assertAlmostEqual(piece.paint.dashes[1], around / 20, delta=0.01)

    def test_what_a_sheet_cannot_say_is_told(self):
        group = '<g style="isolation: isolate"><rect width="9" height="9" style="mix-blend-mode: {}"/></g>'
        self.assertEqual(len(read(group.format("multiply")).unknown), 1)
        self.assertEqual(read(group.format("normal")).unknown, {})

    def test_transforms_of_css_have_units(self):
        for told in ("translate(24px, .25in) rotate(90deg)", "translate(18pt,24px) rotate(.25turn)"):
            with self.subTest(told):
                (piece,) = read(f'<path d="M0 0H10V5H0Z" style="transform: {told}"/>').items
                self.assertEqual([round(v, 6) for v in box_of(piece)], [19, 24, 24, 34])


class ClipsAndPictures(unittest.TestCase):
    def test_a_clipped_picture_is_a_frame(self):
        drawing = read(
            '<clipPath id="c"><circle cx="50" cy="50" r="10"/><rect x="60" y="40" width="20" height="20"/></clipPath>'
            f'<g clip-path="url(#c)"><image href="{picture()}" x="30" y="40" width="80" height="40"/></g>'
        )
        (frame,) = drawing.items
        self.assertEqual(frame.kind, "frame")
        self.assertEqual(len(drawing.pictures), 1)
        self.assertAlmostEqual(outline_of(frame).area, math.pi * 100 + 400, delta=0.5)
        self.assertEqual(frame.photos[0].matrix, (2, 0, 0, 2, 30, 40))

    def test_a_picture_keeps_its_proportions_as_it_says(self):
        photo = one(f'<image href="{picture()}" width="100" height="100"/>')
        self.assertIsInstance(photo, Photo)
        self.assertEqual(photo.matrix, (2.5, 0, 0, 2.5, 0, 25))
        none = one(f'<image href="{picture()}" width="100" height="100" preserveAspectRatio="none"/>')
        self.assertEqual(none.matrix, (2.5, 0, 0, 5, 0, 0))

    def test_other_things_are_cut_by_a_clip_and_stay_live(self):
        piece = one(
            '<clipPath id="c"><rect width="50" height="50"/></clipPath>'
            '<g clip-path="url(#c)"><circle cx="50" cy="50" r="20"/></g>'
        )
        self.assertIsInstance(piece.shape, CutList)
        self.assertIsInstance(piece.shape.base.shape, Ellipse)
        self.assertAlmostEqual(outline_of(piece).area, math.pi * 400 / 4, delta=0.5)


class Own(unittest.TestCase):
    def test_our_own_file_read_back_has_the_same_outlines_and_paint(self):
        t = Table("200", "160", "mm", "254")
        a, b = t.rectangle(100, 100, 300, 200), t.ellipse(300, 200, 200, 200)
        (outline,) = t.do("combine", ids=[a, b], operation="union")
        t.do("paint", ids=[outline], field="stroke", value="#b5432a")
        t.do("paint", ids=[outline], field="stroke_width", value="3mm")
        t.do("put_in", ids=[outline, t.photo(900, 600, 300, 250)])
        (star,) = t.do("draw", kind="star", x=1200, y=300, width=300, height=300)
        t.do("paint", ids=[star], field="blend", value="multiply")
        order = Order(format="svg", extent="whole", photos="whole")
        data = FORMATS["svg"].write(t.sheet, ordered(t.sheet, order)[0], loader, order)
        self.assertTrue(is_svg(data[:4000]))
        drawing = read_svg(data, "own", 254 / 96)
        self.assertEqual(drawing.unknown, {})
        for got, want in zip(drawing.box, (0, 0, 2000, 1600), strict=True):
            self.assertAlmostEqual(got, want, 3)
        frame, back = drawing.items
        self.assertEqual((frame.kind, frame.name), ("frame", t.item(outline).name))
        self.assertAlmostEqual(outline_of(frame).area, outline_of(t.item(outline)).area, delta=2)
        self.assertEqual(frame.paint.stroke, "#b5432a")
        self.assertAlmostEqual(frame.paint.stroke_width, 30, 3)
        for got, want in zip(box_of(frame.photos[0]), box_of(t.item(outline).photos[0]), strict=True):
            self.assertAlmostEqual(got, want, 2)
        self.assertEqual((back.name, back.paint.fill), (t.item(star).name, t.item(star).paint.fill))
        self.assertEqual(back.paint.blend, "multiply")
        self.assertIsInstance(back.shape, Plain)


class Refused(unittest.TestCase):
    def test_hostile_files_in_words_and_without_reading_anything(self):
        bomb = '<!DOCTYPE svg [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;">]>'
        outside = '<!DOCTYPE svg [<!ENTITY x SYSTEM "file:///etc/passwd">]>'
        many = "<path d='M0 0h1v1z'/>" * (MAX_NODES + 1)
        for data, words in (
            (f"{bomb}<svg {SVG}><text>&b;</text></svg>", "entities"),
            (f"{outside}<svg {SVG}><text>&x;</text></svg>", "entities"),
            ("<svg", "an SVG that can’t be read"),
            ("<html/>", "isn’t an SVG"),
            ("", "an SVG that can’t be read"),
            (f"<svg {SVG}>{many}</svg>", "5,000 items"),
            (f"<svg {SVG}>{'<g/>' * (MAX_NODES + 1)}</svg>", "elements"),
            (f"<svg {SVG}>{'<g>' * 5000}<path d='M0 0h1v1z'/>{'</g>' * 5000}</svg>", "groups deep"),
        ):
            with self.subTest(words):
                with self.assertRaises(PictureError) as caught:
                    read_svg(data.encode(), "a.svg", 1)
                self.assertIn(words, str(caught.exception))
                self.assertTrue(caught.exception.remedy)

    def test_no_more_is_read_than_a_sheet_has_room_for(self):
        path = '<path d="M0 0H9V9H0Z"/>'
        self.assertEqual(len(read(path * MAX_ITEMS).items), MAX_ITEMS)
        # what is used again, and what one shape is parted into, counts too
        for body in (
            path * (MAX_ITEMS + 1),
            f'<defs><g id="g">{path * 51}</g></defs>' + '<use href="#g"/>' * 100,
            f'<g stroke="#000" transform="scale(2 1)">{path * 2000}</g>',
        ):
            with self.subTest(body[:30]), self.assertRaisesRegex(PictureError, "5,000 items"):
                # as large as a file may be whose borders all become outlines
                read(body + f"<!--{'x' * 500_000}-->")
        # what is in a mask is not on the sheet
        masked = f'<mask id="m"><g fill="#fff">{path * 60}</g></mask>' + f'<g mask="url(#m)">{path}</g>' * 100
        self.assertEqual(len(read(masked).items), 100)

    def test_a_frame_counts_once_with_the_fill_and_the_border_around_its_picture(self):
        frame = (
            '<path d="M0 0H9V9H0Z" fill="#eee"/>'
            f'<image width="99" height="99" href="{picture()}" clip-path="url(#c)"/>'
            '<path d="M0 0H9V9H0Z" fill="none" stroke="#000"/>'
        )
        clip = '<clipPath id="c"><path d="M0 0H9V9H0Z"/></clipPath>'
        drawing = read(clip + frame * (MAX_ITEMS // 2 + 1))
        self.assertEqual(len(drawing.items), MAX_ITEMS // 2 + 1)

    def test_a_use_of_itself_ends(self):
        drawing = read(
            '<g id="a"><use href="#a"/><use href="#b"/></g><g id="b"><use href="#a"/><rect width="5" height="5"/></g>'
        )
        self.assertGreater(len(drawing.items), 0)
        # ten levels of ten are more than is read
        levels = "".join(
            f'<g id="l{k}">{"".join(f"""<use href="#l{k - 1}"/>""" for _ in range(10))}</g>' for k in range(1, 8)
        )
        with self.assertRaisesRegex(PictureError, "5,000 items"):
            read(f'<g id="l0"><rect width="1" height="1"/></g>{levels}')


class Packed(unittest.TestCase):
    """What comes before an SVG's root, and around all of it (XML 1.0, 2.8 and 4.3.3; SVG 2, 1.4 for gzip)."""

    BODY = (
        '<svg xmlns="http://www.w3.org/2000/svg" width="40" height="20"><rect width="10" height="5" fill="red"/></svg>'
    )

    def read(self, data):
        self.assertTrue(is_svg(data[:4000]))
        drawing = read_svg(data, "card.svg", 1.0)
        self.assertEqual((drawing.box, len(drawing.items)), ((0, 0, 40, 20), 1))

    def test_utf_16_a_prefix_a_long_comment_and_gzip(self):
        prefixed = self.BODY.replace("xmlns=", "xmlns:s=").replace("<svg", "<s:svg").replace("</svg", "</s:svg")
        prefixed = prefixed.replace("<rect", "<s:rect")
        for text in (self.BODY, prefixed, f"<!-- {'x' * 9000} -->{self.BODY}", f"<?xml version='1.0'?>\n{self.BODY}"):
            with self.subTest(text[:30]):
                self.read(text.encode())
                self.read(codecs.BOM_UTF8 + text.encode())
                self.read(gzip.compress(text.encode()))
                if not text.startswith("<?xml"):
                    self.read(text.encode("utf-16"))
        doctype = '<!DOCTYPE svg PUBLIC "-//W3C//DTD SVG 1.1//EN" "x.dtd" [<!-- own -->]>'
        self.assertTrue(is_svg((doctype + self.BODY).encode()))

    def test_what_is_none(self):
        for data in (
            b"",
            b"<html><svg/></html>",
            b"svg",
            b"\x1f\x8bxx",
            gzip.compress(b"no"),
            "<html/>".encode("utf-16"),
        ):
            self.assertFalse(is_svg(data), data)

    def test_what_grows_too_large_or_is_cut_short_is_refused(self):
        bomb = gzip.compress(b"<svg>" + b" " * (MAX_SVG + 10))
        self.assertLess(len(bomb), 100_000)
        with self.assertRaisesRegex(PictureError, "more than 20 MB"):
            read_svg(bomb, "card.svgz", 1.0)
        with self.assertRaisesRegex(PictureError, "can’t be unpacked"):
            read_svg(gzip.compress(self.BODY.encode())[:-12], "card.svgz", 1.0)
