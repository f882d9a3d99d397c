"""Large sheets: what their pages weigh, when they are at rest, and how soon all of it is selected."""

import time
import urllib.request
import zlib
from typing import Any

from .app import running
from .chromium import enter, opened
from .sheets import begun

__all__ = ["run"]

SETUP = (
    begun(4000, 3000)
    + """
from sheet import apply
keys = [project.pk]
for count in (1000, 3000):
    sheet = new_sheet(4000, 3000)
    for k in range(count):
        at = {"x": 37 * k % 3600, "y": 91 * k % 2700, "width": 300, "height": 200}
        sheet = apply(sheet, "draw", {"kind": ("rectangle", "ellipse", "star")[k % 3], **at}).sheet
    keys.append(changes.start(user, f"{count}", sheet).pk)
print("KEY", session, *keys)
"""
)
WEIGHED = {1000: 2_300_000, 3000: 6_800_000}
"""Bytes of these pages before rows were drawn as they come into view (as the app was then measured)."""
REST = "() => new Promise((done) => requestIdleCallback(done))"


def _page(port: int, pk: str, session: str) -> bytes:
    request = urllib.request.Request(f"http://127.0.0.1:{port}/p/{pk}/", headers={"Cookie": f"sessionid={session}"})
    with urllib.request.urlopen(request) as answer:
        data: bytes = answer.read()
    return data


def _opened(page: Any, port: int, pk: str, session: str) -> float:
    """Return the shortest of four times until the page is at rest (s)."""
    times = []
    for _ in range(4):
        start = time.perf_counter()
        page.goto(f"http://127.0.0.1:{port}/p/{pk}/")
        page.wait_for_selector("html[data-ready]")
        page.evaluate(REST)
        times.append(time.perf_counter() - start)
    return min(times)


def _chosen(page: Any) -> float:
    """Return the shortest of five times until all is selected and the panels tell of it (s)."""
    times = []
    for _ in range(5):
        page.keyboard.press("Escape")
        page.wait_for_timeout(700)
        start = time.perf_counter()
        page.keyboard.press("Control+a")
        page.wait_for_function("() => document.querySelector('#dimensions .number') !== null", polling="raf")
        times.append(time.perf_counter() - start)
    return min(times)


def run() -> list[tuple[str, float, str]]:
    """Return (what, ratio, limit) rows."""
    rows = []
    with running(SETUP, workers=2) as (port, (session, *keys)), opened() as page:
        enter(page, port, keys[0], session)
        empty = _opened(page, port, keys[0], session)
        print(f"  an empty sheet is at rest after {empty:.2f} s")
        for (count, before), pk in zip(WEIGHED.items(), keys[1:], strict=True):
            data = _page(port, pk, session)
            rest = _opened(page, port, pk, session)
            chosen = _chosen(page)
            packed = len(zlib.compress(data, 6))
            print(f"  {count} pieces: {len(data) / 1e3:.0f} kB, {packed / 1e3:.0f} kB on the way; at rest {rest:.2f} s")
            print(f"  all of them chosen, and the dimensions tells of them: {chosen:.2f} s")
            rows.append((f"a page of {count} pieces ÷ what it weighed", len(data) / before, "≤ 0.333"))
            rows.append((f"at rest ÷ an empty sheet, {count} pieces", rest / empty, ""))
            rows.append((f"choosing all {count} ÷ opening an empty sheet", chosen / empty, ""))
    return rows
