"""Gunicorn: address and workers from the environment, and beside it what `make serve` needs besides."""

import gc
import os
import shlex
import subprocess
import sys
import threading
import time
from pathlib import Path

socket = os.environ.get("GOUGE_SOCKET", "")
bind = f"unix:{socket}" if socket else os.environ.get("GOUGE_BIND", "127.0.0.1:8000")
# a process more than there are cores, each with few threads: of many that compute in one process all are slow
workers = int(os.environ.get("GOUGE_WORKERS", "") or (os.cpu_count() or 1) + 1)
threads = int(os.environ.get("GOUGE_THREADS", "4"))
# what one process has no thread for, another takes
worker_connections = 2 * threads
timeout = 120
preload_app = True
umask = 0o077
control_socket_disable = True


def post_worker_init(worker):
    """Start the worker's worker, so that the first long work need not wait for it."""
    from studio.work import worker_pool

    # whoever holds the database's lock gets on soon, though another thread computes (5 ms at first)
    sys.setswitchinterval(0.001)
    # what was loaded stays: nobody looks through it for garbage again and again
    gc.collect()
    gc.freeze()
    gc.set_threshold(20_000, 20, 20)
    worker_pool.start()


beside = {"over": False, "processes": {}}


def _kept(name, command, session=True):
    """Start a command, and again whenever it ends."""

    def keep():
        while not beside["over"]:
            # it ends with this process, however that ends
            whole = ["setpriv", "--pdeathsig", "TERM", *command]
            beside["processes"][name] = subprocess.Popen(whole, start_new_session=session)
            beside["processes"][name].wait()
            time.sleep(1)

    threading.Thread(target=keep, daemon=True).start()


def when_ready(server):
    """Start what does queued work, and with the server in front it and the daily clearing."""
    manage = [sys.executable, str(Path(__file__).resolve().parent.parent / "manage.py")]
    count = int(os.environ.get("GOUGE_WORKERS_QUEUED", "2"))
    if count:
        _kept("queue", [*manage, "worker", "--processes", str(count), "--with", str(os.getpid())])
    front = os.environ.get("GOUGE_FRONT")
    if front:
        _kept("front", shlex.split(front))
        _kept("clear", [*manage, "clear", "--daily"])


def on_exit(server):
    """End them."""
    beside["over"] = True
    for process in beside["processes"].values():
        process.terminate()
