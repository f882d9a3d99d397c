"""`manage.py screenshots`: refresh the pictures in docs/screenshots from the demo data."""

import os
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand

from .demo import free_port

OUT = Path(settings.BASE_DIR) / "docs" / "screenshots"
ARGS = ["--no-sandbox", "--disable-gpu", "--no-first-run", "--disable-background-networking", "--disable-sync"]

_PANES = "".join(f'<use href="#pane" x="{x}" y="{y}"/>' for x, y in ((0, 0), (34, 0), (0, 42), (34, 42)))
PLAN = f"""<svg xmlns="http://www.w3.org/2000/svg" width="180mm" height="120mm" viewBox="0 0 180 120">
<defs><path id="pane" d="M22 60V36A14 14 0 0 1 50 36V60Z"/></defs>
<rect width="180" height="120" rx="6" fill="#e7dfce"/>
<g id="Windows" fill="#2b5d63" stroke="#22302f" stroke-width="1.2" transform="translate(-8 -6)">{_PANES}</g>
<g id="Lamp" transform="translate(132 50)"><circle r="32" fill="#22302f"/><circle r="22" fill="#d9a441"/>
<g fill="none" stroke="#22302f" stroke-width="2" stroke-linecap="round">
<path d="M-16 0H16M0-16V16M-11-11L11 11M11-11L-11 11"/></g><circle r="6" fill="#fdf6e3"/></g>
<text x="132" y="106" font-family="Bungee" font-size="13" text-anchor="middle" fill="#b5432a">Harbour</text>
</svg>"""
"""A drawing as other programs write it: uses, transforms, a real size, text."""


class Command(BaseCommand):
    """Take the pictures."""

    help = "Start the demo on fresh data, visit each main view, and save a PNG of it."

    def handle(self, *args: Any, **options: Any) -> None:
        """Do it."""
        from playwright.sync_api import sync_playwright

        OUT.mkdir(parents=True, exist_ok=True)
        port = free_port(8700)
        with tempfile.TemporaryDirectory() as folder:
            environment = {**os.environ, "GOUGE_DATA": folder, "GOUGE_DEMO": "1"}
            server = subprocess.Popen(
                [sys.executable, "manage.py", "demo", "--port", str(port)], env=environment, cwd=settings.BASE_DIR
            )
            try:
                address = f"http://127.0.0.1:{port}"
                for _ in range(600):
                    try:
                        urllib.request.urlopen(f"{address}/sign-in", timeout=1).close()
                        break
                    except OSError:
                        time.sleep(0.2)
                with sync_playwright() as play:
                    browser = play.chromium.launch(executable_path="/usr/bin/chromium", args=ARGS)
                    page = browser.new_page(viewport={"width": 1280, "height": 800})
                    self.visit(page, address)
                    browser.close()
            finally:
                server.terminate()
                server.wait()

    def save(self, page: Any, name: str) -> None:
        """Save what the page shows once it is idle."""
        page.wait_for_load_state("networkidle")
        page.wait_for_timeout(400)
        page.screenshot(path=OUT / f"{name}.png")
        self.stdout.write(f"docs/screenshots/{name}.png")

    def visit(self, page: Any, address: str) -> None:
        """Walk through the main views."""
        page.goto(f"{address}/sign-in")
        page.click("text=Open the demo")
        self.save(page, "projects")

        def open_(name: str) -> None:
            page.goto(address)
            page.click(f".project-name >> text={name}")
            page.wait_for_selector("html[data-ready]")

        def rows(*names: str) -> None:
            for k, name in enumerate(names):
                row = page.locator(".row-item", has_text=name).first
                row.click(modifiers=["Shift"] if k else [])

        open_("Booklet cover")
        page.keyboard.press("y")
        page.wait_for_selector("#ready-tiles .outline-tile")
        page.click("#tiles-fold summary")
        page.wait_for_selector(".shelf-item")
        self.save(page, "shelf")
        page.keyboard.press("1")
        page.keyboard.press("l")
        page.select_option("#set-font", "pacifico")
        page.locator("#desk").focus()
        box = page.locator("#surface").bounding_box()
        page.mouse.click(box["x"] + box["width"] * 0.17, box["y"] + box["height"] * 0.41)
        page.fill("#letter textarea", "Season")
        page.click("#letter .btn-primary")
        page.wait_for_selector("#d-text")
        self.save(page, "lettering")
        open_("Luggage tag")
        rows("Tag")
        self.save(page, "draw")
        rows("Tag", "Head", "Eye")
        page.keyboard.press("2")
        self.save(page, "cut")
        page.keyboard.press("j")
        page.wait_for_selector("#cells .cell")
        box = page.locator("#surface").bounding_box()

        def at(x: float, y: float) -> tuple[float, float]:
            return box["x"] + box["width"] * x / 100, box["y"] + box["height"] * y / 150

        page.mouse.move(*at(50, 100))
        page.mouse.down()
        page.mouse.move(*at(50, 45), steps=4)
        page.mouse.up()
        page.keyboard.down("Alt")
        page.mouse.click(*at(50, 24))
        page.keyboard.up("Alt")
        page.mouse.move(*at(50, 14))
        self.save(page, "cells")
        page.keyboard.press("Escape")
        page.keyboard.press("Escape")
        open_("Nine windows")
        page.keyboard.press("3")
        rows("Wall")
        page.locator("#pane-100").click()
        self.save(page, "panes")
        open_("Skerry light")
        page.keyboard.press("3")
        page.locator(".row-item", has=page.get_by_text("Light", exact=True)).click()
        page.keyboard.press("Shift+S")
        page.wait_for_selector("#silhouette-live .sil-line")
        self.save(page, "silhouette")
        page.click("#drop-silhouette")
        page.keyboard.press("5")
        page.click("#look-closer")
        box = page.locator("#surface").bounding_box()
        page.mouse.move(box["x"] + box["width"] * 0.5, box["y"] + box["height"] * 0.5)
        page.wait_for_selector("#lens:not([hidden])")
        self.save(page, "lens")
        page.keyboard.press("Escape")
        page.goto(address)
        page.set_input_files(
            "#file", {"name": "Harbour plan.svg", "mimeType": "image/svg+xml", "buffer": PLAN.encode()}
        )
        page.wait_for_selector("html[data-ready]")
        page.keyboard.press("1")
        page.locator(".row-item").first.click()
        self.save(page, "brought-in")
        open_("Timetable card")
        page.keyboard.press("2")
        rows("Plate")
        self.save(page, "cut-list")
        page.keyboard.press("3")
        self.save(page, "fit")
        page.locator("#desk").focus()
        page.keyboard.press("Enter")
        self.save(page, "step-inside")
        page.keyboard.press("Escape")
        page.keyboard.press("4")
        self.save(page, "finish")
        page.keyboard.press("5")
        page.click("#format-jpg")
        page.wait_for_selector("#d-quality")
        page.wait_for_selector("#d-estimate:has-text('About')")
        self.save(page, "export")
        page.locator("#web-fold summary").click()
        page.select_option("#d-web", "shape")
        page.wait_for_selector("#web-text:has-text('shape(')")
        page.locator("#copy-web").scroll_into_view_if_needed()
        self.save(page, "web")
        open_("Timetable card")
        rows("Plate")
        page.keyboard.press("Shift+R")
        page.wait_for_selector(".pin-anchor")
        page.get_by_role("button", name="16:9").click()
        page.wait_for_timeout(600)
        page.locator(".pin-anchor").nth(2).click()
        self.save(page, "refit")
        page.keyboard.press("Escape")
        page.keyboard.press("Shift+H")
        page.wait_for_url("**/steps")
        page.locator(".step").nth(17).click()
        page.fill("#step-word", "The plate by itself")
        page.locator("#step-word").press("Enter")
        page.wait_for_selector("#name-said:has-text('saved')")
        self.save(page, "steps")
        page.goto(f"{address}/batches")
        page.click("text=Coast cards")
        page.wait_for_selector("html[data-ready]")
        page.wait_for_load_state("networkidle")
        page.click("#batch-start")
        page.wait_for_selector(".cell:nth-of-type(5)[data-state=d]")
        page.screenshot(path=OUT / "batch.png")
        self.stdout.write("docs/screenshots/batch.png")
