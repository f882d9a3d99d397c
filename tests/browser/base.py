"""The real app in a real Chromium."""

import json
import os
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import ClassVar

from django.conf import settings
from django.contrib.auth import get_user_model
from django.contrib.staticfiles.handlers import StaticFilesHandler
from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from django.core.files.uploadedfile import SimpleUploadedFile
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.test import Client, override_settings
from playwright.sync_api import (
    BrowserContext,
    ConsoleMessage,
    Error,
    Page,
    Playwright,
    ViewportSize,
    expect,
    sync_playwright,
)

from sheet import Sheet, new_sheet
from sheet.document.model import Item
from sheet.geometry.geometry import box_of
from studio.editor.view_state import STATIONS
from studio.history import changes
from studio.models import Project

# Playwright runs an event loop in this thread, and Django then asks for this word
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"

OFF = (
    # what Playwright turns off, which is not done when the switch is given anew
    "AvoidUnnecessaryBeforeUnloadCheckSync", "DestroyProfileOnBrowserClose", "HttpsUpgrades",
    "HttpsFirstBalancedModeAutoEnable", "LensOverlay", "MediaRouter", "PaintHolding", "ThirdPartyStoragePartitioning",
    "AvoidCorsURLLoaderRestartOnRedirect", "TcpPortRandomizationWin", "OptimizationHints",
    "NetworkTimeServiceQuerying", "AimEnabled", "PreconnectToSearch",
    # pages of the browser's own in every window, and a process in reserve: half of all that a test took
    "WebUIOmniboxPopup", "WebUIOmniboxAimPopup", "SpareRendererForSitePerProcess",
)  # fmt: skip
ARGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    # pages that come one after another are drawn by one process, which has read the scripts
    "--process-per-site",
    f"--disable-features={','.join(OFF)}",
]
CHROMIUM = "/usr/bin/chromium"
PATIENCE = 60
"""Seconds that anything may take, since it may have the cores with another test's workers."""
expect.set_options(timeout=PATIENCE * 1000)
SIZE: ViewportSize = {"width": 1280, "height": 800}
_shared: dict = {}
"""What all tests of a process have one of: the browser, the server, and a context with its page for each device."""


def browser():
    """Return the one browser of this process."""
    if "browser" not in _shared:
        play: Playwright = sync_playwright().start()
        _shared["browser"] = play.chromium.launch(executable_path=CHROMIUM, args=ARGS)
    return _shared["browser"]


ASKING = """
window.asking = 0;
const plain = window.fetch;
window.fetch = (...all) => {
  window.asking++;
  const over = () => requestAnimationFrame(() => requestAnimationFrame(() => window.asking--));
  return plain.apply(window, all).finally(over);
};
"""
"""Counts what a page waits for: an answer moves what is pressed next."""


def _context(device: dict) -> BrowserContext:
    """Return this process's one context for a device, without cookies, permissions or pages but the first.

    Starting a process for a page and reading its scripts anew would take half of a test's time.
    """
    key = json.dumps(device)
    if key not in _shared:
        _shared[key] = browser().new_context(**device, accept_downloads=True)
        _shared[key].add_init_script(ASKING)
        _shared[key].new_page()
    context: BrowserContext = _shared[key]
    context.clear_cookies()
    context.clear_permissions()
    context.set_offline(False)
    for left in context.pages[1:]:
        left.close()
    context.unroute_all(behavior="ignoreErrors")
    return context


DRAW = """async ([kind, place]) => {
  const { drawIn } = await import('/static/studio/js/tools/draw.js');
  return (await drawIn(kind, place)).error ?? null;
}"""
LATE = """part => {
  const plain = window.fetch;
  window.fetch = async (url, how) => {
    if (String(url).includes(part) && !window.come) await new Promise((come) => { window.come = come; });
    return plain.call(window, url, how);
  };
}"""
PRESS = """(row, shiftKey) => {
  const all = { bubbles: true, cancelable: true, shiftKey };
  row.dispatchEvent(new PointerEvent("pointerdown", all));
  row.focus();
  row.dispatchEvent(new PointerEvent("pointerup", all));
  row.dispatchEvent(new PointerEvent("click", all));
}"""
"""A press without the way of the pointer, which takes four times as long."""
FOLDS = ("dimensions-fold", "cuts-fold", "arrange-fold", "shelf-fold", "margins-fold", "tiles-fold")
"""What of the side folds by station."""


class Files(StaticFilesHandler):
    """Static files that a browser may cache: by default it asks again for each, on every page."""

    def serve(self, request: HttpRequest) -> HttpResponseBase:
        """Return a file that the browser may cache."""
        response = super().serve(request)
        response["Cache-Control"] = "max-age=86400, immutable"
        return response


class BrowserCase(StaticLiveServerTestCase):
    """A person `ada`, signed in, with an empty 1000 × 800 px project called Card."""

    static_handler = Files
    device: ClassVar[dict] = {"viewport": SIZE}
    signed_in = True
    unfolded = True
    expected = ("status of 4",)
    """Words of what the console may say: that the server refused something."""

    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        change = override_settings(MEDIA_ROOT=self.folder / "media", GOUGE_QUEUE=str(self.folder / "queue.sqlite3"))
        change.enable()
        self.addCleanup(change.disable)
        self.user = get_user_model().objects.create_user("ada", password="a-long-enough-word")
        self.project = changes.start(self.user, "Card", new_sheet(1000, 800, "px", 100))
        self.context = _context(self.device)
        self.page = self.context.pages[0]
        self.page.set_viewport_size(self.device["viewport"])
        self.page.set_default_timeout(PATIENCE * 1000)
        # what a person who works with everything in sight has left folded open
        left = {f"{station}/{fold}": True for station in STATIONS for fold in FOLDS} if self.unfolded else {}
        if self.page.url != f"{self.live_server_url}/health":
            self.page.goto(f"{self.live_server_url}/health")
        store = "left => { localStorage.clear(); sessionStorage.clear(); localStorage['gouge-folds'] = left; }"
        self.page.evaluate(store, json.dumps(left))
        # gone to from the test's page so that nothing of it is left on its way, and the process stays
        self.addCleanup(self.page.goto, f"{self.live_server_url}/health")
        self.watch(self.page)
        if self.signed_in:
            client = Client()
            client.force_login(self.user)
            value = client.cookies[settings.SESSION_COOKIE_NAME].value
            self.context.add_cookies(
                [{"name": settings.SESSION_COOKIE_NAME, "value": value, "url": self.live_server_url}]
            )

    @classmethod
    def _start_server_thread(cls) -> None:
        """Start this process's server, with static files that a browser may cache, unless it runs."""
        if "server" not in _shared:
            _shared["server"] = cls._create_server_thread({})
            _shared["server"].daemon = True
            _shared["server"].start()
            _shared["server"].is_ready.wait()
        cls.server_thread = _shared["server"]
        if cls.server_thread.error:
            raise cls.server_thread.error

    def new_page(self) -> Page:
        """Return another page whose script errors fail the test."""
        page = self.context.new_page()
        page.set_default_timeout(PATIENCE * 1000)
        self.watch(page)
        return page

    def watch(self, page: Page) -> None:
        """Fail the test where a script of the page fails."""
        errors: list[str] = []

        def failed(error: Error) -> None:
            errors.append(str(error))

        def said(message: ConsoleMessage) -> None:
            if message.type == "error" and not self.is_expected(message.text):
                errors.append(f"{message.text} ({message.location['url']})")

        page.on("pageerror", failed)
        page.on("console", said)

        def ended() -> None:
            page.remove_listener("pageerror", failed)
            page.remove_listener("console", said)
            page.unroute_all(behavior="ignoreErrors")
            self.assertEqual(errors, [])

        self.addCleanup(ended)

    def is_expected(self, text: str) -> bool:
        """Return whether this test expects the console to say so."""
        return any(words in text for words in self.expected)

    # -- what is there before the editor is opened

    def do(self, name: str, **args) -> tuple[str, ...]:
        """Do a command without the page; return what is selected by it."""
        chosen: tuple[str, ...] = changes.run(self.user, self.project.pk, "", name, args, self.revision).chosen
        return chosen

    def place(self, data: bytes) -> str:
        """Upload a photo and place it without the page; return its id."""
        client = Client()
        client.force_login(self.user)
        url = f"/p/{self.project.pk}/photos"
        (photo,) = self.do(
            "place", files=[client.post(url, {"photo": SimpleUploadedFile("sea.jpg", data)}).json()["file"]]
        )
        return photo

    # -- the editor

    def open(self, page: Page | None = None) -> Page:
        """Open the project in the editor and wait until it is ready."""
        page = page or self.page
        page.goto(f"{self.live_server_url}/p/{self.project.pk}/")
        page.wait_for_selector("html[data-ready]")
        return page

    def at(self, x: float, y: float) -> tuple[float, float]:
        """Return where the sheet's point (px) lies on the screen."""
        left, top, width, height = self.page.evaluate(
            "() => { const r = document.getElementById('surface').getBoundingClientRect();"
            " return [r.x, r.y, r.width, r.height]; }"
        )
        sheet = self.sheet
        return left + x * width / sheet.width, top + y * height / sheet.height

    @property
    def zoom(self) -> float:
        """Screen px per sheet px."""
        return self.at(1, 0)[0] - self.at(0, 0)[0]

    def drag(self, start: tuple[float, float], end: tuple[float, float], before_drop: Callable | None = None) -> None:
        """Drag from one point of the sheet to another, in steps as a hand does."""
        (x0, y0), (x1, y1) = self.at(*start), self.at(*end)
        mouse = self.page.mouse
        mouse.move(x0, y0)
        mouse.down()
        for k in range(1, 5):
            mouse.move(x0 + (x1 - x0) * k / 4, y0 + (y1 - y0) * k / 4)
        if before_drop:
            before_drop()
        mouse.up()

    def drag_handle(self, name: str, dx: float, dy: float, key: str = "") -> None:
        """Drag a handle of the chosen box by a distance in sheet px, with a modifier held."""
        before = self.revision
        box = self.page.locator(f"[data-handle={name}]").bounding_box()
        assert box is not None
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        mouse = self.page.mouse
        mouse.move(x, y)
        mouse.down()
        if key:
            self.page.keyboard.down(key)
        zoom = self.zoom
        mouse.move(x + dx * zoom / 2, y + dy * zoom / 2)
        mouse.move(x + dx * zoom, y + dy * zoom)
        mouse.up()
        if key:
            self.page.keyboard.up(key)
        self.wait(lambda: self.revision > before)

    def click(self, x: float, y: float, **options) -> None:
        """Click a point of the sheet."""
        self.page.mouse.click(*self.at(x, y), **options)

    def draw(self, kind: str, x: float, y: float, w: float, h: float) -> str:
        """Draw a piece as the tool does at the end of a drag, and return its id; how one drags is tested elsewhere."""
        place = {"x": x, "y": y, "width": w, "height": h}
        error = self.page.evaluate(DRAW, [kind, place])
        self.assertIsNone(error)
        self.shows_all()
        return self.sheet.items[-1].id

    def draw_by_hand(self, kind: str, x: float, y: float, w: float, h: float) -> str:
        """Draw a piece by its key and a drag, and return its id."""
        before = self.revision
        self.page.keyboard.press(kind[0])
        self.drag((x, y), (x + w, y + h))
        self.wait(lambda: self.revision > before)
        self.shows_all()
        return self.sheet.items[-1].id

    def shows_all(self) -> None:
        """Wait until the page shows every item of the sheet."""
        self.page.wait_for_function(
            "n => document.querySelectorAll('#art > g').length === n", arg=len(self.sheet.items)
        )

    def bring(self, file: Path) -> str:
        """Bring a photo in as by the file dialog; return its id once it is placed and shown."""
        # into what is selected it would go in
        if self.page.locator(".row-item[aria-pressed=true]").count():
            self.page.keyboard.press("Escape")
        before, had = self.revision, {i.id for i in self.sheet.items}
        self.page.set_input_files("#files", str(file))
        self.wait(lambda: self.revision > before)
        self.settle()
        (new,) = {i.id for i in self.sheet.items} - had
        return new

    def press(self, key: str, changes: bool = True) -> None:
        """Press a key; wait for the change it makes."""
        before = self.revision
        self.page.keyboard.press(key)
        if changes:
            self.wait(lambda: self.revision != before)
            self.settle()

    def fill(self, selector: str, value: str) -> None:
        """Type into a field, press Enter, and wait for the step it makes."""
        before = self.revision
        field = self.page.locator(selector)
        field.fill(value)
        field.press("Enter")
        self.wait(lambda: self.revision > before)
        self.settle()

    def push(self, selector: str) -> None:
        """Press a button and wait for the step it makes."""
        self.page.wait_for_function("() => !window.asking")
        before = self.revision
        self.page.locator(selector).click()
        self.wait(lambda: self.revision > before)
        self.settle()

    def idle(self) -> None:
        """Send what is pending and wait for every response, so that nothing comes later."""
        self.page.evaluate(
            "async () => { const { flush, idle } = await import('/static/studio/js/core/server.js');"
            " flush(); await idle(); }"
        )
        self.page.wait_for_function("() => !window.asking")

    def hold_back(self, part: str) -> None:
        """Have the page's next request to an address with `part` in it wait until `window.come()` is called.

        It waits in the page: held back by the browser, one in some thousands never came to the test.
        """
        self.page.evaluate(LATE, part)

    def wait_held_back(self) -> None:
        """Wait until it is made."""
        self.page.wait_for_function("() => window.come")

    def settle(self) -> None:
        """Wait until the page shows the newest revision."""
        shown = "n => document.querySelector('.name small').textContent === `saved, step ${n}`"
        self.page.wait_for_function(shown, arg=self.revision)

    def choose(self, *ids: str) -> None:
        """Select by the stack, with Shift for more."""
        for k, item in enumerate(ids):
            self.page.locator(f"#row-{item}").evaluate(PRESS, bool(k))

    def station(self, number: int) -> None:
        """Go to a station by its key and wait for its drawer."""
        names = ("draw", "cut", "fit", "finish", "export")
        if self.page.locator(f"#station-{names[number - 1]}[aria-current]").count():
            return
        with self.page.expect_response(lambda r: f"station={names[number - 1]}" in r.url):
            self.page.keyboard.press(str(number))

    def notice(self, words: str = "") -> str:
        """Return the text of the newest notice, waiting for one that has `words`."""
        found = self.page.locator(".notice", has_text=words).last
        found.wait_for()
        return found.inner_text()

    def cut_words(self) -> list[str]:
        """Return what the steps shown in the cut list do, without its first piece."""
        words: list[str] = self.page.eval_on_selector_all("#cuts select.op", "all => all.map(s => s.value)")
        return words

    # -- what is stored

    def exported(self, **order) -> bytes:
        """Return the file of what is ordered, as the server gives it."""
        client = Client()
        client.force_login(self.user)
        url = f"/p/{self.project.pk}/export"
        return client.post(url, json.dumps(order), content_type="application/json").getvalue()

    @property
    def sheet(self) -> Sheet:
        """The sheet at the head."""
        return Project.objects.select_related("head").get(pk=self.project.pk).head.sheet

    @property
    def revision(self) -> int:
        """The head's number."""
        number: int = Project.objects.values_list("head__number", flat=True).get(pk=self.project.pk)
        return number

    def item(self, item_id: str) -> Item:
        """Return an item of the stored sheet."""
        return next(i for i in self.sheet.items if i.id == item_id)

    def box(self, item_id: str) -> tuple[float, ...]:
        """Return the stored box of an item, rounded to whole px of the sheet."""
        return tuple(round(v) for v in box_of(self.item(item_id)))

    def near(self, got: tuple[float, ...], want: tuple[float, ...], delta: float = 2.5) -> None:
        """Compare numbers that come from a pointer on a zoomed sheet."""
        self.assertEqual(len(got), len(want))
        for a, b in zip(got, want, strict=True):
            self.assertAlmostEqual(a, b, delta=delta, msg=f"{got} is not near {want}")

    def wait(self, condition: Callable[[], bool], seconds: float = PATIENCE) -> None:
        """Wait for a condition on the stored state."""
        end = time.monotonic() + seconds
        while not condition():
            if time.monotonic() > end:
                at = self.page.evaluate("[window.asking, document.activeElement?.id]")
                notices = self.page.locator(".notice").all_inner_texts()
                self.fail(f"waited {seconds} s in vain; requests, focus: {at}; notices: {notices}")
            self.page.wait_for_timeout(20)
