"""Colour spaces given by code points instead of a profile (ITU-T H.273): PNG's cICP, and `nclx` of AVIF and HEIC."""

import struct
from pathlib import Path as FilePath
from typing import IO, Any, Final

import numpy as np
from PIL import Image

from sheet.caching import cached

from .icc import rgb_profile

__all__ = ["signalled_profile"]

_WHITE: Final = (0.3127, 0.3290)
_PRIMARIES: Final = {
    1: ((0.640, 0.330), (0.300, 0.600), (0.150, 0.060)),
    5: ((0.640, 0.330), (0.290, 0.600), (0.150, 0.060)),
    6: ((0.630, 0.340), (0.310, 0.595), (0.155, 0.070)),
    7: ((0.630, 0.340), (0.310, 0.595), (0.155, 0.070)),
    9: ((0.708, 0.292), (0.170, 0.797), (0.131, 0.046)),
    12: ((0.680, 0.320), (0.265, 0.690), (0.150, 0.060)),
}
"""H.273, table 2: those with the white point D65 (x, y of red, green and blue)."""
_BRADFORD: Final = np.array([[0.8951, 0.2664, -0.1614], [-0.7502, 1.7135, 0.0367], [0.0389, -0.0685, 1.0296]])
_D50: Final = np.array([0.9642, 1.0, 0.8249])
_STEPS: Final = np.linspace(0.0, 1.0, 1024)
_SRGB: Final = (1, 13)
_LONGEST: Final = 1 << 20
"""The header of a file of boxes is looked for in this many bytes."""


def _light(transfer: int) -> np.ndarray | None:
    """Return light at even steps of a signal (H.273, table 3); None for transfers beyond a screen's range."""
    v = _STEPS
    if transfer in (1, 6, 14, 15):
        return np.where(v < 4.5 * 0.018053968510807, v / 4.5, ((v + 0.09929682680944) / 1.09929682680944) ** (1 / 0.45))
    if transfer == 13:
        return np.where(v <= 0.04045, v / 12.92, ((v + 0.055) / 1.055) ** 2.4)
    return {4: v**2.2, 5: v**2.8, 8: v}.get(transfer)


def _xyz(x: float, y: float) -> np.ndarray:
    return np.array([x / y, 1.0, (1 - x - y) / y])


@cached(entries=32)
def _profile(primaries: int, transfer: int) -> bytes | None:
    """Return the profile of primaries and transfer; None for sRGB's own, and for unknown ones."""
    light = _light(transfer)
    if primaries not in _PRIMARIES or light is None or (primaries, transfer) == _SRGB:
        return None
    columns = np.stack([_xyz(*p) for p in _PRIMARIES[primaries]], axis=1)
    white = _xyz(*_WHITE)
    columns = columns * np.linalg.solve(columns, white)
    # adapted to the connection space's white (ICC.1, annex E)
    scale = np.diag((_BRADFORD @ _D50) / (_BRADFORD @ white))
    adapted = np.linalg.solve(_BRADFORD, scale @ _BRADFORD @ columns)
    return rgb_profile(f"H.273 {primaries}/{transfer}", adapted.T.tolist(), curve_of=light.tolist())


def signalled_profile(image: Image.Image, source: FilePath | IO[bytes]) -> bytes | None:
    """Return the profile that an opened photo's file gives by code points; None if there is none, or it is sRGB."""
    find = {"PNG": _of_png, "AVIF": _of_boxes, "HEIF": _of_boxes}.get(str(image.format))
    if find is None:
        return None
    if isinstance(source, FilePath):
        with source.open("rb") as file:
            codes = find(file)
    else:
        place = source.tell()
        codes = find(source)
        source.seek(place)
    return codes and _profile(*codes)


def _of_png(file: Any) -> tuple[int, int] | None:
    """Return primaries and transfer of a `cICP` chunk (PNG 3, 11.3.2.6), which comes before the pixels."""
    file.seek(8)
    while len(head := file.read(8)) == 8 and head[4:] not in (b"IDAT", b"PLTE"):
        size = int.from_bytes(head[:4])
        if head[4:] == b"cICP" and size == 4:
            codes = file.read(4)
            return codes[0], codes[1]
        file.seek(size + 4, 1)
    return None


def _of_boxes(file: Any) -> tuple[int, int] | None:
    """Return primaries and transfer of the first `colr` box of kind `nclx` (ISO/IEC 14496-12, 12.1.5)."""
    file.seek(0)
    data = file.read(_LONGEST)
    at = data.find(b"colrnclx")
    if at < 0 or len(data) < at + 12:
        return None
    primaries, transfer = struct.unpack(">HH", data[at + 8 : at + 12])
    return primaries, transfer
