"""What a committed move costs the server, as a multiple of an empty Django view in the same run.

Both are asked of gunicorn with one worker over one kept connection, as a browser asks.
"""

import http.client
import json
import os
import socket
import subprocess
import sys
import tempfile
import time
from itertools import count
from pathlib import Path

from .timing import median

__all__ = ["run"]

LIMIT = 10.0
ROOT = Path(__file__).resolve().parent.parent
TOKEN = "b" * 32

SETUP = """
import io, json
from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from PIL import Image
from sheet import new_sheet
from studio import history
user = get_user_model().objects.create_user("bench")
project = history.start(user, "Bench", new_sheet(4000, 3000))
client = Client(HTTP_HOST="127.0.0.1")
client.force_login(user)
photos = []
for k in range(5):
    out = io.BytesIO()
    Image.new("RGB", (1200, 800), (40 * k, 90, 120)).save(out, "JPEG")
    file = SimpleUploadedFile(f"photo-{k}.jpg", out.getvalue())
    photos.append(client.post(f"/p/{project.pk}/photos", {"photo": file}).json())
done = history.run(user, project.pk, "", "place", {"photos": photos}, 1)
for k in range(100):
    args = {"kind": ("rectangle", "ellipse")[k % 2], "x": 37 * k % 3600, "y": 91 * k % 2700}
    args |= {"width": 300, "height": 200}
    done = history.run(user, project.pk, "", "draw", args, done.project.head.number)
session = client.cookies[settings.SESSION_COOKIE_NAME].value
print("KEY", project.pk, session, done.project.head.number, done.sheet.items[50].id)
"""


def _free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port: int = probe.getsockname()[1]
        return port


def run() -> list[tuple[str, float, str]]:
    """Return (what, ratio, limit) rows."""
    with tempfile.TemporaryDirectory() as folder:
        port = _free_port()
        environment = {
            **os.environ,
            "GOUGE_DATA": folder,
            "GOUGE_BIND": f"127.0.0.1:{port}",
            "GOUGE_WORKERS": "1",
            "DJANGO_SETTINGS_MODULE": "bench.settings",
        }
        manage = [sys.executable, str(ROOT / "manage.py")]
        subprocess.run([*manage, "migrate", "--verbosity", "0"], env=environment, cwd=ROOT, check=True)
        said = subprocess.run(
            [*manage, "shell", "-v", "0", "-c", SETUP],
            env=environment,
            cwd=ROOT,
            check=True,
            capture_output=True,
            text=True,
        ).stdout
        words = next(line for line in said.splitlines() if line.startswith("KEY")).split()
        pk, session, number, piece = words[1], words[2], int(words[3]), words[4]
        gunicorn = [str(Path(sys.executable).parent / "gunicorn"), "config.wsgi", "--config", "config/gunicorn.py"]
        server = subprocess.Popen(
            [*gunicorn, "--log-level", "error"], env=environment, cwd=ROOT, stdout=subprocess.DEVNULL
        )
        try:
            for _ in range(100):
                try:
                    socket.create_connection(("127.0.0.1", port), 1).close()
                    break
                except OSError:
                    time.sleep(0.1)
            line = http.client.HTTPConnection("127.0.0.1", port)
            headers = {
                "Cookie": f"csrftoken={TOKEN}; sessionid={session}",
                "X-CSRFToken": TOKEN,
                "Content-Type": "application/json",
            }

            def ask(method: str, url: str, body: str | None = None) -> None:
                line.request(method, url, body, headers)
                answer = line.getresponse()
                text = answer.read()
                assert answer.status == 200, text[:300]

            revisions = count(number)

            def move() -> None:
                revision = next(revisions)
                args = {"ids": [piece], "matrix": [1, 0, 0, 1, 1 if revision % 2 else -1, 0]}
                look = {"station": "draw", "chosen": [piece]}
                body = {"id": f"m{revision}", "name": "transform", "args": args, "revision": revision, "look": look}
                ask("POST", f"/p/{pk}/command", json.dumps(body))

            empty = median(lambda: ask("GET", "/bench/empty"), 400)
            known = median(lambda: ask("GET", "/bench/known"), 400)
            moved = median(move, 300)
        finally:
            server.terminate()
            server.wait()
    print(f"  an empty view {empty * 1e3:.2f} ms, one that knows who asks {known * 1e3:.2f} ms")
    print(f"  a committed move {moved * 1e3:.2f} ms")
    return [
        ("a committed move, 100 pieces and 5 photos ÷ an empty view", moved / empty, f"≤ {LIMIT:g}"),
        ("the same ÷ an empty view that knows who asks", moved / known, ""),
    ]
