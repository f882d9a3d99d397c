"""A server killed in the middle of edits loses no edit that it acknowledged."""

import json
import os
import signal
import socket
import sqlite3
import subprocess
import sys
import tempfile
import threading
import time
import unittest
import urllib.request
from pathlib import Path

from sheet.document.store import load, packed, unfolded
from studio.history.deltas import stepped

from .serving import ROOT, TOKEN, free_port

SETUP = """
from django.contrib.auth import get_user_model
from django.test import Client
from django.conf import settings
from sheet import new_sheet
from studio.history import changes
user = get_user_model().objects.create_user("ada")
project = changes.start(user, "Card", new_sheet(1000, 800))
client = Client()
client.force_login(user)
print("KEY", project.pk, client.cookies[settings.SESSION_COOKIE_NAME].value)
"""


class Killed(unittest.TestCase):
    def test_sigkill_during_edits(self):
        with tempfile.TemporaryDirectory() as folder:
            port = free_port()
            environment = {
                **os.environ,
                "GOUGE_DATA": folder,
                "GOUGE_BIND": f"127.0.0.1:{port}",
                "GOUGE_WORKERS": "1",
                "DJANGO_SETTINGS_MODULE": "config.settings",
            }
            manage = [sys.executable, str(ROOT / "manage.py")]
            run = {"env": environment, "cwd": ROOT, "check": True, "capture_output": True, "text": True}
            subprocess.run([*manage, "migrate", "--verbosity", "0"], **run)
            said = subprocess.run([*manage, "shell", "-v", "0", "-c", SETUP], **run).stdout
            _, pk, session = next(line for line in said.splitlines() if line.startswith("KEY")).split()
            server = subprocess.Popen(
                [str(Path(sys.executable).parent / "gunicorn"), "config.wsgi", "--config", "config/gunicorn.py"],
                env=environment,
                cwd=ROOT,
                start_new_session=True,
                stdout=subprocess.DEVNULL,
                stderr=subprocess.DEVNULL,
            )
            acknowledged: list[int] = []

            def post(revision: int) -> int:
                body = {
                    "id": f"c{revision}",
                    "name": "draw",
                    "args": {"kind": "ellipse", "x": revision, "y": 1, "width": 9, "height": 9},
                    "revision": revision,
                }
                request = urllib.request.Request(
                    f"http://127.0.0.1:{port}/p/{pk}/command",
                    json.dumps(body).encode(),
                    {
                        "Content-Type": "application/json",
                        "X-CSRFToken": TOKEN,
                        "Cookie": f"csrftoken={TOKEN}; sessionid={session}",
                    },
                )
                with urllib.request.urlopen(request, timeout=90) as answer:
                    return json.load(answer)["revision"]

            def edit():
                revision = 1
                while True:
                    try:
                        revision = post(revision)
                    except OSError:
                        return
                    acknowledged.append(revision)

            try:
                end = time.monotonic() + 120
                while time.monotonic() < end:
                    try:
                        socket.create_connection(("127.0.0.1", port), 1).close()
                        break
                    except OSError:
                        time.sleep(0.1)
                hand = threading.Thread(target=edit)
                hand.start()
                end = time.monotonic() + 120
                while len(acknowledged) < 40 and time.monotonic() < end:
                    time.sleep(0.005)
            finally:
                os.killpg(server.pid, signal.SIGKILL)
                server.wait()
            hand.join(20)
            self.assertGreaterEqual(len(acknowledged), 40)
            base = sqlite3.connect(Path(folder) / "gouge.sqlite3")
            self.addCleanup(base.close)
            self.assertEqual(base.execute("PRAGMA integrity_check").fetchone()[0], "ok")
            rows = "SELECT number, data, step FROM studio_revision WHERE project_id = ? ORDER BY number"
            text, stored = b"", {}
            for number, data, step in base.execute(rows, (pk,)):
                text = unfolded(data) if data else stepped(text, step)
                stored[number] = len(load(packed(text)).items)
            self.assertLessEqual(set(acknowledged), set(stored))
            head = base.execute(
                "SELECT number FROM studio_revision WHERE id = (SELECT head_id FROM studio_project WHERE id = ?)", (pk,)
            ).fetchone()[0]
            self.assertGreaterEqual(head, acknowledged[-1])
            self.assertEqual([stored[n] for n in acknowledged], [n - 1 for n in acknowledged])
