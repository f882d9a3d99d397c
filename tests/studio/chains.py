"""Chains of commands over the real views: a rich sheet, valid commands, one that is extreme, undo in between.

`python -m tests.studio.chains 200000` sends that many commands; a small share of them is sent in the tests.
A second number is the seed that is begun with, so that several can share the work.
"""

import contextlib
import io
import json
import math
import os
import random
import sys
import tempfile
from itertools import count
from typing import Any

from hypothesis import HealthCheck, Phase, given, seed, settings
from hypothesis import strategies as st
from hypothesis.errors import FlakyStrategyDefinition

from sheet.document.tree import walk

__all__ = ["EXTREME", "chain", "rich"]

EXTREME = (0, -1, 1e-320, 1e-12, 1e6, 1e8, -1e8, 1e16, 1e300, 2**70, "1e999", "0", "-5", "9" * 200, "1/0", "nan", "")
"""What ends a chain: in the place of any number or text that a command takes."""
LENGTH = 40
"""Commands of a chain that come after the sheet is set up; of each ten the last is extreme."""
_ids = count(1)


class Hand:
    """A person with a project before the views; everything that is answered is one of what may be answered."""

    def __init__(self, client: Any, project: Any):
        self.client, self.pk, self.sent = client, project.pk, 0
        self.files: list[str] = []
        self.kept = ""
        self.begun: Any = None

    @property
    def head(self) -> Any:
        from studio.models import Project

        return Project.objects.select_related("head").get(pk=self.pk).head

    def post(self, where: str, body: Any) -> Any:
        answer = self.client.post(f"/p/{self.pk}/{where}", json.dumps(body), content_type="application/json")
        assert answer.status_code in (200, 202, 400, 409, 422), (where, body, answer.status_code, answer.content[:300])
        return answer

    def command(self, name: str, args: dict, **view: Any) -> Any:
        self.sent += 1
        body = {"name": name, "args": args, "revision": self.head.number, "id": f"h{next(_ids)}", "view": view}
        answer = self.post("command", body)
        ids = [i.id for top in self.head.sheet.items for i, _ in walk(top)]
        assert len(ids) == len(set(ids)), (name, args, "two things of one id")
        return answer

    def done(self, name: str, **args: Any) -> list[str]:
        """Do what is sure to be done, and return what is chosen afterwards."""
        answer = self.command(name, args)
        assert answer.status_code == 200, (name, args, answer.content[:300])
        chosen: list[str] = answer.json()["chosen"]
        return chosen


def rich(hand: Hand, photo: bytes) -> None:
    """Set up a sheet with a cut list, lettering, a group, one that is locked, a frame, panes, and one off the shelf."""
    from django.core.files.uploadedfile import SimpleUploadedFile

    answer = hand.client.post(f"/p/{hand.pk}/photos", {"photo": SimpleUploadedFile("sea.jpg", photo)})
    hand.files = [answer.json()["file"]]

    def draw(kind: str, x: float, y: float, size: float) -> str:
        return hand.done("draw", kind=kind, x=x, y=y, width=size, height=size)[0]

    one = draw("rectangle", 20, 20, 200)
    hand.done("combine", ids=[one, draw("ellipse", 120, 60, 140)], operation="subtract")
    hand.done("add_finish", id=one, kind="offset", value="6")
    told = hand.post("shelf", {"id": one, "revision": hand.head.number, "name": "Notched"})
    hand.kept = told.json()["item"]
    (word,) = hand.done("draw_lettering", text="Marram", font="alfa-slab-one", size=70, x=500, y=40)
    (two,) = hand.done("draw_shelved", item=hand.kept, x=500, y=300, width=150, height=150)
    hand.done("group", ids=[word, two])
    locked = draw("star", 800, 40, 90)
    hand.done("mark", ids=[locked], field="locked", on=True)
    frame = draw("ellipse", 260, 300, 220)
    (photo_id,) = hand.done("place", files=hand.files)
    hand.done("put_in", ids=[frame, photo_id])
    panes = draw("rectangle", 20, 420, 200)
    hand.done("use_photo", file=hand.files[0], ids=[panes])
    hand.done("split", ids=[panes], columns="3", rows="2", gap_x="6", gap_y="6")
    (loose,) = hand.done("use_photo", file=hand.files[0], x=800, y=600)
    hand.command("silhouette", {"id": loose, "way": "brightness", "level": "50"})
    hand.begun = hand.head


def _swapped(value: Any, hand: Hand) -> Any:
    """Return arguments with the files and shelf items of the strategies replaced by a person's own."""
    from tests.hostile import FILES

    text = json.dumps(value, default=str)
    for made, own in ((FILES[0], hand.files[0]), (FILES[1], hand.files[0]), (FILES[0][:32], hand.kept)):
        text = text.replace(f'"{made}"', f'"{own}"')
    return json.loads(text)


def _places(value: Any, at: tuple = ()) -> list[tuple]:
    """Return the places of all numbers and texts in arguments."""
    if isinstance(value, dict):
        return [p for k, v in value.items() for p in _places(v, (*at, k))]
    if isinstance(value, list):
        return [p for k, v in enumerate(value) for p in _places(v, (*at, k))]
    return [at] if not isinstance(value, bool) and value is not None else []


def _with(value: Any, at: tuple, new: Any) -> Any:
    if not at:
        return new
    made = dict(value) if isinstance(value, dict) else list(value)
    made[at[0]] = _with(made[at[0]], at[1:], new)
    return made


def chain(data: Any, hand: Hand) -> None:
    """Do a chain of valid commands with undo and extreme ones between; then all that a sheet is used for."""
    from sheet.document.tree import remembered
    from studio.history import changes
    from studio.models import Revision
    from tests.hostile import commands

    # each begins from what was set up
    changes.go_back(hand.begun.project.owner, hand.pk, Revision.objects.get(pk=hand.begun.pk))
    hands = random.Random(data.draw(st.integers(0, 2**32)))
    for k in range(LENGTH):
        ids = list(remembered(hand.head.sheet))[:40]
        name, args = data.draw(commands(ids))
        args = _swapped(args, hand)
        if k % 10 == 9 and (places := _places(args)):
            # one number or text of it, or all that stand in one list: a matrix, a loop
            at = hands.choice(places)
            for one in places if hands.random() < 0.3 else [at]:
                if one[:-1] == at[:-1]:
                    args = _with(args, one, hands.choice(EXTREME))
        station = hands.choice(("draw", "cut", "fit", "finish", "export"))
        hand.command(name, args, station=station, chosen=hands.sample(ids, min(2, len(ids))))
        if hands.random() < 0.2:
            hand.command("undo", {})
            if hands.random() < 0.7:
                hand.command("redo", {})
    _used(hand)


def _used(hand: Hand) -> None:
    """Open a sheet at every station, choose all of it, export it, and carry it to another account and back."""
    from django.core.files.uploadedfile import SimpleUploadedFile

    from sheet.document.tree import remembered
    from studio.models import Project

    sheet = hand.head.sheet
    every = list(remembered(sheet))[:200]
    for station in ("draw", "cut", "fit", "finish", "export"):
        answer = hand.client.get(f"/p/{hand.pk}/?station={station}")
        assert answer.status_code == 200, (station, answer.status_code)
        hand.post(f"panels?station={station}", {"station": station, "chosen": every})
    hand.post("export", {"format": "png", "size": "6"})
    hand.post("export", {"format": "svg"})
    packed = hand.client.get(f"/projects/{hand.pk}/file")
    assert packed.status_code == 200
    data = io.BytesIO(b"".join(packed.streaming_content)).getvalue()
    opened = hand.client.post("/projects/open", {"file": SimpleUploadedFile("card.gouge", data)}, follow=True)
    assert opened.status_code == 200
    copy = Project.objects.select_related("head").order_by("-pk").first()
    said = [str(m) for m in opened.context["messages"]] if opened.context else []
    assert copy is not None and copy.pk != hand.pk, f"not opened again: {said}"
    assert copy.head.sheet == sheet, "what was packed is not what was unpacked"
    copy.head, made = None, copy.pk
    Project.objects.filter(pk=made).update(head=None)
    Project.objects.get(pk=made).delete()


def main(total: int, first: int = 0) -> int:
    """Send `total` commands in chains, from seed `first` on; return 0 where none of them broke anything."""
    os.environ["DJANGO_SETTINGS_MODULE"] = "config.settings"
    import django

    django.setup()
    from django.contrib.auth import get_user_model
    from django.test import Client, override_settings

    from sheet import new_sheet
    from studio.history import changes
    from tests.runner import Runner

    from .helpers import jpeg

    runner = Runner(verbosity=0, interactive=False)
    runner.setup_test_environment()
    bases = runner.setup_databases()
    with (
        tempfile.TemporaryDirectory() as folder,
        override_settings(MEDIA_ROOT=folder, GOUGE_QUEUE=f"{folder}/queue.sqlite3"),
    ):
        user = get_user_model().objects.create_user("ada")
        client = Client()
        client.force_login(user)
        hand: list[Hand] = []
        told = [0]

        def run(data: Any) -> None:
            # a project's history is not to grow for ever
            if not hand or hand[0].sent > 3000:
                told[0] += hand[0].sent if hand else 0
                hand[:] = [Hand(client, changes.start(user, "Chain", new_sheet(1000, 800, "px", 100)))]
                rich(hand[0], jpeg(240, 160))
                print(f"{told[0]:,} commands", flush=True)
            chain(data, hand[0])

        # each of its own: a sheet goes on where the last chain left it, and none can be repeated from the middle
        few = settings(
            max_examples=2, deadline=None, database=None, suppress_health_check=list(HealthCheck),
            phases=(Phase.generate,),
        )  # fmt: skip
        for number in range(first, first + math.ceil(total / LENGTH / 2)):
            # a chain that is drawn otherwise the second time is no chain to be repeated, and no fault of the app's
            with contextlib.suppress(FlakyStrategyDefinition):
                seed(number)(few(given(st.data())(run)))()
        print(f"{told[0] + hand[0].sent:,} commands over the views: no error of the server, no sheet that could not")
        print("be opened at every station, drawn, exported, packed and unpacked")
    runner.teardown_databases(bases)
    return 0


if __name__ == "__main__":
    sys.exit(main(*(int(v) for v in sys.argv[1:3] or ["5000"])))
