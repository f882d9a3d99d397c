"""Ten people with photos of 200 megapixels at once: what all processes of the server take, against the budget."""

import io
import threading
import time
from concurrent.futures import ThreadPoolExecutor

import numpy as np
from PIL import Image

from tests.studio.serving import Served

from .load import memory_of

__all__ = ["run"]

WIDTH, HEIGHT = 16_000, 12_500
BUDGET = 1_000_000_000
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


def run() -> list[tuple[str, float, str]]:
    """Return (what, ratio, limit) rows."""
    files = _files()
    with Served() as served:
        served.ask("GET", f"/p/{served.pk}/", headers=served.headers())
        usual, peak, over = memory_of(served.port), 0, threading.Event()

        def watch() -> None:
            nonlocal peak
            while not over.is_set():
                peak = max(peak, memory_of(served.port))
                time.sleep(0.05)

        def bring(file: tuple[bytes, bytes]) -> int:
            headers = {**served.headers(), "Content-Type": "multipart/form-data; boundary=b"}
            return served.ask("POST", f"/p/{served.pk}/photos", FORM % file, headers, patience=300)[0]

        hand = threading.Thread(target=watch)
        hand.start()
        start = time.perf_counter()
        with ThreadPoolExecutor(10) as hands:
            said = list(hands.map(bring, files))
        took = time.perf_counter() - start
        over.set()
        hand.join()
    print(f"  {len(said)} uploads of 200 megapixels at once, {took:.0f} s: answers {sorted(said)}")
    print(f"  memory of all processes {usual / 1e6:.0f} MB before, {peak / 1e6:.0f} MB at the most")
    return [("what ten take besides ÷ the budget", (peak - usual) / BUDGET, "≤ 1")]
