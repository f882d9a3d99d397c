"""Commands that bring something new onto the sheet."""

from typing import Any

import msgspec
from msgspec.structs import replace

import outline
from outline import Matrix, OutlineError, Path

from .. import geometry, placing
from ..details import NAMES, set_detail
from ..errors import SheetError
from ..lengths import parse, parse_length
from ..model import (
    OPERATIONS,
    CutList,
    EdgeRun,
    Ellipse,
    Freehand,
    Item,
    Lettering,
    Numbers,
    Paint,
    Photo,
    Piece,
    Plain,
    Polygon,
    Rectangle,
    Shape,
    Sheet,
    Star,
    Step,
)
from ..tree import change, find, in_stack_order, parent_of
from .base import (
    Command,
    Outcome,
    checked,
    copied,
    default_paint,
    fresh,
    names,
    numbered,
    register,
    room,
    some,
    unlocked,
)

BOXED = ("rectangle", "ellipse", "polygon", "star")
MAX_POINTS = 20_000


def _number(sheet: Sheet, field: str, value: float | str, whole: float | None = None) -> float:
    if isinstance(value, str):
        return parse_length(value, field, unit=sheet.unit, resolution=sheet.resolution, whole=whole)
    return parse(value, field)


def line_paint(sheet: Sheet) -> Paint:
    """Return the paint of a line that was left open: no fill, and a border that shows."""
    return replace(default_paint(sheet), fill=None)


def landed(
    sheet: Sheet,
    shape: Shape,
    name: str,
    *,
    matrix: Matrix | None = None,
    paint: Paint | None = None,
    into: str = "",
    operation: str = "",
    note: str = "",
) -> Outcome:
    """Return the outcome of a new piece: on the sheet by itself, or drawn straight `into` an outline by `operation`.

    Drawn into an outline, it becomes the next step of its cut list; a plain piece gets
    one. Raises SheetError where nothing of the outline would be left.
    """
    room(sheet)
    sheet, (new,) = fresh(sheet)
    name = numbered(sheet, name)
    placed = (matrix or Matrix()).numbers()
    piece = Piece(new, name, shape, placed, checked(paint) if paint else default_paint(sheet))
    path = geometry.outline_of(piece)
    if path.is_empty:
        raise SheetError(f"Nothing of that {name.split()[0].lower()} could be drawn.", "Draw it larger.")
    if not into:
        return Outcome(replace(sheet, items=(*sheet.items, piece)), f"draw {name}", (new,), note)
    if operation not in OPERATIONS:
        raise SheetError(f"“{operation[:30]}” is no way to draw into an outline.", f"Use {', '.join(OPERATIONS)}.")
    target = find(sheet, into)
    if not isinstance(target, Piece) or parent_of(sheet, into) is not None:
        raise SheetError("Only an outline on the sheet itself can be drawn into.", "Choose it first.", "into")
    unlocked(sheet, target)
    if isinstance(target.shape, CutList):
        cuts = replace(target.shape, steps=(*target.shape.steps, Step(operation, piece)))
        made = replace(target, shape=cuts)
    else:
        sheet, (outer,) = fresh(sheet)
        base = replace(target, photos=())
        made = Piece(
            outer, target.name, CutList(base, (Step(operation, piece),)), paint=target.paint, photos=target.photos
        )
    if geometry.outline_of(made).is_empty:
        raise SheetError(
            f"Nothing of “{target.name}” would be left.",
            "They have no part in common."
            if operation == "intersect"
            else "Draw it smaller, or with another operation.",
        )
    sheet = change(sheet, [into], lambda _: made)
    return Outcome(sheet, f"{operation} {name} in {target.name}", (made.id,), note)


@register
class Draw(Command, frozen=True):
    """Draw a rectangle, ellipse, polygon, star or ready outline in a box; numbers are px, texts take units and sums.

    `details` sets what the kind has: sides, points, inner, radius and so on, as texts.
    """

    command = "draw"
    kind: str
    x: float | str
    y: float | str
    width: float | str
    height: float | str
    paint: Paint | None = None
    ready: str = ""
    details: dict[str, str] = {}
    into: str = ""
    operation: str = ""

    def run(self, sheet: Sheet) -> Outcome:
        if self.kind not in (*BOXED, "ready"):
            raise SheetError(f"“{self.kind[:30]}” is nothing that can be drawn.", f"Draw a {', '.join(BOXED)}.")
        room(sheet)
        read = {}
        for field, whole in (("x", sheet.width), ("y", sheet.height), ("width", sheet.width), ("height", sheet.height)):
            value = _number(sheet, field, getattr(self, field), whole)
            if field in ("width", "height") and value <= 0:
                raise SheetError(f"The {field} must be greater than 0.", "Type a larger number.", field)
            read[field] = value
        w, h = read["width"], read["height"]
        shape: Shape
        if self.kind == "ready":
            if self.ready not in outline.READY:
                raise SheetError(f"There is no ready outline “{self.ready[:30]}”.", "Choose one of the list.", "ready")
            shape = Plain(outline.boxed(outline.ready(self.ready), w, h).to_svg())
            word = outline.READY[self.ready].name
        else:
            shape = {"rectangle": Rectangle, "ellipse": Ellipse, "polygon": Polygon, "star": Star}[self.kind](w, h)
            word = NAMES[self.kind]
        note = ""
        for field, text in self.details.items():
            shape, told = set_detail(sheet, shape, field, text)
            note = note or told
        return landed(
            sheet, shape, word, matrix=Matrix.move(read["x"], read["y"]), paint=self.paint,
            into=self.into, operation=self.operation, note=note,
        )  # fmt: skip


@register
class DrawCurve(Command, frozen=True):
    """Draw a curve from SVG path data (px): closed it is an area, left open a line."""

    command = "draw_curve"
    d: str
    into: str = ""
    operation: str = ""

    def run(self, sheet: Sheet) -> Outcome:
        path = Path.from_svg(self.d)
        if path.node_count < 2 or path.bounds is None:
            raise SheetError("A curve needs two nodes at least.", "Click a second place, then press Enter.")
        paint = None if path.is_closed else line_paint(sheet)
        word = "Curve" if path.is_closed else "Line"
        return landed(sheet, Plain(path.to_svg()), word, paint=paint, into=self.into, operation=self.operation)


@register
class DrawFreehand(Command, frozen=True):
    """Fit a curve to the places (px) a hand went through, nowhere further from one than `tolerance`."""

    command = "draw_freehand"
    points: list[tuple[float, float]]
    tolerance: float | str
    closed: bool = False
    into: str = ""
    operation: str = ""

    def run(self, sheet: Sheet) -> Outcome:
        if len(self.points) > MAX_POINTS:
            raise SheetError(
                f"That stroke has {len(self.points):,} places; {MAX_POINTS:,} are the most.", "Draw it in two strokes."
            )
        points = tuple((round(x, 3), round(y, 3)) for x, y in self.points)
        if len(set(points)) < (3 if self.closed else 2):
            raise SheetError("That stroke is too short to be a curve.", "Draw a little further.")
        tolerance = _number(sheet, "tolerance", self.tolerance)
        if not 0.01 <= tolerance <= 1e4:
            raise SheetError("The nearness must be greater than 0.", "Type a number like 2.", "tolerance")
        shape = Freehand(points, tolerance, self.closed)
        paint = None if self.closed else line_paint(sheet)
        return landed(sheet, shape, "Freehand", paint=paint, into=self.into, operation=self.operation)


@register
class DrawLettering(Command, frozen=True):
    """Set a lettering with its first baseline beginning at (x, y)."""

    command = "draw_lettering"
    text: str
    font: str
    size: float | str
    x: float | str
    y: float | str
    details: dict[str, str] = {}
    into: str = ""
    operation: str = ""

    def run(self, sheet: Sheet) -> Outcome:
        x, y = _number(sheet, "x", self.x, sheet.width), _number(sheet, "y", self.y, sheet.height)
        shape: Shape = Lettering("A", next(iter(outline.FONTS)), 100.0)
        size = self.size if isinstance(self.size, str) else f"{self.size} px"
        for field, text in {"text": self.text, "font": self.font, "size": size, **self.details}.items():
            shape, _ = set_detail(sheet, shape, field, text)
        assert isinstance(shape, Lettering)
        if geometry.lettered(shape).path.is_empty:
            raise SheetError(missing_words(shape) or "Those letters have no outline.", "Type other letters.", "text")
        paint = replace(default_paint(sheet), fill="#22302f", stroke=None)
        return landed(
            sheet, shape, "Lettering", matrix=Matrix.move(x, y), paint=paint,
            into=self.into, operation=self.operation, note=missing_words(shape),
        )  # fmt: skip


def missing_words(shape: Lettering) -> str:
    """Return what to tell of the characters a font has not; empty where it has all."""
    lacking = geometry.lettered(shape).missing
    if not lacking:
        return ""
    return f"{outline.FONTS[shape.font].name} has no {', '.join(f'“{c}”' for c in lacking[:8])}: left out."


@register
class DrawEdge(Command, frozen=True):
    """Draw an edge run from (x0, y0) to (x1, y1), or along piece `id`: all of it, its sides numbered `sides`,
    or the side nearest to a point (px)."""

    command = "draw_edge"
    kind: str = "zigzag"
    pitch: float | str = 20.0
    x0: float = 0.0
    y0: float = 0.0
    x1: float = 0.0
    y1: float = 0.0
    id: str = ""
    sides: list[int] | None = None
    near: tuple[float, float] | None = None
    details: dict[str, str] = {}
    into: str = ""
    operation: str = ""

    def run(self, sheet: Sheet) -> Outcome:
        pitch = self.pitch if isinstance(self.pitch, str) else f"{self.pitch} px"
        told = {"kind": self.kind, "pitch": pitch, **self.details}
        if not self.id:
            if (self.x0, self.y0) == (self.x1, self.y1):
                raise SheetError("A line of no length has no edge.", "Draw it longer.")
            line = Path.from_points([(self.x0, self.y0), (self.x1, self.y1)], closed=False)
            shape = _edge(sheet, Plain(line.to_svg()), None, told)
            return landed(sheet, shape, "Edge run", paint=line_paint(sheet), into=self.into, operation=self.operation)
        item = find(sheet, self.id)
        unlocked(sheet, item)
        if not isinstance(item, Piece):
            raise SheetError(f"“{item.name}” has no line to run along.", "Choose a piece.", "id")
        base = item.shape
        sides = None if self.sides is None else tuple(sorted(set(self.sides)))
        if isinstance(base, EdgeRun):
            already = base.sides
            base = base.base
            if already is not None and sides is not None:
                sides = tuple(sorted({*already, *sides}))
        matrix = item.matrix
        if isinstance(base, CutList | Lettering):
            base, matrix = Plain(geometry.outline_of(item).to_svg()), Matrix().numbers()
        count = len(outline.runs_of(geometry.own_path(base)))
        if self.near is not None:
            sides = (self._nearest(base, matrix, self.near),)
            if isinstance(item.shape, EdgeRun) and item.shape.sides is not None:
                sides = tuple(sorted({*item.shape.sides, *sides}))
        if sides is not None and not all(0 <= s < count for s in sides):
            raise SheetError(f"“{item.name}” has {count} sides.", "Click one of them.", "sides")
        shape = _edge(sheet, base, sides, told)
        made = replace(item, shape=shape, matrix=matrix)
        return Outcome(change(sheet, [item.id], lambda _: made), f"run an edge along {item.name}", (item.id,))

    @staticmethod
    def _nearest(base: Any, matrix: Numbers, near: tuple[float, float]) -> int:
        path = geometry.own_path(base)
        curve, _, _ = outline.nodes.nearest(path, *Matrix(*matrix).inverse()(*near))
        return next(k for k, (a, b) in enumerate(outline.runs_of(path)) if a <= curve < b)


def _edge(sheet: Sheet, base: Any, sides: tuple[int, ...] | None, told: dict[str, str]) -> EdgeRun:
    shape: Shape = EdgeRun(base, "zigzag", 20.0, sides=sides)
    for field, text in told.items():
        shape, _ = set_detail(sheet, shape, field, text)
    assert isinstance(shape, EdgeRun)
    try:
        geometry.own_path(shape)
    except OutlineError as error:
        raise SheetError(f"{str(error)[0].upper()}{str(error)[1:]}.", "Use longer teeth.", "pitch") from None
    return shape


class NewPhoto(msgspec.Struct, frozen=True):
    """A photo to place: the SHA-256 of its file, its name, its size in px, and whether it has transparency."""

    file: str
    name: str
    width: int
    height: int
    alpha: bool = False


@register
class Place(Command, frozen=True):
    """Bring photos in, each about a point (px) or, without one, in the middle of the sheet.

    A photo comes in as large as the sheet allows, never above one photo px per sheet px.
    """

    command = "place"
    photos: list[NewPhoto]
    x: float | None = None
    y: float | None = None

    def run(self, sheet: Sheet) -> Outcome:
        if not self.photos:
            raise SheetError("No photo came with that.", "Choose one or more pictures.")
        room(sheet, len(self.photos))
        sheet, ids = fresh(sheet, len(self.photos))
        cx = sheet.width / 2 if self.x is None else self.x
        cy = sheet.height / 2 if self.y is None else self.y
        items: list[Item] = []
        step = min(sheet.width, sheet.height) * 0.03
        for k, (new, photo) in enumerate(zip(ids, self.photos, strict=True)):
            scale = min(1.0, sheet.width / photo.width, sheet.height / photo.height)
            x = cx - scale * photo.width / 2 + k * step
            y = cy - scale * photo.height / 2 + k * step
            items.append(
                Photo(
                    new,
                    photo.name,
                    photo.file,
                    photo.width,
                    photo.height,
                    (scale, 0.0, 0.0, scale, x, y),
                    1.0,
                    photo.alpha,
                )
            )
        # photos come in below the pieces: those are drawn over them
        lowest = next((k for k, i in enumerate(sheet.items) if not isinstance(i, Photo)), len(sheet.items))
        merged = (*sheet.items[:lowest], *items, *sheet.items[lowest:])
        return Outcome(replace(sheet, items=merged), f"bring in {names(items)}", tuple(ids))


@register
class Duplicate(Command, frozen=True):
    """Make copies, each above what it copies: mapped by `matrix`, or a little to the right and below."""

    command = "duplicate"
    ids: list[str]
    matrix: tuple[float, float, float, float, float, float] | None = None

    def run(self, sheet: Sheet) -> Outcome:
        off = min(sheet.width, sheet.height) * 0.02
        m = Matrix(*self.matrix) if self.matrix else Matrix.move(off, off)
        if abs(m.determinant) < 1e-12:
            raise SheetError("That would flatten the copy to nothing.", "Make it a little larger.")
        return copies(sheet, self.ids, [m], "duplicate")


def copies(sheet: Sheet, ids: list[str], places: list[Matrix], verb: str) -> Outcome:
    """Return the outcome with a copy of the chosen items at each of `places`, just above what it copies."""
    chosen = some(sheet, ids, verb)
    if len(in_stack_order(sheet, ids)) != len(chosen):
        raise SheetError(f"Only what lies on the sheet itself can be {verb}d.", "Step out first.", "ids")
    room(sheet, len(chosen) * len(places))
    items: list[Item] = []
    made = []
    for item in sheet.items:
        items.append(item)
        if any(item.id == c.id for c in chosen):
            for m in places:
                sheet, copy = copied(sheet, item)
                copy = placing.moved(copy, m)
                made.append(copy.id)
                items.append(copy)
    return Outcome(replace(sheet, items=tuple(items)), f"{verb} {names(chosen)}", tuple(made))


@register
class Repeat(Command, frozen=True):
    """Repeat what is chosen in columns and rows, `gap_x` and `gap_y` apart (lengths; below 0 they overlap)."""

    command = "repeat"
    ids: list[str]
    columns: str
    rows: str
    gap_x: str = "0"
    gap_y: str = "0"

    def run(self, sheet: Sheet) -> Outcome:
        chosen = some(sheet, self.ids, "repeat")
        counts = []
        for field in ("columns", "rows"):
            n = parse(getattr(self, field), field)
            if n != round(n) or not 1 <= n <= 200:
                raise SheetError(f"The {field} must be a whole number from 1 to 200.", "Type 3, for example.", field)
            counts.append(round(n))
        columns, rows = counts
        if columns * rows == 1:
            raise SheetError("One column of one row is what is there.", "Type more columns or rows.", "columns")
        if columns * rows * len(chosen) > 5000:
            raise SheetError("That would be more than 5,000 items.", "Type fewer columns or rows.", "columns")
        x0, y0, x1, y1 = geometry.join_boxes([geometry.box_of(i) for i in chosen])
        dx = x1 - x0 + _number(sheet, "gap_x", self.gap_x, x1 - x0)
        dy = y1 - y0 + _number(sheet, "gap_y", self.gap_y, y1 - y0)
        places = [Matrix.move(c * dx, r * dy) for r in range(rows) for c in range(columns) if r or c]
        outcome = copies(sheet, self.ids, places, "repeat")
        return replace(outcome, chosen=(*self.ids, *outcome.chosen))


@register
class Paste(Command, frozen=True):
    """Put items of this or another sheet here, on top, where they lay; a little aside with `shift`."""

    command = "paste"
    items: list[Item]
    shift: bool = False

    def run(self, sheet: Sheet) -> Outcome:
        if not self.items:
            raise SheetError("There is nothing to paste.", "Copy something first.")
        room(sheet, len(self.items))
        off = min(sheet.width, sheet.height) * 0.02 if self.shift else 0.0
        boxes = geometry.join_boxes([geometry.box_of(i) for i in self.items])
        m = Matrix.move(off, off)
        if boxes[0] > sheet.width or boxes[1] > sheet.height or boxes[2] < 0 or boxes[3] < 0:
            # from a larger sheet: into the middle of this one
            m = Matrix.move(sheet.width / 2 - (boxes[0] + boxes[2]) / 2, sheet.height / 2 - (boxes[1] + boxes[3]) / 2)
        made = []
        for item in self.items:
            sheet, copy = copied(sheet, item)
            made.append(placing.moved(copy, m))
        sheet = replace(sheet, items=(*sheet.items, *made))
        return Outcome(sheet, f"paste {names(made)}", tuple(i.id for i in made))
