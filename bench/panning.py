"""Panning a sheet with ten 24-megapixel photos, against moving a box on an empty page in the same browser."""

from typing import Any

from .app import running
from .chromium import enter, frames, opened

__all__ = ["run"]

SETUP = """
import io
from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
import numpy as np
from PIL import Image
from sheet import new_sheet
from studio import history
user = get_user_model().objects.create_user("bench")
project = history.start(user, "Bench", new_sheet(8000, 6000))
client = Client(HTTP_HOST="127.0.0.1")
client.force_login(user)
photos = []
rng = np.random.default_rng(1)
for k in range(10):
    small = Image.fromarray((rng.random((400, 600, 3)) * 255).astype(np.uint8))
    out = io.BytesIO()
    small.resize((6000, 4000), Image.Resampling.BICUBIC).save(out, "JPEG", quality=88)
    file = SimpleUploadedFile(f"photo-{k}.jpg", out.getvalue())
    photos.append(client.post(f"/p/{project.pk}/photos", {"photo": file}).json())
history.run(user, project.pk, "", "place", {"photos": photos}, 1)
print("KEY", project.pk, client.cookies[settings.SESSION_COOKIE_NAME].value)
"""

BOX = """<body style="margin:0"><div id="box" style="position:absolute;width:90px;height:90px;background:#2b7a72"></div>
<script>let x = 0, y = 0; addEventListener("wheel", (e) => { x -= e.deltaX; y -= e.deltaY;
document.getElementById("box").style.transform = `translate(${x}px, ${y}px)`; });</script>"""


def _pan(page: Any) -> None:
    for k in range(240):
        page.mouse.wheel(*((7, 5) if k // 40 % 2 else (-7, -5)))


def run() -> list[tuple[str, float, str]]:
    """Return (what, difference in the share of long frames, limit) rows."""
    with running(SETUP) as (port, (pk, session)), opened() as page:
        page.set_content(BOX)
        page.mouse.move(640, 400)
        empty, empty_mean = frames(page, lambda: _pan(page))
        enter(page, port, pk, session)
        page.mouse.move(640, 400)
        full, full_mean = frames(page, lambda: _pan(page))
    print(
        f"  long frames: {empty:.1%} on the empty page (mean {empty_mean:.1f} ms), {full:.1%} here ({full_mean:.1f} ms)"
    )
    return [("panning with ten 24-megapixel photos: more long frames (share)", full - empty, "≤ 0.01")]
