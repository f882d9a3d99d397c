"""What each operation would give for the chosen pieces: one planar map answers all."""

from dataclasses import dataclass

from outline import MapError, Path, PlanarMap

from . import geometry
from .model import Piece

__all__ = ["Card", "cards", "OPERATION_WORDS"]

OPERATION_WORDS = ("union", "subtract", "intersect", "exclude", "divide")


@dataclass(frozen=True, slots=True)
class Card:
    """One operation: its results with the index of the piece whose paint they take, what falls away,
    how many nodes or parts it has, and why it cannot be done."""

    operation: str
    results: tuple[tuple[Path, int], ...]
    away: Path
    count: str
    why: str = ""


def cards(pieces: list[Piece], base: int = 0) -> list[Card]:
    """Return a card for each operation on `pieces` (lowest first), with piece number `base` as the base."""
    if len(pieces) < 2:
        need = "two pieces" if not pieces else "one more piece"
        return [Card(o, (), Path(), "", f"Choose {need} first.") for o in OPERATION_WORDS]
    try:
        m = PlanarMap([geometry.outline_of(p) for p in pieces])
    except MapError as error:
        return [Card(o, (), Path(), "", str(error)) for o in OPERATION_WORDS]
    whole = m.union()
    wanted = {
        "union": m.union(),
        "subtract": m.subtract(base),
        "intersect": m.intersect(),
        "exclude": m.exclude(),
    }
    out = []
    for operation, result in wanted.items():
        why = ""
        if result.is_empty:
            why = {
                "intersect": "They have no part in common.",
                "subtract": "Nothing of the base would be left.",
            }.get(operation, "Nothing would be left.")
        away = PlanarMap([whole, result]).subtract() if not result.is_empty else Path()
        out.append(Card(operation, ((result, base),), away, f"{result.node_count}", why))
    cells = [c for c in m.cells if c.inside]
    why = "" if cells else "These pieces hold no area."
    out.append(Card("divide", tuple((c.path, max(c.inside)) for c in cells), Path(), f"{len(cells)} parts", why))
    return out
