"""SVG files of open sets held against resvg: how many look as it draws them, and how long reading them takes."""

import statistics
from collections.abc import Iterator

from tests.picture.sets import SETS, held

__all__ = ["run"]


def run() -> Iterator[tuple[str, float, str]]:
    """Give the share of each set that is within 1 and 5 per cent of the px, and its median and slowest reading (s)."""
    for archive in SETS:
        files = list(held(archive))
        for most in (0.01, 0.05):
            share = sum(f.off <= most for f in files) / len(files)
            yield f"{archive}: share within {most:.0%}", share, "at least 0.99"
        yield f"{archive}: median of reading, s", statistics.median(f.seconds for f in files), ""
        yield f"{archive}: slowest of reading, s", max(f.seconds for f in files), "1"
