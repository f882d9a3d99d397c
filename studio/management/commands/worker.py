"""`manage.py worker`: do what is in the queue."""

import os
import resource
import threading
import time

from django.conf import settings
from django.core.management.base import BaseCommand

from studio.work.queue import queue


class Command(BaseCommand):
    """Work until stopped."""

    help = "Do queued work: exports above a size, many photos, and runs. As many as wanted share one queue."

    def add_arguments(self, parser):
        """Take the flags."""
        parser.add_argument("--processes", type=int, default=settings.GOUGE_WORKERS_QUEUED or 2)
        parser.add_argument("--with", type=int, default=0, dest="beside", help="end when this process ends")

    def handle(self, *args, **options):
        """Do it."""
        # people at the page come first
        os.nice(5)
        most = settings.GOUGE_MEMORY * 1_000_000
        resource.setrlimit(resource.RLIMIT_AS, (most, most))
        if options["beside"]:
            threading.Thread(target=_end_with, args=(options["beside"],), daemon=True).start()
        consumer = queue().create_consumer(
            workers=options["processes"],
            worker_type="process",
            initial_delay=0.05,
            max_delay=0.25,
            health_check_interval=1,
        )
        consumer.run()


def _end_with(pid: int) -> None:
    """End this process and what it started once another process is gone."""
    while os.getppid() == pid:
        time.sleep(0.5)
    os.killpg(os.getpgrp(), 15) if os.getpgrp() == os.getpid() else os.kill(os.getpid(), 15)
