"""What a committed move costs the server, as a multiple of an empty Django view in the same run.

Both are asked of gunicorn with one worker over one kept connection, as a browser asks.
"""

import http.client
import json
from itertools import count

from .app import TOKEN, running
from .timing import median

__all__ = ["run"]

LIMIT = 10.0

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


def run() -> list[tuple[str, float, str]]:
    """Return (what, ratio, limit) rows."""
    with running(SETUP) as (port, words):
        pk, session, number, piece = words[0], words[1], int(words[2]), words[3]
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
    print(f"  an empty view {empty * 1e3:.2f} ms, one that knows who asks {known * 1e3:.2f} ms")
    print(f"  a committed move {moved * 1e3:.2f} ms")
    return [
        ("a committed move, 100 pieces and 5 photos ÷ an empty view", moved / empty, f"≤ {LIMIT:g}"),
        ("the same ÷ an empty view that knows who asks", moved / known, ""),
    ]
