"""AVIF files of large pictures: tiles, each encoded by itself, and the grid that they make up.

What an AV1 encoder holds is several times its picture; of a grid it is several times a
tile. The boxes are those of AVIF 1.1 (section 4) upon HEIF (ISO/IEC 23008-12: 6.6.2.3
grids, 6.5.8 auxiliary images) and the file format (ISO/IEC 14496-12); the sizes of tiles
follow MIAF (ISO/IEC 23000-22, 7.3.11.4.2).
"""

import io
import math
import struct
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, Final

import numpy as np
from PIL import Image

from picture.mapped_pixels import let_go
from picture.progress import report_progress

__all__ = ["SINGLE", "gridded"]

TILE: Final = 1536
"""Px a side that a tile has at most."""
SINGLE: Final = 3_000_000
"""A picture of no more px is one image."""
_OPAQUE: Final = b"urn:mpeg:mpegB:cicp:systems:auxiliary:alpha\0"


def _box(kind: bytes, *parts: bytes) -> bytes:
    body = b"".join(parts)
    return struct.pack(">I4s", 8 + len(body), kind) + body


def _full(kind: bytes, *parts: bytes, version: int = 0, flags: int = 0) -> bytes:
    return _box(kind, struct.pack(">I", version << 24 | flags), *parts)


def _boxes(data: bytes, start: int, end: int) -> Iterator[tuple[bytes, int, int]]:
    """Yield the boxes that lie in a stretch of a file: kind, where the content begins and ends."""
    while start + 8 <= end:
        size, kind = struct.unpack_from(">I4s", data, start)
        yield kind, start + 8, start + size
        start += size


@dataclass(frozen=True, slots=True)
class _Coded:
    """An encoded image: its AV1 data, and the properties that say how to decode it."""

    data: bytes
    brands: bytes
    config: bytes
    depth: bytes
    colours: bytes


def _coded(pixels: np.ndarray, **options: Any) -> _Coded:
    """Return pixels (height, width, 3) encoded as one image."""
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "AVIF", **options)
    data = out.getvalue()
    top = {kind: (start, end) for kind, start, end in _boxes(data, 0, len(data))}
    meta = {kind: (start, end) for kind, start, end in _boxes(data, top[b"meta"][0] + 4, top[b"meta"][1])}
    properties = {kind: place for kind, *place in _boxes(data, *meta[b"iprp"])}[b"ipco"]
    properties_by_kind = {kind: data[start - 8 : end] for kind, start, end in _boxes(data, *properties)}
    start, end = top[b"mdat"]
    return _Coded(
        data[start:end],
        data[slice(*top[b"ftyp"])],
        properties_by_kind[b"av1C"],
        properties_by_kind[b"pixi"],
        properties_by_kind[b"colr"],
    )


def _sides(length: int) -> tuple[int, int]:
    """Return into how many tiles a side is cut, and the px of each: even, and together no less."""
    count = math.ceil(length / TILE)
    return count, math.ceil(length / count / 2) * 2


def _tiles(pixels: np.ndarray) -> Iterator[np.ndarray]:
    """Yield the tiles row by row, those at the right and the bottom lengthened by their last px."""
    height, width, _ = pixels.shape
    (across, wide), (down, high) = _sides(width), _sides(height)
    for y in range(0, down * high, high):
        for x in range(0, across * wide, wide):
            tile = pixels[y : y + high, x : x + wide]
            lacking = (0, high - tile.shape[0]), (0, wide - tile.shape[1]), (0, 0)
            yield np.pad(tile, lacking, "edge") if any(n for _, n in lacking) else tile
        let_go(pixels)
        report_progress(min(1.0, (y + high) / height))


class _File:
    """The items and properties of a file in the making."""

    def __init__(self) -> None:
        self.items: list[tuple[bytes, int]] = []
        self.data: list[bytes] = []
        self.properties: list[bytes] = []
        self.owned: list[list[int]] = []
        self.references: list[bytes] = []

    def property(self, box: bytes, essential: bool = False) -> int:
        if box not in self.properties:
            self.properties.append(box)
        return self.properties.index(box) + 1 | (0x80 if essential else 0)

    def item(self, kind: bytes, data: bytes, owned: list[int], hidden: bool = False) -> int:
        self.items.append((kind, int(hidden)))
        self.data.append(data)
        self.owned.append(owned)
        return len(self.items)

    def reference(self, kind: bytes, source: int, targets: list[int]) -> None:
        self.references.append(_box(kind, struct.pack(f">HH{len(targets)}H", source, len(targets), *targets)))

    def grid(self, tiles: list[_Coded], size: tuple[int, int], properties_by_kind: list[bytes]) -> int:
        """Add an image of `size` that is made of tiles, with properties of its own; return its number."""
        (across, wide), (down, high) = _sides(size[0]), _sides(size[1])
        grid = struct.pack(">BBBBII", 0, 1, down - 1, across - 1, *size)
        shape = self.property(_full(b"ispe", struct.pack(">II", *size)))
        owned = [shape, self.property(tiles[0].depth), *(self.property(t) for t in properties_by_kind)]
        number = self.item(b"grid", grid, owned)
        tile = self.property(_full(b"ispe", struct.pack(">II", wide, high)))
        cells = []
        for coded in tiles:
            how = [self.property(coded.depth), self.property(coded.config, True), self.property(coded.colours)]
            cells.append(self.item(b"av01", coded.data, [tile, *how], hidden=True))
        self.reference(b"dimg", number, cells)
        return number

    def written(self, brands: bytes) -> bytes:
        """Return the file."""
        named = [
            _full(b"infe", struct.pack(">HH4s", k, 0, kind), b"\0", version=2, flags=hidden)
            for k, (kind, hidden) in enumerate(self.items, 1)
        ]
        owners = [struct.pack(f">HB{len(o)}B", k, len(o), *o) for k, o in enumerate(self.owned, 1)]
        head = _box(b"ftyp", brands)

        def meta(start: int) -> bytes:
            rows = []
            for k, data in enumerate(self.data, 1):
                rows.append(struct.pack(">HHHII", k, 0, 1, start, len(data)))
                start += len(data)
            return _full(
                b"meta",
                _full(b"hdlr", bytes(4), b"pict", bytes(13)),
                _full(b"pitm", struct.pack(">H", 1)),
                _full(b"iloc", struct.pack(">BBH", 0x44, 0, len(rows)), *rows),
                _full(b"iinf", struct.pack(">H", len(named)), *named),
                _full(b"iref", *self.references),
                _box(
                    b"iprp",
                    _box(b"ipco", *self.properties),
                    _full(b"ipma", struct.pack(">I", len(owners)), *owners),
                ),
            )

        # where the data begin follows from how long what tells it is
        start = len(head) + len(meta(0)) + 8
        return b"".join([head, meta(start), _box(b"mdat", *self.data)])


def gridded(pixels: np.ndarray, opaque: bool, profile: bytes, quality: int, chroma: str, speed: int) -> bytes:
    """Return the AVIF of pixels (height, width, 4) with straight alpha, which is left out where they are `opaque`.

    `chroma` is 4:2:0 or 4:4:4; a side of odd length keeps full chroma, since a grid
    of halved ones may have none. It tells its progress. Raises OSError and ValueError where
    the encoder fails.
    """
    height, width, _ = pixels.shape
    if height % 2 or width % 2:
        chroma = "4:4:4"
    how = {"quality": quality, "speed": speed}
    colours, covers = [], []
    for tile in _tiles(pixels):
        colours.append(_coded(np.ascontiguousarray(tile[..., :3]), subsampling=chroma, **how))
        if not opaque:
            grey = np.repeat(tile[..., 3:], 3, axis=2)
            covers.append(_coded(grey, subsampling="4:0:0", **how))
    file = _File()
    own = _box(b"colr", b"prof", profile)
    picture = file.grid(colours, (width, height), [own, colours[0].colours])
    if covers:
        alpha = file.grid(covers, (width, height), [_full(b"auxC", _OPAQUE)])
        file.reference(b"auxl", alpha, [picture])
    return file.written(colours[0].brands)
