"""Commands on the nodes of a piece. Editing nodes turns any shape, lettering too, into a plain path."""

from collections.abc import Callable
from typing import Annotated, Literal

from msgspec import Meta
from msgspec.structs import replace

import outline
from outline import Matrix, Path
from outline.curves import nodes
from sheet.commands.base import Command, Outcome, register
from sheet.document.errors import SheetError
from sheet.document.kinds import plain_of
from sheet.document.limits import Id, Index, Typed
from sheet.document.limits import Place as Coordinate
from sheet.document.model import INK, CutList, Piece, Sheet
from sheet.document.tree import change, find
from sheet.geometry import geometry
from sheet.reading.lengths import read_length

__all__ = ["noded"]

Numbered = Annotated[list[Index], Meta(max_length=50_000)]


def noded(sheet: Sheet, item_id: str) -> tuple[Piece, Path]:
    """Return a piece whose nodes can be edited, and its path on the sheet. Raises SheetError for anything else."""
    item = find(sheet, item_id)
    if not isinstance(item, Piece):
        raise SheetError(f"“{item.name}” has no nodes of its own.", "Select a piece or an outline.", "id")
    if isinstance(item.shape, CutList):
        flatten = ("Flatten it", "make_plain", {"id": item.id})
        raise SheetError(f"“{item.name}” is made by a cut list.", "Edit its pieces, or flatten it.", "id", flatten)
    return item, geometry.outline_of(item)


def _edited(sheet: Sheet, item_id: str, edit: Callable[[Path], Path], label: str) -> Outcome:
    item, path = noded(sheet, item_id)
    made = edit(path)
    if made.is_empty:
        raise SheetError(f"Nothing of “{item.name}” would be left.", "Remove the piece instead.", "nodes")
    if made == path:
        raise SheetError("Nothing would change.", "", "nodes")
    piece = replace(item, shape=plain_of(made), matrix=Matrix().numbers())
    # a closed area was cut open: a line has no inside to fill
    if path.is_closed and not made.is_closed and piece.paint.stroke is None:
        piece = replace(piece, paint=replace(piece.paint, stroke=INK, stroke_width=max(1.0, piece.paint.stroke_width)))
    return Outcome(change(sheet, [item_id], lambda _: piece), f"{label} of {item.name}", (item_id,))


def _some(numbers: list[int], what: str) -> list[int]:
    if not numbers:
        raise SheetError(f"No node is selected to {what}.", "Click a node, or drag around some.", "nodes")
    return numbers


@register
class MoveNodes(Command, frozen=True):
    """Move nodes by (dx, dy) px, or one node to x or y (texts, with units)."""

    command = "move_nodes"
    id: Id
    nodes: Numbered
    dx: Coordinate = 0.0
    dy: Coordinate = 0.0
    x: Typed = ""
    y: Typed = ""

    def run(self, sheet: Sheet) -> Outcome:
        _some(self.nodes, "move")
        dx, dy = self.dx, self.dy
        if self.x or self.y:
            _, path = noded(sheet, self.id)
            spots = [n.at for run in nodes.runs(path) for n in run.nodes]
            if not all(0 <= n < len(spots) for n in self.nodes):
                raise SheetError("There is no such node.", "Select it again.", "nodes")
            points = [spots[n] for n in self.nodes]
            if self.x:
                want = read_length(sheet, "x", self.x, sheet.width)
                dx = want - min(p[0] for p in points)
            if self.y:
                want = read_length(sheet, "y", self.y, sheet.height)
                dy = want - min(p[1] for p in points)
        word = "move a node" if len(self.nodes) == 1 else f"move {len(self.nodes)} nodes"
        return _edited(sheet, self.id, lambda p: nodes.move_nodes(p, self.nodes, dx, dy), word)


@register
class MoveHandle(Command, frozen=True):
    """Move the handle "before" or "after" a node to (x, y) px; `alone` leaves the other one where it is."""

    command = "move_handle"
    id: Id
    node: Index
    which: Literal["before", "after"]
    x: Coordinate
    y: Coordinate
    alone: bool = False

    def run(self, sheet: Sheet) -> Outcome:
        return _edited(
            sheet,
            self.id,
            lambda p: nodes.move_handle(p, self.node, self.which, self.x, self.y, self.alone),
            "move a handle",
        )


@register
class AddNode(Command, frozen=True):
    """Add a node to the piece's outline, at the point nearest to (x, y) px; the form does not change."""

    command = "add_node"
    id: Id
    x: Coordinate
    y: Coordinate

    def run(self, sheet: Sheet) -> Outcome:
        _, path = noded(sheet, self.id)
        curve, t, _ = nodes.nearest(path, self.x, self.y)
        return _edited(sheet, self.id, lambda p: nodes.add_node(p, curve, t), "add a node")


@register
class DeleteNodes(Command, frozen=True):
    """Remove nodes and keep the form as close as possible."""

    command = "delete_nodes"
    id: Id
    nodes: Numbered

    def run(self, sheet: Sheet) -> Outcome:
        _some(self.nodes, "delete")
        word = "delete a node" if len(self.nodes) == 1 else f"delete {len(self.nodes)} nodes"
        return _edited(sheet, self.id, lambda p: nodes.delete_nodes(p, self.nodes), word)


@register
class SetNodes(Command, frozen=True):
    """Make nodes "corner", "smooth" or "symmetric", or their segments a "line" or a "curve"."""

    command = "set_nodes"
    id: Id
    nodes: Numbered
    kind: Literal["corner", "smooth", "symmetric", "line", "curve"]

    def run(self, sheet: Sheet) -> Outcome:
        _some(self.nodes, "change")
        if self.kind in ("line", "curve"):
            return _edited(
                sheet, self.id, lambda p: nodes.set_segments(p, self.nodes, self.kind), f"make a {self.kind}"
            )
        return _edited(sheet, self.id, lambda p: nodes.set_kind(p, self.nodes, self.kind), f"make {self.kind} nodes")


@register
class BreakNode(Command, frozen=True):
    """Cut the line at a node."""

    command = "break_node"
    id: Id
    nodes: Numbered

    def run(self, sheet: Sheet) -> Outcome:
        if len(self.nodes) != 1:
            raise SheetError("The line is cut at one node.", "Select just one.", "nodes")
        return _edited(sheet, self.id, lambda p: nodes.break_at(p, self.nodes[0]), "break a node")


@register
class JoinNodes(Command, frozen=True):
    """Join two ends of open lines; without nodes, the two ends of the one open line."""

    command = "join_nodes"
    id: Id
    nodes: Numbered

    def run(self, sheet: Sheet) -> Outcome:
        pair = list(self.nodes)
        if not pair:
            _, path = noded(sheet, self.id)
            number = 0
            for run in nodes.runs(path):
                if not run.closed:
                    pair += [number, number + len(run.nodes) - 1]
                number += len(run.nodes)
        if len(pair) != 2:
            raise SheetError("Two ends are joined.", "Select two ends of open lines.", "nodes")
        return _edited(sheet, self.id, lambda p: nodes.join_nodes(p, pair[0], pair[1]), "join ends")


@register
class AlignNodes(Command, frozen=True):
    """Align nodes to the left, centre, right, top, middle or bottom of their box."""

    command = "align_nodes"
    id: Id
    nodes: Numbered
    side: Literal["left", "centre", "right", "top", "middle", "bottom"]

    def run(self, sheet: Sheet) -> Outcome:
        return _edited(sheet, self.id, lambda p: nodes.align_nodes(p, self.nodes, self.side), "align nodes")


@register
class RoundNodes(Command, frozen=True):
    """Round the selected corners by a radius (a length)."""

    command = "round_nodes"
    id: Id
    nodes: Numbered
    radius: Typed

    def run(self, sheet: Sheet) -> Outcome:
        _some(self.nodes, "round")
        radius = read_length(sheet, "radius", self.radius)
        if radius <= 0:
            raise SheetError("The radius must be greater than 0.", "Type a larger number.", "radius")
        _, path = noded(sheet, self.id)
        most = outline.largest_radius(path, which=self.nodes)
        outcome = _edited(sheet, self.id, lambda p: outline.round_corners(p, radius, which=self.nodes), "round corners")
        if radius > most:
            return replace(outcome, note="Each corner has the largest radius that fits it.")
        return outcome
