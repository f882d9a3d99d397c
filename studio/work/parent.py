"""Child processes that end with their parent: the kernel kills each when its parent is gone, for whatever reason."""

import ctypes
import os
import signal

__all__ = ["WITH_THIS", "end_all_with_this"]

PR_SET_PDEATHSIG = 1
"""The constant of <linux/prctl.h>."""

WITH_THIS = ["setpriv", "--pdeathsig", "KILL"]
"""The start of a command that ends with this process; strictly, with the thread that starts it (prctl(2))."""


def end_all_with_this() -> None:
    """Make every process that this one forks from now on end with it; their jobs are done again."""
    this, prctl = os.getpid(), ctypes.CDLL(None).prctl

    def end_with_parent() -> None:
        prctl(PR_SET_PDEATHSIG, signal.SIGKILL)
        # the parent may have ended before this call
        if os.getppid() != this:
            os.kill(os.getpid(), signal.SIGKILL)

    os.register_at_fork(after_in_child=end_with_parent)
