"""A minimal ICC profile for an RGB space of matrix and curve, as a camera would embed one.

Layout by ICC.1:2001-04 (version 2.4): header, tag table, text description, white
point, three colorants in the D50 connection space and one curve.
"""

import struct
from collections.abc import Sequence

__all__ = ["icc_file", "rgb_profile", "DISPLAY_P3"]

DISPLAY_P3 = ((0.515102, 0.241182, -0.001050), (0.291965, 0.692236, 0.041882), (0.157153, 0.066582, 0.784378))
"""Colorants (X, Y, Z) of the P3 primaries with a D65 white, adapted to D50 (from memory; SMPTE EG 432-1 primaries)."""


def _fixed(value: float) -> bytes:
    return struct.pack(">i", round(value * 65536))


def _xyz(x: float, y: float, z: float) -> bytes:
    return b"XYZ \0\0\0\0" + _fixed(x) + _fixed(y) + _fixed(z)


def icc_file(kind: bytes, space: bytes, connection: bytes, name: str, tags: Sequence[tuple[bytes, bytes]]) -> bytes:
    """Return the bytes of a profile: its device class, its colour space and the connection space, by their signatures.

    Name, copyright and white point come before the other `tags`.
    """
    text = name.encode("ascii") + b"\0"
    described = b"desc\0\0\0\0" + struct.pack(">I", len(text)) + text + bytes(8) + bytes(3) + bytes(67)
    right = b"text\0\0\0\0" + b"No copyright, use freely\0"
    tags = [(b"desc", described), (b"cprt", right), (b"wtpt", _xyz(0.9642, 1.0, 0.8249)), *tags]
    at = 128 + 4 + 12 * len(tags)
    table, body = struct.pack(">I", len(tags)), b""
    for sign, data in tags:
        data += bytes(-len(data) % 4)
        table += struct.pack(">4sII", sign, at + len(body), len(data))
        body += data
    size = at + len(body)
    head = struct.pack(">I4sI4s4s4s", size, b"\0\0\0\0", 0x02400000, kind, space, connection)
    head += struct.pack(">6H", 2027, 3, 1, 12, 0, 0) + b"acsp" + bytes(28)
    head += _fixed(0.9642) + _fixed(1.0) + _fixed(0.8249)
    return head + bytes(128 - len(head)) + table + body


def rgb_profile(
    name: str, colorants: Sequence[Sequence[float]], gamma: float = 2.2, curve_of: Sequence[float] = ()
) -> bytes:
    """Return the bytes of a profile called `name`, of a gamma or of a curve: light at even steps from 0 to 1."""
    steps = [round(65535 * v) for v in curve_of] or [round(gamma * 256)]
    curve = b"curv\0\0\0\0" + struct.pack(f">I{len(steps)}H", len(steps), *steps)
    tags = [(sign, _xyz(*c)) for sign, c in zip((b"rXYZ", b"gXYZ", b"bXYZ"), colorants, strict=True)]
    return icc_file(b"mntr", b"RGB ", b"XYZ ", name, tags + [(sign, curve) for sign in (b"rTRC", b"gTRC", b"bTRC")])
