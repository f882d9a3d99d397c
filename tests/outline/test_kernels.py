"""Kernels that run interpreted at first, and as machine code once it is there; what their compilation tells."""

import os
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from django.test import tag

from outline.compile import order_of_modules
from outline.path import kernel

CHANGES_OVER = """
import os, sys, threading, time
import outline
from outline.path import kernel

rings = [outline.ellipse(20, 20, 30 * k, 7 * k) for k in range(3)]
before = outline.union(rings).to_svg()
assert not kernel.compiled() and not kernel.take_compiled() and "numba" not in sys.modules
ends = []
def work():
    while not kernel.compiled():
        ends.append(outline.union(rings).to_svg())
        time.sleep(0.02)
    ends.append(outline.union(rings).to_svg())
at_work = [threading.Thread(target=work) for _ in range(2)]
for one in at_work:
    one.start()
# the machine code is there now
del os.environ["NUMBA_CACHE_DIR"]
kernel.watch(0.05)
for one in at_work:
    one.join(60)
assert kernel.compiled() and "numba" in sys.modules
assert set(ends) == {before} and outline.union(rings).to_svg() == before
print("changed over", len(ends))
"""


class Kernels(unittest.TestCase):
    def setUp(self):
        if not kernel.compiled():
            self.skipTest("the kernels are not compiled here")

    def run_without(self, code: str) -> subprocess.CompletedProcess:
        """Run code in a process that finds nothing compiled."""
        with tempfile.TemporaryDirectory() as folder:
            environment = {**os.environ, "NUMBA_CACHE_DIR": folder}
            return subprocess.run([sys.executable, "-c", code], env=environment, capture_output=True, text=True)

    @tag("slow")
    def test_a_process_changes_over_while_it_works_and_answers_the_same(self):
        done = self.run_without(CHANGES_OVER)
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertIn("changed over", done.stdout)

    def test_little_work_is_done_before_numba_is_there_and_much_after_it(self):
        code = (
            "import sys, outline; r = [outline.ellipse(20, 20, 30 * k, 7 * k) for k in range(20)]; "
            "outline.union(r[:3]); print('numba' in sys.modules); [outline.union(r) for _ in range(7)]; "
            "print('numba' in sys.modules)"
        )
        done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True)
        self.assertEqual(done.stdout.split(), ["False", "True"], done.stderr)

    def test_a_few_curves_that_take_long_are_not_waited_for_interpreted(self):
        # forty curves that cross some hundred times: half a second of interpreted work
        code = (
            "import random, sys, outline; r = random.Random(1); "
            "d = 'M0 0' + ''.join('C' + ' '.join(str(r.randrange(99)) for _ in range(6)) for _ in range(40)); "
            "case = [outline.Path.from_svg(d + 'Z')]; "
            "first = outline.exclude(case); print('numba' in sys.modules, first == outline.exclude(case))"
        )
        done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True)
        self.assertEqual(done.stdout.split(), ["True", "True"], done.stderr)

    def test_how_far_a_compilation_is_is_told_where_it_goes_on(self):
        code = (
            "from outline.path import kernel as k; print(k.warming()); f = k.progress_file(); "
            "f.write_text('40'); print(k.warming()); f.write_text('?'); print(k.warming())"
        )
        self.assertEqual(self.run_without(code).stdout.split(), ["None", "40", "None"])
        self.assertIsNone(kernel.warming())

    def test_each_module_comes_after_those_whose_kernels_it_calls(self):
        first = order_of_modules()
        self.assertEqual(set(first), set(kernel.KERNEL_MODULES))
        self.assertIn("path.bezier", first["path.monotone"])
        self.assertIn("engine.build", first["engine.boolean"])
        left, done = dict(first), set()
        while left:
            ready = [name for name, before in left.items() if before <= done]
            self.assertTrue(ready, f"in a circle: {left}")
            done.update(ready)
            left = {name: before for name, before in left.items() if name not in done}

    def test_interpreted_is_a_choice(self):
        code = "from outline.path import kernel as k; print(k.compiled(), k.take_compiled(), k.warming())"
        environment = {**os.environ, "GOUGE_KERNELS": "interpret"}
        done = subprocess.run([sys.executable, "-c", code], env=environment, capture_output=True, text=True)
        self.assertEqual(done.stdout.split(), ["False", "False", "None"])


class Cache(unittest.TestCase):
    def test_the_stamp_lies_where_it_can_be_written(self):
        self.assertTrue(os.access(kernel.stamp_file().parent, os.W_OK))
        self.assertEqual(kernel.progress_file().parent, kernel.stamp_file().parent)
        self.assertNotEqual(Path(kernel.progress_file()), Path(kernel.stamp_file()))
