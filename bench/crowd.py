"""Ten uploads and ten exports of 100 and 200 megapixels at once: what all processes take, against the budget."""

import io
import json
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager

import numpy as np
from PIL import Image

from picture.periodic import repeating
from tests.studio.serving import Served

from .load import memory_of

__all__ = ["run"]

WIDTH, HEIGHT = 16_000, 12_500
BUDGET = 1_000_000_000
WAYS = (("jpg", "1"), ("png", "1"), ("tif", "1"), ("avif", "0.56"), ("webp", "0.7"))
"""Formats, and the share of the photo's size: all of it, and of AVIF and WebP as much as there may be."""
FORM = b"--b\r\nContent-Disposition: form-data; name=photo; filename=%s\r\n\r\n%s\r\n--b--\r\n"


def _files() -> list[tuple[bytes, bytes]]:
    """Return ten different files: JPEG, progressive JPEG, PNG and TIFF."""
    noise = np.random.default_rng(3).integers(0, 255, (100, 128), dtype=np.uint8)
    large = Image.fromarray(noise).resize((WIDTH, HEIGHT), Image.Resampling.NEAREST)
    out = []
    for kind, options in (
        ("JPEG", {"quality": 60}),
        ("JPEG", {"quality": 60, "progressive": True}),
        ("PNG", {"compress_level": 1}),
        ("TIFF", {"compression": "tiff_lzw"}),
    ):
        file = io.BytesIO()
        large.save(file, kind, **options)
        out.append((kind.lower().encode(), file.getvalue()))
    # what follows a picture's end is no part of it
    return [(k, d + bytes([n])) for n in range(3) for k, d in out][:10]


@contextmanager
def _watched(served: Served) -> Iterator[list[int]]:
    """While this lasts, note the memory that all processes of the server have together."""
    found = [memory_of(served.port)]
    with repeating(0.05, lambda: found.append(memory_of(served.port))):
        yield found


def _export(served: Served, file: tuple[bytes, bytes]) -> list[str]:
    """Make a project of a photo, order ten large exports of it at once, and return how they ended."""
    headers = {**served.headers(), "Content-Type": "multipart/form-data; boundary=b"}
    form = (FORM % file).replace(b"name=photo", b"name=file")
    at = json.loads(served.ask("POST", "/projects/open", form, headers, patience=300)[2])["to"]

    def order(number: int) -> int:
        key, size = WAYS[number % len(WAYS)]
        found = {"format": key, "by": "factor", "size": size, "quality": str(60 + number), "own_profile": number > 4}
        headers = {**served.headers(), "Content-Type": "application/json"}
        return served.ask("POST", f"{at}export", json.dumps(found).encode(), headers, patience=300)[0]

    with ThreadPoolExecutor(10) as hands:
        said = list(hands.map(order, range(10)))
    assert all(status in (200, 202) for status in said), said
    while True:
        rows = json.loads(served.ask("GET", f"{at}exports", headers=served.headers())[2])["rows"]
        states: list[str] = [row["state"] for row in rows]
        if "under way" not in states:
            return states
        time.sleep(1)


def run() -> list[tuple[str, float, str]]:
    """Return (what, ratio, limit) rows."""
    files = _files()
    with Served() as served:
        served.ask("GET", f"/p/{served.pk}/", headers=served.headers())
        # the workers and the queue's workers come up meanwhile
        time.sleep(15)
        usual = memory_of(served.port)

        def bring(file: tuple[bytes, bytes]) -> int:
            headers = {**served.headers(), "Content-Type": "multipart/form-data; boundary=b"}
            return served.ask("POST", f"/p/{served.pk}/photos", FORM % file, headers, patience=300)[0]

        start = time.perf_counter()
        with _watched(served) as brought, ThreadPoolExecutor(10) as hands:
            said = list(hands.map(bring, files))
        took = time.perf_counter() - start
        print(f"  {len(said)} uploads of 200 megapixels at once, {took:.0f} s: answers {sorted(said)}")
        time.sleep(3)
        between = memory_of(served.port)
        start = time.perf_counter()
        with _watched(served) as sent:
            ended = _export(served, files[0])
        took = time.perf_counter() - start
        print(f"  {len(ended)} exports of 100 and 200 megapixels at once, {took:.0f} s: {sorted(ended)}")
    print(
        f"  all processes have {usual / 1e6:.0f} MB before, {max(brought) / 1e6:.0f} at the most,"
        f" {between / 1e6:.0f} between, {max(sent) / 1e6:.0f} at the most"
    )
    return [
        ("what ten uploads take besides ÷ the budget", (max(brought) - usual) / BUDGET, "≤ 1"),
        ("what ten exports take besides ÷ the budget", (max(sent) - usual) / BUDGET, "≤ 1"),
    ]
