"""`manage.py clear`: delete what nobody has used for thirty days."""

import time
from typing import Any

from django.core.management.base import CommandParser

from studio.management.base import ExampleCommand
from studio.operations.retention import DAYS, clear


class Command(ExampleCommand):
    """Clear, once or every day."""

    help = "Take deleted projects, unused photos, old sessions and left-over files away after some days."
    example = "gouge clear --daily"

    def add_arguments(self, parser: CommandParser) -> None:
        """Take the flags."""
        parser.add_argument("--days", type=int, default=DAYS)
        parser.add_argument("--daily", action="store_true", help="again every day, until stopped")

    def handle(self, *args: Any, **options: Any) -> None:
        """Do it."""
        while True:
            counts = {k: v for k, v in clear(options["days"]).items() if v}
            if counts or not options["daily"]:
                self.stdout.write("cleared " + (", ".join(f"{n} {k}" for k, n in counts.items()) or "nothing"))
                self.stdout.flush()
            if not options["daily"]:
                return
            time.sleep(86_400)
