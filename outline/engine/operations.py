"""The operations as free functions: each builds one planar map and asks it one question."""

from collections.abc import Iterable

from outline.path.path import Path

from .boolean import SetOperation
from .planarmap import PlanarMap, combined

__all__ = ["union", "subtract", "intersect", "exclude", "divide", "cleaned"]


def union(paths: Iterable[Path]) -> Path:
    """Return the region that any of `paths` holds.

    >>> square = Path.from_svg("M0 0H2V2H0Z")
    >>> union([square, square.transform((1, 0, 0, 1, 2, 0))]).to_svg()
    'M0 0H4V2H0Z'
    >>> union([]).is_empty
    True
    """
    return combined(paths, SetOperation.UNION)


def subtract(base: Path, cutters: Iterable[Path]) -> Path:
    """Return the region of `base` that none of `cutters` holds.

    >>> square = Path.from_svg("M0 0H2V2H0Z")
    >>> subtract(square, [square]).is_empty
    True
    """
    return combined((base, *cutters), SetOperation.SUBTRACT)


def intersect(paths: Iterable[Path]) -> Path:
    """Return the region that all of `paths` hold; empty if they only touch."""
    return combined(paths, SetOperation.INTERSECT)


def exclude(paths: Iterable[Path]) -> Path:
    """Return the region that an odd number of `paths` holds."""
    return combined(paths, SetOperation.EXCLUDE)


def cleaned(path: Path, least: float) -> Path:
    """Return the region without parts and holes of less than `least` area (square sheet units).

    >>> cleaned(Path.from_svg("M0 0H9V9H0ZM20 0H21V1H20Z"), 2).to_svg()
    'M0 0H9V9H0Z'
    """
    region = union([path])
    kept = [loop for loop, area in zip(region.subpaths, region.loop_areas(), strict=True) if abs(area) >= least]
    # a hole stays a hole: a part that lay in one that is filled now is of it
    return union([Path.gather(kept)]) if kept else Path()


def divide(paths: Iterable[Path], cutters: Iterable[Path] = ()) -> list[Path]:
    """Return every piece that the borders of `paths` and the lines of `cutters` cut the union into.

    Cutters may be open; what of them reaches into a piece without crossing it cuts nothing.

    >>> bar = Path.from_svg("M0 0H9V1H0Z")
    >>> [round(p.area, 9) for p in divide([bar], [Path.from_svg("M3 -1V2")])]
    [3.0, 6.0]
    """
    return PlanarMap(paths, cutters).divide()


Path._filled = staticmethod(lambda path: union([path]))  # type: ignore[assignment]
