"""Lossless WebP data, written strip by strip, so that no more than a few strips are in the memory (RFC 9649).

What libwebp holds is about six times its picture; this writes the same format with less
choice: green subtracted, a predictor for each block of 32 px, runs of what the pixel
before was, and one set of prefix codes for all.
"""

import heapq
from collections.abc import Iterator
from typing import Final

import numpy as np

from picture.mapped_pixels import let_go, zeros
from picture.progress import report_progress

__all__ = ["alpha_data", "lossless_data"]

_BITS: Final = 5
BLOCK: Final = 1 << _BITS
"""Px a side for which a predictor is selected."""
MODES: Final = (1, 2, 7, 11, 12)
"""The predictors that are tried (section 4.1): left, top, their mean, select, and left + top - top left, clamped."""
LONGEST: Final = 4096
"""Px that one reference copies (section 5.2.2)."""
SHORTEST: Final = 3
_LENGTHS: Final = 24
"""Prefixes of lengths, which stand behind the 256 greens."""
_GREENS: Final = 256 + _LENGTHS


class _Bits:
    """A stream of bits, the least significant first."""

    def __init__(self) -> None:
        self.parts: list[np.ndarray] = []
        self.rest = np.zeros(1, np.uint64)
        self.used = 0

    def put(self, values: np.ndarray, counts: np.ndarray) -> None:
        """Add each value as so many bits, 32 at most."""
        values, counts = values.astype(np.uint64), counts.astype(np.int64)
        ends = np.cumsum(counts) + self.used
        starts = ends - counts
        total = int(ends[-1]) if len(ends) else self.used
        words = np.zeros(total // 64 + 2, np.uint64)
        words[0] = self.rest[0]
        at, shift = starts >> 6, (starts & 63).astype(np.uint64)
        low = values << shift
        # what goes over the end of a word; a shift by 64 is none
        high = np.where(shift > 0, values >> (np.uint64(64) - np.maximum(shift, np.uint64(1))), np.uint64(0))
        if len(at):
            first = np.flatnonzero(np.diff(at, prepend=-1))
            words[at[first]] |= np.bitwise_or.reduceat(low, first)
            words[at[first] + 1] |= np.bitwise_or.reduceat(high, first)
        self.parts.append(words[: total // 64])
        self.rest, self.used = words[total // 64 : total // 64 + 1].copy(), total % 64

    def one(self, value: int, count: int) -> None:
        """Add one value."""
        self.put(np.array([value]), np.array([count]))

    def written(self) -> bytes:
        """Return the stream, its last byte filled with zeros."""
        whole = b"".join(p.astype("<u8").tobytes() for p in self.parts)
        return whole + self.rest.astype("<u8").tobytes()[: (self.used + 7) // 8]


def _depths(counts: np.ndarray) -> np.ndarray:
    """Return the lengths of Huffman's code for counts, 15 at most; 0 for what does not occur."""
    least = 1
    while True:
        tree: list[tuple[int, int, tuple[int, ...]]]
        tree = [(max(int(n), least), k, (k,)) for k, n in enumerate(counts) if n]
        depths = np.zeros(len(counts), np.int64)
        heapq.heapify(tree)
        while len(tree) > 1:
            a, b = heapq.heappop(tree), heapq.heappop(tree)
            depths[list(a[2] + b[2])] += 1
            heapq.heappush(tree, (a[0] + b[0], min(a[1], b[1]), a[2] + b[2]))
        if depths.max() <= 15:
            return depths
        # rare ones are taken for less rare, until no code is too long
        least *= 2


def _codes(depths: np.ndarray) -> np.ndarray:
    """Return the canonical codes of those lengths (RFC 1951, 3.2.2), turned round, as they are written."""
    codes, code, before = np.zeros(len(depths), np.int64), 0, 0
    for k in sorted(np.flatnonzero(depths), key=lambda k: (depths[k], k)):
        depth = int(depths[k])
        code <<= depth - before
        codes[k], before = int(f"{code:0{depth}b}"[::-1], 2), depth
        code += 1
    return codes


class _Prefix:
    """A prefix code for what was counted."""

    def __init__(self, counts: np.ndarray) -> None:
        self.used = np.flatnonzero(counts)
        # a single symbol takes no bits at all
        self.depths = _depths(counts) if len(self.used) > 1 else np.zeros(len(counts), np.int64)
        self.codes = _codes(self.depths)

    def report_progress(self, bits: _Bits) -> None:
        """Write the code (section 5.2.1)."""
        if len(self.used) <= 1:
            symbol = int(self.used[0]) if len(self.used) else 0
            # simple; one symbol; of 8 bits, or of 1
            bits.one(0b1 | int(symbol > 1) << 2, 3)
            bits.one(symbol, 8 if symbol > 1 else 1)
            return
        bits.one(0, 1)
        # lengths 0 to 15 in 4 bits each; 16, 17 and 18, which repeat, are not used
        bits.one(19 - 4, 4)
        order = [17, 18, 0, 1, 2, 3, 4, 5, 16, *range(6, 16)]
        bits.put(np.array([0 if k > 15 else 4 for k in order]), np.full(19, 3))
        # all symbols' lengths follow
        bits.one(0, 1)
        turned = np.array([int(f"{k:04b}"[::-1], 2) for k in range(16)])
        bits.put(turned[self.depths], np.full(len(self.depths), 4))


def _prefixed(values: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return prefix, further bits and their count for lengths from 1 on (section 5.2.2)."""
    d = values - 1
    top = np.where(d > 3, np.floor(np.log2(np.maximum(d, 1))).astype(np.int64), 1)
    count = np.where(d > 3, top - 1, 0)
    return np.where(d > 3, 2 * top + (d >> count & 1), d), np.where(d > 3, d & (1 << count) - 1, 0), count


def _tokens(flat: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return where tokens of pixels (n, channels) begin, and how many px each copies of the one before; 0: itself."""
    n = len(flat)
    whole = flat.view(np.uint32)[:, 0] if flat.shape[1] == 4 else flat[:, 0]
    same = np.zeros(n + 2, bool)
    same[2:-1] = whole[1:] == whole[:-1]
    edges = np.flatnonzero(same[1:] != same[:-1])
    starts, lengths = edges[::2], edges[1::2] - edges[::2]
    long = lengths >= SHORTEST
    starts, lengths = starts[long], lengths[long]
    pieces = -(-lengths // LONGEST)
    number = np.arange(pieces.sum()) - np.repeat(np.cumsum(pieces) - pieces, pieces)
    copied = np.zeros(n + 1, np.int64)
    # +1 where a run begins, -1 behind it: what lies within is no token of its own
    np.add.at(copied, starts, 1)
    np.add.at(copied, starts + lengths, -1)
    token = np.cumsum(copied[:-1]) == 0
    at = np.repeat(starts, pieces) + number * LONGEST
    takes = np.zeros(n, np.int64)
    takes[at] = np.minimum(LONGEST, np.repeat(lengths, pieces) - number * LONGEST)
    token[at] = True
    places = np.flatnonzero(token)
    return places, takes[places]


class _Counts:
    """How often each symbol occurs, for each of the five codes."""

    def __init__(self) -> None:
        self.of = [np.zeros(size, np.int64) for size in (_GREENS, 256, 256, 256, 40)]

    def add(self, flat: np.ndarray) -> None:
        """Count the tokens of some pixels."""
        places, takes = _tokens(flat)
        literal = flat[places[takes == 0]]
        for channel in range(flat.shape[1]):
            self.of[channel][:256] += np.bincount(literal[:, channel], minlength=256)
        lengths, _, _ = _prefixed(takes[takes > 0])
        self.of[0][256:] += np.bincount(lengths, minlength=_LENGTHS)
        # the pixel before has the distance code 2 (section 5.2.2), whose prefix is 1
        self.of[4][1] += len(lengths)


def _put(bits: _Bits, flat: np.ndarray, codes: list[_Prefix]) -> None:
    """Write the tokens of some pixels."""
    places, takes = _tokens(flat)
    prefix, more, count = _prefixed(np.maximum(takes, 1))
    literal = flat[places]
    green = np.where(takes > 0, 256 + prefix, literal[:, 0])
    values, counts = codes[0].codes[green], codes[0].depths[green]
    columns = [(np.where(takes > 0, values | more << counts, values), np.where(takes > 0, counts + count, counts))]
    for channel in range(1, flat.shape[1]):
        code = codes[channel]
        here = literal[:, channel]
        columns.append((np.where(takes > 0, 0, code.codes[here]), np.where(takes > 0, 0, code.depths[here])))
    bits.put(np.stack([v for v, _ in columns], 1).ravel(), np.stack([c for _, c in columns], 1).ravel())


def _neighbours(strip: np.ndarray, above: np.ndarray | None) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return what is left of each pixel, above it, and above to the left, as if it stood."""
    first = strip[:1] if above is None else above[None]
    top = np.concatenate([first, strip[:-1]])
    left = np.concatenate([strip[:, :1], strip[:, :-1]], axis=1)
    corner = np.concatenate([top[:, :1], top[:, :-1]], axis=1)
    return left, top, corner


def _predicted(mode: int, left: np.ndarray, top: np.ndarray, corner: np.ndarray) -> np.ndarray:
    if mode == 1:
        return left
    if mode == 2:
        return top
    wide = [v.astype(np.int16) for v in (left, top, corner)]
    if mode == 7:
        return ((wide[0] + wide[1]) >> 1).astype(np.uint8)
    if mode == 11:
        far_left = np.abs(wide[1] - wide[2]).sum(axis=2, keepdims=True)
        far_top = np.abs(wide[0] - wide[2]).sum(axis=2, keepdims=True)
        return np.where(far_left < far_top, left, top)
    full: np.ndarray = np.clip(wide[0] + wide[1] - wide[2], 0, 255).astype(np.uint8)
    return full


def _at_the_edge(made: np.ndarray, strip: np.ndarray, above: np.ndarray | None, origin: int) -> np.ndarray:
    """Put right what has no neighbours: the first row is told from the left, the first column from above."""
    if above is None:
        made[0, 1:] = strip[0, 1:] - strip[0, :-1]
        made[0, 0] = strip[0, 0]
        # black, and opaque where there is an alpha (section 4.1)
        made[0, 0, -1] = (int(strip[0, 0, -1]) - origin) & 255
        made[1:, 0] = strip[1:, 0] - strip[:-1, 0]
    else:
        made[:, 0] = strip[:, 0] - np.concatenate([above[:1], strip[:-1, 0]])
    return made


def _chosen(strip: np.ndarray, above: np.ndarray | None) -> tuple[np.ndarray, np.ndarray]:
    """Return what is left of a strip when each of its blocks is predicted best, and the predictors (blocks)."""
    height, width, channels = strip.shape
    around = _neighbours(strip, above)
    starts = np.arange(0, width, BLOCK)
    made, costs = [], []
    for mode in MODES:
        rest = strip - _predicted(mode, *around)
        made.append(rest)
        # how far from 0, either way round
        cost = np.minimum(rest, -rest).astype(np.int64).sum(axis=(0, 2))
        costs.append(np.add.reduceat(cost, starts))
    best = np.argmin(costs, axis=0)
    across = np.repeat(best, BLOCK)[:width]
    out = np.empty_like(strip)
    for k in np.unique(best):
        columns = across == k
        out[:, columns] = made[k][:, columns]
    return _at_the_edge(out, strip, above, 255), np.array(MODES)[best]


def _strips(pixels: np.ndarray) -> Iterator[tuple[np.ndarray, np.ndarray | None]]:
    """Yield RGBA rows as green, red and blue less the green, and alpha: a strip, and the row above it."""
    above = None
    for top in range(0, len(pixels), BLOCK):
        rgba = pixels[top : top + BLOCK]
        strip = np.ascontiguousarray(rgba[..., [1, 0, 2, 3]])
        strip[..., 1] -= strip[..., 0]
        strip[..., 2] -= strip[..., 0]
        yield strip, above
        above = strip[-1]
        if top // BLOCK % 16 == 0:
            let_go(pixels)


def lossless_data(pixels: np.ndarray, opaque: bool) -> bytes:
    """Return the content of a chunk VP8L for pixels (height, width, 4), the alpha of which is 255 where `opaque`."""
    height, width, _ = pixels.shape
    counts, modes = _Counts(), []
    rests = zeros(pixels.shape)
    for number, (strip, above) in enumerate(_strips(pixels)):
        top = number * BLOCK
        rest, best = _chosen(strip, above)
        rests[top : top + BLOCK] = rest
        modes.append(best)
        counts.add(rest.reshape(-1, 4))
        let_go(rests)
        report_progress(0.8 * top / height)
    bits = _Bits()
    bits.one(0x2F, 8)
    bits.one(width - 1, 14)
    bits.one(height - 1, 14)
    # whether there is an alpha, and version 0
    bits.one(int(not opaque), 4)
    # a transform: subtract green; another: predictors of so large blocks, an image of their own (section 4)
    bits.one(0b101, 3)
    bits.one(0b001 | _BITS - 2 << 3, 6)
    blocks = np.zeros((sum(map(len, modes)), 4), np.uint8)
    blocks[:, 0] = np.concatenate(modes)
    of_blocks = _Counts()
    of_blocks.add(blocks)
    # no colour cache
    bits.one(0, 1)
    _put(bits, blocks, _told(bits, of_blocks))
    # no more transforms, no colour cache, one set of codes
    bits.one(0, 3)
    codes = _told(bits, counts)
    for top in range(0, height, BLOCK):
        _put(bits, rests[top : top + BLOCK].reshape(-1, 4), codes)
        let_go(rests)
        report_progress(0.8 + 0.2 * top / height)
    return bits.written()


def _told(bits: _Bits, counts: _Counts) -> list[_Prefix]:
    codes = [_Prefix(c) for c in counts.of]
    for code in codes:
        code.tell(bits)
    return codes


def _alpha_strips(alpha: np.ndarray, filtered: bool) -> Iterator[np.ndarray]:
    above = None
    for top in range(0, len(alpha), 8 * BLOCK):
        strip = np.ascontiguousarray(alpha[top : top + 8 * BLOCK, :, None])
        if filtered:
            rest = strip - _predicted(12, *_neighbours(strip, above))
            yield _at_the_edge(rest, strip, above, 0).reshape(-1, 1)
            above = strip[-1]
        else:
            yield strip.reshape(-1, 1)


def alpha_data(alpha: np.ndarray) -> bytes:
    """Return the content of a chunk ALPH for alpha (height, width): the same when it is read (section 2.7.1.2)."""
    found = []
    for filtered in (False, True):
        counts = _Counts()
        for flat in _alpha_strips(alpha, filtered):
            counts.add(flat)
        codes = [_Prefix(c) for c in counts.of]
        found.append((int((codes[0].depths * counts.of[0]).sum()), filtered, counts))
    _, filtered, counts = min(found, key=lambda f: f[:2])
    bits = _Bits()
    # compressed without losses; the gradient filter, or none
    bits.one(1 | (3 << 2 if filtered else 0), 8)
    # no transform, no colour cache, one set of codes
    bits.one(0, 3)
    codes = _told(bits, counts)
    for flat in _alpha_strips(alpha, filtered):
        _put(bits, flat, codes)
    return bits.written()
