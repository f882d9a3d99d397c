"""Editing a path by its nodes and handles. Nodes are numbered from 0 through all subpaths."""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import TypeAlias

import numpy as np

from outline.path.builder import Builder
from outline.path.errors import OutlineError
from outline.path.path import Path

from .fitting import reparametrised
from .measure import part_of, point_at

__all__ = [
    "Node",
    "CurveRun",
    "runs",
    "of_runs",
    "move_nodes",
    "move_handle",
    "add_node",
    "delete_nodes",
    "set_kind",
    "set_segments",
    "break_at",
    "join_nodes",
    "align_nodes",
    "nearest",
]

Point: TypeAlias = tuple[float, float]


@dataclass(frozen=True, slots=True)
class Node:
    """A node with its handles; a handle is None if the segment on that side is a straight line or missing."""

    at: Point
    before: Point | None = None
    after: Point | None = None

    @property
    def kind(self) -> str:
        """corner, smooth (handles in line) or symmetric (and equally long)."""
        if self.before is None or self.after is None:
            return "corner"
        (x, y), (ax, ay), (bx, by) = self.at, self.before, self.after
        u, v = (x - ax, y - ay), (bx - x, by - y)
        a, b = math.hypot(*u), math.hypot(*v)
        if a == 0 or b == 0 or abs(u[0] * v[1] - u[1] * v[0]) > 1e-4 * a * b or u[0] * v[0] + u[1] * v[1] < 0:
            return "corner"
        return "symmetric" if abs(a - b) <= 1e-4 * max(a, b) else "smooth"


@dataclass(frozen=True, slots=True)
class CurveRun:
    """The nodes of one subpath."""

    nodes: tuple[Node, ...]
    closed: bool


def _thirds(a: Point, b: Point) -> tuple[Point, Point]:
    dx, dy = (b[0] - a[0]) / 3, (b[1] - a[1]) / 3
    return (a[0] + dx, a[1] + dy), (b[0] - dx, b[1] - dy)


def runs(path: Path) -> list[CurveRun]:
    """Return the path as nodes with handles."""
    ctrl, kind, starts, closed = path._arrays
    out = []
    for k, shut in enumerate(closed.tolist()):
        rows = ctrl[starts[k] : starts[k + 1]].tolist()
        kinds = kind[starts[k] : starts[k + 1]].tolist()
        nodes = []
        for i, (c, curve) in enumerate(zip(rows, kinds, strict=True)):
            before = None
            if i > 0 or shut:
                p = rows[i - 1]
                before = (p[4], p[5]) if kinds[i - 1] else None
            nodes.append(Node((c[0], c[1]), before, (c[2], c[3]) if curve else None))
        if not shut:
            c = rows[-1]
            nodes.append(Node((c[6], c[7]), (c[4], c[5]) if kinds[-1] else None, None))
        out.append(CurveRun(tuple(nodes), shut))
    return out


def of_runs(found: Iterable[CurveRun], fill_rule: str = "nonzero") -> Path:
    """Return the path through the nodes; a run of fewer than two nodes is left out."""
    out = Builder()
    for run in found:
        n = len(run.nodes)
        if n < 2:
            continue
        out.move(*run.nodes[0].at)
        for i in range(n if run.closed else n - 1):
            a, b = run.nodes[i], run.nodes[(i + 1) % n]
            if a.after is None and b.before is None:
                out.line(*b.at)
            else:
                near, far = _thirds(a.at, b.at)
                out.cubic(*(a.after or near), *(b.before or far), *b.at)
        if run.closed:
            out.close()
        else:
            out.finish()
    return Path(*out.arrays(), fill_rule=fill_rule)


def _find(found: Sequence[CurveRun], number: int) -> tuple[int, int]:
    for r, run in enumerate(found):
        if 0 <= number < len(run.nodes):
            return r, number
        number -= len(run.nodes)
    raise OutlineError("there is no such node")


def _numbered(found: Sequence[CurveRun]) -> Iterable[tuple[int, int, int]]:
    number = 0
    for r, run in enumerate(found):
        for i in range(len(run.nodes)):
            yield number, r, i
            number += 1


def _mapped(path: Path, chosen: Iterable[int], make) -> Path:  # type: ignore[no-untyped-def]
    found = runs(path)
    wanted = set(chosen)
    for n in wanted:
        _find(found, n)
    out = [list(run.nodes) for run in found]
    for number, r, i in _numbered(found):
        if number in wanted:
            out[r][i] = make(out[r][i], found[r], i)
    return of_runs([CurveRun(tuple(nodes), run.closed) for nodes, run in zip(out, found, strict=True)], path.fill_rule)


def _shifted(p: Point | None, dx: float, dy: float) -> Point | None:
    return None if p is None else (p[0] + dx, p[1] + dy)


def _moved(node: Node, dx: float, dy: float) -> Node:
    return Node((node.at[0] + dx, node.at[1] + dy), _shifted(node.before, dx, dy), _shifted(node.after, dx, dy))


def move_nodes(path: Path, chosen: Iterable[int], dx: float, dy: float) -> Path:
    """Return the path with nodes moved together with their handles.

    >>> move_nodes(Path.from_svg("M0 0H4V4H0Z"), [1, 2], 1, 0).to_svg()
    'M0 0H5V4H0Z'
    """
    return _mapped(path, chosen, lambda node, run, i: _moved(node, dx, dy))


def move_handle(path: Path, number: int, which: str, x: float, y: float, alone: bool = False) -> Path:
    """Return the path with the handle "before" or "after" a node at (x, y).

    The other handle of a smooth node turns with it, that of a symmetric one mirrors it; with
    `alone` it stays where it is, and the node becomes a corner.
    """
    if which not in ("before", "after"):
        raise OutlineError(f"there is no handle {which!r}; use before or after")

    def make(node: Node, run: CurveRun, i: int) -> Node:
        made = replace(node, **{which: (x, y)})
        other_name = "after" if which == "before" else "before"
        other = getattr(node, other_name)
        if alone or other is None or node.kind == "corner":
            return made
        ux, uy = node.at[0] - x, node.at[1] - y
        size = math.hypot(ux, uy)
        if size == 0:
            return made
        reach = size if node.kind == "symmetric" else math.hypot(other[0] - node.at[0], other[1] - node.at[1])
        return replace(made, **{other_name: (node.at[0] + ux / size * reach, node.at[1] + uy / size * reach)})

    return _mapped(path, [number], make)


def add_node(path: Path, curve: int, t: float) -> Path:
    """Return the path with a node on curve number `curve` at parameter `t`; its form does not change."""
    ctrl, kind, starts, closed = path._arrays
    if not 0 <= curve < len(ctrl) or not 0 < t < 1:
        raise OutlineError("there is no such place on the path")
    parts = np.stack([part_of(ctrl[curve], 0, t), part_of(ctrl[curve], t, 1)])
    if kind[curve] == 0:
        a, b = ctrl[curve, :2], ctrl[curve, 6:]
        p = a + t * (b - a)
        parts = np.array(
            [[*a, *(a + (p - a) / 3), *(p - (p - a) / 3), *p], [*p, *(p + (b - p) / 3), *(b - (b - p) / 3), *b]]
        )
    moved = starts.copy()
    moved[starts > curve] += 1
    return Path(
        np.concatenate([ctrl[:curve], parts, ctrl[curve + 1 :]]),
        np.insert(kind, curve, kind[curve]),
        moved,
        closed.copy(),
        fill_rule=path.fill_rule,
    )


def _one_cubic(first: Node, last: Node, curves: list[list[float]]) -> tuple[Point, Point]:
    """Return the handles of the cubic nearest to `curves` with their end directions, by least squares."""
    points = np.concatenate([point_at(np.array(c), np.linspace(0, 1, 33)) for c in curves])
    gone = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
    t = gone / (gone[-1] or 1.0)
    a, b = points[0], points[-1]

    def unit(v: np.ndarray) -> np.ndarray:
        return v / (np.hypot(*v) or 1.0)

    t0 = unit((np.array(first.after) if first.after else points[1]) - a)
    t1 = unit((np.array(last.before) if last.before else points[-2]) - b)
    handles = np.zeros((2, 2))
    for _ in range(12):
        s = 1 - t
        b1, b2 = 3 * s * s * t, 3 * s * t * t
        rest = points - (s**3 + b1)[:, None] * a - (t**3 + b2)[:, None] * b
        m = np.array([[b1 @ b1, (b1 @ b2) * (t0 @ t1)], [(b1 @ b2) * (t0 @ t1), b2 @ b2]])
        y = np.array([(rest @ t0) @ b1, (rest @ t1) @ b2])
        try:
            alpha = np.linalg.solve(m, y)
        except np.linalg.LinAlgError:
            alpha = np.full(2, gone[-1] / 3)
        alpha = np.where(alpha > 1e-9 * gone[-1], alpha, gone[-1] / 3)
        handles = np.stack([a + alpha[0] * t0, b + alpha[1] * t1])
        t = np.clip(reparametrised(np.concatenate([a, handles.ravel(), b]), points, t), 0, 1)
    return (float(handles[0, 0]), float(handles[0, 1])), (float(handles[1, 0]), float(handles[1, 1]))


def delete_nodes(path: Path, chosen: Iterable[int]) -> Path:
    """Return the path without the chosen nodes, one cubic in place of each gap as close to it as possible.

    If the neighbours of a gap were joined by straight lines only, a line joins them. A
    subpath left with fewer than two nodes is dropped. Raises OutlineError if nothing would be left.
    """
    found = runs(path)
    wanted = set(chosen)
    for n in wanted:
        _find(found, n)
    out: list[CurveRun] = []
    base = 0
    ctrl, kind, starts, _ = path._arrays
    for r, run in enumerate(found):
        n = len(run.nodes)
        keep = [i for i in range(n) if base + i not in wanted]
        base += n
        if len(keep) == n:
            out.append(run)
            continue
        if len(keep) < 2 or (run.closed and len(keep) < 2):
            continue
        nodes = {i: run.nodes[i] for i in keep}
        rows = ctrl[starts[r] : starts[r + 1]].tolist()
        kinds = kind[starts[r] : starts[r + 1]].tolist()
        pairs = list(pairwise(keep)) + ([(keep[-1], keep[0] + n)] if run.closed else [])
        for a, b in pairs:
            gap = [k % n for k in range(a, b)]
            if len(gap) == 1:
                continue
            first, last = nodes[a], nodes[b % n]
            if all(kinds[k] == 0 for k in gap):
                nodes[a], nodes[b % n] = replace(first, after=None), replace(last, before=None)
                continue
            after, before = _one_cubic(run.nodes[a], run.nodes[b % n], [rows[k] for k in gap])
            nodes[a] = replace(nodes[a], after=after)
            nodes[b % n] = replace(nodes[b % n], before=before)
        ends = [nodes[i] for i in keep]
        if not run.closed:
            ends[0], ends[-1] = replace(ends[0], before=None), replace(ends[-1], after=None)
        out.append(CurveRun(tuple(ends), run.closed))
    if not out:
        raise OutlineError("nothing of the outline would be left")
    return of_runs(out, path.fill_rule)


def set_kind(path: Path, chosen: Iterable[int], kind: str) -> Path:
    """Return the path with nodes made "corner", "smooth" or "symmetric".

    A corner keeps its handles (from then on they move separately: the form stays, one handle
    is turned slightly, by 0.1 %); a node with straight sides gets handles
    along the line through its neighbours.
    """
    if kind not in ("corner", "smooth", "symmetric"):
        raise OutlineError(f"there is no node kind {kind!r}; use corner, smooth or symmetric")

    def make(node: Node, run: CurveRun, i: int) -> Node:
        n = len(run.nodes)
        if kind == "corner":
            # straight: a corner's handles are removed
            return Node(node.at) if node.kind != "corner" else node
        if not run.closed and i in (0, n - 1):
            return node
        prev, nxt = run.nodes[i - 1].at, run.nodes[(i + 1) % n].at
        x, y = node.at
        before = node.before or _thirds(prev, node.at)[1]
        after = node.after or _thirds(node.at, nxt)[0]
        a, b = math.hypot(before[0] - x, before[1] - y), math.hypot(after[0] - x, after[1] - y)
        if a == 0:
            a = math.dist(prev, node.at) / 3
        if b == 0:
            b = math.dist(nxt, node.at) / 3
        ux, uy = (
            (after[0] - x) / (b or 1) - (before[0] - x) / (a or 1),
            (after[1] - y) / (b or 1) - (before[1] - y) / (a or 1),
        )
        size = math.hypot(ux, uy)
        if size < 1e-12:
            ux, uy = nxt[0] - prev[0], nxt[1] - prev[1]
            size = math.hypot(ux, uy) or 1.0
        ux, uy = ux / size, uy / size
        if kind == "symmetric":
            a = b = (a + b) / 2
        return Node(node.at, (x - a * ux, y - a * uy), (x + b * ux, y + b * uy))

    return _mapped(path, chosen, make)


def set_segments(path: Path, chosen: Iterable[int], kind: str) -> Path:
    """Return the path with the segments between chosen neighbours made a "line" or a "curve".

    One chosen node alone means the segment after it.
    """
    if kind not in ("line", "curve"):
        raise OutlineError(f"there is no segment kind {kind!r}; use line or curve")
    found = runs(path)
    wanted = set(chosen)
    for n in wanted:
        _find(found, n)
    out = []
    base = 0
    for run in found:
        n = len(run.nodes)
        nodes = list(run.nodes)
        for i in range(n if run.closed else n - 1):
            j = (i + 1) % n
            if base + i not in wanted or (len(wanted) > 1 and base + j not in wanted):
                continue
            if kind == "line":
                nodes[i], nodes[j] = replace(nodes[i], after=None), replace(nodes[j], before=None)
            elif nodes[i].after is None and nodes[j].before is None:
                near, far = _thirds(nodes[i].at, nodes[j].at)
                nodes[i], nodes[j] = replace(nodes[i], after=near), replace(nodes[j], before=far)
        base += n
        out.append(CurveRun(tuple(nodes), run.closed))
    return of_runs(out, path.fill_rule)


def break_at(path: Path, number: int) -> Path:
    """Return the path cut at a node: a closed subpath opens there, an open one is split in two."""
    found = runs(path)
    r, i = _find(found, number)
    run = found[r]
    nodes = run.nodes
    if run.closed:
        again = (*nodes[i:], *nodes[:i], nodes[i])
        made = [CurveRun((replace(again[0], before=None), *again[1:-1], replace(again[-1], after=None)), False)]
    elif i in (0, len(nodes) - 1):
        raise OutlineError("an end of a line is broken off already")
    else:
        made = [
            CurveRun((*nodes[:i], replace(nodes[i], after=None)), False),
            CurveRun((replace(nodes[i], before=None), *nodes[i + 1 :]), False),
        ]
    return of_runs([*found[:r], *made, *found[r + 1 :]], path.fill_rule)


def _reversed(run: CurveRun) -> CurveRun:
    return CurveRun(tuple(Node(n.at, n.after, n.before) for n in reversed(run.nodes)), run.closed)


def join_nodes(path: Path, first: int, second: int) -> Path:
    """Return the path with two ends joined: at one point if they coincide, else by a line.

    Joining the two ends of one line closes it. Raises OutlineError if either is not an end.
    """
    found = runs(path)
    (ra, ia), (rb, ib) = _find(found, first), _find(found, second)
    for r, i in ((ra, ia), (rb, ib)):
        if found[r].closed or i not in (0, len(found[r].nodes) - 1):
            raise OutlineError("only ends of open lines can be joined")
    if (ra, ia) == (rb, ib):
        raise OutlineError("an end cannot be joined with itself")

    def meet(tail: Node, head: Node) -> list[Node]:
        if math.dist(tail.at, head.at) <= 1e-9 * (1 + math.hypot(*tail.at)):
            return [Node(tail.at, tail.before, _shifted(head.after, tail.at[0] - head.at[0], tail.at[1] - head.at[1]))]
        return [tail, head]

    if ra == rb:
        nodes = list(found[ra].nodes)
        joint = meet(nodes[-1], nodes[0])
        nodes = [*joint, *nodes[1:-1]] if len(joint) == 1 else nodes
        return of_runs([*found[:ra], CurveRun(tuple(nodes), True), *found[ra + 1 :]], path.fill_rule)
    a = found[ra] if ia else _reversed(found[ra])
    b = found[rb] if not ib else _reversed(found[rb])
    made = CurveRun((*a.nodes[:-1], *meet(a.nodes[-1], b.nodes[0]), *b.nodes[1:]), False)
    rest = [run for k, run in enumerate(found) if k not in (ra, rb)]
    at = min(ra, rb)
    return of_runs([*rest[:at], made, *rest[at:]], path.fill_rule)


def align_nodes(path: Path, chosen: Iterable[int], side: str) -> Path:
    """Return the path with nodes aligned: "left", "centre", "right", "top", "middle" or "bottom" of their box."""
    numbers = sorted(set(chosen))
    if len(numbers) < 2:
        raise OutlineError("two nodes or more are needed to align them")
    found = runs(path)
    points = [found[r].nodes[i].at for r, i in (_find(found, n) for n in numbers)]
    axis = {"left": 0, "centre": 0, "right": 0, "top": 1, "middle": 1, "bottom": 1}.get(side)
    if axis is None:
        raise OutlineError(f"there is no side {side!r}; use left, centre, right, top, middle or bottom")
    values = [p[axis] for p in points]
    low, high = min(values), max(values)
    target = {"left": low, "top": low, "right": high, "bottom": high}.get(side, (low + high) / 2)

    def make(node: Node, run: CurveRun, i: int) -> Node:
        by = target - node.at[axis]
        return _moved(node, by if axis == 0 else 0.0, by if axis == 1 else 0.0)

    return _mapped(path, numbers, make)


def nearest(path: Path, x: float, y: float) -> tuple[int, float, float]:
    """Return (curve, parameter, distance) of the point on `path` nearest to a point, excluding its curves' ends.

    Raises OutlineError for an empty path.
    """
    ctrl = path._arrays[0]
    if not len(ctrl):
        raise OutlineError("an empty path has no place")
    target = np.array([x, y])
    t = np.linspace(0, 1, 65)
    best = (0, 0.5, math.inf)
    for k, c in enumerate(ctrl):
        gaps = np.hypot(*(point_at(c, t) - target).T)
        i = int(gaps.argmin())
        if gaps[i] >= best[2]:
            continue
        low, high = t[max(0, i - 1)], t[min(64, i + 1)]
        for _ in range(40):
            a, b = low + (high - low) * 0.382, low + (high - low) * 0.618
            near, far = (float(np.hypot(*(point_at(c, np.array([v]))[0] - target))) for v in (a, b))
            low, high = (low, b) if near < far else (a, high)
        u = float(min(1 - 1e-3, max(1e-3, (low + high) / 2)))
        best = (k, u, float(np.hypot(*(point_at(c, np.array([u]))[0] - target))))
    return best
