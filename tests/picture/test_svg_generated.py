"""Generated SVG files look as resvg draws them, or what does not is reported."""

import unittest

from .svg_cases import silent


class Generated(unittest.TestCase):
    def test_nothing_looks_otherwise_without_a_word(self):
        self.assertEqual([seed for seed in range(100) if silent(seed)], [])
