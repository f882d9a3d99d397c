"""What a committed move costs the server, as a multiple of an empty Django view in the same run.

Both are asked of gunicorn with one worker over one kept connection, as a browser asks.
"""

from itertools import count

from .app import asker, running
from .sheets import filled
from .timing import in_turn

__all__ = ["run"]

LIMIT = 10.0

SETUP = filled(100) + 'print("KEY", project.pk, session, done.project.head.number, pieces[50])'


def run() -> list[tuple[str, float, str]]:
    """Return (what, ratio, limit) rows."""
    with running(SETUP) as (port, words):
        pk, session, number, piece = words[0], words[1], int(words[2]), words[3]
        ask = asker(port, session)
        revisions = count(number)

        def move() -> None:
            revision = next(revisions)
            args = {"ids": [piece], "matrix": [1, 0, 0, 1, 1 if revision % 2 else -1, 0]}
            view = {"station": "draw", "chosen": [piece]}
            body = {"id": f"m{revision}", "name": "transform", "args": args, "revision": revision, "view": view}
            ask("POST", f"/p/{pk}/command", body)

        empty, known, moved = in_turn(
            lambda: ask("GET", "/bench/empty"), lambda: ask("GET", "/bench/known"), move, runs=300
        )
    print(f"  an empty view {empty * 1e3:.2f} ms, one that knows who asks {known * 1e3:.2f} ms")
    print(f"  a committed move {moved * 1e3:.2f} ms")
    return [
        ("a committed move, 100 pieces and 5 photos ÷ an empty view", moved / empty, f"≤ {LIMIT:g}"),
        ("the same ÷ an empty view that knows who asks", moved / known, ""),
    ]
