"""A hundred people, on loopback only: `python -m bench load` for a minute, `python -m bench.load SECONDS` to soak."""

import csv
import os
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import numpy as np
import psutil
from PIL import Image

from picture.periodic import repeating
from tests.studio.serving import Served

from .app import ROOT

__all__ = ["memory_of", "run"]

PEOPLE = 100
SETUP = """
import json, sys
from django.conf import settings
from django.contrib.auth import get_user_model
from django.test import Client
from sheet import apply, new_sheet
from studio.history import changes


def filled(count):
    sheet = new_sheet(4000, 3000)
    for k in range(count):
        place = {"x": 37 * k % 3600, "y": 91 * k % 2700, "width": 300, "height": 200}
        sheet = apply(sheet, "draw", {"kind": ("rectangle", "ellipse")[k % 2], **place}).sheet
    return sheet


sheets = [filled(100), filled(1000)]
people = []
for k in range(PEOPLE):
    user = get_user_model().objects.create(username=f"person{k}")
    sheet = sheets[k % 2]
    project = changes.start(user, "Load", sheet)
    client = Client()
    client.force_login(user)
    session = client.cookies[settings.SESSION_COOKIE_NAME].value
    people.append({"pk": project.pk, "session": session, "pieces": [i.id for i in sheet.items]})
open("FILE", "w").write(json.dumps(people))
print("KEY", people[0]["pk"], people[0]["session"])
"""


def memory_of(port: int) -> int:
    """Return the private memory (bytes) of the server and of the processes beside it."""
    found = 0
    for process in psutil.process_iter(["cmdline"]):
        words = " ".join(process.info["cmdline"] or [])
        if "config/gunicorn.py" in words or "studio.work.worker" in words or "manage.py worker" in words:
            try:
                if process.environ().get("GOUGE_BIND") == f"127.0.0.1:{port}":
                    found += process.memory_full_info().uss
            except psutil.Error:
                continue
    return found


def _locust(
    port: int, people: int, seconds: int, folder: Path, pauses: str = "2 8", desks: int = 1
) -> dict[str, dict[str, float]]:
    """Return what locust counted of each kind of request: requests, failures, and p95 (ms)."""
    name = folder / f"said-{people}-{time.time_ns()}"
    command = [sys.executable, "-m", "locust", "-f", str(ROOT / "bench" / "people.py"), "--headless"]
    command += ["-u", str(people), "-r", "10", "-t", f"{seconds}s", "-H", f"http://127.0.0.1:{port}"]
    command += ["--csv", str(name), "--only-summary", "--loglevel", "ERROR", "--reset-stats", "--stop-timeout", "10"]
    variables = {"GOUGE_PEOPLE": str(folder / "people.json"), "GOUGE_PHOTO": str(folder / "sea.jpg")}
    environment = {**os.environ, **variables, "GOUGE_PAUSES": pauses, "GOUGE_DESKS": str(desks)}
    subprocess.run(
        command, env=environment, cwd=ROOT, check=False, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL
    )
    out = {}
    with Path(f"{name}_stats.csv").open() as file:
        for row in csv.DictReader(file):
            out[row["Name"]] = {
                "requests": float(row["Request Count"]),
                "failures": float(row["Failure Count"]),
                "p95": float(row["95%"] or 0),
            }
    failed = Path(f"{name}_failures.csv").read_text().splitlines()[1:]
    for line in failed[:5]:
        print("  failed:", line[:200])
    return out


def measure(seconds: int) -> list[tuple[str, float, str]]:
    """Return (what, ratio, limit) rows for a hundred people at work for so many seconds."""
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        noise = np.random.default_rng(1).integers(0, 255, (40, 60, 3), dtype=np.uint8)
        Image.fromarray(noise).resize((1500, 1000), Image.Resampling.BICUBIC).save(folder / "sea.jpg", quality=85)
        setup = SETUP.replace("PEOPLE", str(PEOPLE)).replace("FILE", str(folder / "people.json"))
        # all of them come from one address here
        with Served(setup, GOUGE_ADDRESS="2000") as served:
            port = served.port
            _locust(port, 4, 10, folder)
            alone = _locust(port, 1, 40, folder, "0.2 0.5", desks=2)
            # quick hands first: what is kept for later is full then, as after a day
            _locust(port, PEOPLE, max(40, seconds // 5), folder, "0.3 1.2")
            memory = [memory_of(port)]
            with repeating(max(5, seconds // 10), lambda: memory.append(memory_of(port))):
                crowd = _locust(port, PEOPLE, seconds, folder)
    every = crowd["Aggregated"]
    print(f"  {PEOPLE} people, {seconds} s: {every['requests']:.0f} requests, {every['failures']:.0f} failed")
    for called in sorted(set(crowd) - {"Aggregated"}):
        one = alone.get(called, {}).get("p95", float("nan"))
        print(f"  {called:10s} p95 {crowd[called]['p95']:7.0f} ms, alone {one:5.0f} ms")
    print("  memory (MB):", *(f"{m / 1e6:.0f}" for m in memory))
    return [
        ("p95 of a move among 100 people ÷ alone", crowd["move"]["p95"] / alone["move"]["p95"], "≤ 10"),
        ("requests that failed", every["failures"], "0"),
        ("memory at the end ÷ at the beginning", memory[-1] / memory[0], "≤ 1.05"),
    ]


def run() -> list[tuple[str, float, str]]:
    """Return the rows of one minute."""
    return measure(60)


if __name__ == "__main__":
    for what, ratio, limit in measure(int(sys.argv[1]) if len(sys.argv) > 1 else 1800):
        print(f"  {what:68s} {ratio:8.3f}   {limit}")
