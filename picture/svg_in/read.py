"""SVG files as pieces that stay live: SVG 2 shapes, paths, groups, `use`, clips, CSS, pictures in the file.

What is not understood is counted by name. Nothing outside of the file is read:
defusedxml refuses entities, and addresses other than `data:` are ignored.
"""

import hashlib
import math
from collections import Counter
from collections.abc import Callable, Iterator, Mapping
from functools import partial
from typing import Any, Final
from xml.etree.ElementTree import Element, ParseError

import msgspec
from defusedxml import DefusedXmlException
from defusedxml import ElementTree as Safe
from msgspec.structs import replace

from outline import Matrix, OutlineError, Path, rectangle
from outline import length as path_length
from picture.draw.raster import blends
from picture.errors import PictureError
from sheet.document.kinds import Ellipse, Plain, Rectangle, plain_of
from sheet.document.limits import MAX_ITEMS, clean_name
from sheet.document.model import BLENDS, CutList, Group, Item, Paint, Photo, Piece
from sheet.document.tree import map_members
from sheet.geometry.geometry import Box, box_of, join_boxes, outline_of
from sheet.geometry.placing import moved

from .boxes import Boxes
from .clips import Clips
from .css import (
    INHERITED,
    absolute,
    address_of,
    length,
    name_of,
    numbers,
    report_ignored,
    share,
    shares_in_px,
    transform,
    url_of,
)
from .effort import Effort
from .elements import GATHERING, MAX_DEPTH, SILENT, children_of, start_of, target_size, viewport_in
from .filters import is_linear, is_opaque, layers_of, recoloured
from .masks import Masks, area_of
from .paint import Paints
from .parts import bordered, cutting, whole
from .pictures import embedded, laid, window_of
from .plain import unpacked
from .shapes import SHAPES, is_upright, path_data, shape_of, size_of, viewed
from .shown import Look, Shown
from .styles import Styles
from .text import runs_of

__all__ = ["MAX_NODES", "Drawing", "read_svg"]

MAX_NODES: Final = 20_000
MAX_FILTERS: Final = 3
"""How deep filters may be in each other: each makes two of what is in it."""


class Drawing(msgspec.Struct, frozen=True):
    """The contents of a file: items in sheet px, the box it fills, pictures by SHA-256, what was not understood."""

    items: tuple[Item, ...]
    box: tuple[float, float, float, float]
    pictures: dict[str, bytes]
    unknown: dict[str, int]


class _Reader:
    def __init__(self, root: Element, name: str, fonts: Mapping[str, str], effort: Effort):
        self.name, self.fonts, self.effort = name, fonts, effort
        self.pictures: dict[str, bytes] = {}
        self.shown = Shown(self._id, self._report, effort)
        self.styles = Styles(root)
        self.paints = Paints(self.styles, self._linked, self._report)
        self.clips = Clips(self.styles, fonts, self._linked, self._report)
        self.boxes = Boxes(self.styles, fonts, self._linked)
        self.masks = Masks(self.styles, self._linked, self._report, effort, lambda e, look: self.items(e, look, 1))
        self.unknown: Counter[str] = Counter({"style rule": self.styles.unread} if self.styles.unread else {})
        self.by_id: dict[str, Element] = {}
        self.filtering = 0
        """How deep in filters the reader is."""
        self.uses: dict[tuple[Any, ...], tuple[tuple[float, float], tuple[Item, ...], int, int, Counter[str]]] = {}
        """For each target and look: where it was first used, its items, how many elements and items of the sheet these
        are, and what was reported."""
        self.count = self.made = 0
        """The elements read, and the items that they are on the sheet."""
        self.next_id = 1
        for element in root.iter():
            if element.get("id"):
                self.by_id.setdefault(str(element.get("id")), element)

    def _report(self, what: str) -> None:
        self.unknown[what] += 1

    def _linked(self, address: str) -> Element | None:
        return self.by_id.get(address[1:]) if address.startswith("#") else None

    def _id(self) -> str:
        self.next_id += 1
        return f"i{self.next_id}"

    def _counted(self, elements: int, items: int = 0) -> None:
        self.count += elements
        if self.count > MAX_NODES:
            raise PictureError(f"“{self.name}” has more than {MAX_NODES:,} elements.", "Simplify it where it was made.")
        # what is in a mask is not on the sheet, and a filter may be given up
        self.made += 0 if self.masks.reading or self.filtering else items
        # fills and borders around a picture become one frame with it
        if self.made > MAX_ITEMS and not self.pictures:
            raise PictureError(
                f"“{self.name}” makes more than the {MAX_ITEMS:,} items that a sheet has room for.",
                "Combine shapes where it was made, or bring in a part of it.",
            )

    def items(self, element: Element, look: Look, depth: int, using: tuple[str, ...] = ()) -> Iterator[Item]:
        """Yield the items of an element, lowest first."""
        self._counted(1)
        if depth > MAX_DEPTH:
            raise PictureError(
                f"“{self.name}” is more than {MAX_DEPTH} groups deep.", "Ungroup some where it was made."
            )
        name = name_of(element)
        if not name or name in SILENT or (name == "symbol" and not using):
            return
        own, style = self.styles.styled(element, look.style)
        # in a hidden group something may be visible again (SVG 2, 3.6.2)
        gathers = name in GATHERING
        if own.get("display") == "none" or (style["visibility"] in ("hidden", "collapse") and not gathers):
            self.unknown["hidden element"] += 1
            return
        report_ignored(own, self._report)
        if name in ("svg", "symbol") and depth:
            own = {"width": "100%", "height": "100%", **own, **dict(look.size)}
        absolute(own, style, look.viewport)
        matrix = look.matrix @ transform(own["transform"]) if "transform" in own else look.matrix
        if name == "use":
            # the last step of its transform, which applies to its clip path (SVG 2, 5.5)
            matrix = matrix @ start_of(own)
        clips = look.clips
        if "clip-path" in own:
            further = self.clips.named(
                own["clip-path"], matrix, look.viewport, lambda: self.boxes.of(element, own, style, look.viewport)
            )
            if further is None:
                self._report("element clipped wholly away")
                return
            clips += further
        if own.get("mask", "none").strip() not in ("", "none"):
            through = self.masks.named(
                own["mask"], matrix, look.viewport, lambda: self.boxes.of(element, own, style, look.viewport)
            )
            if any(c.is_empty for c in through):
                self._report("element that a mask hides wholly")
                return
            clips += through
        look = Look(matrix, style, clips, look.viewport)
        if own.get("filter", "none").strip() in ("", "none"):
            yield from self._drawn(element, own, look, depth, using)
        else:
            yield from self._filtered(element, own, look, depth, using)

    def _drawn(
        self, element: Element, own: dict[str, str], look: Look, depth: int, using: tuple[str, ...]
    ) -> Iterator[Item]:
        """Yield the items of an element that is styled, placed and clipped."""
        name, style = name_of(element), look.style
        if name in GATHERING and name != "use":
            yield from self._group(element, own, look, depth, using)
        elif name == "use":
            address = address_of(element)
            target = self._linked(address)
            if target is None or address in using:
                self.unknown["use of what is not there, or of itself"] += 1
                return
            made = self._used(target, look._replace(size=target_size(own)), depth + 1, (*using, address))
            yield from self._gathered(made, own, "")
        elif name in SHAPES:
            look = look._replace(style=shares_in_px(style, look.viewport))
            flat = look._replace(style=self.paints.flat(look.style))
            shape = partial(self._shape, name, own, look, flat)
            # how it is shown depends on what clips it, which may differ for each use
            for piece in self._once((name, *own.items()), look, shape) if using else shape():
                parts = self.shown.of(piece, flat)
                self._counted(0, sum(1 + len(i.items) if isinstance(i, Group) else 1 for i in parts))
                yield from parts
        elif name == "text":
            yield from self._text(element, own, look)
        elif name == "image":
            yield from self._image(element, own, look)
        else:
            self.unknown[name] += 1

    def _used(self, target: Element, look: Look, depth: int, using: tuple[str, ...]) -> tuple[Item, ...]:
        """Return the items of a target that is used; where nothing clips them, those of the first such use, moved."""
        if look.clips:
            return tuple(self.items(target, look, depth, using))
        return self._once(using, look, lambda: tuple(self.items(target, look, depth, using)))

    def _once(self, what: tuple[Any, ...], look: Look, make: Callable[[], tuple[Any, ...]]) -> tuple[Any, ...]:
        """Return the items that `make` makes of what is used; if something alike was made before, copies, moved."""
        a, b, c, d, x, y = look.matrix.numbers()
        key = (what, self.filtering, a, b, c, d, *look.style.items(), look.viewport, look.size)
        if key not in self.uses:
            count, items, told = self.count, self.made, self.unknown.copy()
            made = make()
            self.uses[key] = (x, y), made, self.count - count, self.made - items, self.unknown - told
            return made
        (x0, y0), made, count, items, told = self.uses[key]
        self._counted(count, items)
        self.unknown += told
        return tuple(self._moved(item, Matrix.move(x - x0, y - y0)) for item in made)

    def _moved(self, item: Item, by: Matrix) -> Item:
        """Return a copy of an item elsewhere, with ids of its own."""

        def renumbered(item: Item) -> Item:
            if isinstance(item, Group):
                return replace(item, id=self._id(), items=tuple(map(renumbered, item.items)))
            if isinstance(item, Photo):
                return replace(item, id=self._id())
            shape = map_members(item.shape, renumbered) if isinstance(item.shape, CutList) else item.shape
            return replace(item, id=self._id(), shape=shape, photos=tuple(map(renumbered, item.photos)))  # type: ignore[arg-type]

        return renumbered(moved(item, by))

    def _filtered(
        self, element: Element, own: dict[str, str], look: Look, depth: int, using: tuple[str, ...]
    ) -> Iterator[Item]:
        """Yield an element and its shadows by a filter that can be pieces; as it is, and a report, by any other."""
        filter_ = self._linked(url_of(own["filter"])[0])
        box = self.boxes.of(element, own, look.style, look.viewport)
        layers, inside = None, look
        readable = (
            filter_ is not None
            and name_of(filter_) == "filter"
            and self.filtering < MAX_FILTERS
            and self.effort.allows(1)
        )
        if filter_ is not None and readable and box is not None:
            layers = layers_of(filter_, self.styles.own, box, look.style["color"])
            shown = area_of(self.styles.own(filter_), box, look.matrix, look.viewport)
            inside = look._replace(clips=(*look.clips, Path.from_points(shown)))
        bare = {k: v for k, v in own.items() if k not in ("opacity", "mix-blend-mode", "isolation")}
        made: list[Item] = []
        self.filtering += 1
        for layer in layers or ():
            moved = inside._replace(matrix=look.matrix @ Matrix.move(layer.dx, layer.dy))
            items: tuple[Item, ...] | None = tuple(self._drawn(element, bare, moved, depth, using))
            if layer.colour is not None:
                items = recoloured(items or (), layer.colour)
            if items is None:
                layers = None
                break
            if made and filter_ is not None and not is_opaque(items) and is_linear(filter_, self.styles.own):
                self._report("filter in linear light (mixed as usual)")
            if layer.colour is None:
                made += items
            else:
                made += self._gathered(items, {"opacity": repr(layer.opacity)}, "Shadow")
        self.filtering -= 1
        if layers is None:
            self._report("filter")
            yield from self._drawn(element, own, look, depth, using)
        else:
            yield from self._gathered(tuple(made), own, clean_name(own.get("id", "")))

    def _group(
        self, element: Element, own: dict[str, str], look: Look, depth: int, using: tuple[str, ...]
    ) -> Iterator[Item]:
        if name_of(element) in ("svg", "symbol") and depth:
            placed = look.matrix @ start_of(own)
            # anything beyond its size is clipped (SVG 2, 14.2.2)
            window = (length(own.get("width"), 100.0), length(own.get("height"), 100.0))
            if min(window) > 0 and own.get("overflow", "hidden") not in ("visible", "auto"):
                look = look._replace(clips=(*look.clips, rectangle(*window).transform(placed)))
            look = look._replace(matrix=placed @ viewed(element, own), viewport=viewport_in(element, own))
        inside = bordered([i for child in children_of(element) for i in self.items(child, look, depth + 1, using)])
        if not inside:
            return
        if depth == 0:
            yield from inside
            return
        title = element.find("{*}title")
        yield from self._gathered(
            inside, own, clean_name((title.text or "") if title is not None else own.get("id", ""))
        )

    def _gathered(self, inside: tuple[Item, ...], own: dict[str, str], name: str) -> Iterator[Item]:
        """Yield a group of items as one, with what is declared for the group."""
        opacity, blend = share(own.get("opacity")), own.get("mix-blend-mode", "normal")
        mode: Any = blend if blend in BLENDS else "normal"
        if own.get("isolation") == "isolate" and mode == "normal" and opacity == 1 and any(map(blends, inside)):
            self._report("isolation (what is in it blends with what is below)")
        if len(inside) == 1:
            yield whole(inside[0], opacity, mode, name)
        elif inside:
            yield Group(self._id(), name or "Group", inside, opacity=opacity, blend=mode)

    def _shape(self, name: str, own: dict[str, str], look: Look, flat: Look) -> tuple[Piece, ...]:
        """Return the piece of a shape with its gradients, before anything clips it; none if it draws nothing."""
        piece = self._piece(name, own, flat)
        if piece is not None and flat.style is not look.style:
            piece = self._live(piece, look.style, look)
        return () if piece is None else (piece,)

    def _piece(self, name: str, own: dict[str, str], look: Look) -> Piece | None:
        m = look.matrix
        live, path, data = None, None, ""
        try:
            if name == "path":
                data = path_data(own, m, self._report, look.style["stroke-linecap"] != "butt")
            else:
                live, path = shape_of(name, own, look.style["fill-rule"])
        except OutlineError:
            self.unknown[f"{name} that cannot be read"] += 1
            return None
        word = clean_name(own["id"]) if "id" in own else ""
        word = word or {"rect": "Rectangle", "path": "Path"}.get(name, name.capitalize())
        paint = self.paints.paint(own, look.style, m.scale)
        # a file's own px may be a millionth of a sheet's
        if abs(m.determinant) < 1e-24:
            return None
        if live is not None:
            shape, x, y = live
            across, down, placed = math.hypot(m.a, m.b), math.hypot(m.c, m.d), m @ Matrix.move(x, y)
            square = abs(m.a * m.c + m.b * m.d) < 1e-9 * across * down
            if square and (abs(across - down) < 1e-9 * across or isinstance(shape, Ellipse) or not shape.radii[0]):
                # not distorted: the sizes, and a rectangle's radii, can be in px of the sheet
                sizes = {"width": shape.width * across, "height": shape.height * down}
                if isinstance(shape, Rectangle):
                    r = shape.radii[0] * across
                    shape = Rectangle(**sizes, radii=(r, r, r, r))
                else:
                    shape = Ellipse(**sizes)
                a, b, c, d, e, f = placed.numbers()
                placed = Matrix(a / across, b / across, c / down, d / down, e, f)
            piece = Piece(self._id(), word, shape, placed.numbers(), paint)
        elif data:
            rule: Any = "evenodd" if look.style["fill-rule"] == "evenodd" else "nonzero"
            piece = Piece(self._id(), word, Plain(data, rule), paint=paint)
        elif path is not None and not path.is_empty:
            piece = Piece(self._id(), word, plain_of(path.transform(m)), paint=paint)
        else:
            return None
        return self._measured(piece, own, m.scale) if paint.dashes and "pathLength" in own else piece

    def _measured(self, piece: Piece, own: dict[str, str], scale: float) -> Piece:
        """Return a piece whose dashes are relative to the `pathLength` of the file (SVG 2, 9.6.1)."""
        declared = length(own["pathLength"], 1.0) * scale
        if declared <= 0:
            return piece
        path = outline_of(piece)
        if not self.effort.allows_look(path):
            self._report("pathLength (its dashes are measured in px)")
            return piece
        by = path_length(path) / declared
        return replace(piece, paint=replace(piece.paint, dashes=tuple(v * by for v in piece.paint.dashes)))

    def _live(self, piece: Piece, style: dict[str, str], look: Look, box: Box | None = None) -> Piece:
        """Return a piece with its gradients, measured by a box in its own px, or by its outline's."""

        def own_box() -> Box | None:
            if box is None and isinstance(piece.shape, Rectangle | Ellipse):
                own = look.matrix.inverse() @ Matrix(*piece.matrix)
                return *own(0.0, 0.0), *own(piece.shape.width, piece.shape.height)
            return box or outline_of(piece).transform(look.matrix.inverse()).bounds

        return replace(piece, paint=self.paints.live(piece.paint, style, look.matrix, look.viewport, own_box))

    def _text(self, element: Element, own: dict[str, str], look: Look) -> Iterator[Item]:
        """Yield a text as lettering, which stays text."""
        lines: list[tuple[Piece, dict[str, str]]] = []
        runs = runs_of(element, own, look.style, self.styles, self.fonts, self._report)
        for run in runs:
            placed = look.matrix @ Matrix.move(run.x, run.y)
            if abs(placed.determinant) < 1e-12:
                continue
            its = run.own if run.own is own else {**run.own, **_only(own)}
            style = self.paints.flat(shares_in_px(run.style, look.viewport))
            paint = self.paints.paint(its, style, placed.scale)
            shape: Any = run.shape
            if is_upright(placed) and abs(placed.a - placed.d) < 1e-9 * placed.a:
                shape, placed = replace(shape, size=shape.size * placed.a), Matrix.move(placed.e, placed.f)
            piece = Piece(self._id(), clean_name(run.shape.text) or "Text", shape, placed.numbers(), paint)
            lines.append((piece, run.style))
        if any("url(" in style["fill"] + style["stroke"] for _, style in lines):
            # a gradient runs over all of a text (SVG 2, 11.3)
            box = join_boxes([run.box for run in runs])
            lines = [(self._live(piece, style, look, box), style) for piece, style in lines]
        made: list[Item] = [part for piece, _ in lines for part in self.shown.of(piece, look)]
        if len(made) == 1:
            yield made[0]
        elif made:
            yield Group(self._id(), clean_name(own.get("id", "")) or "Text", tuple(made))

    def _image(self, element: Element, own: dict[str, str], look: Look) -> Iterator[Item]:
        found = embedded(address_of(element))
        if isinstance(found, str):
            self.unknown[found] += 1
            return
        data, size = found
        if own.get("image-rendering", "auto") in ("pixelated", "crisp-edges", "optimizeSpeed"):
            self._report("image-rendering (drawn smoothly)")
        place = laid(own, size)
        if place is None:
            return
        file = hashlib.sha256(data).hexdigest()
        self.pictures[file] = data
        blend = own.get("mix-blend-mode", "normal")
        fallback = clean_name(own.get("id", "")) or "picture"
        mode: Any = blend if blend in BLENDS else "normal"
        photo = Photo(
            self._id(), fallback, file, *size, (look.matrix @ place).numbers(), share(own.get("opacity")), blend=mode
        )
        clips = look.clips
        if "slice" in own.get("preserveAspectRatio", ""):
            clips += (rectangle(*size).transform(look.matrix @ window_of(own, size)),)
        clips = cutting(clips, box_of(photo))
        if not clips:
            yield photo
            return
        base, *others = clips
        first = Piece(self._id(), "Frame", plain_of(base), paint=Paint(fill=None))
        if others:
            first = Piece(self._id(), "Frame", CutList(first, self.shown.cuts(others)), paint=Paint(fill=None))
        yield Piece(first.id, first.name, first.shape, first.matrix, first.paint, photos=(photo,), gaps=True)


def _only(own: dict[str, str]) -> dict[str, str]:
    """Return the properties of a text that apply to all of its parts."""
    return {k: own[k] for k in ("opacity", "mix-blend-mode") if k in own}


def read_svg(data: bytes, name: str, scale: float, fonts: Mapping[str, str] | None = None) -> Drawing:
    """Return the drawing in an SVG; `scale` is sheet px for each CSS px, `fonts` maps lower-case names to keys of the
    person's own fonts. Raises PictureError."""
    data = unpacked(data, name)
    if data.count(b"<") > 5 * MAX_NODES:
        # before parsing, because each element takes a hundred times its bytes
        raise PictureError(f"“{name}” has more than {MAX_NODES:,} elements.", "Simplify it where it was made.")
    try:
        root = Safe.fromstring(data, forbid_dtd=False, forbid_entities=True, forbid_external=True)
    except DefusedXmlException:
        raise PictureError(f"“{name}” has entities, which are not read.", "Save it as plain SVG.") from None
    except (ParseError, ValueError, RecursionError, UnicodeError, LookupError) as error:
        raise PictureError(
            f"“{name}” is an SVG that can’t be read: {str(error)[:80]}.", "Save it as plain SVG."
        ) from None
    if name_of(root) != "svg":
        raise PictureError(f"“{name}” isn’t an SVG.", "Choose an SVG file.")
    reader = _Reader(root, name, fonts or {}, Effort(len(data)))
    own = reader.styles.own(root)
    box = numbers(root.get("viewBox"))
    width, height = (v * scale for v in size_of(own, box))
    viewport = (box[2], box[3]) if len(box) == 4 else (width / scale, height / scale)
    first = Look(Matrix.resize(scale, scale) @ viewed(root, own, size_of(own, box)), dict(INHERITED), (), viewport)
    items = tuple(reader.items(root, first, 0))
    filled = (0.0, 0.0, width, height)
    if not (width > 0 and height > 0) and items:
        # a file without a size has the size of its contents
        filled = join_boxes([box_of(i) for i in items])
    return Drawing(items, filled, reader.pictures, dict(reader.unknown + reader.styles.misread))
