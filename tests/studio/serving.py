"""The app as `make serve` runs it: nginx in front of it, on loopback, with a folder of its own."""

import contextlib
import os
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import time
from http.client import HTTPConnection
from pathlib import Path

import psutil

__all__ = ["ROOT", "TOKEN", "Served", "below", "free_port", "gone"]

ROOT = Path(__file__).resolve().parents[2]
TOKEN = "a" * 32

_UP_TO_DATE = """
from studio.operations.setting_up import set_up
set_up()
"""
"""What a server would do at its first start, which is copied with the rest."""
_SETUP = """
from django.contrib.auth import get_user_model
from django.test import Client
from django.conf import settings
from sheet import new_sheet
from studio.history import changes
user = get_user_model().objects.create_user("ada", "ada@example.org", "a-long-enough-word")
project = changes.start(user, "Card", new_sheet(1000, 800))
client = Client()
client.force_login(user)
print("KEY", project.pk, client.cookies[settings.SESSION_COOKIE_NAME].value)
"""

_ready: dict[str, tuple[tempfile.TemporaryDirectory, str]] = {}
"""Data folders as a setup leaves them, and what it said."""


def free_port() -> int:
    """Return a free port of 127.0.0.1."""
    with socket.socket() as s:
        s.bind(("127.0.0.1", 0))
        return s.getsockname()[1]


SOON = 20.0
"""Seconds after which nothing may be left of what was ended: 5, with cores that are shared with other tests."""


def gone(processes: list[psutil.Process]) -> bool:
    """Return whether processes end soon."""
    _, alive = psutil.wait_procs(processes, SOON)
    return not [p for p in alive if p.status() != psutil.STATUS_ZOMBIE]


def below(served: "Served", *words: str) -> psutil.Process:
    """Return the highest process of a server whose command has some words, waiting until it has started others."""
    end = time.monotonic() + 120
    while time.monotonic() < end:
        for one in psutil.Process(served.process.pid).children(recursive=True):
            with contextlib.suppress(psutil.NoSuchProcess):
                line = " ".join(one.cmdline())
                if all(word in line for word in words) and one.children():
                    return one
        time.sleep(0.1)
    there = [p.cmdline() for p in psutil.Process(served.process.pid).children(recursive=True)]
    raise AssertionError(f"there is no {words}, but {there}; {served.said()}")


class Served:
    """A server with a person and a project, or with what else `setup` makes; `with` starts and ends it."""

    def __init__(self, setup: str = _SETUP, where: str | None = None, **environment: str):
        self.setup = setup
        self.folder = tempfile.TemporaryDirectory(dir=where)
        self.data = Path(self.folder.name)
        self.port = free_port()
        self.environment = {
            **os.environ,
            "GOUGE_DATA": str(self.data),
            "GOUGE_BIND": f"127.0.0.1:{self.port}",
            "DJANGO_SETTINGS_MODULE": "config.settings",
            # the cores may be shared with other tests
            "GOUGE_SECONDS": "150",
            # as few processes as show that there are several: each takes two seconds to start
            "GOUGE_WORKERS": "2",
            "GOUGE_WORKERS_QUEUED": "1",
            "GOUGE_NICE": "0",
            **environment,
        }

    def manage(self, *words: str) -> str:
        """Run a command of manage.py and return what it says."""
        command = [sys.executable, str(ROOT / "manage.py"), *words]
        run = subprocess.run(command, env=self.environment, cwd=ROOT, check=True, capture_output=True, text=True)
        return run.stdout

    def _set_up(self) -> str:
        """Fill the data folder, and return what the setup says; that of most tests is made once and copied."""
        if self.setup not in _ready:
            said = self.manage("shell", "-v", "0", "-c", _UP_TO_DATE + self.setup)
            if self.setup != _SETUP:
                return said
            copy = tempfile.TemporaryDirectory()
            shutil.copytree(self.data, copy.name, dirs_exist_ok=True)
            _ready[self.setup] = copy, said
        copy, said = _ready[self.setup]
        shutil.copytree(copy.name, self.data, dirs_exist_ok=True)
        return said

    def __enter__(self) -> "Served":
        said = self._set_up()
        self.pk, self.session = next(line for line in said.splitlines() if line.startswith("KEY")).split()[1:]
        self.log = (self.data / "log").open("a+")
        self.start()
        return self

    def start(self) -> None:
        """Start the server, and wait until it answers."""
        self.process = subprocess.Popen(
            [sys.executable, str(ROOT / "manage.py"), "serve"],
            env=self.environment,
            cwd=ROOT,
            start_new_session=True,
            stdout=self.log,
            stderr=self.log,
        )
        end = time.monotonic() + 180
        while time.monotonic() < end:
            try:
                if self.ask("GET", "/sign-in")[0] == 200:
                    return
            except OSError:
                pass
            time.sleep(0.2)
        said = self.said()
        self.__exit__()
        raise AssertionError(f"it does not start: {said}")

    def __exit__(self, *_: object) -> None:
        with contextlib.suppress(ProcessLookupError):
            os.killpg(self.process.pid, signal.SIGTERM)
        self.process.wait(30)
        self.log.close()
        self.folder.cleanup()

    def said(self) -> str:
        """Return the server's log so far."""
        self.log.flush()
        return (self.data / "log").read_text()

    def headers(self, signed_in: bool = True) -> dict[str, str]:
        """Return the headers of somebody's request."""
        session = f"; sessionid={self.session}" if signed_in else ""
        return {"X-CSRFToken": TOKEN, "Cookie": f"csrftoken={TOKEN}{session}", "Accept": "application/json"}

    def ask(
        self,
        method: str,
        path: str,
        body: bytes = b"",
        headers: dict[str, str] | None = None,
        at: str = "",
        patience: float = 60,
    ):
        """Send a request, from another address of loopback where `at` says so; return status, headers and body."""
        source = (at, 0) if at else None
        line = HTTPConnection("127.0.0.1", self.port, timeout=patience, source_address=source)
        try:
            line.request(method, path, body or None, headers or {})
            answer = line.getresponse()
            return answer.status, dict(answer.getheaders()), answer.read()
        finally:
            line.close()
