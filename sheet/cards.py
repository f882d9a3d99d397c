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
    try:
        m = PlanarMap([geometry.outline_of(p) for p in pieces])
    except MapError as error:
        return [Card(o, w, (), Path(), why=str(error)) for o, w in WORDS.items()]
    whole = m.union()
    back = len(pieces) - 1 if base != len(pieces) - 1 else 0
    single = {
        "union": (whole, base),
        "subtract": (m.subtract(base), base),
        "subtract_back": (m.subtract(back), back),
        "intersect": (m.intersect(), base),
        "exclude": (m.exclude(), base),
    }
    out = []
    for operation, word in WORDS.items():
        if operation in SEVERAL:
            results = tuple(parts(operation, m, pieces))
            unit = "lines" if operation == "loose" else "parts"
            count = len(results)
            away = Path()
            if operation == "inside_top" and results:
                away = PlanarMap([whole, *(path for path, _ in results)]).subtract()
        else:
            results = (single[operation],) if not single[operation][0].is_empty else ()
            unit, count = "nodes", single[operation][0].node_count
            away = PlanarMap([whole, results[0][0]]).subtract() if results else Path()
        out.append(Card(operation, word, results, away, count, unit, "" if results else _why_not(operation)))
    return out
