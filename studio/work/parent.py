"""No process is left behind: each ends when the one that started it is gone, however that went."""

import os
import signal
import threading
import time

__all__ = ["end_all_with_this", "end_with"]

EVERY = 0.5
"""Seconds between two looks."""


def end_with(parent: int, how: int = signal.SIGKILL) -> None:
    """End this process, by a signal, once its parent is not the process of that number any more."""

    def look() -> None:
        while os.getppid() == parent:
            time.sleep(EVERY)
        os.kill(os.getpid(), how)

    threading.Thread(target=look, name="parent", daemon=True).start()


def end_all_with_this() -> None:
    """See to it that each process which this one forks from now on ends with it; what they did is done again."""
    this = os.getpid()
    os.register_at_fork(after_in_child=lambda: end_with(this))
