"""Forty files each of six open sets, drawn by us and by resvg, for the tests and the bench.

Flags, emoji and icons as they were published: twemoji-svg 15.0.0 (drawings CC BY 4.0), openmoji 17.0.0 (CC BY-SA
4.0), flag-icons 7.5.0, circle-flags 2.8.3 and tabler-icons 3.52.0 (MIT), svg-country-flags 1.2.10 (public domain).
"""

import tarfile
import time
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from picture.svg_in.read import read_svg

from .test_svg_agree import ours, premultiplied, theirs

__all__ = ["SETS", "Held", "held"]

ICONS = Path(__file__).parent / "icons"
SETS = (
    "twemoji-svg-15.0.0-40", "openmoji-17.0.0-40", "flag-icons-7.5.0-40", "circle-flags-2.8.3-40",
    "tabler-icons-3.52.0-40", "svg-country-flags-1.2.10-40",
)  # fmt: skip
NEAR = 0.01
SIDES = (400, 1200)
"""A hairline is mostly edge, where two rasterizers differ: it is looked at once more, larger."""
LEVELS = 24
"""Of 255: more than that apart, a px differs."""


@dataclass(frozen=True, slots=True)
class Held:
    """A file: the share of its px that differ from resvg's, the seconds it took to read, and what was reported."""

    name: str
    off: float
    seconds: float
    told: tuple[str, ...]


def held(archive: str) -> Iterator[Held]:
    """Yield each file of a set, compared with resvg."""
    with tarfile.open(ICONS / f"{archive}.tar.xz") as box:
        for member in box:
            file = box.extractfile(member)
            assert file is not None
            data = file.read()
            began = time.perf_counter()
            drawing = read_svg(data, member.name, 1.0)
            took = time.perf_counter() - began
            x0, y0, x1, y1 = drawing.box
            off = 1.0
            for side in SIDES:
                scale = side / max(x1 - x0, y1 - y0)
                a, b = premultiplied(ours(drawing, scale)), premultiplied(theirs(data, scale))
                # a side is rounded up or down by a px
                if abs(len(a) - len(b)) > 1 or abs(a.shape[1] - b.shape[1]) > 1:
                    break
                h, w = min(len(a), len(b)), min(a.shape[1], b.shape[1])
                off = min(off, float((np.abs(a[:h, :w] - b[:h, :w]).max(axis=2) > LEVELS).mean()))
                if off <= NEAR:
                    break
            yield Held(member.name, off, took, tuple(drawing.unknown))
