"""Panning a sheet with ten 24-megapixel photos, against moving a box on an empty page in the same browser."""

from .app import running

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

RECORD = """() => {
  window.frames_ = [];
  let last = performance.now();
  const tick = (now) => { window.frames_.push(now - last); last = now; requestAnimationFrame(tick); };
  requestAnimationFrame(tick);
}"""
BOX = """<body style="margin:0"><div id="box" style="position:absolute;width:90px;height:90px;background:#2b7a72"></div>
<script>let x = 0, y = 0; addEventListener("wheel", (e) => { x -= e.deltaX; y -= e.deltaY;
document.getElementById("box").style.transform = `translate(${x}px, ${y}px)`; });</script>"""
ARGS = ["--no-sandbox", "--disable-gpu", "--no-first-run", "--disable-background-networking"]


def _pan(page, frames: int = 240) -> tuple[float, float]:  # type: ignore[no-untyped-def]
    """Wheel about for a while; return the share of frames over 34 ms (two at 60 Hz), and the mean in ms."""
    page.mouse.move(640, 400)
    page.wait_for_timeout(800)
    page.evaluate(RECORD)
    for k in range(frames):
        page.mouse.wheel(*((7, 5) if k // 40 % 2 else (-7, -5)))
    found = page.evaluate("() => window.frames_")[2:]
    return sum(f > 34 for f in found) / len(found), sum(found) / len(found)


def run() -> list[tuple[str, float, str]]:
    """Return (what, difference in the share of long frames, limit) rows."""
    from playwright.sync_api import sync_playwright

    with running(SETUP) as (port, (pk, session)), sync_playwright() as play:
        browser = play.chromium.launch(executable_path="/usr/bin/chromium", args=ARGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.set_content(BOX)
        empty, empty_mean = _pan(page)
        page.context.add_cookies([{"name": "sessionid", "value": session, "url": f"http://127.0.0.1:{port}"}])
        page.goto(f"http://127.0.0.1:{port}/p/{pk}/")
        page.wait_for_selector("html[data-ready]")
        page.wait_for_load_state("networkidle")
        full, full_mean = _pan(page)
        browser.close()
    print(
        f"  long frames: {empty:.1%} on the empty page (mean {empty_mean:.1f} ms), {full:.1%} here ({full_mean:.1f} ms)"
    )
    return [("panning with ten 24-megapixel photos: more long frames (share)", full - empty, "≤ 0.01")]
