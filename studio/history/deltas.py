"""The difference between one stored sheet and the next, small enough to keep every step.

Most of the two texts is equal: the common start and end are
only counted, and the middle is compressed by Zstandard (RFC 8878) with the old
text's middle as its dictionary, so that what merely moved becomes a reference.
"""

import struct
import zlib
from typing import Final

import numpy as np
import zstandard

__all__ = ["BadStep", "step", "stepped"]

_HEAD: Final = struct.Struct("<IIII")
"""Equal bytes at the start and at the end, and the CRC-32 (RFC 1952) of both texts."""
_LEVEL: Final = 3
_MOST: Final = 200_000_000


class BadStep(ValueError):
    """A step that is damaged, or that belongs to another text."""


def _alike(old: bytes, new: bytes) -> tuple[int, int]:
    """Return how many bytes are equal at the start and, of the rest, at the end."""
    n = min(len(old), len(new))
    a, b = np.frombuffer(old, np.uint8), np.frombuffer(new, np.uint8)
    differ = a[:n] != b[:n]
    first = int(differ.argmax()) if differ.any() else n
    left = n - first
    differ = a[len(a) - left :][::-1] != b[len(b) - left :][::-1]
    return first, int(differ.argmax()) if differ.any() else left


def _dictionary(text: bytes) -> zstandard.ZstdCompressionDict | None:
    # Zstandard takes no shorter dictionaries
    return zstandard.ZstdCompressionDict(text, dict_type=zstandard.DICT_TYPE_RAWCONTENT) if len(text) >= 8 else None


def step(old: bytes, new: bytes) -> bytes:
    """Return the step from `old` to `new`."""
    first, last = _alike(old, new)
    here, there = old[first : len(old) - last], new[first : len(new) - last]
    window = min(27, max(10, (len(here) + len(there)).bit_length()))
    parameters = zstandard.ZstdCompressionParameters.from_level(
        _LEVEL, window_log=window, write_content_size=True, write_dict_id=False
    )
    packed = zstandard.ZstdCompressor(dict_data=_dictionary(here), compression_params=parameters).compress(there)
    return _HEAD.pack(first, last, zlib.crc32(old), zlib.crc32(new)) + packed


def stepped(old: bytes, *steps: bytes) -> bytes:
    """Return the text that a chain of steps, as made by `step`, leads to. Raises BadStep if the first does not
    belong to `old`, one not to its predecessor, or if one is damaged."""
    text, is_now = old, zlib.crc32(old)
    for made in steps:
        try:
            first, last, before, after = _HEAD.unpack_from(made)
            if before != is_now or first + last > len(text):
                raise BadStep("this step belongs to another text")
            here = text[first : len(text) - last]
            unpacking = zstandard.ZstdDecompressor(dict_data=_dictionary(here), max_window_size=1 << 28)
            frame = made[_HEAD.size :]
            if zstandard.frame_content_size(frame) > _MOST:
                raise BadStep("this step is larger than a sheet can be")
            text = text[:first] + unpacking.decompress(frame) + text[len(text) - last :]
        except (struct.error, zstandard.ZstdError) as error:
            raise BadStep("this step is damaged") from error
        is_now = after
    # checking the last is enough: an error on the way stays an error
    if zlib.crc32(text) != is_now:
        raise BadStep("this step is damaged")
    return text
