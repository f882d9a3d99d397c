"""The app on fresh data under gunicorn, for measuring it from outside."""

import http.client
import json
import os
import socket
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

__all__ = ["asker", "running"]

ROOT = Path(__file__).resolve().parent.parent
_TOKEN = "b" * 32


def _free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port: int = probe.getsockname()[1]
        return port


@contextmanager
def running(setup: str, workers: int = 1) -> Iterator[tuple[int, list[str]]]:
    """Run `setup` in a Django shell on fresh data, start the workers; give its port and the words after KEY."""
    with tempfile.TemporaryDirectory() as folder:
        port = _free_port()
        environment = {
            **os.environ,
            "GOUGE_DATA": folder,
            "GOUGE_BIND": f"127.0.0.1:{port}",
            "GOUGE_WORKERS": str(workers),
            "DJANGO_SETTINGS_MODULE": "bench.settings",
        }
        manage = [sys.executable, str(ROOT / "manage.py")]
        subprocess.run([*manage, "migrate", "--verbosity", "0"], env=environment, cwd=ROOT, check=True)
        collect = [*manage, "collectstatic", "--noinput", "--verbosity", "0"]
        subprocess.run(collect, env=environment, cwd=ROOT, check=True)
        said = subprocess.run(
            [*manage, "shell", "-v", "0", "-c", setup],
            env=environment,
            cwd=ROOT,
            check=True,
            stdout=subprocess.PIPE,
            text=True,
        ).stdout
        words = next(line for line in said.splitlines() if line.startswith("KEY")).split()[1:]
        gunicorn = [str(Path(sys.executable).parent / "gunicorn"), "config.wsgi", "--config", "config/gunicorn.py"]
        server = subprocess.Popen([*gunicorn, "--log-level", "error"], env=environment, cwd=ROOT)
        try:
            for _ in range(100):
                try:
                    socket.create_connection(("127.0.0.1", port), 1).close()
                    break
                except OSError:
                    time.sleep(0.1)
            yield port, words
        finally:
            server.terminate()
            server.wait()


def asker(port: int, session: str) -> Callable[..., bytes]:
    """Return `ask(method, url, body=None)`, which asks over one kept connection as the person of `session`."""
    line = http.client.HTTPConnection("127.0.0.1", port)
    headers = {
        "Cookie": f"csrftoken={_TOKEN}; sessionid={session}",
        "X-CSRFToken": _TOKEN,
        "Content-Type": "application/json",
    }

    def ask(method: str, url: str, body: Any = None, any_status: bool = False) -> bytes:
        line.request(method, url, json.dumps(body) if body is not None else None, headers)
        answer = line.getresponse()
        text = answer.read()
        assert any_status or answer.status == 200, text[:300]
        return text

    return ask
