"""Bringing SVG in, held against resvg: two open icon sets, and a case for each feature of SVG 2 in the W3C's manner."""

import base64
import io
import tarfile
import unittest
from pathlib import Path

import numpy as np
import resvg_py
from PIL import Image

import outline
from picture.draw.raster import render
from picture.svg_in.read import Drawing, read_svg

ICONS = Path(__file__).parent / "icons"
FONTS = sorted(str(f) for f in (Path(outline.__file__).parent / "shapes" / "fonts").glob("*.ttf"))
LEAST = 0.995


def theirs(data: bytes, scale: float) -> np.ndarray:
    """Return resvg's picture of an SVG."""
    # reading the fonts takes longer than the picture
    fonts = FONTS if b"<text" in data else []
    png = resvg_py.svg_to_bytes(svg_string=data.decode(), zoom=scale, dpi=96, skip_system_fonts=True, font_files=fonts)
    return np.asarray(Image.open(io.BytesIO(bytes(png))).convert("RGBA"))


def ours(drawing: Drawing, scale: float) -> np.ndarray:
    """Return our picture of a drawing."""
    pictures = {file: Image.open(io.BytesIO(data)) for file, data in drawing.pictures.items()}
    return render(drawing.items, drawing.box, scale, lambda photo, share: pictures[photo.file])


def premultiplied(pixels: np.ndarray) -> np.ndarray:
    """Return coverage, and each colour by it (height, width, 4)."""
    of = pixels.astype(np.int32)
    of[..., :3] = (of[..., :3] * of[..., 3:] + 127) // 255
    return of


def compared(a: np.ndarray, b: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return what of two pictures is compared: of black ones only their coverage."""
    if not (a[..., :3].any() or b[..., :3].any()):
        return a[..., 3].astype(np.int16), b[..., 3].astype(np.int16)
    return premultiplied(a), premultiplied(b)


def agreement(data: bytes, sides: tuple[int, ...] = (112, 224, 448, 640, 1280)) -> tuple[float, Drawing]:
    """Return the intersection over the union of the two pictures: of their coverage, and of each colour by it.

    What is thin is mostly edge, where two rasterizers differ by a part of a px: where a
    small picture does not agree, a larger one shows whether it is more than that.
    """
    drawing = read_svg(data, "case", 1.0)
    x0, y0, x1, y1 = drawing.box
    found = 0.0
    for side in sides:
        scale = side / max(x1 - x0, y1 - y0)
        a, b = compared(ours(drawing, scale), theirs(data, scale))
        h, w = min(len(a), len(b)), min(a.shape[1], b.shape[1])
        if abs(len(a) - len(b)) > 1 or abs(a.shape[1] - b.shape[1]) > 1:
            return 0.0, drawing
        a, b = a[:h, :w], b[:h, :w]
        # what is rounded otherwise is the same
        b = np.where(np.abs(a - b) <= 2, a, b)
        found = np.minimum(a, b).sum(dtype=np.int64) / max(1, np.maximum(a, b).sum(dtype=np.int64))
        if found >= LEAST:
            break
    return found, drawing


class IconSet:
    """Every file of a set; it is named by the archive it was published in."""

    archive = ""
    first = ""

    def test_every_icon(self):
        count = 0
        with tarfile.open(ICONS / self.archive) as box:
            for member in box:
                name = member.name.rsplit("/", 1)[-1]
                if not name.endswith(".svg") or (self.first and name[0] not in self.first):
                    continue
                data = box.extractfile(member).read()
                found, drawing = agreement(data)
                count += 1
                with self.subTest(name):
                    self.assertGreaterEqual(found, LEAST)
                    self.assertEqual(drawing.unknown, {})
        self.assertGreater(count, 200)


class Feather(IconSet, unittest.TestCase):
    """feather-icons 4.29.2 (MIT): lines with round ends and joins."""

    archive = "feather-icons-4.29.2.tar.xz"


class BootstrapA(IconSet, unittest.TestCase):
    """bootstrap-icons 1.13.2 (MIT): filled paths; in four parts, which run side by side."""

    archive = "bootstrap-icons-1.13.2.tar.xz"
    first = "0123456789ab"


class BootstrapC(BootstrapA):
    first = "cde"


class BootstrapF(BootstrapA):
    first = "fghijklmno"


class BootstrapP(BootstrapA):
    first = "pqrstuvwxyz"


def picture() -> str:
    """Return an opaque picture of 8 × 6 px as an address."""
    out = io.BytesIO()
    Image.new("RGB", (8, 6), (40, 90, 120)).save(out, "PNG")
    return "data:image/png;base64," + base64.b64encode(out.getvalue()).decode()


CASES = {
    "path: every command, absolute": '<path d="M10 10L60 10H90V40C90 60 70 60 70 40S50 20 50 40Q40 60 30 40T10 40A10 20 30 1 0 20 80Z"/>',
    "path: every command, relative": '<path d="m10 10l50 0h30v30c0 20-20 20-20 0s-20-20-20 0q-10 20-20 0t-20 0a10 20 30 1 0 10 40z"/>',
    "path: numbers run together": '<path d="M10,10 80-5.5.5.5 60 70-3e1-2.5e-1z"/>',
    "path: arc flags run together": '<path d="M20 50a30 30 0 1140 20z"/>',
    "path: open and filled": '<path d="M10 10L90 20L50 90"/>',
    "fill-rule evenodd": '<path fill-rule="evenodd" d="M10 10H90V90H10ZM30 30H70V70H30Z"/>',
    "fill-rule nonzero": '<path d="M10 10H90V90H10ZM30 30H70V70H30Z"/>',
    "rect": '<rect x="10" y="20" width="70" height="50"/>',
    "rect with rx": '<rect x="10" y="20" width="70" height="50" rx="12"/>',
    "rect with rx and ry": '<rect x="10" y="20" width="70" height="50" rx="30" ry="10"/>',
    "rect with ry too large": '<rect x="10" y="20" width="70" height="50" ry="40"/>',
    "circle": '<circle cx="50" cy="45" r="30"/>',
    "ellipse": '<ellipse cx="50" cy="45" rx="40" ry="22"/>',
    "line": '<line x1="10" y1="15" x2="85" y2="70" stroke="#000" stroke-width="9"/>',
    "polyline": '<polyline points="10,10 90,20 50,90 20,60" fill="none" stroke="#000" stroke-width="7"/>',
    "polygon": '<polygon points="10,10 90,20 50,90 20,60"/>',
    "stroke joins": "".join(
        f'<path d="M{x} 80l12-60 12 60" fill="none" stroke="#000" stroke-width="8" stroke-linejoin="{j}"/>'
        for x, j in ((8, "miter"), (38, "round"), (68, "bevel"))
    ),
    "stroke caps": "".join(
        f'<path d="M20 {y}H80" stroke="#000" stroke-width="14" stroke-linecap="{c}"/>'
        for y, c in ((20, "butt"), (50, "round"), (80, "square"))
    ),
    "stroke dashes": '<path d="M10 50H90" stroke="#000" stroke-width="20" stroke-dasharray="12 6 3"/>',
    "stroke and fill": '<circle cx="50" cy="50" r="30" fill="#ccc" stroke="#000" stroke-width="10"/>',
    "opacity of fill and border": '<circle cx="50" cy="50" r="30" fill-opacity=".4" stroke="#000" stroke-opacity=".8" stroke-width="12"/>',
    "translate and scale": '<g transform="translate(20 10) scale(.5 .8)"><rect width="100" height="100"/></g>',
    "rotate about a place": '<rect x="30" y="30" width="40" height="40" transform="rotate(30 50 50)"/>',
    "skews": '<rect x="20" y="20" width="40" height="30" transform="skewX(20) skewY(10)"/>',
    "matrix": '<circle cx="20" cy="20" r="15" transform="matrix(1.5 .4 -.3 1.2 20 15)"/>',
    "uneven border": '<circle cx="20" cy="20" r="15" fill="#999" stroke="#000" stroke-width="6" transform="scale(2.2 1.4)"/>',
    "groups in groups": '<g transform="scale(.5)"><g transform="translate(40 40)"><rect width="80" height="90"/></g></g>',
    "use": '<defs><path id="a" d="M0 0H30L15 30Z"/></defs><use href="#a" x="10" y="10"/><use href="#a" transform="translate(50 40) scale(1.4)"/>',
    "use by xlink": '<defs><circle id="a" r="12"/></defs><use xmlns:xlink="http://www.w3.org/1999/xlink" xlink:href="#a" x="40" y="50"/>',
    "symbol": '<symbol id="s" viewBox="0 0 10 10"><circle cx="5" cy="5" r="5"/></symbol><use href="#s" x="10" y="20" width="60" height="60"/>',
    "svg in svg": '<svg x="10" y="20" width="70" height="40" viewBox="0 0 10 10"><rect width="10" height="10"/></svg>',
    "svg in svg, whose rest does not show": '<svg x="10" y="20" width="40" height="30"><circle cx="30" cy="20" r="25"/></svg>',
    "svg in svg, whose rest shows": '<svg x="10" y="20" width="40" height="30" overflow="visible"><circle cx="30" cy="20" r="25"/></svg>',
    "svg in svg, filled and turned": '<g transform="rotate(12)"><svg x="30" y="20" width="40" height="30" viewBox="0 0 10 10" preserveAspectRatio="xMinYMax slice"><circle cx="4" cy="4" r="5" stroke="#000" fill="#999"/></svg></g>',
    "symbol, whose rest does not show": '<symbol id="s" viewBox="0 0 10 10"><circle cx="8" cy="5" r="5"/></symbol><use href="#s" x="10" y="20" width="60" height="40"/>',
    "svg in svg and symbol without a size": '<svg viewBox="0 0 20 20"><circle cx="5" cy="5" r="4"/></svg><symbol id="s" viewBox="0 0 10 10"><circle cx="8" cy="8" r="2"/></symbol><use href="#s"/>',
    "per cent of another view box": '<svg width="80" height="40" viewBox="0 0 200 100"><rect x="10%" y="20%" width="50%" height="40%"/><circle cx="80%" cy="50%" r="10%" stroke="#000" stroke-width="4%"/></svg>',
    "em of the letters": '<g font-size="10"><rect width="3em" height="20"/></g>',
    "rect with rx by itself": '<rect x="10" y="10" width="60" height="40" rx="auto" ry="10"/>',
    "fill of which nothing shows": '<circle cx="50" cy="50" r="30" fill-opacity="0" stroke="#000" stroke-width="12"/>',
    "switch": '<switch><foreignObject requiredExtensions="https://example.org/"/><rect systemLanguage="de" width="50" height="50"/><g><circle cx="50" cy="50" r="20"/></g><rect width="9" height="9"/></switch>',
    "clipPath by use": '<defs><circle id="k" cx="50" cy="50" r="30"/></defs><clipPath id="c"><use href="#k" x="5" overflow="visible"/></clipPath><rect width="100" height="60" clip-path="url(#c)"/>',
    "clipPath of letters": '<clipPath id="c"><text x="5" y="60" font-family="Bitter, Bitter Thin" font-weight="700" font-size="40">Tide</text></clipPath><rect width="100" height="100" clip-path="url(#c)"/>',
    "clipPath of a clipPath": '<clipPath id="a"><rect width="50" height="100"/></clipPath><clipPath id="c" clip-path="url(#a)"><circle cx="50" cy="50" r="30"/></clipPath><rect width="100" height="60" clip-path="url(#c)"/>',
    "clipPath whose part is clipped": '<clipPath id="a"><rect width="50" height="100"/></clipPath><clipPath id="c"><circle cx="50" cy="50" r="30" clip-path="url(#a)"/><rect x="80" width="9" height="99"/></clipPath><rect width="100" height="60" clip-path="url(#c)"/>',
    "clipPath with a hidden part": '<clipPath id="c"><rect width="50" height="100" display="none"/><circle cx="50" cy="50" r="30"/></clipPath><rect width="100" height="60" clip-path="url(#c)"/>',
    "clipPath whose parts run against one another": '<clipPath id="c"><path d="M10 10H60V60H10Z"/><path d="M30 30V90H90V30Z"/></clipPath><rect width="100" height="100" clip-path="url(#c)"/>',
    "clipPath that cuts a border": '<clipPath id="c"><circle cx="50" cy="50" r="30"/></clipPath><rect x="20" y="40" width="90" height="40" fill="#999" stroke="#000" stroke-width="12" clip-path="url(#c)"/>',
    "clipPath that cuts lines": '<clipPath id="c"><circle cx="50" cy="50" r="40"/></clipPath><g clip-path="url(#c)" fill="none" stroke="#000" stroke-width="9"><path d="M0 20C40 0 60 60 100 20" stroke-linecap="round"/><path d="M0 60H100V75" stroke-dasharray="14 5 2" stroke-linecap="square" stroke-linejoin="round"/><path d="M30 40l20 30 3-30" stroke-miterlimit="9"/><path d="M50 95V95" stroke-linecap="round"/></g>',
    "uneven borders of lines": '<g transform="rotate(10) scale(1.6 .7)" fill="none" stroke="#000" stroke-width="8"><path d="M10 20Q40 0 55 60" stroke-linecap="square"/><path d="M10 60H50V100H10Z" stroke-dasharray="0 12" stroke-linecap="round"/></g>',
    "mask of white": '<mask id="m"><circle cx="50" cy="50" r="30" fill="#fff"/></mask><rect x="10" y="10" width="80" height="80" mask="url(#m)"/>',
    "mask of black on white, on a group": '<mask id="m"><rect width="100" height="100" fill="white"/><circle cx="50" cy="50" r="20"/></mask><g mask="url(#m)"><rect x="10" y="10" width="80" height="50"/><circle cx="60" cy="60" r="30" fill="#f00"/></g>',
    "mask in shares of the box": '<mask id="m" maskContentUnits="objectBoundingBox"><circle cx=".5" cy=".5" r=".5" fill="#fff"/></mask><rect x="10" y="20" width="80" height="50" mask="url(#m)"/>',
    "mask whose own box cuts": '<mask id="m" x="0" y="0" width=".5" height="1"><rect width="100" height="100" fill="#fff"/></mask><mask id="n" maskUnits="userSpaceOnUse" x="20" y="30" width="30" height="30"><rect width="100" height="100" fill="#fff"/></mask><rect x="10" y="20" width="80" height="20" mask="url(#m)"/><rect x="10" y="50" width="80" height="40" mask="url(#n)" transform="rotate(10)"/>',
    "mask by alpha": '<mask id="m" mask-type="alpha"><circle cx="50" cy="50" r="30" fill="#123"/></mask><rect x="10" y="10" width="80" height="80" mask="url(#m)"/>',
    "mask of a border": '<mask id="m"><circle cx="50" cy="50" r="30" fill="none" stroke="#fff" stroke-width="10"/></mask><rect x="10" y="10" width="80" height="80" mask="url(#m)" stroke="#f00" stroke-width="5"/>',
    "mask by use, of use": '<defs><path id="p" d="M10 10H90V50H10Z"/></defs><mask id="m" fill="#fff"><use href="#p"/></mask><use href="#p" fill="none" stroke="#00f" stroke-width="12" mask="url(#m)"/>',
    "visible in what is hidden": '<g visibility="hidden"><g><circle cx="60" cy="60" r="20" visibility="visible"/></g></g>',
    "fill and border both half transparent": '<circle cx="50" cy="50" r="30" fill="#f00" fill-opacity=".5" stroke="#00f" stroke-opacity=".5" stroke-width="12"/>',
    "a view box of millions": '<svg width="100" height="100" viewBox="0 0 20000000 20000000"><rect x="4000000" y="11000000" width="12000000" height="8000000"/><path d="M1e7 1e7h9e6v-9e6z" fill="#f00"/></svg>',
    "a miter limit that changes nothing": '<path d="M10 10L90 80L10 80Z" fill="none" stroke="#00f" stroke-miterlimit="10" stroke-width="3"/>',
    "clipPath that cuts a border alone": '<clipPath id="c"><path d="M0 0H60L30 100H0Z"/></clipPath><circle cx="50" cy="50" r="30" fill="none" stroke="#000" stroke-width="12" stroke-opacity=".6" clip-path="url(#c)"/>',
    "clipPath that holds all": '<clipPath id="c"><rect width="100" height="100"/></clipPath><rect x="20" y="40" width="60" height="40" stroke="#999" stroke-width="12" clip-path="url(#c)"/>',
    "clipPath": '<clipPath id="c"><circle cx="50" cy="50" r="30"/></clipPath><rect width="100" height="50" clip-path="url(#c)"/>',
    "clipPath of several": '<clipPath id="c"><circle cx="40" cy="50" r="25"/><rect x="50" y="30" width="40" height="40"/></clipPath><rect width="100" height="100" clip-path="url(#c)"/>',
    "clipPath with a rule": '<clipPath id="c"><path clip-rule="evenodd" d="M10 10H90V90H10ZM30 30H70V70H30Z"/></clipPath><rect width="100" height="100" clip-path="url(#c)"/>',
    "clipPath moved": '<clipPath id="c" transform="translate(20 10)"><rect width="40" height="40"/></clipPath><g transform="scale(1.5)"><circle cx="40" cy="30" r="25" clip-path="url(#c)"/></g>',
    "clipPath in shares of the box": '<clipPath id="c" clipPathUnits="objectBoundingBox"><circle cx=".5" cy=".5" r=".5"/></clipPath><rect x="10" y="20" width="80" height="50" clip-path="url(#c)"/>',
    "clipPath on a group, in shares": '<clipPath id="c" clipPathUnits="objectBoundingBox"><rect width=".5" height="1"/></clipPath><g clip-path="url(#c)"><rect x="10" y="10" width="30" height="30"/><circle cx="70" cy="70" r="20"/></g>',
    "clipPath in clipPath": '<clipPath id="a"><rect width="50" height="100"/></clipPath><clipPath id="b"><circle cx="50" cy="50" r="40"/></clipPath><g clip-path="url(#a)"><rect width="100" height="100" clip-path="url(#b)"/></g>',
    "image": f'<image href="{picture()}" x="10" y="10" width="80" height="60"/>',
    "image that keeps its proportion": f'<image href="{picture()}" x="10" y="10" width="80" height="80"/>',
    "image stretched": f'<image href="{picture()}" x="10" y="10" width="80" height="30" preserveAspectRatio="none"/>',
    "image of one side": f'<image href="{picture()}" width="40"/><image href="{picture()}" x="50" height="40"/>',
    "image that fills": f'<image href="{picture()}" x="10" y="10" width="30" height="80" preserveAspectRatio="xMidYMid slice"/>',
    "image at one side": f'<image href="{picture()}" x="10" y="10" width="80" height="30" preserveAspectRatio="xMaxYMid"/>',
    "image at the bottom, turned": f'<image transform="rotate(20 50 50)" href="{picture()}" x="10" y="10" width="40" height="80" preserveAspectRatio="xMidYMax meet"/>',
    "image in a clipPath": f'<clipPath id="c"><circle cx="50" cy="50" r="30"/></clipPath><image href="{picture()}" width="100" height="75" clip-path="url(#c)"/>',
    "style by attribute": '<rect width="60" height="60" style="fill:none;stroke:#000;stroke-width:12px" x="20" y="20"/>',
    "a subpath that is closed at once": '<path d="m10 10zm30 20h40v30h-40z"/>',
    "a dot of a cap": '<path d="M40 40z" stroke="#000" stroke-width="30" stroke-linecap="round"/>'
    '<path d="M80 80h0" stroke="#000" stroke-width="24" stroke-linecap="square"/>',
    "an ellipse with one radius": '<ellipse cx="50" cy="50" rx="40"/>',
    "filter that moves": '<filter id="f"><feOffset dx="3" dy="5"/></filter><circle cx="50" cy="50" r="30" fill="#a33" filter="url(#f)"/>',
    "filter that blurs nothing": '<filter id="f"><feGaussianBlur stdDeviation="0"/></filter><circle cx="50" cy="50" r="30" filter="url(#f)"/>',
    "filter of a hard shadow": '<filter id="f"><feDropShadow dx="6" dy="4" stdDeviation="0" flood-color="#369" flood-opacity=".5"/></filter><g filter="url(#f)"><circle cx="40" cy="40" r="20" fill="#a33"/><rect x="40" y="40" width="40" height="30" fill="#fc0" stroke="#000"/></g>',
    "filter of a flood, cut out and merged": '<filter id="f"><feFlood flood-color="green" result="c"/><feComposite in="c" in2="SourceAlpha" operator="in"/><feOffset dx="-5" dy="5" result="s"/><feMerge><feMergeNode in="s"/><feMergeNode in="SourceGraphic"/></feMerge></filter><path d="M20 20H80V80Z" fill="#a33" filter="url(#f)" opacity=".7"/>',
    "filter of a colour matrix": '<filter id="f" color-interpolation-filters="sRGB"><feFlood flood-opacity="0" result="b"/><feColorMatrix in="SourceAlpha" values="0 0 0 0 .2 0 0 0 0 .4 0 0 0 0 .6 0 0 0 .5 0"/><feOffset dx="4"/><feBlend in2="b" result="s"/><feBlend in="SourceGraphic" in2="s"/></filter><circle cx="50" cy="50" r="30" fill="#a33" filter="url(#f)"/>',
    "filter of a colour matrix in linear light": '<filter id="f"><feColorMatrix values="0 0 0 0 .2 0 0 0 0 .4 0 0 0 0 .6 0 0 0 1 0"/></filter><circle cx="50" cy="50" r="30" fill="#a33" filter="url(#f)"/>',
    "filter that is cut off by its region": '<filter id="f" x="0" y="0" width="1" height="1"><feDropShadow dx="9" dy="9" stdDeviation="0"/></filter><circle cx="50" cy="50" r="30" fill="#a33" filter="url(#f)"/>',
    "filter in px, of what is scaled": '<filter id="f" filterUnits="userSpaceOnUse" x="0" y="0" width="45" height="36"><feDropShadow dx="6" dy="2" stdDeviation="0"/></filter><rect x="15" y="15" width="25" height="20" transform="scale(2)" fill="#a33" filter="url(#f)"/>',
    "clip and mask on a use": '<clipPath id="c" clipPathUnits="objectBoundingBox"><circle cx=".5" cy=".5" r=".5"/></clipPath><mask id="m"><rect width="300" height="300" fill="#fff"/></mask><rect id="r" width="40" height="20" fill="#a33"/><use href="#r" x="30" y="40" clip-path="url(#c)"/><use href="#r" x="50" y="70" mask="url(#m)"/>',
    "mask on lettering": '<mask id="m"><rect width="300" height="52" fill="#fff"/></mask><text x="10" y="60" font-size="40" font-family="Archivo Black" mask="url(#m)">Ab</text>',
    "filter by the box": '<filter id="f" primitiveUnits="objectBoundingBox" x="-1" y="-1" width="3" height="3"><feOffset dx=".125" dy="-.25"/></filter><rect x="30" y="30" width="40" height="20" filter="url(#f)"/>',
    "filter on a use": '<filter id="f"><feDropShadow dx="3" dy="3" stdDeviation="0" flood-color="#369"/></filter><rect id="r" width="40" height="20" fill="#a33"/><use href="#r" x="30" y="40" filter="url(#f)"/>',
    "filter on lettering": '<filter id="f" y="-50%" height="200%"><feDropShadow dx="5" dy="5" stdDeviation="0" flood-color="#c33"/></filter><text x="10" y="60" font-size="40" font-family="Archivo Black" filter="url(#f)">Ab</text>',
    "filter on a clip": '<clipPath id="c"><rect x="20" y="20" width="45" height="45"/></clipPath><filter id="f"><feDropShadow dx="3" dy="3" stdDeviation="0" flood-color="#369"/></filter><circle cx="50" cy="50" r="30" fill="#a33" clip-path="url(#c)" filter="url(#f)"/>',
    "style by class and id": "<style>.a{fill:none;stroke:#000}#b{stroke-width:14}rect{stroke-width:3}</style>"
    '<rect class="a" id="b" x="20" y="20" width="50" height="50"/><rect class="a" x="80" y="10" width="10" height="80"/>',
    "style by name and classes together": "<style>rect.a.b{fill:none}circle.a{fill:none}.b.a{stroke:#000;stroke-width:9}rect{fill:#999}</style>"
    '<rect class="b a" x="10" y="10" width="50" height="50"/><rect class="a" x="70" y="10" width="20" height="80"/>',
    "style by where it lies": "<style>g .a{fill:#999}g > rect{stroke:#000;stroke-width:8}svg > .a{fill:none}rect + circle{fill:none;stroke:#000;stroke-width:5}[width='9'],g :first-child{fill:#444}</style>"
    '<g><g><path d="M5 5H30V30Z"/><path class="a" d="M35 5H60V30Z"/></g><rect x="70" y="10" width="20" height="20"/><circle cx="20" cy="60" r="12"/></g><rect class="a" x="40" y="50" width="30" height="30"/><rect x="80" y="50" width="9" height="40"/>',
    "style that is important": "<style>/* not; that */ .a { fill: none !important; stroke: #000 } rect.a { fill: #999; stroke-width: 9 }</style>"
    '<rect class="a" x="10" y="10" width="50" height="50" style="fill:#444; stroke-width : 5 !important"/><circle class="a" cx="80" cy="80" r="12" style="stroke:/* b */none"/>',
    "path with a mistake in it": '<path d="M10 10H60V60L20 80 30 x90Z"/><path d="M70 10L90 10L90 50Z Q"/>',
    "clipPath with a mistake in it": '<clipPath id="c"><path d="M10 10H60V60L20 80 30 x90Z"/></clipPath><rect width="100" height="100" clip-path="url(#c)"/>',
    "polygon with a mistake in it": '<polygon points="10,10 60,10 60,60 20,80 x90,10 0 0"/>',
    "use, transparent and clipped": '<clipPath id="c"><circle cx="20" cy="20" r="15"/></clipPath><defs><rect id="r" width="40" height="40" opacity=".8"/></defs><use href="#r" clip-path="url(#c)" opacity=".5" x="20" y="5"/>',
    "what is inherited": '<g fill="none" stroke="#000" stroke-width="8"><circle cx="40" cy="40" r="20"/><rect x="60" y="60" width="30" height="30" fill="#000"/></g>',
    "currentColor": '<g color="#123456"><rect width="50" height="70" fill="currentColor"/></g>',
    "opacity of a group": '<g opacity=".5"><rect width="60" height="60"/><rect x="30" y="30" width="60" height="60"/></g>',
    "hidden": '<rect width="50" height="50"/><rect x="50" width="50" height="50" visibility="hidden"/><rect y="50" width="50" height="50" display="none"/>',
    "units": '<rect x="1mm" y="2mm" width="1.5cm" height="30pt"/>',
    "per cent": '<rect x="10%" y="20%" width="50%" height="40%"/>',
    "gradient": '<linearGradient id="g"><stop stop-color="#f00"/><stop offset="1" stop-color="#00f"/></linearGradient><rect x="10" y="10" width="60" height="60" fill="url(#g)"/>',
    "gradient across, of the box": '<linearGradient id="g" x2="1" y2="1"><stop stop-color="#f00"/><stop offset=".4" stop-color="#ff0"/><stop offset="1" stop-color="#00f"/></linearGradient><rect x="10" y="10" width="60" height="40" fill="url(#g)"/>',
    "gradient in user space, repeated": '<linearGradient id="g" gradientUnits="userSpaceOnUse" x1="10" y1="20" x2="35" y2="30" spreadMethod="repeat"><stop stop-color="#f00"/><stop offset=".4" stop-color="#ff0"/><stop offset="1" stop-color="#00f"/></linearGradient><rect x="10" y="10" width="60" height="40" fill="url(#g)"/>',
    "gradient reflected and turned": '<linearGradient id="g" x2=".2" spreadMethod="reflect" gradientTransform="rotate(20) scale(1 2)"><stop stop-color="#f00"/><stop offset=".4" stop-color="#ff0"/><stop offset="1" stop-color="#00f"/></linearGradient><g transform="rotate(15) skewX(10)"><rect x="10" y="10" width="60" height="40" fill="url(#g)"/></g>',
    "gradient by per cent": '<linearGradient id="g" gradientUnits="userSpaceOnUse" x1="10%" y1="20%" x2="80%" y2="40%"><stop stop-color="#f00"/><stop offset=".4" stop-color="#ff0"/><stop offset="1" stop-color="#00f"/></linearGradient><rect x="10" y="10" width="60" height="40" fill="url(#g)"/>',
    "gradient of a gradient": '<linearGradient id="g" x1=".2" x2=".7"><stop stop-color="#f00"/><stop offset=".4" stop-color="#ff0"/><stop offset="1" stop-color="#00f"/></linearGradient><linearGradient id="h" href="#g" y2="1" spreadMethod="reflect"/><rect x="10" y="10" width="60" height="40" fill="url(#h)"/>',
    "radial gradient": '<radialGradient id="g" ><stop stop-color="#f00"/><stop offset=".4" stop-color="#ff0"/><stop offset="1" stop-color="#00f"/></radialGradient><rect x="10" y="10" width="60" height="40" fill="url(#g)"/>',
    "radial gradient with a focus": '<radialGradient id="g" cx=".4" cy=".5" r=".6" fx=".2" fy=".3"><stop stop-color="#f00"/><stop offset=".4" stop-color="#ff0"/><stop offset="1" stop-color="#00f"/></radialGradient><rect x="10" y="10" width="60" height="40" fill="url(#g)"/>',
    "radial gradient with a focal circle": '<radialGradient id="g" gradientUnits="userSpaceOnUse" cx="40" cy="30" r="30" fx="45" fy="35" fr="8" spreadMethod="reflect"><stop stop-color="#f00"/><stop offset=".4" stop-color="#ff0"/><stop offset="1" stop-color="#00f"/></radialGradient><rect x="10" y="10" width="60" height="40" fill="url(#g)"/>',
    "gradient of stops half transparent": '<linearGradient id="g"><stop offset="10%" stop-color="#f00" stop-opacity=".2"/><stop offset="60%" style="stop-color:rgba(0,0,255,.8)"/></linearGradient><rect x="10" y="10" width="60" height="40" fill="url(#g)" fill-opacity=".7"/>',
    "gradient of hard stops": '<linearGradient id="g"><stop offset=".3" stop-color="#f00"/><stop offset=".3" stop-color="#00f"/><stop offset=".2" stop-color="#0f0"/><stop offset="1" stop-color="#000"/></linearGradient><rect x="10" y="10" width="60" height="40" fill="url(#g)"/>',
    "gradient of one stop": '<linearGradient id="g"><stop stop-color="#345" stop-opacity=".5"/></linearGradient><rect x="10" y="10" width="60" height="40" fill="url(#g)"/>',
    "gradient without a length": '<linearGradient id="g" x1=".5" x2=".5"><stop stop-color="#f00"/><stop offset=".4" stop-color="#ff0"/><stop offset="1" stop-color="#00f"/></linearGradient><rect x="10" y="10" width="60" height="40" fill="url(#g)"/>',
    "gradient of a border": '<radialGradient id="g" cx=".3"><stop stop-color="#f00"/><stop offset=".4" stop-color="#ff0"/><stop offset="1" stop-color="#00f"/></radialGradient><circle cx="50" cy="50" r="30" fill="none" stroke="url(#g)" stroke-width="14" stroke-dasharray="30 6"/>',
    "gradient of a border under an uneven map": '<linearGradient id="g" y2="1"><stop stop-color="#f00"/><stop offset=".4" stop-color="#ff0"/><stop offset="1" stop-color="#00f"/></linearGradient><g transform="scale(1.5 .8)"><rect x="15" y="20" width="40" height="60" fill="url(#g)" stroke="url(#g)" stroke-width="10"/></g>',
    "gradient of what has no box": '<linearGradient id="g" ><stop stop-color="#f00"/><stop offset=".4" stop-color="#ff0"/><stop offset="1" stop-color="#00f"/></linearGradient><path d="M10 50H90" stroke="url(#g)" stroke-width="9"/><rect x="10" y="10" width="60" height="40" fill="url(#g)"/>',
    "gradient of the text around": '<linearGradient id="g" color="#0a0"><stop stop-color="currentColor"/><stop offset="1" stop-color="#00f"/></linearGradient><rect x="10" y="10" width="60" height="40" fill="url(#g)"/>',
    "gradient of a group, clipped": '<linearGradient id="g" ><stop stop-color="#f00"/><stop offset=".4" stop-color="#ff0"/><stop offset="1" stop-color="#00f"/></linearGradient><clipPath id="c"><circle cx="50" cy="40" r="30"/></clipPath><g fill="url(#g)" clip-path="url(#c)" opacity=".8"><path d="M10 10H90L50 90Z"/><rect x="5" y="60" width="90" height="30"/></g>',
    "text": '<text x="5" y="60" font-family="Bitter, Bitter Thin" font-weight="700" font-size="40">Tide</text>',
    "text in the middle": '<text x="50" y="60" font-family="Archivo Black" font-size="30" text-anchor="middle">LIGHT</text>',
    "text at its end, spaced": '<text x="95" y="60" font-family="Bebas Neue" font-size="36" text-anchor="end" letter-spacing="3">LAMP</text>',
    "text in several spans": '<text x="5" y="40" font-family="Bungee" font-size="22">A<tspan dy="30">B</tspan> <tspan x="60" y="90">C</tspan></text>',
    "text turned": '<text transform="rotate(-20 50 50)" x="10" y="60" font-family="League Gothic" font-size="50">Keeper</text>',
    "text with a border": '<text x="5" y="70" font-family="Alfa Slab One" font-size="50" fill="none" stroke="#000" stroke-width="3">Ab</text>',
    "text in a font and a colour of CSS": '<text x="5" y="60" style="font: bold 2em Pacifico; fill: rgba(0, 0, 0, 0.5)">Sea</text>',
    "colour with alpha": '<circle cx="50" cy="50" r="30" fill="rgba(0,0,0,.4)" stroke="#000000aa" stroke-width="12"/>',
    "text with white space": '<text x="5" y="60" font-family="Bitter, Bitter Thin" font-weight="700" font-size="20">  so \n  many   words </text>',
}
TOLD = {"hidden", "path with a mistake in it", "clipPath with a mistake in it"}
"""Cases of which something is told: what is hidden, and what is left out."""


class Features(unittest.TestCase):
    def test_each(self):
        for name, body in CASES.items():
            with self.subTest(name):
                data = f'<svg xmlns="http://www.w3.org/2000/svg" width="100" height="100">{body}</svg>'.encode()
                found, drawing = agreement(data)
                self.assertGreaterEqual(found, LEAST)
                if name not in TOLD:
                    self.assertEqual(drawing.unknown, {})
                else:
                    self.assertTrue(drawing.unknown)

    def test_the_view_box_and_how_it_lies_in_its_size(self):
        body = '<rect x="-5" y="-5" width="20" height="10"/>'
        for way in ("xMidYMid meet", "none", "xMidYMid slice", "xMinYMin", "xMaxYMax meet", "xMidYMax slice"):
            with self.subTest(way):
                data = (
                    f'<svg xmlns="http://www.w3.org/2000/svg" width="30mm" height="90px" viewBox="-10 -10 40 40"'
                    f' preserveAspectRatio="{way}">{body}</svg>'
                ).encode()
                self.assertGreaterEqual(agreement(data)[0], LEAST)

    def test_colours_are_those_of_css(self):
        for colour in ("tomato", "rgb(10, 90, 200)", "rgb(10% 20% 30%)", "hsl(200, 60%, 40%)", "#a3c", "#a0b1c2"):
            with self.subTest(colour):
                body = f'<rect width="20" height="20" fill="{colour}"/>'
                data = f'<svg xmlns="http://www.w3.org/2000/svg" width="20" height="20">{body}</svg>'.encode()
                a, b = ours(read_svg(data, "c", 1.0), 1.0)[10, 10], theirs(data, 1.0)[10, 10]
                self.assertLessEqual(np.abs(a.astype(int) - b).max(), 1)

    def test_lettering_stays_text(self):
        data = f'<svg xmlns="http://www.w3.org/2000/svg" width="100" height="100">{CASES["text"]}</svg>'.encode()
        (piece,) = read_svg(data, "t", 2.0).items
        self.assertEqual((piece.shape.text, piece.shape.font, piece.shape.size), ("Tide", "bitter", 80.0))

    def test_another_font_is_told_and_stood_in_for(self):
        body = '<text x="5" y="60" font-family="Some Grotesque, serif" font-size="40">Tide</text>'
        drawing = read_svg(
            f'<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9">{body}</svg>'.encode(), "t", 1
        )
        self.assertEqual(drawing.items[0].shape.font, "bitter")
        self.assertEqual(drawing.unknown, {"font Some Grotesque (Bitter Bold instead)": 1})
