"""What one person's slowest command costs everybody else: their p95 while it runs ÷ their usual p95.

Asked of gunicorn as `make serve` runs it, two workers, each with its worker.
"""

import threading
import time
from itertools import count

from .app import asker, running
from .sheets import filled

__all__ = ["run"]

SETUP = (
    filled(100)
    + """
bob = get_user_model().objects.create_user("bob")
worst = changes.start(bob, "Worst", new_sheet(1000, 800))
other = Client(HTTP_HOST="127.0.0.1")
other.force_login(bob)
theirs = other.cookies[settings.SESSION_COOKIE_NAME].value
print("KEY", project.pk, session, done.project.head.number, pieces[50], worst.pk, theirs)
"""
)


def _p95(times: list[float]) -> float:
    return sorted(times)[int(0.95 * len(times))]


def run() -> list[tuple[str, float, str]]:
    """Return (what, ratio, limit) rows."""
    with running(SETUP, workers=2) as (port, words):
        pk, session, number, piece, worst, theirs = words
        ask = asker(port, session)
        revisions = count(int(number))

        def move() -> float:
            revision = next(revisions)
            args = {"ids": [piece], "matrix": [1, 0, 0, 1, 1 if revision % 2 else -1, 0]}
            view = {"station": "draw", "chosen": [piece]}
            body = {"id": f"m{revision}", "name": "transform", "args": args, "revision": revision, "view": view}
            start = time.perf_counter()
            ask("POST", f"/p/{pk}/command", body)
            return time.perf_counter() - start

        for _ in range(100):
            move()
        usual = _p95([move() for _ in range(400)])
        answers: list[tuple[float, int]] = []

        def spoil() -> None:
            slow = asker(port, theirs)
            points = [[(k * 7919) % 997, (k * 104_729) % 797] for k in range(20_000)]
            args = {"points": points, "tolerance": 0.02, "closed": True}
            start = time.perf_counter()
            answer = slow(
                "POST",
                f"/p/{worst}/command",
                {"id": "w", "name": "draw_freehand", "args": args, "revision": 1},
                any_status=True,
            )
            answers.append((time.perf_counter() - start, len(answer)))

        spoiler = threading.Thread(target=spoil)
        spoiler.start()
        time.sleep(1.0)
        times = []
        while spoiler.is_alive() and len(times) < 4000:
            times.append(move())
        spoiler.join()
        meanwhile = _p95(times)
    print(
        f"  a move's p95: {usual * 1e3:.1f} ms; {meanwhile * 1e3:.1f} ms beside a stroke whose 20,000 sides all cross"
    )
    print(f"  that stroke was answered after {answers[0][0]:.1f} s; {len(times)} moves were made meanwhile")
    return [("others' p95 beside the worst command ÷ their usual p95", meanwhile / usual, "≤ 3")]
