"""What each operation would give for the chosen pieces: one planar map answers all."""

from dataclasses import dataclass

from outline import MapError, Path, PlanarMap

from . import geometry
from .model import Piece
from .parts import SEVERAL, parts

__all__ = ["Card", "cards", "WORDS"]

WORDS = {
    "union": "Union",
    "subtract": "Subtract",
    "subtract_back": "Subtract back",
    "intersect": "Intersect",
    "exclude": "Exclude",
    "divide": "Divide",
    "visible": "Visible parts",
    "joined": "Joined by paint",
    "inside_top": "Inside the top",
    "loose": "Loose edges",
}
"""The operations in the order of their cards."""


@dataclass(frozen=True, slots=True)
class Card:
    """One operation: its results with the number of the piece whose paint each takes, what falls away,
    how many nodes, parts or lines it has, and why it cannot be done."""

    operation: str
    word: str
    results: tuple[tuple[Path, int], ...]
    away: Path
    count: int = 0
    unit: str = ""
    why: str = ""


def _why_not(operation: str) -> str:
    return {
        "intersect": "They have no part in common.",
        "subtract": "Nothing of the base would be left.",
        "subtract_back": "Nothing of the top piece would be left.",
        "inside_top": "The top piece covers none of the others.",
    }.get(operation, "These pieces hold no area.")


def cards(pieces: list[Piece], base: int = 0) -> list[Card]:
    """Return a card for each operation on `pieces` (lowest first), with piece number `base` as the base.

    "Subtract back" takes the topmost piece that is not the base as the base.
    """
    if len(pieces) < 2:
        need = "two pieces" if not pieces else "one more piece"
        return [Card(o, w, (), Path(), why=f"Choose {need} first.") for o, w in WORDS.items()]
    lines = [k for k, p in enumerate(pieces) if geometry.is_line(p)]
    areas = [k for k in range(len(pieces)) if k not in lines]
    if not areas:
        return [Card(o, w, (), Path(), why="Open lines hold no area: choose a closed piece.") for o, w in WORDS.items()]
    if base in lines:
        base = areas[0]
    try:
        m = PlanarMap([geometry.outline_of(pieces[k]) for k in areas], [geometry.outline_of(pieces[k]) for k in lines])
    except MapError as error:
        return [Card(o, w, (), Path(), why=str(error)) for o, w in WORDS.items()]
    whole = m.held_by_any()
    back = next((k for k in reversed(areas) if k != base), base)
    owners = [pieces[k] for k in areas]
    out = []
    for operation, word in WORDS.items():
        found: list[tuple[Path, int]]
        why = ""
        unit = "nodes"
        if operation in SEVERAL:
            unit = "lines" if operation == "loose" else "parts"
            found = [(path, areas[k]) for path, k in parts(operation, m, owners)]
        elif lines and operation != "subtract":
            found, why = [], f"“{pieces[lines[0]].name}” is an open line: divide or subtract with it."
        elif lines:
            # the base falls apart along the lines
            unit = "parts"
            own = areas.index(base)
            found = [(c.path, base) for c in m.cells if c.inside == {own}]
        else:
            owner = back if operation == "subtract_back" else base
            chosen = {
                "union": lambda: whole,
                "subtract": lambda: m.held_by_only(base),
                "subtract_back": lambda: m.held_by_only(back),
                "intersect": m.held_by_all,
                "exclude": m.held_by_odd,
            }[operation]()
            path = m.region(chosen)
            found = [] if path.is_empty else [(path, owner)]
        away = Path()
        if found and operation == "inside_top":
            away = m.region(whole & ~m.held_by_top())
        elif found and lines and operation == "subtract":
            away = m.region(whole & ~m.held_by_only(areas.index(base)))
        elif found and operation not in SEVERAL and operation != "union":
            away = m.region(whole & ~chosen)
        count = found[0][0].node_count if found and unit == "nodes" else len(found)
        out.append(
            Card(operation, word, tuple(found), away, count, unit, why or ("" if found else _why_not(operation)))
        )
    return out
