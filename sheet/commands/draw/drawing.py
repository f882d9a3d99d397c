"""Commands that draw something new on the sheet."""

from typing import Annotated, Any, Literal

from msgspec import Meta
from msgspec.structs import replace

import outline
from outline import Matrix, OutlineError, Path
from sheet.commands.base import Command, Outcome, check_count, checked, register
from sheet.commands.painting import FirstPaint
from sheet.document.errors import SheetError, sentence
from sheet.document.ids import new_ids, numbered
from sheet.document.kinds import KINDS, missing_words, plain_of
from sheet.document.limits import MAX_POINTS, Index, MaybeId, Name, Numbers, PathData, Place, Typed
from sheet.document.model import INK, CutList, EdgeRun, Freehand, Lettering, Paint, Piece, Plain, Shape, Sheet, Step
from sheet.document.points import Points
from sheet.document.tree import change, find, parent_of, present
from sheet.geometry import geometry, gradients
from sheet.geometry.copies import default_paint
from sheet.reading.details import set_detail
from sheet.reading.lengths import read_length

__all__ = ["IntoOperation", "drawn_into"]

Details = Annotated[dict[Annotated[str, Meta(max_length=20)], Typed], Meta(max_length=20)]
IntoOperation = Literal["", "union", "subtract", "intersect", "exclude"]


class DrawCommand(Command, frozen=True, kw_only=True):
    """What every drawing command takes: an outline to draw into, the operation, and the paint set beforehand.

    A new piece takes the paint of the piece it is `like`, if that still exists; otherwise
    that of `first_paint`. What neither sets is the default: an area has no border, a line
    no fill.
    """

    into: MaybeId = ""
    operation: IntoOperation = ""
    like: MaybeId = ""
    first_paint: FirstPaint = FirstPaint()

    def landed(
        self,
        sheet: Sheet,
        shape: Shape,
        word: str,
        *,
        matrix: Matrix | None = None,
        usual: Paint | None = None,
        paint: Paint | None = None,
        note: str = "",
    ) -> Outcome:
        """Return the outcome of a new piece: on the sheet by itself, or drawn straight into an outline.

        Drawn into an outline, it becomes the next step of its cut list; a plain piece gets
        one. `paint` overrides everything, `usual` is the default where nothing was set. Raises
        SheetError if nothing of the outline would be left.
        """
        check_count(sheet)
        sheet, (new,) = new_ids(sheet)
        name = numbered(sheet, word)
        piece = Piece(new, name, shape, (matrix or Matrix()).numbers())
        path = geometry.outline_of(piece)
        if path.bounds is None:
            raise SheetError(f"Nothing of that {word.lower()} could be drawn.", "Draw it larger.")
        if paint is None:
            paint = self._painted(sheet, usual or default_paint(sheet), path)
        piece = replace(piece, paint=checked(paint))
        if not self.into:
            return Outcome(replace(sheet, items=(*sheet.items, piece)), f"draw {name}", (new,), note)
        return drawn_into(sheet, piece, self.into, self.operation, note)

    def _painted(self, sheet: Sheet, usual: Paint, path: Path) -> Paint:
        """Return the paint of a new piece; a line has a border and no fill."""
        pieces = [p for item in present(sheet, [self.like]) for p in geometry.pieces_of(item)]
        if pieces:
            paint = gradients.fitted(pieces[-1].paint, geometry.outline_of(pieces[-1]).bounds, path.bounds)
        else:
            paint = self.first_paint.on(sheet, usual)
        if path.is_closed:
            return paint
        return replace(
            paint, fill=None, stroke=paint.stroke or INK, stroke_width=paint.stroke_width or usual.stroke_width
        )


def drawn_into(sheet: Sheet, piece: Piece, into: str, operation: IntoOperation, note: str = "") -> Outcome:
    """Return the outcome with a new piece as the next step of an outline. Raises SheetError."""
    name = piece.name
    if operation == "":
        raise SheetError("Choose how to draw into the outline.", "Choose union, subtract, intersect or exclude.")
    target = find(sheet, into)
    if not isinstance(target, Piece) or parent_of(sheet, into) is not None:
        raise SheetError("Only an outline on the sheet itself can be drawn into.", "Select it first.", "into")
    if isinstance(target.shape, CutList) and target.shape.choice is None:
        cuts = replace(target.shape, steps=(*target.shape.steps, Step(operation, piece)))
        made = replace(target, shape=cuts)
    else:
        sheet, (outer,) = new_ids(sheet)
        cuts = CutList(replace(target.as_member(), shelf_link=None), (Step(operation, piece),))
        made = Piece(
            outer,
            target.name,
            cuts,
            paint=target.paint,
            photos=target.photos,
            shelf_link=target.shelf_link,
            tried=target.tried,
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
class Draw(DrawCommand, frozen=True):
    """Draw a rectangle, ellipse, polygon, star or ready outline in a box; numbers are px, texts take units and sums.

    `details` sets the kind's own numbers (sides, points, inner, radius …), as texts.
    With `centred`, x and y are the middle.
    """

    command = "draw"
    kind: Name
    x: Place | Typed
    y: Place | Typed
    width: Place | Typed
    height: Place | Typed
    paint: Paint | None = None
    ready: Name = ""
    details: Details = {}
    centred: bool = False

    def run(self, sheet: Sheet) -> Outcome:
        kind = KINDS.get(self.kind)
        if kind is None or kind.tool is None or kind.tool.gesture != "box":
            boxed = (k.key for k in KINDS.values() if k.tool is not None and k.tool.gesture == "box")
            raise SheetError(f"“{self.kind[:30]}” is not drawn in a box.", f"Draw {', '.join(boxed)}.", "kind")
        read = {}
        for field, whole in (("x", sheet.width), ("y", sheet.height), ("width", sheet.width), ("height", sheet.height)):
            value = read_length(sheet, field, getattr(self, field), whole)
            if field in ("width", "height") and value <= 0:
                raise SheetError(f"The {field} must be greater than 0.", "Type a larger number.", field)
            read[field] = value
        w, h = read["width"], read["height"]
        if self.centred:
            read["x"], read["y"] = read["x"] - w / 2, read["y"] - h / 2
        shape: Shape
        if kind.start is None:
            if self.ready not in outline.READY:
                raise SheetError(f"There is no shape “{self.ready[:30]}”.", "Choose one of the list.", "ready")
            shape = Plain(outline.boxed(outline.ready(self.ready), w, h).to_svg())
            word = outline.READY[self.ready].name
        else:
            shape = kind.start(w, h)
            word = kind.name
        note = ""
        for field, text in self.details.items():
            shape, given = set_detail(sheet, shape, field, text)
            note = note or given
        place = Matrix.move(read["x"], read["y"])
        return self.landed(sheet, shape, word, matrix=place, paint=self.paint, note=note)


@register
class DrawCurve(DrawCommand, frozen=True):
    """Draw a curve from SVG path data (px): an area if closed, a line if open."""

    command = "draw_curve"
    d: PathData

    def weight(self, sheet: Sheet) -> int:
        """Return about how many nodes the path has."""
        return len(self.d) // 12

    def run(self, sheet: Sheet) -> Outcome:
        path = Path.from_svg(self.d)
        if path.node_count < 2 or path.bounds is None:
            raise SheetError("A curve needs two nodes at least.", "Click a second place, then press Enter.")
        return self.landed(sheet, plain_of(path), "Curve" if path.is_closed else "Line")


@register
class DrawFreehand(DrawCommand, frozen=True):
    """Fit a curve to the points (px) of a freehand stroke, within `tolerance` of each."""

    command = "draw_freehand"
    points: list[tuple[Place, Place]]
    tolerance: Place | Typed
    closed: bool = False

    def weight(self, sheet: Sheet) -> int:
        """Return how many points there are."""
        return len(self.points)

    def run(self, sheet: Sheet) -> Outcome:
        if len(self.points) > MAX_POINTS:
            raise SheetError(
                f"That stroke has {len(self.points):,} places; {MAX_POINTS:,} are the most.", "Draw it in two strokes."
            )
        points = tuple((round(x, 3), round(y, 3)) for x, y in self.points)
        if len(set(points)) < (3 if self.closed else 2):
            raise SheetError("That stroke is too short to be a curve.", "Draw a little further.")
        tolerance = read_length(sheet, "nearness", self.tolerance, field="tolerance")
        if not 0.01 <= tolerance <= 1e4:
            raise SheetError("Smoothing must be greater than 0.", "Type a number like 2.", "tolerance")
        return self.landed(sheet, Freehand(Points(points), tolerance, self.closed), "Freehand")


@register
class DrawLettering(DrawCommand, frozen=True):
    """Add a lettering whose first baseline starts at (x, y)."""

    command = "draw_lettering"
    text: Typed
    font: Name
    size: Place | Typed
    x: Place | Typed
    y: Place | Typed
    details: Details = {}

    def weight(self, sheet: Sheet) -> int:
        """Return about how many nodes the letters have."""
        return 25 * len(self.text)

    def run(self, sheet: Sheet) -> Outcome:
        x, y = read_length(sheet, "x", self.x, sheet.width), read_length(sheet, "y", self.y, sheet.height)
        first = KINDS["lettering"].first
        assert first is not None
        shape: Shape = first()
        size = self.size if isinstance(self.size, str) else f"{self.size} px"
        for field, text in {"text": self.text, "font": self.font, "size": size, **self.details}.items():
            shape, _ = set_detail(sheet, shape, field, text)
        assert isinstance(shape, Lettering)
        if geometry.own_path(shape).is_empty:
            words = missing_words(shape, ".") or "Those letters have no outline."
            raise SheetError(words, "Type other letters, or choose another font.", "text")
        usual = replace(default_paint(sheet), fill=INK)
        note = missing_words(shape)
        return self.landed(sheet, shape, "Lettering", matrix=Matrix.move(x, y), usual=usual, note=note)


@register
class DrawEdge(DrawCommand, frozen=True):
    """Draw a repeated edge from (x0, y0) to (x1, y1), or along piece `id`: all of it, the sides numbered `sides`,
    or the side nearest to a point (px)."""

    command = "draw_edge"
    kind: Name = "zigzag"
    pitch: Place | Typed = 20.0
    x0: Place = 0.0
    y0: Place = 0.0
    x1: Place = 0.0
    y1: Place = 0.0
    id: MaybeId = ""
    sides: Annotated[list[Index], Meta(max_length=5000)] | None = None
    near: tuple[Place, Place] | None = None
    details: Details = {}

    def run(self, sheet: Sheet) -> Outcome:
        pitch = self.pitch if isinstance(self.pitch, str) else f"{self.pitch} px"
        given = {"kind": self.kind, "pitch": pitch, **self.details}
        if not self.id:
            if (self.x0, self.y0) == (self.x1, self.y1):
                raise SheetError("A line of no length has no edge.", "Draw it longer.")
            line = Path.from_points([(self.x0, self.y0), (self.x1, self.y1)], closed=False)
            shape = _edge(sheet, plain_of(line), None, given)
            return self.landed(sheet, shape, "Edge run")
        item = find(sheet, self.id)
        if not isinstance(item, Piece):
            raise SheetError(f"“{item.name}” has no line to run along.", "Select a piece.", "id")
        base = item.shape
        sides = None if self.sides is None else tuple(sorted(set(self.sides)))
        if isinstance(base, EdgeRun):
            already = base.sides
            base = base.base
            if already is not None and sides is not None:
                sides = tuple(sorted({*already, *sides}))
        matrix = item.matrix
        if isinstance(base, CutList | Lettering):
            base, matrix = plain_of(geometry.outline_of(item)), Matrix().numbers()
        count = len(outline.runs_of(geometry.own_path(base)))
        if self.near is not None:
            sides = (self._nearest(base, matrix, self.near),)
            if isinstance(item.shape, EdgeRun) and item.shape.sides is not None:
                sides = tuple(sorted({*item.shape.sides, *sides}))
        if sides is not None and not all(0 <= s < count for s in sides):
            raise SheetError(f"“{item.name}” has {count} sides.", "Click one of them.", "sides")
        shape = _edge(sheet, base, sides, given)
        made = replace(item, shape=shape, matrix=matrix)
        return Outcome(change(sheet, [item.id], lambda _: made), f"run an edge along {item.name}", (item.id,))

    @staticmethod
    def _nearest(base: Any, matrix: Numbers, near: tuple[float, float]) -> int:
        path = geometry.own_path(base)
        curve, _, _ = outline.nodes.nearest(path, *Matrix(*matrix).inverse()(*near))
        return next(k for k, (a, b) in enumerate(outline.runs_of(path)) if a <= curve < b)


def _edge(sheet: Sheet, base: Any, sides: tuple[int, ...] | None, given: dict[str, str]) -> EdgeRun:
    shape: Shape = EdgeRun(base, "zigzag", 20.0, sides=sides)
    for field, text in given.items():
        shape, _ = set_detail(sheet, shape, field, text)
    assert isinstance(shape, EdgeRun)
    try:
        geometry.own_path(shape)
    except OutlineError as error:
        # refused here, because the tooth's length is what to change
        raise SheetError(sentence(error), "Use longer teeth.", "pitch") from None
    return shape
