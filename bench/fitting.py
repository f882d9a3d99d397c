"""What panes and many frames cost the server, as multiples of an empty Django view in the same run.

Each answer is the whole way of a gesture: worked out, drawn, stored and sent.
"""

import json
import time
from itertools import count
from typing import Any

from .app import asker, running
from .sheets import filled
from .timing import median

__all__ = ["run"]

LIMIT = 100.0

SETUP = (
    filled(100)
    + """
photo = next(i.id for i in done.sheet.items if i.id not in pieces)
print("KEY", project.pk, session, done.project.head.number, photo, *pieces)
"""
)


def run() -> list[tuple[str, float, str]]:
    """Return (what, ratio, limit) rows."""
    with running(SETUP) as (port, words):
        pk, session, number, photo, pieces = words[0], words[1], int(words[2]), words[3], words[4:]
        ask = asker(port, session)
        ids = count()
        head = number

        def do(name: str, args: dict[str, Any], chosen: list[str]) -> tuple[list[str], float]:
            nonlocal head
            view = {"station": "fit", "chosen": chosen}
            body = {"id": f"f{next(ids)}", "name": name, "args": args, "revision": head, "view": view}
            start = time.perf_counter()
            text = ask("POST", f"/p/{pk}/command", body)
            took = time.perf_counter() - start
            answer = json.loads(text)
            head = answer["revision"]
            return answer["chosen"], took

        empty = median(lambda: ask("GET", "/bench/empty"), 300)
        times: dict[str, list[float]] = {"made": [], "spread": [], "put in": []}
        for k in range(7):
            (group,), took = do("split", {"ids": [photo], "columns": "10", "rows": "10", "gap_x": "4"}, [photo])
            times["made"].append(took)
            args = {"id": group, "field": "spread_x", "value": str(5 + k)}
            times["spread"].append(do("set_panes", args, [group])[1])
            for _ in range(2):
                do("undo", {}, [])
            times["put in"].append(do("put_in", {"ids": [photo, *pieces]}, [photo, *pieces])[1])
            do("undo", {}, [])
    rows = []
    for word, what in (
        ("made", "10 × 10 panes made"),
        ("spread", "10 × 10 panes spread"),
        ("put in", "one photo put into 100 outlines"),
    ):
        took = sorted(times[word])[len(times[word]) // 2]
        print(f"  {what}: {took * 1e3:.0f} ms")
        rows.append((f"{what}, drawn and stored ÷ an empty view", took / empty, f"≤ {LIMIT:g}"))
    return rows
