"""Operations that make several pieces of the chosen ones, as questions to one planar map."""

from outline import Path, PlanarMap

from .geometry import is_line
from .model import Piece

__all__ = ["SEVERAL", "areas_and_lines", "parts"]

SEVERAL = ("divide", "visible", "joined", "inside_top", "loose")


def areas_and_lines(pieces: list[Piece], operation: str) -> tuple[list[Piece], list[Piece]]:
    """Return the pieces an operation asks of, and the open lines that divide them.

    For loose edges a line is a border like any other; elsewhere than in divide, lines
    take no part.
    """
    if operation == "loose":
        return pieces, []
    areas = [p for p in pieces if not is_line(p)]
    return areas, [p for p in pieces if is_line(p)] if operation == "divide" else []


def parts(operation: str, planar_map: PlanarMap, pieces: list[Piece]) -> list[tuple[Path, int]]:
    """Return (region, number of the piece whose paint it takes), lowest owner first.

    * divide: every face that a piece holds, with the paint of the topmost that does;
    * visible: each piece less what lies over it;
    * joined: the same, neighbours of equal paint made one;
    * inside_top: every lower piece where the top one covers it;
    * loose: every piece of border between crossings, an open path without an owner's fill.
    """
    if operation == "divide":
        found = [(c.path, max(c.inside)) for c in planar_map.cells if c.inside]
    elif operation == "visible":
        found = [(path, k) for k, path in enumerate(planar_map.visible_parts())]
    elif operation == "joined":
        paints = [p.paint for p in pieces]
        found = [(path, paints.index(paint)) for paint, path in planar_map.visible_joined(paints)]  # type: ignore[arg-type]
    elif operation == "inside_top":
        found = [(path, k) for k, path in enumerate(planar_map.inside_top())]
    else:
        found = [(path, len(pieces) - 1) for path in planar_map.loose_edges()]
    # from the lowest owner to the topmost, so that the stack stays as it was
    return sorted(((path, k) for path, k in found if not path.is_empty), key=lambda pair: pair[1])
