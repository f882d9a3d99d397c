"""What changed between two texts makes the second of the first, whatever they are."""

import unittest

from hypothesis import example, given
from hypothesis import strategies as st

from studio.history.deltas import BadStep, step, stepped

TEXT = st.binary(max_size=300) | st.lists(st.sampled_from([b'{"id":"a"}', b'{"x":1.5}', b","])).map(b"".join)


class Steps(unittest.TestCase):
    @given(TEXT, TEXT)
    @example(b"", b"")
    @example(b"aaaa", b"aa")
    @example(b"abcabc", b"abc")
    def test_there_and_again(self, old, new):
        self.assertEqual(stepped(old, step(old, new)), new)

    def test_what_moved_along_costs_nothing(self):
        items = [
            b'{"id":"p%d","x":%d,"y":%d,"paint":"#2b7a72"}' % (k, k * 7919 % 1000, k * 104729 % 1000)
            for k in range(3000)
        ]
        old = b",".join(items)
        items[40], items[2500] = b'{"id":"p40","x":1}', b'{"id":"p2500","x":2}'
        self.assertLess(len(step(old, b",".join(items))), 600)

    def test_damage_is_noticed(self):
        old, new = b"The quick brown fox " * 40, b"The quick brown fox " * 20 + b"leaps" + b"The slow brown dog " * 9
        made = step(old, new)
        for k in range(len(made)):
            bad = bytearray(made)
            bad[k] ^= 0x55
            with self.subTest(byte=k), self.assertRaises(BadStep):
                stepped(old, bytes(bad))
        for cut in (b"", made[:7], made[:-3]):
            with self.assertRaises(BadStep):
                stepped(old, cut)
        with self.assertRaises(BadStep):
            stepped(old[:-1], made)
