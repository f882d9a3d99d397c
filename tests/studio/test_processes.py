"""No process of a server outlives what started it, however that went."""

import os
import signal
import time
import unittest

import psutil

from .serving import Served

SOON = 5.0
"""Seconds after which nothing may be left."""


def _gone(processes: list[psutil.Process]) -> bool:
    _, alive = psutil.wait_procs(processes, SOON)
    return not [p for p in alive if p.status() != psutil.STATUS_ZOMBIE]


class Left(unittest.TestCase):
    def below(self, served: Served, *words: str) -> psutil.Process:
        """Return the highest process of a server whose command has some words, waiting for it."""
        end = time.monotonic() + 20
        while time.monotonic() < end:
            for one in psutil.Process(served.process.pid).children(recursive=True):
                line = " ".join(one.cmdline())
                if all(word in line for word in words) and one.children():
                    return one
            time.sleep(0.1)
        there = [p.cmdline() for p in psutil.Process(served.process.pid).children(recursive=True)]
        raise AssertionError(f"there is no {words}, but {there}; {served.said()}")

    def test_a_killed_queue_or_front_leaves_nothing_and_comes_again(self):
        with Served() as served:
            for words in (("studio", "worker", "--processes"), ("nginx", "master")):
                for _ in range(2):
                    with self.subTest(words):
                        master = self.below(served, *words)
                        children = master.children(recursive=True)
                        self.assertTrue(children)
                        master.send_signal(signal.SIGKILL)
                        self.assertTrue(_gone(children), children)
                        self.assertNotEqual(self.below(served, *words).pid, master.pid)

    def test_a_killed_server_leaves_nothing(self):
        for how in (signal.SIGKILL, signal.SIGTERM):
            with self.subTest(how), Served() as served:
                self.below(served, "worker", "--processes")
                every = psutil.Process(served.process.pid).children(recursive=True)
                self.assertGreater(len(every), 6)
                os.kill(served.process.pid, how)
                served.process.wait(10)
                self.assertTrue(_gone(every), every)
