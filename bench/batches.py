"""A batch of 1,000 photos of 2 megapixels: with two workers against one, and against the libraries alone; its page."""

import hashlib
import io
import os
import signal
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from typing import Any

import django
import numpy as np
import skia
from PIL import Image

from .app import ROOT, running
from .chromium import frames, opened
from .sheets import begun

__all__ = ["run"]

COUNT = 1000
WIDTH, HEIGHT = 1732, 1155
SECRET = "bench"


def _photos() -> list[bytes]:
    """Return different files of twenty pictures, as different cameras' counters make them."""
    rng = np.random.default_rng(7)
    out = []
    for _ in range(20):
        small = Image.fromarray((rng.random((90, 135, 3)) * 255).astype(np.uint8))
        image = small.resize((WIDTH, HEIGHT), Image.Resampling.BICUBIC)
        file = io.BytesIO()
        image.save(file, "JPEG", quality=90)
        out.append(file.getvalue())
    numbered = []
    for n in range(COUNT):
        data = out[n % len(out)]
        said = f"{n:06}".encode()
        # a comment behind the first marker (ITU T.81, B.2.4.5)
        numbered.append(data[:2] + b"\xff\xfe" + (len(said) + 2).to_bytes(2, "big") + said + data[2:])
    return numbered


class _House:
    """A folder with a queue and a storage, as the app has them, and workers in it."""

    def __init__(self, folder: Path):
        self.folder = folder
        os.environ.update(GOUGE_DATA=str(folder), GOUGE_SECRET_KEY=SECRET, DJANGO_SETTINGS_MODULE="config.settings")
        django.setup()

    def fill(self, photos: list[bytes]) -> None:
        """Put the photos and the sheet in the storage."""
        from sheet import apply, dump, new_sheet
        from studio.storage import Stored, photo_key

        self.shots = []
        for n, data in enumerate(photos):
            sha = hashlib.sha256(data).hexdigest()
            Stored(photo_key(sha)).write(data)
            facts = {"file": sha, "name": f"photo-{n}.jpg", "width": WIDTH, "height": HEIGHT}
            self.shots.append([{"photo": facts, "seat": {"zoom": 1.0, "x": 0.5, "y": 0.5}}])
        sheet = new_sheet(WIDTH, HEIGHT, "px", 300)
        drawn = apply(sheet, "draw", {"kind": "ellipse", "x": 0, "y": 0, "width": WIDTH, "height": HEIGHT})
        (self.frame,) = drawn.chosen
        Stored("sheets/bench").write(dump(drawn.sheet))

    def do(self, workers: int, count: int) -> tuple[float, float]:
        """Return the seconds that so many photos take once workers are there, and how much (MB) one of them held."""
        from studio.work import queue

        said = f"of-{workers}-{count}"
        order = {"what": self.frame, "format": "jpg"}
        common = {"sheet": "sheets/bench", "frames": [self.frame], "order": order}
        ids = queue.put(
            queue.Job(1, "shoot", {**common, "shots": shots, "to": f"{said}/{n}.jpg"})
            for n, shots in enumerate(self.shots[:count])
        )
        place = self.folder / "media" / said
        command = [sys.executable, "manage.py", "worker", "--processes", str(workers)]
        worker = subprocess.Popen(command, cwd=ROOT, start_new_session=True, stderr=subprocess.DEVNULL)
        try:
            # what the workers take to begin is not the batch's
            while len(list(place.glob("*.jpg"))) < workers * 2:
                time.sleep(0.01)
            first, start = len(list(place.glob("*.jpg"))), time.perf_counter()
            while sum(1 for _ in place.iterdir()) < count:
                time.sleep(0.25)
            while any(k.state != "done" for k in queue.known(ids[-8:]).values()):
                time.sleep(0.02)
            took = (time.perf_counter() - start) * count / (count - first)
            return took, _peak(worker.pid)
        finally:
            os.killpg(worker.pid, signal.SIGKILL)
            worker.wait()


def _peak(pid: int) -> float:
    """Return the most memory (MB) that one of a process's children held."""
    children = Path(f"/proc/{pid}/task/{pid}/children").read_text().split()
    found = [0.0]
    for child in children:
        for line in Path(f"/proc/{child}/status").read_text().splitlines():
            if line.startswith("VmHWM"):
                found.append(int(line.split()[1]) / 1024)
    return max(found)


def _alone(photos: list[bytes]) -> float:
    """Return the seconds a photo takes to be decoded, drawn and encoded by the libraries alone."""
    clip = skia.Path()
    clip.addOval(skia.Rect.MakeWH(WIDTH, HEIGHT))
    info = skia.ImageInfo.Make(WIDTH, HEIGHT, skia.ColorType.kRGBA_8888_ColorType, skia.AlphaType.kUnpremul_AlphaType)

    def one(data: bytes, to: Path) -> None:
        image = Image.open(io.BytesIO(data)).convert("RGBA")
        surface = skia.Surface.MakeRasterN32Premul(WIDTH, HEIGHT)
        canvas = surface.getCanvas()
        canvas.clear(skia.ColorWHITE)
        canvas.clipPath(clip, skia.ClipOp.kIntersect, True)
        canvas.drawImage(skia.Image.fromarray(np.asarray(image), skia.ColorType.kRGBA_8888_ColorType), 0, 0)
        pixels = np.zeros((HEIGHT, WIDTH, 4), np.uint8)
        surface.readPixels(info, pixels, WIDTH * 4, 0, 0)
        Image.fromarray(pixels, "RGBA").convert("RGB").save(to, "JPEG", quality=90, subsampling=0, optimize=True)
        with to.open("rb") as file:
            os.fsync(file.fileno())

    with tempfile.TemporaryDirectory() as folder:
        one(photos[0], Path(folder) / "warm.jpg")
        start = time.perf_counter()
        for n, data in enumerate(photos):
            one(data, Path(folder) / f"{n}.jpg")
        return (time.perf_counter() - start) / len(photos)


PAGE = (
    begun(1200, 800)
    + """
import hashlib
from studio.export import batches
from studio.models import PhotoFile
from studio.storage import Stored, preview_key
drawn = changes.run(user, project.pk, "", "draw", {"kind": "ellipse", "x": 0, "y": 0, "width": 1200, "height": 800}, 1)
out = io.BytesIO()
small = Image.fromarray((np.random.default_rng(3).random((60, 90, 3)) * 255).astype(np.uint8))
small.resize((1732, 1155), Image.Resampling.BICUBIC).save(out, "JPEG", quality=86)
rows = []
for n in range(1000):
    sha = hashlib.sha256(str(n).encode()).hexdigest()
    Stored(preview_key(sha)).write(out.getvalue())
    rows.append(PhotoFile(owner=user, sha256=sha, name=f"photo-{n}.jpg", format="JPEG", width=1732, height=1155, size=9,
        interest=[0.5, 0.5]))
PhotoFile.objects.bulk_create(rows)
batch = batches.begin(user, project, "Bench", drawn.sheet, list(drawn.chosen))
batches.add(batch, PhotoFile.objects.filter(owner=user))
print("KEY", batch.pk, session)
"""
)
EMPTY = """<body style="margin:0;height:40000px;background:linear-gradient(#fff,#2b7a72)"></body>"""


def _scroll(page: Any) -> None:
    page.mouse.move(760, 500)
    for k in range(160):
        page.mouse.wheel(0, 180 if k < 110 else -180)


def _page() -> float:
    with running(PAGE) as (port, (pk, session)), opened() as page:
        page.set_content(EMPTY)
        empty, empty_mean = frames(page, lambda: _scroll(page))
        page.context.add_cookies([{"name": "sessionid", "value": session, "url": f"http://127.0.0.1:{port}"}])
        start = time.perf_counter()
        page.goto(f"http://127.0.0.1:{port}/batches/{pk}/")
        page.wait_for_selector("html[data-ready]")
        took = time.perf_counter() - start
        full, full_mean = frames(page, lambda: _scroll(page))
    print(f"  1,000 on the contact sheet are there after {took:.2f} s; long frames {full:.1%} ({full_mean:.1f} ms),")
    print(f"  {empty:.1%} on an empty page ({empty_mean:.1f} ms)")
    return full - empty


def run() -> list[tuple[str, float, str]]:
    """Return (what, ratio, limit) rows."""
    photos = _photos()
    alone = _alone(photos[:100])
    with tempfile.TemporaryDirectory() as folder:
        house = _House(Path(folder))
        house.fill(photos)
        few, held_few = house.do(1, 100)
        one, held_one = house.do(1, COUNT)
        two, _ = house.do(2, COUNT)
        alone = min(alone, _alone(photos[-100:]))
    print(f"  {COUNT:,} photos: one worker {one:.1f} s, two {two:.1f} s; the libraries {1000 * alone:.1f} ms a photo")
    print(f"  the most that a worker held: {held_few:.0f} MB after 100 photos, {held_one:.0f} MB after {COUNT:,}")
    return [
        ("two workers ÷ one, photos a second", one / two, "≥ 1.8"),
        ("a photo of a batch ÷ decoding, drawing and encoding it alone", one / COUNT / alone, "≤ 1.15"),
        ("memory of a worker after 1,000 photos ÷ after 100", held_one / held_few, "≤ 1.1"),
        ("scrolling 1,000 on the contact sheet: more long frames (share)", _page(), "≤ 0.02"),
    ]
