"""Gunicorn for `make serve`: address and workers from the environment, and the queue's workers beside it."""

import os
import subprocess
import sys
import threading
import time
from pathlib import Path

bind = os.environ.get("GOUGE_BIND", "127.0.0.1:8000")
workers = int(os.environ.get("GOUGE_WORKERS", "2"))
threads = 8
timeout = 120
preload_app = True


def post_worker_init(worker):
    """Start the worker's labourer, so that the first long work need not wait for it."""
    from studio import labour

    labour.start()


beside = {"over": False, "process": None}


def when_ready(server):
    """Start what does queued work, and again whenever it ends."""
    count = int(os.environ.get("GOUGE_WORKERS_QUEUED", "2"))
    manage = str(Path(__file__).resolve().parent.parent / "manage.py")
    command = [sys.executable, manage, "worker", "--processes", str(count), "--with", str(os.getpid())]

    def keep():
        while not beside["over"]:
            beside["process"] = subprocess.Popen(command, start_new_session=True)
            beside["process"].wait()
            time.sleep(1)

    if count:
        threading.Thread(target=keep, daemon=True).start()


def on_exit(server):
    """End it."""
    beside["over"] = True
    if beside["process"] is not None:
        beside["process"].terminate()
