"""A print profile made for tests: a press of four inks that mix as filters do, in tables of ICC.1:2001-04, 6.5.7."""

import itertools
import struct

import cv2
import numpy as np

from picture.photos.icc import icc_file

__all__ = ["made_profile"]


def _lut8(inputs: int, outputs: int, grid: int, table: np.ndarray) -> bytes:
    """Return a lut8Type whose curves change nothing."""
    straight = bytes(range(256))
    matrix = struct.pack(">9i", 65536, 0, 0, 0, 65536, 0, 0, 0, 65536)
    head = b"mft1\0\0\0\0" + bytes((inputs, outputs, grid, 0)) + matrix
    return head + straight * inputs + table.astype(np.uint8).tobytes() + straight * outputs


def _to_lab() -> np.ndarray:
    """Return the Lab (8 bits) of every corner of the inks, the last one counting fastest."""
    inks = np.array(list(itertools.product((0.0, 1.0), repeat=4)), np.float32)
    light = (1 - inks[:, :3]) * (1 - inks[:, 3:]) * 0.9 + 0.05
    return cv2.cvtColor((light[None] * 255).astype(np.uint8), cv2.COLOR_RGB2LAB)[0]


def _from_lab(grid: int) -> np.ndarray:
    """Return the inks (8 bits) for a grid over Lab."""
    steps = np.linspace(0, 255, grid)
    lab = np.array(list(itertools.product(steps, repeat=3)), np.uint8)
    rgb = cv2.cvtColor(lab[None], cv2.COLOR_LAB2RGB)[0] / 255
    inks = 1 - np.clip((rgb - 0.05) / 0.9, 0, 1)
    black = inks.min(axis=1, keepdims=True)
    return np.hstack([(inks - black) / np.maximum(1 - black, 1e-6), black]) * 255


def made_profile(name: str = "Skerry Coated", kind: bytes = b"prtr") -> bytes:
    """Return the bytes of a CMYK profile."""
    tables = [(b"A2B0", _lut8(4, 3, 2, _to_lab())), (b"B2A0", _lut8(3, 4, 9, _from_lab(9)))]
    return icc_file(kind, b"CMYK", b"Lab ", name, tables)
