"""`manage.py serve`: the app for real use: nginx in front of gunicorn, with queue and daily clearing."""

import os
import shutil
import sys
import tempfile
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import CommandError

from studio.management.base import ExampleCommand
from studio.operations.setting_up import set_up


class Command(ExampleCommand):
    """Start it."""

    help = "Run the app for real use; settings come from the environment (config/settings.py)."
    example = "GOUGE_DATA=/srv/gouge GOUGE_HOSTS=gouge.example.org gouge serve"

    def handle(self, *args: Any, **options: Any) -> None:
        """Set up and start."""
        nginx = shutil.which("nginx", path=f"{os.environ.get('PATH', '')}:/usr/sbin")
        if nginx is None:
            raise CommandError("nginx is not installed. Run `make serve`, which installs it.")
        set_up()
        from config.front import written

        folder = settings.DATA_DIR.resolve() / "front"
        folder.mkdir(mode=0o700, exist_ok=True)
        socket = folder / "app"
        # a socket's path is 107 characters long at most (unix(7)), wherever the data folder is
        if len(str(socket)) > 100:
            socket = Path(tempfile.mkdtemp(prefix="gouge-")) / "app"
        bind = os.environ.get("GOUGE_BIND", "127.0.0.1:8000")
        file = written(folder, bind, socket)
        # memory of large pictures is returned: large blocks are mapped, and threads share two heaps (mallopt(3))
        os.environ.setdefault("MALLOC_MMAP_THRESHOLD_", "1048576")
        os.environ.setdefault("MALLOC_ARENA_MAX", "2")
        os.environ.update(
            GOUGE_FRONT=f"{nginx} -p {folder} -c {file}", GOUGE_SOCKET=str(socket), GOUGE_DATA=str(settings.DATA_DIR)
        )
        self.stdout.write(f"Gouge is at http://{bind}/  (stop it with Ctrl C)")
        self.stdout.flush()
        gunicorn, config = Path(sys.executable).parent / "gunicorn", settings.BASE_DIR / "config" / "gunicorn.py"
        os.chdir(settings.BASE_DIR)
        os.execv(gunicorn, [str(gunicorn), "config.wsgi", "--config", str(config), "--log-level", "warning"])
