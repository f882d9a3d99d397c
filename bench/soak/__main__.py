"""A hundred people at work while things are killed, full and gone: `python -m bench.soak SECONDS`.

Every 20 s something is killed in turn; in four stretches instead the disk is full, the
database is held by somebody else, the mail server is gone, and the queue's Redis is gone.
People do what a page does: what is busy, full or gone is sent again. At the end what was
acknowledged is looked for: each command and each photo once, each export fetched, each
mail come once. It prints a page of figures, and draws `docs/soak.svg`.
"""

import contextlib
import itertools
import json
import os
import sqlite3
import statistics
import subprocess
import sys
import tempfile
import threading
import time
from collections import Counter
from pathlib import Path

import psutil

from bench.load import memory_of
from tests.studio.serving import ROOT, Served, free_port

from .faults import NAMES, Faults, Redis
from .people import Log, Person

PEOPLE = 100
ROOM = "1500m"
"""The disk that the data lie on."""
SETUP = """
import json
from django.conf import settings
from django.contrib.auth import get_user_model
from django.contrib.auth.hashers import make_password
from django.test import Client
from sheet import apply, new_sheet
from studio.history import changes

sheet = new_sheet(1000, 800)
for k in range(60):
    place = {"x": 37 * k % 800, "y": 91 * k % 600, "width": 90, "height": 70}
    sheet = apply(sheet, "draw", {"kind": ("rectangle", "ellipse")[k % 2], **place}).sheet
seats, word = [], make_password("a-long-enough-word")
for k in range(PEOPLE):
    user = get_user_model().objects.create(username=f"person{k}", email=f"person{k}@marram.example", password=word)
    project = changes.start(user, "Soak", sheet)
    client = Client()
    client.force_login(user)
    session = client.cookies[settings.SESSION_COOKIE_NAME].value
    seats.append({"pk": project.pk, "session": session, "pieces": [i.id for i in sheet.items]})
print("PEOPLE", json.dumps(seats))
print("KEY", seats[0]["pk"], seats[0]["session"])
"""
EVERY = 20.0
"""Seconds between two kills."""


def worked(seconds: float, served: Served, faults: Faults, seats: list[dict], log: Log) -> list[tuple]:
    """Let people work for `seconds` while faults happen; return (seconds, memory, processes) over time."""
    over = threading.Event()
    people = [Person(k, one, served, log, over, seconds) for k, one in enumerate(seats)]
    began = time.monotonic()
    level: list[tuple[float, int, int]] = []

    def watch() -> None:
        while not over.wait(10):
            with contextlib.suppress(psutil.Error):
                count = len(psutil.Process(served.process.pid).children(recursive=True))
                level.append((time.monotonic() - began, memory_of(served.port), count))

    watcher = threading.Thread(target=watch, daemon=True)
    watcher.start()
    for one in people:
        one.start()
    away = 60 if seconds >= 600 else seconds / 15
    stretches = [(0.25, faults.disk_full, away)] if faults.has_disk else []
    stretches += [(0.42, faults.database_locked, min(10, away)), (0.75, faults.redis_gone, away)]
    names = itertools.cycle(NAMES)
    with faults.mail_server((0.58 * seconds, away), began):
        # the first minute is quiet, and the last two
        next_kill = began + min(60, seconds / 10)
        while (now := time.monotonic()) - began < seconds - min(120, seconds / 5):
            if stretches and now - began > stretches[0][0] * seconds:
                _, fault, lasts = stretches.pop(0)
                fault(lasts)
                next_kill = time.monotonic() + EVERY
            elif now > next_kill:
                faults.kill(next(names))
                next_kill += EVERY
            time.sleep(0.2)
        time.sleep(max(0.0, began + seconds - time.monotonic()))
        over.set()
        for one in people:
            one.join(200)
            if one.is_alive():
                log.wrong["somebody still waits"] += 1
        # mails that were put off are sent within two minutes
        end = time.monotonic() + 120
        while len(faults.came) < len(log.mails) and time.monotonic() < end:
            time.sleep(1)
    watcher.join()
    return level


def beyond(wait: tuple[str, float, float], faults: list[tuple[str, float, float]]) -> float:
    """Return how long somebody waited (s), less the faults in between."""
    _, start, end = wait
    until = [b for _, a, b in faults if a < end and b > start]
    return end - max([start, *until])


def judged(served: Served, log: Log, faults: Faults) -> list[tuple[str, float, str]]:
    """Return (what, figure, limit) rows: whether everything acknowledged is there."""
    base = sqlite3.connect(served.data / "gouge.sqlite3")
    there = Counter(base.execute("SELECT project_id, command FROM studio_revision WHERE command <> ''"))
    photos = Counter(sha for (sha,) in base.execute("SELECT sha256 FROM studio_photofile"))
    files = sum((served.data / "media" / "photos" / sha[:2] / sha).exists() for sha in log.photos)
    said = base.execute("PRAGMA integrity_check").fetchone()[0]
    base.close()
    came = Counter(mail["To"] for mail in faults.came)
    light = [w for w in log.waits if w[0] not in ("freehand", "fetch")]
    return [
        ("commands acknowledged", len(log.commands), ""),
        ("of them lost", sum(there[c] == 0 for c in log.commands), "0"),
        ("of all commands, stored twice", sum(n > 1 for n in there.values()), "0"),
        ("photos acknowledged", len(log.photos), ""),
        ("of them lost or doubled", len(log.photos) - sum(photos[p] == 1 for p in log.photos), "0"),
        ("of them without a file", len(log.photos) - files, "0"),
        ("exports taken by the queue", log.exports[0], ""),
        ("of them not fetched", log.exports[0] - log.exports[1], "0"),
        ("mails asked for", len(log.mails), ""),
        ("of them that never came", sum(came[a] == 0 for a in log.mails), "0"),
        ("answers of 500", log.answers[500], "0"),
        ("the database is damaged", float(said != "ok"), "0"),
        ("faults", len(faults.done), ""),
        ("longest wait beyond the fault itself (s)", max(beyond(w, faults.done) for w in light), "≤ 5"),
    ]


def raised(log: str) -> Counter[str]:
    """Return the last lines of a log's tracebacks, and how often each came."""
    found: Counter[str] = Counter()
    inside = False
    for row in log.splitlines():
        if row.startswith("Traceback"):
            inside = True
        elif inside and row and not row.startswith(" "):
            found[row[:110]] += 1
            inside = False
    return found


def drawn(level: list[tuple], log: Log, faults: Faults, began: float, seconds: float) -> str:
    """Return the plot: memory, p95 of the waits in each 20 s, and the faults, over the time."""
    wide, high = 900, 300

    def x(t: float) -> float:
        return 50 + (wide - 70) * t / seconds

    def curve(points: list[tuple[float, float]], most: float, color: str) -> str:
        line = " ".join(f"{x(t):.1f},{high - 30 - (high - 60) * v / most:.1f}" for t, v in points)
        return f'<polyline points="{line}" fill="none" stroke="{color}" stroke-width="1.5"/>'

    def words(at: float, down: float, color: str, text: str) -> str:
        return f'<text x="{at:.0f}" y="{down}" fill="{color}">{text}</text>'

    parts = [f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {wide} {high}" font-family="sans-serif">']
    parts.append(f'<g font-size="11"><rect width="{wide}" height="{high}" fill="#fff"/>')
    for name, a, b in faults.done:
        parts.append(
            f'<rect x="{x(a - began):.1f}" y="20" width="{max(1.0, x(b) - x(a)):.1f}" height="{high - 50}" '
            f'fill="{"#dcc78b" if " is " in name else "#ddd"}"><title>{name}</title></rect>'
        )
    slots: dict[int, list[float]] = {}
    for _, a, b in log.waits:
        slots.setdefault(int((a - began) // 20), []).append(b - a)
    p95 = [(20.0 * k + 10, statistics.quantiles([*v, v[0]], n=20)[-1]) for k, v in sorted(slots.items())]
    memory, wait = max(m for _, m, _ in level), max(v for _, v in p95)
    parts.append(curve([(t, m) for t, m, _ in level], memory, "#35608a"))
    parts.append(curve(p95, wait, "#a03c28"))
    for minute in range(0, int(seconds / 60) + 1, 5):
        parts.append(words(x(60 * minute) - 12, high - 12, "#2b2722", f"{minute} min"))
    parts.append(words(50, 14, "#35608a", f"memory, to {memory / 1e6:.0f} MB"))
    parts.append(words(220, 14, "#a03c28", f"95 of 100 requests in 20 s took no longer than this, to {wait:.1f} s"))
    parts.append(words(600, 14, "#7a6428", "faults: grey a kill; ochre full, held or gone"))
    return "\n".join([*parts, "</g></svg>"]) + "\n"


def main(seconds: float) -> None:
    """Soak, and print the figures."""
    with tempfile.TemporaryDirectory() as name, contextlib.ExitStack() as after:
        redis = Redis(Path(name))
        after.callback(redis.kill)
        mail_port, log = free_port(), Log()
        disk = Path(name) / "disk"
        disk.mkdir()
        mounted = ["mount", "-t", "tmpfs", "-o", f"size={ROOM}", "tmpfs", str(disk)]
        has_disk = os.geteuid() == 0 and subprocess.run(mounted, check=False).returncode == 0
        if has_disk:
            after.callback(subprocess.run, ["umount", "-l", str(disk)], check=False)
        else:
            print("  no disk of its own can be mounted here: that it is full is left out")
        served = Served(
            SETUP.replace("PEOPLE", str(PEOPLE), 1), str(disk),
            GOUGE_ADDRESS="2000", GOUGE_AT_ONCE="0.001", GOUGE_SMTP=f"127.0.0.1:{mail_port}", GOUGE_SECONDS="30",
            GOUGE_REDIS_URL=f"redis://127.0.0.1:{redis.port}", GOUGE_WORKERS="3",
        )  # fmt: skip
        served.printed = ""
        manage = served.manage

        def run_manage(*words: str) -> str:
            served.printed += manage(*words)
            return served.printed

        served.manage = run_manage
        with served:
            seats = json.loads(next(row for row in served.printed.splitlines() if row.startswith("PEOPLE "))[7:])
            faults = Faults(served, redis, mail_port, has_disk)
            began = time.monotonic()
            level = worked(seconds, served, faults, seats, log)
            figures = judged(served, log, faults)
            errors = raised(served.said())
            (ROOT / "docs" / "soak.svg").write_text(drawn(level, log, faults, began, seconds))
    print(f"  {PEOPLE} people, {seconds:.0f} s, {len(log.waits)} requests, tracebacks in the log: {errors.total()}")
    for what, count in errors.most_common(8):
        print(f"  {count:5d} × {what}")
    for what, figure, limit in figures:
        print(f"  {what:48s} {figure:9.3g}   {limit}")
    for what, count in log.wrong.most_common(12):
        print(f"  {count:5d} × {what}")
    print("  answers:", dict(sorted(log.answers.items())))
    for name, count in Counter(name for name, _, _ in faults.done).items():
        times = [b - a for n, a, b in faults.done if n == name]
        print(f"  {count:3d} × {name:32s} until a page: {statistics.median(times):5.1f} s, at most {max(times):5.1f} s")
    third = max(1, len(level) // 3)
    for what, k, scale in (("memory (MB)", 1, 1e6), ("processes", 2, 1)):
        parts = (level[:third], level[third : 2 * third], level[2 * third :])
        print(f"  {what}, median of each third:", *(f"{statistics.median(r[k] for r in p) / scale:.0f}" for p in parts))
    slow = sorted(log.waits, key=lambda w: -beyond(w, faults.done))[:6]
    for called, a, b in slow:
        print(f"  waited {b - a:5.1f} s for {called}, {beyond((called, a, b), faults.done):.1f} s of it beyond a fault")


if __name__ == "__main__":
    main(float(sys.argv[1]) if len(sys.argv) > 1 else 1800)
