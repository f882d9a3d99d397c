"""`manage.py demo`: migrate, load the demo data once, and start the app on a free port."""

import os
import shutil
import socket
import sys
from typing import Any

from django.conf import settings
from django.core.management.base import CommandError, CommandParser
from django.db import connections
from gunicorn.app.wsgiapp import WSGIApplication

from studio.management.base import ExampleCommand
from studio.operations.setting_up import set_up


def free_port(first: int = 8000) -> int:
    """Return the first free port of 127.0.0.1 from `first` on."""
    for port in range(first, first + 200):
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind(("127.0.0.1", port))
            except OSError:
                continue
            return port
    raise OSError(f"no port from {first} to {first + 199} is free")


class Command(ExampleCommand):
    """Start the demo."""

    help = "Set the demo up and start it; --reset throws its data away first."
    example = "gouge demo --port 8000"

    def add_arguments(self, parser: CommandParser) -> None:
        """Take the flags."""
        parser.add_argument("--reset", action="store_true", help="throw the demo's data away first")
        parser.add_argument("--port", type=int, help="port of 127.0.0.1 (default: the first free one from 8000)")
        parser.add_argument("--no-start", action="store_true", help="set up only")

    def handle(self, *args: Any, **options: Any) -> None:
        """Do it."""
        if not settings.GOUGE_DEMO:
            raise CommandError("The demo has a folder of its own: start it by `gouge demo` or `make demo`.")
        data = settings.DATA_DIR
        if options["reset"]:
            for name in ("media", "gouge.sqlite3", "gouge.sqlite3-wal", "gouge.sqlite3-shm"):
                target = data / name
                if target.is_dir():
                    shutil.rmtree(target)
                else:
                    target.unlink(missing_ok=True)
        from studio.demo.load import load_demo

        set_up()
        load_demo(self.stdout.write)
        if options["no_start"]:
            return
        port = options["port"] or free_port()
        self.stdout.write(f"Gouge is at http://127.0.0.1:{port}/  (stop it with Ctrl C)")
        self.stdout.flush()
        os.environ.update(GOUGE_BIND=f"127.0.0.1:{port}", GOUGE_DATA=str(data))
        # in this process, which has loaded the app already; its open files are not inherited by its workers
        connections.close_all()
        config = str(settings.BASE_DIR / "config" / "gunicorn.py")
        sys.argv = ["gunicorn", "config.wsgi", "--config", config, "--log-level", "warning"]
        WSGIApplication().run()
