"""Bringing the database and the static files up to date before the app starts, if needed."""

import hashlib
import os
from pathlib import Path

from django.conf import settings
from django.contrib.staticfiles.finders import get_finders
from django.core.management import call_command
from django.db import connection
from django.db.migrations.executor import MigrationExecutor

__all__ = ["set_up"]


def _static_state() -> str:
    """Return a word that changes with any static file."""
    digest = hashlib.sha256(settings.STORAGES["staticfiles"]["BACKEND"].encode())
    for finder in get_finders():
        for name, storage in finder.list([]):
            facts = Path(storage.path(name)).stat()
            digest.update(f"{name} {facts.st_size} {facts.st_mtime_ns}\n".encode())
    return digest.hexdigest()


def set_up() -> None:
    """Migrate the database and collect the static files, if there is something to do.

    Whatever this process and its children write from now on is private to the owner.
    """
    os.umask(0o077)
    executor = MigrationExecutor(connection)
    if executor.migration_plan(executor.loader.graph.leaf_nodes()):
        call_command("migrate", verbosity=0)
    if not settings.DEBUG:
        mark, state = Path(settings.STATIC_ROOT) / ".collected", _static_state()
        if not mark.exists() or mark.read_text() != state:
            call_command("collectstatic", interactive=False, verbosity=0)
            mark.write_text(state)
