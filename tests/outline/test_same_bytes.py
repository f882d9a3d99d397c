"""The same input gives the same bytes, on every machine, compiled and interpreted.

The digests were written on x86-64; the paths are made of what IEEE 754 rounds exactly
(+ − × ÷ √), and so is what the engine does with them.
"""

import hashlib
import os
import random
import subprocess
import sys
import unittest
from pathlib import Path as FilePath

import outline

from .cases import plain_loops

ROOT = FilePath(__file__).resolve().parents[2]
CASES = 300
EXPECTED = "763e204499ebd0d1dd1b9ec76f7b5750d26a014603854c8a58b51d75c89a8d0d"


def digest(cases: int) -> str:
    """Return a digest of every answer to so many generated cases."""
    out = hashlib.sha256()
    for seed in range(cases):
        paths = plain_loops(random.Random(seed))
        m = outline.PlanarMap(paths)
        for path in (m.union(), m.intersect(), m.exclude(), m.subtract(), *m.divide(), *m.visible_parts()):
            for array in path.arrays:
                out.update(array.tobytes())
    return out.hexdigest()


class SameBytes(unittest.TestCase):
    def test_as_on_the_machine_they_were_first_made_on(self):
        self.assertEqual(digest(CASES), EXPECTED)

    def test_interpreted_as_compiled(self):
        code = "from tests.outline.test_same_bytes import digest; print(digest(6))"
        environment = {**os.environ, "GOUGE_KERNELS": "interpret"}
        done = subprocess.run([sys.executable, "-c", code], cwd=ROOT, env=environment, capture_output=True, text=True)
        self.assertEqual(done.stdout.strip(), digest(6), done.stderr)
