"""Chromium before the app, and what it says of its frames."""

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

__all__ = ["LONG", "enter", "frames", "opened"]

ARGS = ["--no-sandbox", "--disable-gpu", "--no-first-run", "--disable-background-networking"]
LONG = 34.0  # ms: a frame that takes longer has missed two beats of a 60 Hz display
RECORD = """() => {
  window.frames_ = [];
  let last = performance.now();
  const tick = (now) => { window.frames_.push(now - last); last = now; requestAnimationFrame(tick); };
  requestAnimationFrame(tick);
}"""


@contextmanager
def opened() -> Iterator[Any]:
    """Give a page of 1280 × 800."""
    from playwright.sync_api import sync_playwright

    with sync_playwright() as play:
        browser = play.chromium.launch(executable_path="/usr/bin/chromium", args=ARGS)
        try:
            yield browser.new_page(viewport={"width": 1280, "height": 800})
        finally:
            browser.close()


def enter(page: Any, port: int, project: str, session: str) -> None:
    """Open a project's editor as the person of `session`."""
    page.context.add_cookies([{"name": "sessionid", "value": session, "url": f"http://127.0.0.1:{port}"}])
    page.goto(f"http://127.0.0.1:{port}/p/{project}/")
    page.wait_for_selector("html[data-ready]")
    page.wait_for_load_state("networkidle")


def frames(page: Any, hand: Any) -> tuple[float, float]:
    """Return the share of long frames while `hand()` is at work, and the mean frame in ms."""
    page.wait_for_timeout(800)
    page.evaluate(RECORD)
    hand()
    found = page.evaluate("() => window.frames_")[2:]
    return sum(f > LONG for f in found) / len(found), sum(found) / len(found)
