"""A CMYK profile small enough to check by hand: a table of sixteen inks in Lab.

`mft2` tables by ICC.1:2001-04, 6.5.9: four inputs, three outputs, two grid points
each, so that every corner is exactly what the table says.
"""

import struct
from itertools import product

__all__ = ["cmyk_profile"]


def cmyk_profile(lab_of: dict[tuple[int, int, int, int], tuple[float, float, float]]) -> bytes:
    """Return a profile whose ink corners (c, m, y, k in 0, 1) have the given Lab; the rest is interpolated."""
    clut = b""
    for corner in product((0, 1), repeat=4):
        lightness, a, b = lab_of[corner]
        # the legacy 16-bit encoding of Lab: L* 100 is 0xFF00, a* and b* 0 are 0x8000
        clut += struct.pack(">HHH", round(lightness * 652.8), round((a + 128) * 256), round((b + 128) * 256))
    identity = struct.pack(">9i", 65536, 0, 0, 0, 65536, 0, 0, 0, 65536)
    table = b"mft2\0\0\0\0" + bytes([4, 3, 2, 0]) + identity + struct.pack(">HH", 2, 2)
    table += struct.pack(">HH", 0, 65535) * 4 + clut + struct.pack(">HH", 0, 65535) * 3
    text = b"Four inks\0"
    described = b"desc\0\0\0\0" + struct.pack(">I", len(text)) + text + bytes(78)
    white = b"XYZ \0\0\0\0" + struct.pack(">3i", 63190, 65536, 54061)
    tags = [(b"desc", described), (b"cprt", b"text\0\0\0\0free\0"), (b"wtpt", white)]
    tags += [(name, table) for name in (b"A2B0", b"A2B1", b"A2B2")]
    head_size = 128 + 4 + 12 * len(tags)
    index, body = struct.pack(">I", len(tags)), b""
    for name, data in tags:
        data += bytes(-len(data) % 4)
        index += struct.pack(">4sII", name, head_size + len(body), len(data))
        body += data
    head = struct.pack(">I4sI4s4s4s", head_size + len(body), b"\0\0\0\0", 0x02400000, b"prtr", b"CMYK", b"Lab ")
    head += struct.pack(">6H", 2027, 3, 1, 12, 0, 0) + b"acsp" + bytes(28) + struct.pack(">3i", 63190, 65536, 54061)
    return head + bytes(128 - len(head)) + index + body
