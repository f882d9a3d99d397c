"""SVG files as pieces that stay live: SVG 2 shapes, paths, groups, `use`, clips, simple CSS, pictures in the file.

What is not understood is counted by its name. Nothing outside of the file is read:
defusedxml refuses entities, and addresses other than `data:` are left out.
"""

import base64
import binascii
import hashlib
import io
import math
import re
from collections import Counter
from collections.abc import Callable, Iterator
from operator import itemgetter
from typing import Any, Final, NamedTuple
from xml.etree.ElementTree import Element, ParseError

import msgspec
from defusedxml import DefusedXmlException
from defusedxml import ElementTree as Safe
from msgspec.structs import replace
from PIL import Image

import outline
from outline import Matrix, OutlineError, Path
from outline.svgpath import mapped
from sheet.geometry import Box, box_of, join_boxes, outline_of, own_path, pieces_of
from sheet.kinds import Ellipse, Plain, Rectangle, plain_of
from sheet.limits import clean_name
from sheet.model import BLENDS, CutList, Group, Item, Paint, Photo, Piece, Step

from .errors import PictureError
from .svgcss import INHERITED, Styles, length, name_of, numbers, share, transform
from .svgpaint import PAINTING, css_colour, paint_of, plain_paint, shares
from .svgtext import runs_of

__all__ = ["MAX_NODES", "MAX_SVG", "Drawing", "is_svg", "read_svg"]

MAX_SVG: Final = 20_000_000
MAX_NODES: Final = 20_000
MAX_DEPTH: Final = 50
_LINK: Final = "{http://www.w3.org/1999/xlink}href"
_SILENT: Final = {"title", "desc", "metadata", "defs", "style", "namedview", "linearGradient", "radialGradient", "stop"}
_UNHEARD: Final = {
    "filter", "mask", "marker", "marker-start", "marker-mid", "marker-end", "paint-order", "vector-effect",
    "stroke-dashoffset", "font-style", "text-decoration", "transform-origin",
}  # fmt: skip
"""What changes how something looks, and is told and not followed."""
_USUAL: Final = {"", "none", "normal", "0", "0px"}
_painting: Final = itemgetter(*PAINTING)
_SHAPES: Final = {"path", "rect", "circle", "ellipse", "line", "polyline", "polygon"}


class Drawing(msgspec.Struct, frozen=True):
    """What a file holds: items in sheet px, the box it fills, pictures by SHA-256, what was not understood."""

    items: tuple[Item, ...]
    box: tuple[float, float, float, float]
    pictures: dict[str, bytes]
    unknown: dict[str, int]


class _Look(NamedTuple):
    """What an element inherits: the map to the sheet, its style, and the outlines that clip it."""

    matrix: Matrix
    style: dict[str, str]
    clips: tuple[Path, ...]
    size: tuple[tuple[str, str], ...] = ()
    """The width and height that a `use` gives what it shows."""


def is_svg(head: bytes) -> bool:
    """Tell whether the beginning of a file looks like an SVG."""
    text = head.lstrip(b"\xef\xbb\xbf \t\r\n")[:2000].lower()
    return text.startswith(b"<") and b"<svg" in text


class _Reader:
    def __init__(self, root: Element):
        self.pictures: dict[str, bytes] = {}
        self.styles = Styles(root)
        self.unknown: Counter[str] = Counter({"style rule": self.styles.unread} if self.styles.unread else {})
        self.by_id: dict[str, Element] = {}
        self.count = 0
        self.next_id = 1
        for element in root.iter():
            if element.get("id"):
                self.by_id.setdefault(str(element.get("id")), element)

    # -- styles

    def _colour(self, text: str, style: dict[str, str]) -> str | None:
        text = text.strip()
        if text == "currentColor":
            text = style["color"]
        if text.startswith("url("):
            return self._mean(text)
        if text in ("none", "transparent", ""):
            return None
        try:
            return css_colour(text)[0]
        except (ValueError, TypeError):
            self.unknown["colour"] += 1
            return "#000000"

    def _mean(self, text: str) -> str | None:
        """Return the mean colour of a gradient, which is told."""
        found = self._linked(re.sub(r"url\(['\"]?|['\"]?\).*", "", text))
        seen: set[str] = set()
        while found is not None and not found.findall("{*}stop") and found.get("id", "") not in seen:
            seen.add(found.get("id", ""))
            found = self._linked(found.get("href") or found.get(_LINK) or "")
        if found is None or "Gradient" not in name_of(found):
            self.unknown["pattern"] += 1
            return None
        self.unknown["gradient (its mean colour)"] += 1
        colours = []
        for stop in found.findall("{*}stop"):
            hexed = self._colour(self.styles.own(stop).get("stop-color", "#000000"), INHERITED)
            if hexed:
                colours.append([int(hexed[k : k + 2], 16) for k in (1, 3, 5)])
        if not colours:
            return None
        return "#" + "".join(f"{round(sum(c[k] for c in colours) / len(colours)):02x}" for k in range(3))

    def _linked(self, address: str) -> Element | None:
        return self.by_id.get(address[1:]) if address.startswith("#") else None

    def _paint(self, own: dict[str, str], style: dict[str, str], scale: float) -> Paint:
        told = _painting(style)
        plain = plain_paint(told, own.get("opacity"), own.get("mix-blend-mode"), scale)
        if plain is not None:
            return plain
        fill, stroke = self._colour(style["fill"], style), self._colour(style["stroke"], style)
        return paint_of(fill, stroke, told, own.get("opacity"), own.get("mix-blend-mode"), scale)

    # -- elements

    def _id(self) -> str:
        self.next_id += 1
        return f"i{self.next_id}"

    def items(self, element: Element, look: _Look, depth: int, using: tuple[str, ...] = ()) -> Iterator[Item]:
        """Give what an element shows, lowest first."""
        self.count += 1
        if self.count > MAX_NODES:
            raise PictureError(f"That SVG has more than {MAX_NODES:,} elements.", "Simplify it where it was made.")
        if depth > MAX_DEPTH:
            raise PictureError(f"That SVG is more than {MAX_DEPTH} groups deep.", "Ungroup some where it was made.")
        name = name_of(element)
        if not name or name in _SILENT or name == "clipPath" or (name == "symbol" and not using):
            return
        own, style = self.styles.styled(element, look.style)
        if own.get("display") == "none" or style["visibility"] in ("hidden", "collapse"):
            self.unknown["hidden element"] += 1
            return
        if not _UNHEARD.isdisjoint(own):
            for effect in own.keys() & _UNHEARD:
                if own[effect].strip() not in _USUAL:
                    self.unknown[effect] += 1
        matrix = look.matrix @ transform(own["transform"]) if "transform" in own else look.matrix
        own |= dict(look.size) if name in ("svg", "symbol") else {}
        clips = look.clips
        if "clip-path" in own:
            clips += self._clip(own["clip-path"], matrix, style, depth, lambda: self._box(element, own, style))
        look = _Look(matrix, style, clips)
        if name in ("g", "a", "svg", "symbol"):
            yield from self._group(element, own, look, depth, using)
        elif name == "use":
            address = element.get("href") or element.get(_LINK) or ""
            target = self._linked(address)
            if target is None or address in using:
                self.unknown["use of what is not there, or of itself"] += 1
                return
            moved = look.matrix @ Matrix.move(length(own.get("x"), 100.0), length(own.get("y"), 100.0))
            size = tuple((k, own[k]) for k in ("width", "height") if k in own)
            yield from self.items(target, look._replace(matrix=moved, size=size), depth + 1, (*using, address))
        elif name in _SHAPES:
            piece = self._piece(name, own, look)
            if piece is not None:
                yield from self._painted(piece, look)
        elif name == "text":
            yield from self._text(element, own, look)
        elif name == "image":
            yield from self._image(element, own, look)
        else:
            self.unknown[name] += 1

    def _group(
        self, element: Element, own: dict[str, str], look: _Look, depth: int, using: tuple[str, ...]
    ) -> Iterator[Item]:
        if name_of(element) in ("svg", "symbol") and depth:
            x, y = length(own.get("x"), 100.0), length(own.get("y"), 100.0)
            look = look._replace(matrix=look.matrix @ Matrix.move(x, y) @ _viewed(element, own))
        inside = _bordered([i for child in element for i in self.items(child, look, depth + 1, using)])
        if not inside:
            return
        if depth == 0:
            yield from inside
            return
        opacity, blend = share(own.get("opacity")), own.get("mix-blend-mode", "normal")
        mode: Any = blend if blend in BLENDS else "normal"
        title = element.find("{*}title")
        name = clean_name((title.text or "") if title is not None else own.get("id", ""))
        if len(inside) == 1:
            yield _whole(inside[0], opacity, mode, name)
        else:
            yield Group(self._id(), name or "Group", inside, opacity=opacity, blend=mode)

    def _path(self, name: str, own: dict[str, str], rule: str) -> tuple[Any, Path | None]:
        """Return the live shape and None, or None and the path of one, in its own coordinates; both None for none."""

        def n(key: str, whole: float = 100.0) -> float:
            return length(own.get(key), whole)

        if name == "rect":
            w, h = n("width"), n("height")
            rx, ry = own.get("rx"), own.get("ry")
            a = length(rx if rx is not None else ry, 100.0)
            b = length(ry if ry is not None else rx, 100.0)
            if w <= 0 or h <= 0:
                return None, None
            if not a or not b or (abs(a - b) < 1e-9 and a <= min(w, h) / 2):
                r = max(0.0, a) if a and b else 0.0
                return (Rectangle(w, h, (r, r, r, r)), n("x"), n("y")), None
            a, b = min(a, w / 2), min(b, h / 2)
            x, y = n("x"), n("y")
            d = (
                f"M{x + a} {y}H{x + w - a}A{a} {b} 0 0 1 {x + w} {y + b}V{y + h - b}A{a} {b} 0 0 1 {x + w - a} {y + h}"
                f"H{x + a}A{a} {b} 0 0 1 {x} {y + h - b}V{y + b}A{a} {b} 0 0 1 {x + a} {y}Z"
            )
            return None, Path.from_svg(d)
        if name in ("circle", "ellipse"):
            across, down = (n("r"), n("r")) if name == "circle" else (n("rx"), n("ry"))
            if across <= 0 or down <= 0:
                return None, None
            return (Ellipse(2 * across, 2 * down), n("cx") - across, n("cy") - down), None
        if name == "path":
            d = own.get("d", "")
        elif name == "line":
            d = f"M{n('x1')} {n('y1')}L{n('x2')} {n('y2')}"
        else:
            points = numbers(own.get("points"))
            pairs = [f"{x} {y}" for x, y in zip(points[::2], points[1::2], strict=False)]
            d = f"M{'L'.join(pairs)}{'Z' if name == 'polygon' else ''}" if len(pairs) > 1 else ""
        return (None, Path.from_svg(d, "evenodd" if rule == "evenodd" else "nonzero")) if d.strip() else (None, None)

    def _piece(self, name: str, own: dict[str, str], look: _Look) -> Piece | None:
        m = look.matrix
        live, path, data = None, None, ""
        try:
            if name == "path":
                data = mapped(own.get("d", ""), m)
            else:
                live, path = self._path(name, own, look.style["fill-rule"])
        except OutlineError:
            self.unknown[f"{name} that cannot be read"] += 1
            return None
        word = clean_name(own["id"]) if "id" in own else ""
        word = word or {"rect": "Rectangle", "path": "Path"}.get(name, name.capitalize())
        paint = self._paint(own, look.style, m.scale)
        if abs(m.determinant) < 1e-12:
            return None
        if live is not None:
            shape, x, y = live
            placed = m @ Matrix.move(x, y)
            if _is_upright(m) and (abs(m.a - m.d) < 1e-9 * m.a or isinstance(shape, Ellipse)):
                # upright and even: the sizes themselves are those of the sheet
                sizes = {"width": shape.width * m.a, "height": shape.height * m.d}
                if isinstance(shape, Rectangle):
                    r = shape.radii[0] * m.a
                    shape = Rectangle(**sizes, radii=(r, r, r, r))
                else:
                    shape = Ellipse(**sizes)
                placed = Matrix.move(placed.e, placed.f)
            piece = Piece(self._id(), word, shape, placed.numbers(), paint)
        elif data:
            rule: Any = "evenodd" if look.style["fill-rule"] == "evenodd" else "nonzero"
            piece = Piece(self._id(), word, Plain(data, rule), paint=paint)
        elif path is not None and not path.is_empty:
            piece = Piece(self._id(), word, plain_of(path.transform(m)), paint=paint)
        else:
            return None
        return self._clipped(piece, look)

    def _clipped(self, piece: Piece, look: _Look) -> Piece:
        if not look.clips:
            return piece
        steps = tuple(Step("intersect", Piece(self._id(), "Clip", plain_of(c))) for c in look.clips)
        return Piece(self._id(), piece.name, CutList(piece, steps), paint=piece.paint)

    def _box(self, element: Element, own: dict[str, str], style: dict[str, str]) -> Box | None:
        """Return the box of an element in its own coordinates, without its border (SVG 2, 8.10)."""
        look = _Look(Matrix(), style, ())
        if name_of(element) == "image":
            made = list(self._image(element, own, look))
            return box_of(made[0]) if made else None
        bare = {k: v for k, v in own.items() if k not in ("clip-path", "transform")}
        if name_of(element) in _SHAPES:
            piece = self._piece(name_of(element), bare, look)
            return outline_of(piece).bounds if piece is not None else None
        boxes = []
        for child in element:
            for item in self.items(child, look, 1):
                parts = pieces_of(item)
                boxes += [b for p in parts if (b := outline_of(p).bounds)] if parts else [box_of(item)]
        return join_boxes(boxes) if boxes else None

    def _text(self, element: Element, own: dict[str, str], look: _Look) -> Iterator[Item]:
        """Give a text as lettering, which stays text."""

        def tell(what: str) -> None:
            self.unknown[what] += 1

        made: list[Item] = []
        for run in runs_of(element, own, look.style, self.styles, tell):
            placed = look.matrix @ Matrix.move(run.x, run.y)
            if abs(placed.determinant) < 1e-12:
                continue
            paint = self._paint(own if run.own is own else {**run.own, **_only(own)}, run.style, placed.scale)
            shape: Any = run.shape
            if _is_upright(placed) and abs(placed.a - placed.d) < 1e-9 * placed.a:
                shape, placed = replace(shape, size=shape.size * placed.a), Matrix.move(placed.e, placed.f)
            piece = Piece(self._id(), clean_name(run.shape.text) or "Text", shape, placed.numbers(), paint)
            made += self._painted(self._clipped(piece, look), look)
        if len(made) == 1:
            yield made[0]
        elif made:
            yield Group(self._id(), clean_name(own.get("id", "")) or "Text", tuple(made))

    def _painted(self, piece: Piece, look: _Look) -> list[Item]:
        """Return a piece as it is, or parted where one could not have its fill and its border both.

        A border under an uneven map is no longer of one width, and fill and border may be
        transparent each by itself.
        """
        paint = piece.paint
        m = look.matrix
        if paint.stroke is None:
            return [piece]
        even = abs(math.hypot(m.a, m.b) - math.hypot(m.c, m.d)) < 1e-3 * m.scale and abs(m.a * m.c + m.b * m.d) < (
            1e-3 * m.scale**2
        )
        fill, border = shares(look.style)
        if even and (paint.fill is None or abs(fill - border) < 1e-6):
            return [piece]
        parts: list[Item] = []
        if paint.fill is not None:
            parts.append(replace(piece, paint=replace(paint, stroke=None, dashes=())))
        whole = paint.opacity / (fill if paint.fill is not None and fill else 1.0)
        alone = replace(paint, fill=None, opacity=min(1.0, whole * border))
        if even:
            parts.append(replace(piece, id=self._id(), paint=alone))
            return parts
        path = outline_of(piece)
        if paint.dashes or not path.is_closed:
            self.unknown["border that is wider one way (its mean width)"] += 1
            return [piece] if abs(fill - border) < 1e-6 else [*parts, replace(piece, id=self._id(), paint=alone)]
        line = _band(path.transform(m.inverse()), paint.stroke_width / m.scale, paint.join).transform(m)
        drawn = replace(alone, fill=paint.stroke, stroke=None)
        parts.append(Piece(self._id(), f"Border of {piece.name}"[:200], plain_of(line), paint=drawn))
        return parts

    def _clip(
        self, text: str, matrix: Matrix, style: dict[str, str], depth: int, box: Callable[[], Box | None]
    ) -> tuple[Path, ...]:
        """Return the outline that an element is clipped by, in sheet px; `box` gives the element's own."""
        if not text or text == "none":
            return ()
        target = self._linked(re.sub(r"url\(['\"]?|['\"]?\).*", "", text))
        if target is None or name_of(target) != "clipPath":
            self.unknown["clip-path"] += 1
            return ()
        if depth > MAX_DEPTH:
            return ()
        m = matrix
        if target.get("clipPathUnits") == "objectBoundingBox":
            found = box()
            if found is None:
                self.unknown["clip-path"] += 1
                return ()
            x0, y0, x1, y1 = found
            m = m @ Matrix.move(x0, y0) @ Matrix.resize(x1 - x0, y1 - y0)
        m = m @ transform(target.get("transform"))
        paths = []
        for child in target:
            own, its = self.styles.styled(child, style)
            if name_of(child) not in _SHAPES:
                self.unknown["clip-path"] += 1
                continue
            try:
                live, path = self._path(name_of(child), own, its["clip-rule"])
            except OutlineError:
                continue
            at = m @ transform(own.get("transform"))
            if live is not None:
                shape, x, y = live
                path, at = own_path(shape), at @ Matrix.move(x, y)
            if path is not None:
                paths.append(path.transform(at))
        return (Path.gather(paths, paths[0].fill_rule),) if paths else ()

    def _image(self, element: Element, own: dict[str, str], look: _Look) -> Iterator[Item]:
        address = (element.get("href") or element.get(_LINK) or "").strip()
        found = re.match(r"data:image/[\w.+-]+;base64,", address)
        if not found:
            self.unknown["picture outside of the file"] += 1
            return
        try:
            data = base64.b64decode(re.sub(r"\s+", "", address[found.end() :]), validate=True)
            with Image.open(io.BytesIO(data), formats=("JPEG", "PNG", "WEBP")) as head:
                size = head.size
        except (binascii.Error, ValueError, OSError, SyntaxError):
            self.unknown["picture that cannot be read"] += 1
            return
        w = length(own.get("width"), 100.0, size[0])
        h = length(own.get("height"), 100.0, size[1])
        if w <= 0 or h <= 0:
            return
        file = hashlib.sha256(data).hexdigest()
        self.pictures[file] = data
        x, y = length(own.get("x"), 100.0), length(own.get("y"), 100.0)
        sx, sy = w / size[0], h / size[1]
        if not own.get("preserveAspectRatio", "xMidYMid meet").startswith("none"):
            s = max(sx, sy) if "slice" in own.get("preserveAspectRatio", "") else min(sx, sy)
            x, y, sx, sy = x + (w - s * size[0]) / 2, y + (h - s * size[1]) / 2, s, s
        m = look.matrix @ Matrix.move(x, y) @ Matrix.resize(sx, sy)
        blend = own.get("mix-blend-mode", "normal")
        told = clean_name(own.get("id", "")) or "picture"
        mode: Any = blend if blend in BLENDS else "normal"
        photo = Photo(self._id(), told, file, *size, m.numbers(), share(own.get("opacity")), blend=mode)
        if not look.clips:
            yield photo
            return
        base, *others = look.clips
        first = Piece(self._id(), "Frame", plain_of(base), paint=Paint(fill=None))
        if others:
            steps = tuple(Step("intersect", Piece(self._id(), "Clip", plain_of(c))) for c in others)
            first = Piece(self._id(), "Frame", CutList(first, steps), paint=Paint(fill=None))
        yield Piece(first.id, first.name, first.shape, first.matrix, first.paint, photos=(photo,), gaps=True)


def _band(path: Path, width: float, join: str) -> Path:
    """Return the area that a border of a closed outline covers."""
    loops = [Path.gather([loop], "nonzero") for loop in path.subpaths]
    bands = [
        outline.subtract(outline.offset(loop, width / 2, join), [outline.offset(loop, -width / 2, join)])
        for loop in loops
    ]
    return outline.union(bands)


def _only(own: dict[str, str]) -> dict[str, str]:
    """Return what of a text counts for all of its parts."""
    return {k: own[k] for k in ("opacity", "mix-blend-mode") if k in own}


def _is_upright(m: Matrix) -> bool:
    return abs(m.b) < 1e-12 and abs(m.c) < 1e-12 and m.a > 0 and m.d > 0


def _whole(item: Item, opacity: float, blend: Any, name: str) -> Item:
    """Return the one item of a group with what was told of the group."""
    item = replace(item, name=name or item.name)
    if isinstance(item, Piece):
        mode = blend if item.paint.blend == "normal" else item.paint.blend
        return replace(item, paint=replace(item.paint, opacity=item.paint.opacity * opacity, blend=mode))
    return replace(item, opacity=item.opacity * opacity, blend=blend if item.blend == "normal" else item.blend)


def _bordered(items: list[Item]) -> tuple[Item, ...]:
    """Return items in which a frame has the fill that lies under it and the border over it, where they are its outline.

    SVG has no picture with a border: it is drawn as one outline after another.
    """
    out: list[Item] = []
    for item in items:
        last = out[-1] if out else None
        if isinstance(last, Piece) and isinstance(item, Piece) and _is_plain(last) and last.shape == item.shape:
            own, its = last.paint, item.paint
            if last.photos and not item.photos and its.fill is None and own.stroke is None:
                out[-1] = replace(last, paint=replace(its, fill=own.fill))
                continue
            if item.photos and not last.photos and own.stroke is None and item.paint.fill is None:
                out[-1] = replace(item, paint=replace(item.paint, fill=own.fill))
                continue
        out.append(item)
    return tuple(out)


def _is_plain(piece: Piece) -> bool:
    return piece.paint.opacity == 1 and piece.paint.blend == "normal"


def _viewed(element: Element, own: dict[str, str]) -> Matrix:
    """Return the map from an element's view box to its size (SVG 2, 8.2)."""
    box = numbers(element.get("viewBox"))
    if len(box) != 4 or box[2] <= 0 or box[3] <= 0:
        return Matrix()
    w, h = length(own.get("width"), box[2], box[2]), length(own.get("height"), box[3], box[3])
    sx, sy = w / box[2], h / box[3]
    told = element.get("preserveAspectRatio", "xMidYMid meet")
    if told.startswith("none"):
        return Matrix.resize(sx, sy) @ Matrix.move(-box[0], -box[1])
    s = max(sx, sy) if "slice" in told else min(sx, sy)
    dx, dy = (w - s * box[2]) / 2, (h - s * box[3]) / 2
    return Matrix.move(dx, dy) @ Matrix.resize(s, s) @ Matrix.move(-box[0], -box[1])


def read_svg(data: bytes, name: str, scale: float) -> Drawing:
    """Return the drawing in an SVG; `scale` is sheet px for each CSS px. Raises PictureError."""
    if len(data) > MAX_SVG:
        raise PictureError(f"“{name}” has more than {MAX_SVG / 1e6:.0f} MB.", "Simplify it where it was made.")
    if data.count(b"<") > 5 * MAX_NODES:
        # before it is parsed, since each element takes a hundred times its bytes
        raise PictureError(f"“{name}” has more than {MAX_NODES:,} elements.", "Simplify it where it was made.")
    try:
        root = Safe.fromstring(data, forbid_dtd=False, forbid_entities=True, forbid_external=True)
    except DefusedXmlException:
        raise PictureError(f"“{name}” has entities, which are not read.", "Save it as plain SVG.") from None
    except (ParseError, ValueError, RecursionError, UnicodeError, LookupError) as error:
        raise PictureError(
            f"“{name}” is no SVG that can be read: {str(error)[:80]}.", "Save it as plain SVG."
        ) from None
    if name_of(root) != "svg":
        raise PictureError(f"“{name}” is no SVG.", "Choose an SVG file.")
    reader = _Reader(root)
    own = reader.styles.own(root)
    box = numbers(root.get("viewBox"))
    width = length(own.get("width"), 100.0, box[2] if len(box) == 4 else 0.0) * scale
    height = length(own.get("height"), 100.0, box[3] if len(box) == 4 else 0.0) * scale
    first = _Look(Matrix.resize(scale, scale) @ _viewed(root, own), dict(INHERITED), ())
    items = tuple(reader.items(root, first, 0))
    filled = (0.0, 0.0, width, height)
    if not (width > 0 and height > 0) and items:
        # a file that does not say how large it is has the size of what is in it
        filled = join_boxes([box_of(i) for i in items])
    return Drawing(items, filled, reader.pictures, dict(reader.unknown))
