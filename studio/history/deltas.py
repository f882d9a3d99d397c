"""What changed from one stored sheet to the next, small enough that every step can be kept.

The two texts mostly agree: what precedes the first difference and follows the last is
only counted, and what lies between is compressed by Zstandard (RFC 8878) with the old
one's part as its dictionary, so that what merely moved along is a reference.
"""

import struct
import zlib
from typing import Final

import numpy as np
import zstandard

__all__ = ["BadStep", "step", "stepped"]

_HEAD: Final = struct.Struct("<IIII")
"""Bytes alike at the beginning and at the end, and the CRC-32 (RFC 1952) of either text."""
_LEVEL: Final = 3
_MOST: Final = 200_000_000


class BadStep(ValueError):
    """A step that is damaged, or that belongs to another text."""


def _alike(old: bytes, new: bytes) -> tuple[int, int]:
    """Return how many bytes are the same at the beginning and, of the others, at the end."""
    n = min(len(old), len(new))
    a, b = np.frombuffer(old, np.uint8), np.frombuffer(new, np.uint8)
    differ = a[:n] != b[:n]
    first = int(differ.argmax()) if differ.any() else n
    left = n - first
    differ = a[len(a) - left :][::-1] != b[len(b) - left :][::-1]
    return first, int(differ.argmax()) if differ.any() else left


def _dictionary(text: bytes) -> zstandard.ZstdCompressionDict | None:
    # shorter ones are none to Zstandard
    return zstandard.ZstdCompressionDict(text, dict_type=zstandard.DICT_TYPE_RAWCONTENT) if len(text) >= 8 else None


def step(old: bytes, new: bytes) -> bytes:
    """Return what makes `new` of `old`."""
    first, last = _alike(old, new)
    here, there = old[first : len(old) - last], new[first : len(new) - last]
    window = min(27, max(10, (len(here) + len(there)).bit_length()))
    parameters = zstandard.ZstdCompressionParameters.from_level(
        _LEVEL, window_log=window, write_content_size=True, write_dict_id=False
    )
    packed = zstandard.ZstdCompressor(dict_data=_dictionary(here), compression_params=parameters).compress(there)
    return _HEAD.pack(first, last, zlib.crc32(old), zlib.crc32(new)) + packed


def stepped(old: bytes, *steps: bytes) -> bytes:
    """Return the text that steps, made by `step` one after the other, lead to. Raises BadStep where the first does not
    belong to `old`, one not to the one before it, or where one is damaged."""
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
    # of many it is enough to ask the last: what is wrong between stays wrong
    if zlib.crc32(text) != is_now:
        raise BadStep("this step is damaged")
    return text
