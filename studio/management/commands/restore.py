"""`manage.py restore FILE`: restore a backup."""

from pathlib import Path
from typing import Any

from django.core.management import call_command
from django.core.management.base import CommandError, CommandParser
from django.db import connections

from studio.management.base import ExampleCommand
from studio.operations.backup import BadBackup, restore


class Command(ExampleCommand):
    """Restore a backup."""

    help = "Put a backup in the place of what is there, which is moved aside; the server is stopped meanwhile."
    example = "gouge restore gouge-backup.tar"

    def add_arguments(self, parser: CommandParser) -> None:
        """Take the file's name."""
        parser.add_argument("file")

    def handle(self, *args: Any, **options: Any) -> None:
        """Do it."""
        connections.close_all()
        try:
            restore(Path(options["file"]).resolve(), self.stdout.write)
        except BadBackup as error:
            raise CommandError(f"nothing was changed: {error}") from error
        # a backup of an earlier version is migrated
        call_command("migrate", verbosity=0)
