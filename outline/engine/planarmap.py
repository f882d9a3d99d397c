"""One planar map of several paths, and the questions asked of it."""

from collections.abc import Hashable, Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from outline.path.errors import Certificate, MapError, PathError
from outline.path.kernel import entry
from outline.path.path import Path
from outline.path.tolerance import TRIES

from .boolean import SetOperation, combine
from .build import build_map
from .classify import WORD
from .trace import connected, trace_lines, trace_regions

__all__ = ["PlanarMap", "Cell", "combined", "combined_curves"]

_combine, _build_map, _connected = entry(combine), entry(build_map), entry(connected)
_trace_regions, _trace_lines = entry(trace_regions), entry(trace_lines)


UNSORTED = "these outlines could not be sorted out; move one of them a little"


@dataclass(frozen=True, slots=True)
class Cell:
    """One bounded face: its region, and which inputs hold it (their indices)."""

    path: Path
    inside: frozenset[int]


class PlanarMap:
    """The planar map of `paths` (filled) and `cutters` (lines that only divide).

    Raises MapError if the map stays inconsistent at every tolerance tried. All
    results read the same under both fill rules.

    >>> a, b = Path.from_svg("M0 0H4V4H0Z"), Path.from_svg("M2 2H6V6H2Z")
    >>> m = PlanarMap([a, b])
    >>> [m.union().area, m.intersect().area, m.exclude().area, m.subtract().area]
    [28.0, 4.0, 24.0, 12.0]
    >>> len(m.cells)
    3
    """

    def __init__(self, paths: Iterable[Path], cutters: Iterable[Path] = ()):
        self.paths = list(paths)
        self.cutters = list(cutters)
        for p in (*self.paths, *self.cutters):
            if not isinstance(p, Path):
                raise PathError(f"a Path is wanted, not {type(p).__name__}")
        curves = [p.closed_curves() for p in self.paths]
        curves += [p._arrays[:2] for p in self.cutters]
        self._n = len(self.paths)
        counts = [len(c) for c, _ in curves]
        if sum(counts) == 0:
            self._ctrl = np.empty((0, 8))
            self._empty = True
            self.tolerance = 0.0
            return
        self._empty = False
        self._ctrl = np.concatenate([c for c, _ in curves])
        kind = np.concatenate([k for _, k in curves])
        source = np.repeat(np.arange(len(curves), dtype=np.int32), counts)
        # cutters border nothing
        source[source >= self._n] = -1
        rule = np.array([p.fill_rule == "evenodd" for p in self.paths], np.int8)
        certificates, self.tolerance, *parts = _build_map(self._ctrl, kind, source, rule, False)
        self.certificates = tuple(Certificate(c) for c in certificates)
        if len(certificates) == TRIES:
            raise MapError(UNSORTED, certificates)
        self._at, self._e_ctrl, self._e_num, self._e_range, self._nxt, self._left, self._bits = parts

    # -- checking

    def check_structure(self) -> None:
        """Raise MapError if the map contradicts itself: half-edges, Euler's formula, or the inputs that contain a face.

        Each half-edge is followed by one that begins where it ends and has the same face at its
        left; edges end at their vertices; V - E + F = 1 + C for C components; nothing lies in the
        face outside; and a point of a face is in exactly those paths that the map says.
        """
        if self._empty or not len(self._e_num):
            return
        ends, n = self._e_num[:, :2], 2 * len(self._e_num)
        starts, stops = ends.reshape(-1), ends[:, ::-1].reshape(-1)
        if not np.array_equal(np.sort(self._nxt), np.arange(n)):
            raise MapError("a half-edge follows none or several", [Certificate.OUTER_CYCLE])
        if (starts[self._nxt] != stops).any() or (self._left[self._nxt] != self._left).any():
            raise MapError("a half-edge is followed by one of elsewhere", [Certificate.OUTER_CYCLE])
        apart = np.abs(self._e_ctrl[:, [0, 1, 6, 7]] - self._at[ends].reshape(-1, 4)).max()
        if apart > 4 * self.tolerance:
            raise MapError(f"an edge ends {apart:g} from its vertex", [Certificate.EULER])
        used = np.unique(ends)
        faces = len(self._bits)
        if not np.array_equal(np.unique(self._left), np.arange(faces)):
            raise MapError("a face has no border", [Certificate.EULER])
        components = _components(np.searchsorted(used, ends), len(used))
        if len(used) - len(ends) + faces != 1 + components:
            raise MapError(
                f"{len(used)} vertices - {len(ends)} edges + {faces} faces is not 1 + {components}", [Certificate.EULER]
            )
        if self._bits[0].any():
            raise MapError("something lies in the face outside", [Certificate.WINDINGS])
        self._check_insides()

    def _check_insides(self) -> None:
        """Raise MapError if a point of a face is in other paths than the map says."""
        inside = [self._in_path(i) for i in range(self._n)]
        middle = (self._e_ctrl[:, 0:2] + 3 * (self._e_ctrl[:, 2:4] + self._e_ctrl[:, 4:6]) + self._e_ctrl[:, 6:8]) / 8
        chord = self._e_ctrl[:, 6:8] - self._e_ctrl[:, 0:2]
        size = np.hypot(chord[:, 0], chord[:, 1])
        for face, region in self.faces():
            sides = np.flatnonzero(self._left == face)
            side = int(sides[np.argmax(size[sides >> 1])])
            edge, way = side >> 1, 1 - 2 * (side & 1)
            if size[edge] < 64 * self.tolerance:
                continue
            # left of the direction (dx, dy) is (-dy, dx)
            left = way * np.array([-chord[edge, 1], chord[edge, 0]]) / size[edge]
            point = middle[edge] + max(16 * self.tolerance, 1e-3 * size[edge]) * left
            place = (float(point[0]), float(point[1]))
            # anything thinner is inconclusive
            if not region.contains(place):
                continue
            for i, path in enumerate(self.paths):
                if path.contains(place) != bool(inside[i][face]):
                    raise MapError(f"path {i} lies otherwise in face {face}", [Certificate.WINDINGS])

    # -- queries

    def _in_path(self, i: int) -> np.ndarray:
        inside: np.ndarray = (self._bits[:, i // WORD] >> (i % WORD)) & 1 == 1
        return inside

    def _counts(self) -> np.ndarray:
        counts: np.ndarray = np.bitwise_count(self._bits).sum(axis=1, dtype=np.int64)
        return counts

    def _any(self) -> np.ndarray:
        inside: np.ndarray = self._bits.any(axis=1)
        return inside

    def drawn(self, label: np.ndarray) -> dict[int, Path]:
        """Return the region of every label >= 0 (one int32 per face) that has a border."""
        out, kind, starts, names = _trace_regions(
            self._ctrl, self._at, self._e_num, self._e_range, self._nxt, self._left,
            label.astype(np.int32), self.tolerance,
        )  # fmt: skip
        regions: dict[int, Path] = {}
        if len(names) == 0:
            return regions
        if (names == names[0]).all():
            return {int(names[0]): Path._of_loops(out, kind, starts)}
        order = np.argsort(names, kind="stable")
        found, first = np.unique(names[order], return_index=True)
        ends = np.append(first[1:], len(order))
        spans = list(zip(starts[:-1].tolist(), starts[1:].tolist(), strict=True))
        for name, a, b in zip(found.tolist(), first.tolist(), ends.tolist(), strict=True):
            rows = [spans[k] for k in order[a:b].tolist()]
            sizes = [0]
            for start, end in rows:
                sizes.append(sizes[-1] + end - start)
            if len(rows) == 1:
                ((start, end),) = rows
                regions[name] = Path._of_loops(out[start:end], kind[start:end], np.array(sizes, np.int32))
                continue
            regions[name] = Path._of_loops(
                np.concatenate([out[start:end] for start, end in rows]),
                np.concatenate([kind[start:end] for start, end in rows]),
                np.array(sizes, np.int32),
            )
        return regions

    def region(self, chosen: np.ndarray) -> Path:
        """Return the union of the faces where `chosen` (one bool per face) holds."""
        if self._empty or not chosen.any():
            return Path()
        label = np.where(chosen, 0, -1)
        label[0] = -1
        return self.drawn(label).get(0, Path())

    # Each query is a choice of faces, one bool per face: `region` draws it.

    def in_any(self) -> np.ndarray:
        """Select the faces that any of the paths holds."""
        return np.zeros(1, np.bool_) if self._empty else self._any()

    def in_all(self) -> np.ndarray:
        """Select the faces that all of the paths hold."""
        if self._empty or self._n == 0:
            return np.zeros(1 if self._empty else len(self._bits), np.bool_)
        all_of_them: np.ndarray = self._counts() == self._n
        return all_of_them

    def in_path(self, number: int) -> np.ndarray:
        """Select the faces that path `number` holds."""
        return np.zeros(1, np.bool_) if self._empty else self._in_path(number)

    def in_odd(self) -> np.ndarray:
        """Select the faces that an odd number of the paths holds."""
        odd: np.ndarray = self._counts() % 2 == 1 if not self._empty else np.zeros(1, np.bool_)
        return odd

    def in_only(self, base: int) -> np.ndarray:
        """Select the faces that path number `base` holds and no other does."""
        only: np.ndarray = self._in_path(base) & (self._counts() == 1) if not self._empty else np.zeros(1, np.bool_)
        return only

    def in_top(self) -> np.ndarray:
        """Select the faces that the last path holds together with another one."""
        if self._empty or self._n == 0:
            return np.zeros(1 if self._empty else len(self._bits), np.bool_)
        both: np.ndarray = self._in_path(self._n - 1) & (self._counts() > 1)
        return both

    def union(self) -> Path:
        """Return what any of the paths holds."""
        return self.region(self.in_any())

    def intersect(self) -> Path:
        """Return what all of the paths hold."""
        return self.region(self.in_all())

    def exclude(self) -> Path:
        """Return what an odd number of the paths holds."""
        return self.region(self.in_odd())

    def subtract(self, base: int = 0) -> Path:
        """Return what path number `base` holds and no other does."""
        return self.region(self.in_only(base))

    def divide(self) -> list[Path]:
        """Return every bounded face that some path holds, as one path each."""
        return [cell.path for cell in self.cells if cell.inside]

    @property
    def vertices(self) -> np.ndarray:
        """Where edges meet, (n, 2) in sheet units."""
        if self._empty:
            return np.empty((0, 2))
        used: np.ndarray = self._at[np.unique(self._e_num[:, :2])]
        return used

    @property
    def cells(self) -> list[Cell]:
        """Every bounded face that is not hidden in a sliver, with the inputs that hold it.

        Faces that no path holds (between cutters, or holes inside rings) are there too,
        with an empty inside-set.
        """
        if self._empty:
            return []
        inside = [self._in_path(i) for i in range(self._n)]
        return [Cell(path, frozenset(i for i in range(self._n) if inside[i][face])) for face, path in self.faces()]

    def faces(self) -> list[tuple[int, Path]]:
        """Return (number, region) of every bounded face that is not hidden in a sliver, by number."""
        if self._empty:
            return []
        label = np.arange(len(self._bits), dtype=np.int32)
        label[0] = -1
        return sorted(self.drawn(label).items(), key=lambda pair: pair[0])

    def visible_parts(self) -> list[Path]:
        """Return each path less what is over it; the last path is the top one."""
        if self._empty:
            return [Path() for _ in self.paths]
        regions = self.drawn(self.topmost())
        return [regions.get(i, Path()) for i in range(self._n)]

    def topmost(self, most: int | None = None) -> np.ndarray:
        """Return the number of the top path, among the first `most` or all, that holds each face; -1 if none does.

        One int32 per face.
        """
        if self._empty:
            return np.full(1, -1, np.int32)
        label = np.full(len(self._bits), -1, np.int32)
        for k, bits in enumerate(self._bits.T):
            if most is not None:
                bits = bits & ((1 << min(max(most - k * WORD, 0), WORD)) - 1)
            # as many as are below the highest bit, and it
            for by in (1, 2, 4, 8, 16, 32):
                bits = bits | bits >> by
            number = np.bitwise_count(bits).astype(np.int32)
            label[number > 0] = k * WORD + number[number > 0] - 1
        label[0] = -1
        return label

    def drawn_apart(self, label: np.ndarray) -> list[tuple[Path, int]]:
        """Return (region, label) of each connected region of faces of one label >= 0."""
        if self._empty:
            return []
        groups = _connected(self._left, label.astype(np.int32))
        return [(path, int(label[face])) for face, path in sorted(self.drawn(groups).items())]

    def visible_joined(self, paints: Sequence[Hashable]) -> list[tuple[Hashable, Path]]:
        """Return what is visible, with neighbours of equal paint merged: (paint, region) of each connected region.

        `paints` has one paint per path; the last path is the top one. Raises ValueError
        where their numbers differ.
        """
        if len(paints) != self._n:
            raise ValueError(f"{self._n} paths need {self._n} paints, not {len(paints)}")
        if self._empty:
            return []
        number = {paint: k for k, paint in reversed(list(enumerate(paints)))}
        of_path = np.array([number[p] for p in paints] + [-1], np.int32)
        return [(paints[k], path) for path, k in self.drawn_apart(of_path[self.topmost()])]

    def inside_top(self) -> list[Path]:
        """Return each path but the last, kept where the last one covers it."""
        if self._empty or self._n == 0:
            return []
        top = self._in_path(self._n - 1)
        return [self.region(top & self._in_path(i)) for i in range(self._n - 1)]

    def loose_edges(self, label: np.ndarray | None = None) -> list[Path]:
        """Return every piece of border between crossings as an open path; a border without a crossing is closed.

        With `label` (one int32 per face), only the borders between faces of different labels.
        """
        if self._empty or len(self._e_num) == 0:
            return []
        return self._lines(None if label is None else self._parting(label))

    def shared_border(self, chosen: np.ndarray, number: int) -> list[Path]:
        """Return every piece between crossings of the border of chosen faces (one bool per face) that is border of path
        `number` too, as open paths."""
        if self._empty or len(self._e_num) == 0:
            return []
        return self._lines(self._parting(chosen) & self._parting(self._in_path(number)))

    def _parting(self, label: np.ndarray) -> np.ndarray:
        """Return which edges have different labels (one per face) on their left and right."""
        parting: np.ndarray = label[self._left[0::2]] != label[self._left[1::2]]
        return parting

    def _lines(self, which: np.ndarray | None) -> list[Path]:
        numbers, ranges = self._e_num, self._e_range
        if which is not None:
            if not which.any():
                return []
            numbers, ranges = np.ascontiguousarray(numbers[which]), np.ascontiguousarray(ranges[which])
        ctrl, kind, starts, closed = _trace_lines(self._ctrl, self._at, numbers, ranges, self.tolerance)
        out = []
        for k, shut in enumerate(closed.tolist()):
            a, b = int(starts[k]), int(starts[k + 1])
            spans = np.array([0, b - a], np.int32)
            out.append(Path(ctrl[a:b].copy(), kind[a:b].copy(), spans, np.array([shut == 1])))
        return out


def _components(ends: np.ndarray, vertices: int) -> int:
    """Return the number of connected components: `ends` (n, 2) are the vertices of each edge, numbered without gaps."""
    root = np.arange(vertices)
    while True:
        low = np.minimum(root[ends[:, 0]], root[ends[:, 1]])
        before = root.copy()
        np.minimum.at(root, ends[:, 0], low)
        np.minimum.at(root, ends[:, 1], low)
        root = root[root]
        if np.array_equal(before, root):
            return len(np.unique(root))


def combined(paths: Iterable[Path], operation: SetOperation) -> Path:
    """Return the paths combined by one operation, from a temporary map.

    Raises PathError for anything but a Path and MapError if no map came out right.
    """
    curves = []
    rules = []
    for p in paths:
        if not isinstance(p, Path):
            raise PathError(f"a Path is wanted, not {type(p).__name__}")
        curves.append(p.closed_curves())
        rules.append(p.fill_rule == "evenodd")
    counts = [len(c) for c, _ in curves]
    if sum(counts) == 0:
        return Path()
    ctrl, kind = np.concatenate([c for c, _ in curves]), np.concatenate([k for _, k in curves])
    return combined_curves(ctrl, kind, counts, rules, operation)


def combined_curves(
    ctrl: np.ndarray, kind: np.ndarray, counts: Sequence[int], rules: Sequence[int], operation: SetOperation
) -> Path:
    """Return curves (n, 8) of inputs with `counts[i]` curves each combined by one operation.

    A rule is 0 for nonzero, 1 for evenodd and 2 for what winds the way of the map's own
    outer loops. Raises MapError if no map came out right.
    """
    # as a plain number: Numba takes longer to look up an enum member than for a small map
    certificates, *region = _combine(ctrl, kind, np.array(counts, np.int64), np.array(rules, np.int8), int(operation))
    if len(certificates) == TRIES:
        raise MapError(UNSORTED, certificates)
    return Path._of_loops(*region)
