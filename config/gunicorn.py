"""Gunicorn: address and workers from the environment, and the other processes of `make serve`."""

import contextlib
import gc
import os
import shlex
import signal
import subprocess
import sys
import threading
import time
from pathlib import Path
from typing import Any, ClassVar

HERE = Path(__file__).resolve().parent.parent
socket = os.environ.get("GOUGE_SOCKET", "")
bind = f"unix:{socket}" if socket else os.environ.get("GOUGE_BIND", "127.0.0.1:8000")
# one process more than cores, each with few threads: many threads computing in one process slow each other down
workers = int(os.environ.get("GOUGE_WORKERS", "") or (os.cpu_count() or 1) + 1)
threads = int(os.environ.get("GOUGE_THREADS", "4"))
# if one process has no free thread, another accepts
worker_connections = 2 * threads
timeout = 120
preload_app = True
# of the socket
umask = 0o077
control_socket_disable = True


def post_worker_init(worker: Any) -> None:
    """Start the worker's long-work process, so that the first long work need not wait for it."""
    from outline.path.kernel import watch
    from studio.work import worker_pool

    # the holder of the database's lock continues soon, even if another thread computes (default 5 ms)
    sys.setswitchinterval(0.001)
    # what was loaded stays: the garbage collector need not scan it again
    gc.collect()
    gc.freeze()
    gc.set_threshold(20_000, 20, 20)
    worker_pool.start()
    watch()


class Beside:
    """The processes beside the workers, by name, and whether the server is ending."""

    over = False
    processes: ClassVar[dict[str, subprocess.Popen]] = {}


def _supervised(name: str, command: list[str], how: str = "KILL") -> None:
    """Run a command, and restart it whenever it ends; its children end with it, and it with this process."""

    def started() -> subprocess.Popen:
        whole = ["setpriv", "--pdeathsig", how, "nice", *command]
        Beside.processes[name] = subprocess.Popen(whole, cwd=HERE, start_new_session=True)
        return Beside.processes[name]

    def watch(one: subprocess.Popen) -> None:
        while True:
            one.wait()
            with contextlib.suppress(ProcessLookupError):
                os.killpg(one.pid, signal.SIGKILL)
            time.sleep(1)
            if Beside.over:
                return
            one = started()

    # started here: a worker forked while a thread starts a process keeps that thread waiting (errpipe, Popen)
    threading.Thread(target=watch, args=(started(),), daemon=True).start()


def when_ready(server: Any) -> None:
    """Start the queue's workers, and with the server in front that one and the daily clearing."""
    from outline.path.kernel import compiled

    if not compiled() and os.environ.get("GOUGE_KERNELS", "auto") == "auto":
        # pages are served in the meantime; each process switches to machine code when it is ready
        subprocess.Popen(["setpriv", "--pdeathsig", "TERM", "nice", sys.executable, "-m", "outline.compile"], cwd=HERE)
    manage = [sys.executable, "-m", "studio"]
    count = int(os.environ.get("GOUGE_WORKERS_QUEUED", "2"))
    if count:
        _supervised("queue", [*manage, "worker", "--processes", str(count)])
    front = os.environ.get("GOUGE_FRONT")
    if front:
        # nginx ends its own processes when asked to
        _supervised("front", shlex.split(front), "TERM")
        _supervised("clear", [*manage, "clear", "--daily"])


def on_exit(server: Any) -> None:
    """Stop them."""
    Beside.over = True
    for process in Beside.processes.values():
        process.terminate()
    for process in Beside.processes.values():
        with contextlib.suppress(subprocess.TimeoutExpired):
            process.wait(5)
