"""A process for a web worker's long work: `python -m studio.work.worker READING WRITING` (descriptors)."""

import importlib
import os
import pickle
import resource
import sys
import traceback
from multiprocessing.connection import Connection

__all__ = ["main"]


def main(reading: int, writing: int) -> None:
    """Do jobs as they come, until the other end closes."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
    import django
    from django.conf import settings

    django.setup()
    most = settings.GOUGE_MEMORY * 1_000_000
    resource.setrlimit(resource.RLIMIT_AS, (most, most))
    from outline.path.kernel import load_all, take_compiled
    from sheet import SheetError

    load_all()
    jobs, results = Connection(reading, writable=False), Connection(writing, readable=False)
    while True:
        try:
            job, args = pickle.loads(jobs.recv_bytes())
        except EOFError:
            return
        take_compiled()
        module, _, name = job.partition(":")
        try:
            answer = ("done", getattr(importlib.import_module(module), name)(*args))
        except SheetError as error:
            answer = ("refused", (error.message, error.remedy, error.field))
        except MemoryError:
            answer = (
                "refused",
                ("That needs more memory than the server allows.", "Select fewer pieces, or simplify them."),
            )
        except Exception:
            answer = ("failed", traceback.format_exc())
        results.send_bytes(pickle.dumps(answer))


if __name__ == "__main__":
    main(*map(int, sys.argv[1:3]))
