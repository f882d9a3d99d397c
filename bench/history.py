"""A long history: what a revision takes, and what opening its head takes against an empty view."""

from .app import asker, running
from .timing import in_turn

__all__ = ["run"]

MOVES = 600
SETUP = """
import math, random
from django.conf import settings
from django.contrib.auth import get_user_model
from django.test import Client
from sheet import apply, new_sheet
from studio.history import changes
from studio.models import Revision
user = get_user_model().objects.create_user("bench")
client = Client(HTTP_HOST="127.0.0.1")
client.force_login(user)
hand = random.Random(14)


def plain(sheet, k):
    place = {"x": 90 * (k % 20), "y": 120 * (k // 20), "width": 50.5, "height": 60.25}
    return apply(sheet, "draw", {"kind": ("rectangle", "ellipse", "star")[k % 3], **place}).sheet


def freehand(sheet, k):
    x, y = 90 * (k % 20), 120 * (k // 20)
    points = [(x + 3 * t, y + 40 * math.sin(t / 5) + hand.gauss(0, 1)) for t in range(60)]
    return apply(sheet, "draw_freehand", {"points": points, "tolerance": 0.5}).sheet


numbers = []
for drawn in (plain, freehand):
    sheet = new_sheet(2000, 2000, "px", 300)
    for k in range(300):
        sheet = drawn(sheet, k)
    fresh = changes.start(user, "Fresh", sheet)
    project = changes.start(user, "Long", sheet)
    for k in range(MOVES):
        args = {"ids": [hand.choice(sheet.items).id], "matrix": [1, 0, 0, 1, hand.uniform(-9, 9), hand.uniform(-9, 9)]}
        changes.run(user, project.pk, f"m{k}", "transform", args, k + 1)
    rows = Revision.objects.filter(project=project).values_list("data", "step")
    numbers += [fresh.pk, project.pk, sum(len(data or b"") + len(step or b"") for data, step in rows) // (MOVES + 1)]
print("KEY", client.cookies[settings.SESSION_COOKIE_NAME].value, *numbers)
"""


def run() -> list[tuple[str, float, str]]:
    """Return (what, ratio, limit) rows."""
    rows = []
    with running(SETUP.replace("MOVES", str(MOVES))) as (port, (session, *measured)):
        ask = asker(port, session)
        for what, (fresh, long, size) in zip(("plain", "freehand"), (measured[:3], measured[3:]), strict=True):
            empty, first, head = in_turn(
                lambda: ask("GET", "/bench/empty"),
                lambda pk=fresh: ask("GET", f"/bench/head/{pk}"),
                lambda pk=long: ask("GET", f"/bench/head/{pk}"),
            )
            print(f"  an empty view {empty * 1e3:.2f} ms")
            print(
                f"  300 {what} pieces: {size} bytes a revision; the head {head * 1e3:.2f} ms ({first * 1e3:.2f} if new)"
            )
            rows.append((f"a revision of 300 {what} pieces (kB)", int(size) / 1e3, "≤ 1.5"))
            rows.append((f"opening its head after {MOVES} moves ÷ an empty view", head / empty, "≤ 3"))
            rows.append((f"the same ÷ opening one without a history, {what}", head / first, ""))
    return rows
