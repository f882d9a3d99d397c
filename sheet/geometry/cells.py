"""Cells named by the pieces that contain them, so that a choice of cells survives when pieces move.

If the same pieces contain several cells, each name has a point in its cell as well, and the cells are
found again by matching points: the pairs whose squared distances have the least sum, which
is the same wherever the whole was moved.
"""

from collections import Counter
from collections.abc import Sequence

import numpy as np

from outline import Path, PlanarMap, inner_point
from sheet.document.model import CellChoice, NamedCell

__all__ = ["choice_of", "chosen_faces", "found", "naming", "without_piece"]

MAX_TRIED = 60
"""Up to this many points, matches are improved by exchange; beyond, nearest first is enough."""

Faces = list[tuple[int, Path]]


def _inside(m: PlanarMap, areas: int) -> np.ndarray:
    return np.stack([m.in_path(k) for k in range(areas)], axis=1)


def _signs(contains: np.ndarray, numbers: Sequence[int], faces: Faces) -> list[tuple[int, ...]]:
    """Return for each face the numbers of the pieces that contain it."""
    return [tuple(numbers[k] for k in np.flatnonzero(contains[f]).tolist()) for f, _ in faces]


def naming(m: PlanarMap, numbers: Sequence[int], chosen: set[int]) -> tuple[NamedCell, ...]:
    """Return names by which the faces `chosen` (numbers in the map) can be found again.

    `numbers` says which piece of the cut list each path of the map is, in rising order.
    """
    faces = m.faces()
    signs = _signs(_inside(m, len(numbers)), numbers, faces)
    several = Counter(signs)
    signs_chosen = {sign for sign, (face, _) in zip(signs, faces, strict=True) if face in chosen}
    out: list[NamedCell] = []
    for sign, (face, path) in zip(signs, faces, strict=True):
        if sign in signs_chosen:
            out.append(NamedCell(sign, None if several[sign] == 1 else inner_point(path), face in chosen))
    return tuple(out)


def found(m: PlanarMap, numbers: Sequence[int], cells: Sequence[NamedCell]) -> list[list[int]]:
    """Return the faces that each named cell is now: none if it is gone, several if it was divided."""
    contains = _inside(m, len(numbers))
    number_of = {piece: k for k, piece in enumerate(numbers)}
    out: list[list[int]] = [[] for _ in cells]
    by_sign: dict[tuple[int, ...], list[int]] = {}
    for k, cell in enumerate(cells):
        by_sign.setdefault(cell.inside, []).append(k)
    drawn: Faces | None = None
    for sign, named in by_sign.items():
        if any(piece not in number_of for piece in sign):
            continue
        want = np.zeros(len(numbers), np.bool_)
        want[[number_of[piece] for piece in sign]] = True
        same = (contains == want).all(axis=1)
        same[0] = False
        pointed = [(k, at) for k in named if (at := cells[k].at) is not None]
        if len(pointed) < len(named) or not same.any():
            out[named[0]] = np.flatnonzero(same).tolist()
            continue
        drawn = m.faces() if drawn is None else drawn
        here = [(f, inner_point(path)) for f, path in drawn if same[f]]
        places = np.array([at for _, at in pointed])
        for (face, _), k in zip(here, _paired(np.array([p for _, p in here]), places), strict=True):
            out[pointed[k][0]].append(face)
    return out


def _paired(here: np.ndarray, named: np.ndarray) -> list[int]:
    """Return for each point of `here` the number of its match among `named`.

    One to one as far as possible, with the least sum of squared distances; the rest
    match the nearest.
    """
    far = ((here[:, None, :] - named[None, :, :]) ** 2).sum(axis=2)
    out = [-1] * len(here)
    free = set(range(len(named)))
    for flat in np.argsort(far, axis=None, kind="stable").tolist():
        a, b = divmod(flat, len(named))
        if out[a] < 0 and b in free:
            out[a] = b
            free.remove(b)
        if not free:
            break
    if len(here) <= MAX_TRIED and len(named) <= MAX_TRIED:
        _exchange(far, out, free)
    return [int(far[a].argmin()) if b < 0 else b for a, b in enumerate(out)]


def _exchange(far: np.ndarray, out: list[int], free: set[int]) -> None:
    """Improve the matches, two at a time, or one with a free point, until nothing improves them."""
    bettered = True
    while bettered:
        bettered = False
        paired = [a for a, b in enumerate(out) if b >= 0]
        for a in paired:
            for spare in sorted(free):
                if far[a, spare] < far[a, out[a]] * (1 - 1e-12):
                    free.add(out[a])
                    free.remove(spare)
                    out[a] = spare
                    bettered = True
            for b in paired:
                now = far[a, out[a]] + far[b, out[b]]
                if a < b and far[a, out[b]] + far[b, out[a]] < now * (1 - 1e-12):
                    out[a], out[b] = out[b], out[a]
                    bettered = True


def chosen_faces(m: PlanarMap, numbers: Sequence[int], choice: CellChoice) -> np.ndarray:
    """Return whether each face is part of an outline (one bool per face): those chosen, or its base without them."""
    label = np.zeros(len(m.in_path(0)), np.bool_)
    if not numbers:
        return label
    faces = found(m, numbers, choice.cells)
    label[[f for cell, its in zip(choice.cells, faces, strict=True) if cell.chosen for f in its]] = True
    if choice.without:
        label = m.in_path(0) & ~label if numbers[0] == 0 else np.zeros(len(label), np.bool_)
    return label


def choice_of(m: PlanarMap, numbers: Sequence[int], made: np.ndarray, without: bool) -> CellChoice:
    """Return the choice for an outline `made` of faces (one bool each): its base `without` some, if possible."""
    base = m.in_path(0)
    if without and not (made & ~base).any():
        return CellChoice(naming(m, numbers, set(np.flatnonzero(base & ~made).tolist())), True)
    return CellChoice(naming(m, numbers, set(np.flatnonzero(made).tolist())))


def without_piece(choice: CellChoice, number: int) -> CellChoice:
    """Return the choice for the pieces without one of them.

    Cells that it shared stay with the other pieces; what was removed with it comes back.
    """
    cells: dict[tuple[tuple[int, ...], tuple[float, float] | None], NamedCell] = {}
    for cell in choice.cells:
        if number in cell.inside and (choice.without or len(cell.inside) == 1):
            continue
        inside = tuple(k - (k > number) for k in cell.inside if k != number)
        # when cells merge, one that was chosen counts
        known = cells.get((inside, cell.at))
        cells[inside, cell.at] = NamedCell(inside, cell.at, cell.chosen or (known is not None and known.chosen))
    return CellChoice(tuple(cells.values()), choice.without)
