"""`manage.py worker`: do the queue's jobs."""

import os
import resource
from typing import Any

from django.conf import settings
from django.core.management.base import CommandParser

from studio.management.base import ExampleCommand
from studio.work.parent import end_all_with_this
from studio.work.queue import queue


class Command(ExampleCommand):
    """Work until stopped."""

    help = "Do queued work: exports above a size, many photos, and runs. As many as wanted share one queue."
    example = "gouge worker --processes 4"

    def add_arguments(self, parser: CommandParser) -> None:
        """Take the flags."""
        parser.add_argument("--processes", type=int, default=settings.GOUGE_WORKERS_QUEUED or 2)

    def handle(self, *args: Any, **options: Any) -> None:
        """Do it."""
        # people at their pages come first
        os.nice(settings.GOUGE_NICE)
        os.umask(0o077)
        most = settings.GOUGE_MEMORY * 1_000_000
        resource.setrlimit(resource.RLIMIT_AS, (most, most))
        end_all_with_this()
        consumer = queue().create_consumer(
            workers=options["processes"],
            worker_type="process",
            initial_delay=0.05,
            max_delay=0.25,
            health_check_interval=1,
        )
        consumer.run()
