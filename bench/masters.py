"""Each master of a server killed many times: `python -m bench.masters 20`.

gunicorn, the queue's and nginx's master get SIGKILL while work is under way, each so many times. Told
are the seconds until the last of what it had started is gone, and at the end how many processes a
server has and what share of a core they take while nobody asks for anything.
"""

import os
import signal
import sys
import time

import psutil

from tests.studio.serving import Served, below

MASTERS = {"queue": ("studio", "worker", "--processes"), "nginx": ("nginx", "master")}
MOST = 5.0
"""Seconds after which nothing may be left."""
CALM = 5.0
"""Seconds over which processes are watched."""


def _gone(processes: list[psutil.Process]) -> float:
    """Return after how many seconds all processes are gone. Raises AssertionError where one stays."""
    began = time.monotonic()
    _, alive = psutil.wait_procs(processes, MOST)
    left = [p for p in alive if p.is_running() and p.status() != psutil.STATUS_ZOMBIE]
    assert not left, left
    return time.monotonic() - began


def _there(served: Served) -> list[psutil.Process]:
    """Return the processes of a server, once it has started all."""
    for words in MASTERS.values():
        below(served, *words)
    count, since, every = 0, time.monotonic(), []
    while time.monotonic() - since < 1:
        every = psutil.Process(served.process.pid).children(recursive=True)
        if len(every) != count:
            count, since = len(every), time.monotonic()
        time.sleep(0.1)
    return every


def main(times: int) -> None:
    """Kill the masters and print what happened."""
    with Served() as served:
        first = len(_there(served))
        for name, words in MASTERS.items():
            longest = 0.0
            for _ in range(times):
                master = below(served, *words)
                children = master.children(recursive=True)
                served.ask("GET", "/sign-in")
                master.send_signal(signal.SIGKILL)
                longest = max(longest, _gone(children))
                assert below(served, *words).pid != master.pid
            print(f"{name}: killed {times} times, what it had started was gone after {longest:.2f} s at most")
        every = [psutil.Process(served.process.pid), *_there(served)]
        before = sum(sum(p.cpu_times()[:2]) for p in every)
        time.sleep(CALM)
        share = (sum(sum(p.cpu_times()[:2]) for p in every) - before) / CALM
        print(f"then {len(every) - 1} processes, {first} before; {100 * share:.1f} % of a core while nobody asks")
        assert len(every) - 1 == first
    for how in (signal.SIGKILL, signal.SIGTERM):
        longest = 0.0
        for _ in range(times):
            with Served() as served:
                every = _there(served)
                os.kill(served.process.pid, how)
                served.process.wait(90)
                longest = max(longest, _gone(every))
        print(f"gunicorn: {how.name} {times} times, all was gone after {longest:.2f} s at most")


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 20)
