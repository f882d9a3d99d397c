"""Gunicorn for `make serve`: address and workers from the environment."""

import os

bind = os.environ.get("GOUGE_BIND", "127.0.0.1:8000")
workers = int(os.environ.get("GOUGE_WORKERS", "2"))
threads = 8
timeout = 120
preload_app = True


def post_worker_init(worker):
    """Start the worker's labourer, so that the first long work need not wait for it."""
    from studio import labour

    labour.start()
