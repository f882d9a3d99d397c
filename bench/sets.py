"""SVG files of open sets held against resvg: how many look as it draws them, and how long reading them takes; and how
long files of 99 kB take that ask for as much as they can."""

import statistics
from collections.abc import Iterator

from outline.path.kernel import load_all
from picture.errors import PictureError
from picture.svg_in.read import read_svg
from tests.picture.dense import dense_files
from tests.picture.sets import SETS, held

from .timing import best

__all__ = ["run"]


def run() -> Iterator[tuple[str, float, str]]:
    """Give the share of each set that is within 1 and 5 per cent of the px, and its median and slowest reading (s)."""
    load_all()
    for archive in SETS:
        files = list(held(archive))
        for most in (0.01, 0.05):
            share = sum(f.off <= most for f in files) / len(files)
            yield f"{archive}: share within {most:.0%}", share, "at least 0.99"
        yield f"{archive}: median of reading, s", statistics.median(f.seconds for f in files), ""
        yield f"{archive}: slowest of reading, s", max(f.seconds for f in files), "1"
    for name, data, _ in dense_files(99_000):
        how = _read(data)
        yield f"99 kB of {name}: {how}, s", best(lambda data=data: _read(data), 3), "1"


def _read(data: bytes) -> str:
    """Read a file if it has no more than a sheet has room for; return what was done."""
    try:
        read_svg(data, "dense.svg", 1.0)
    except PictureError:
        return "refusing"
    return "reading"
