"""`manage.py backup FILE`: write database and photos into one file while people work."""

from pathlib import Path
from typing import Any

from django.core.management.base import CommandError, CommandParser
from django.utils import timezone

from studio.management.base import ExampleCommand
from studio.operations.backup import BadBackup, backup


class Command(ExampleCommand):
    """Write a backup."""

    help = "Write the database and all files into one file, while people work."
    example = "gouge backup gouge-backup.tar"

    def add_arguments(self, parser: CommandParser) -> None:
        """Take the file's name."""
        parser.add_argument("file", nargs="?", help="default: gouge-DATE.tar in this folder")

    def handle(self, *args: Any, **options: Any) -> None:
        """Do it."""
        to = Path(options["file"] or f"gouge-{timezone.now():%Y-%m-%d-%H%M}.tar").resolve()
        try:
            backup(to, self.stdout.write)
        except (BadBackup, OSError) as error:
            raise CommandError(f"nothing was written: {error}") from error
