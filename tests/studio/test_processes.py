"""No process of a server outlives what started it, however that went."""

import os
import signal
import unittest

import psutil

from .serving import Served, below, gone


class Left(unittest.TestCase):
    def test_a_killed_server_leaves_nothing(self):
        for how in (signal.SIGKILL, signal.SIGTERM):
            with self.subTest(how), Served() as served:
                below(served, "worker", "--processes")
                every = psutil.Process(served.process.pid).children(recursive=True)
                self.assertGreater(len(every), 6)
                os.kill(served.process.pid, how)
                served.process.wait(90)
                self.assertTrue(gone(every), every)
