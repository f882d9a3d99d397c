"""No process is left behind: the kernel ends each when the one that started it is gone, however that went."""

import ctypes
import os
import signal

__all__ = ["WITH_THIS", "end_all_with_this"]

PR_SET_PDEATHSIG = 1
"""As <linux/prctl.h> has it."""

WITH_THIS = ["setpriv", "--pdeathsig", "KILL"]
"""What a command begins with that ends with this process; strictly, with the thread that starts it (prctl(2))."""


def end_all_with_this() -> None:
    """See to it that each process which this one forks from now on ends with it; what they did is done again."""
    this, prctl = os.getpid(), ctypes.CDLL(None).prctl

    def end_with_parent() -> None:
        prctl(PR_SET_PDEATHSIG, signal.SIGKILL)
        # it may have gone before that was said
        if os.getppid() != this:
            os.kill(os.getpid(), signal.SIGKILL)

    os.register_at_fork(after_in_child=end_with_parent)
