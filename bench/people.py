"""People at work, for locust (`python -m bench load`): each has a project of their own, and draws, cuts, previews,
brings photos in and exports, with pauses as hands make them."""

import itertools
import json
import os
import random
import re
from pathlib import Path

from locust import HttpUser, between, task

TOKEN = "b" * 32
PEOPLE = json.loads(Path(os.environ["GOUGE_PEOPLE"]).read_text())
_next = itertools.count()


class Desk:
    """A project of somebody's."""

    def __init__(self, seat):
        self.pk, self.session, self.pieces, self.revision = seat["pk"], seat["session"], seat["pieces"], 1


class Person(HttpUser):
    """Somebody with a sheet of 100 or of 1,000 pieces."""

    # an action every five seconds, all day; one person alone is quicker, so that there is enough to count
    wait_time = between(*(float(v) for v in os.environ["GOUGE_PAUSES"].split()))

    def on_start(self):
        """Open a project; a single person has two, which gives the same mix of work as a crowd."""
        self.hand = random.Random()
        self.client.headers.update({"X-CSRFToken": TOKEN, "Accept": "application/json"})
        desks = int(os.environ["GOUGE_DESKS"])
        first = next(_next) * desks
        self.desks = [Desk(PEOPLE[(first + k) % len(PEOPLE)]) for k in range(desks)]
        for desk in self.desks:
            self.sit_at(desk)
            page = self.client.get(f"{self.at}/", name="open", headers={"Accept": "text/html"}).text
            found = re.search(r'"revision": (\d+)', page)
            desk.revision = int(found[1]) if found else 1

    def sit_at(self, desk):
        """Continue with one of the projects."""
        self.desk, self.at, self.pieces = desk, f"/p/{desk.pk}", desk.pieces
        self.client.cookies.update({"csrftoken": TOKEN, "sessionid": desk.session})

    def wait(self):
        """Pause, then continue with any of the projects."""
        super().wait()
        self.sit_at(self.hand.choice(self.desks))

    def command(self, called: str, name: str, args: dict, chosen=()):
        """Send a command and remember the revision it makes."""
        body = {"id": f"{self.hand.random()}", "name": name, "args": args, "revision": self.desk.revision}
        body["view"] = {"station": "draw", "chosen": list(chosen)}
        with self.client.post(f"{self.at}/command", json=body, name=called, catch_response=True) as answer:
            if answer.status_code in (200, 409):
                self.desk.revision = answer.json()["revision"]
            if answer.status_code != 200:
                answer.failure(f"{answer.status_code} {answer.text[:200]}")
                return None
            return answer.json()

    @task(12)
    def move(self):
        """Move a piece."""
        one = self.hand.choice(self.pieces)
        by = [1, 0, 0, 1, self.hand.uniform(-20, 20), self.hand.uniform(-20, 20)]
        self.command("move", "transform", {"ids": [one], "matrix": by}, [one])

    @task(4)
    def view(self):
        """Select a few pieces at the Cut station, whose cards show the result of each operation."""
        chosen = self.hand.sample(self.pieces, 2)
        body = {"station": "cut", "chosen": chosen}
        self.client.post(f"{self.at}/panels?station=cut", json=body, name="cards")

    @task(3)
    def preview(self):
        """Preview a move, as the page does while the pointer moves."""
        one = self.hand.choice(self.pieces)
        args = {"ids": [one], "matrix": [1, 0, 0, 1, 3, 4]}
        body = {"name": one, "command": "transform", "args": args, "revision": self.desk.revision}
        self.client.post(f"{self.at}/preview", json=body, name="preview")

    @task(3)
    def draw(self):
        """Draw a piece, then undo."""
        place = {"x": self.hand.uniform(0, 3000), "y": self.hand.uniform(0, 2000), "width": 200, "height": 150}
        if self.command("draw", "draw", {"kind": "star", **place}):
            self.command("undo", "undo", {})

    @task(2)
    def cut(self):
        """Combine two pieces, then undo."""
        chosen = self.hand.sample(self.pieces, 2)
        if self.command("combine", "combine", {"ids": chosen, "operation": "union", "base": chosen[0]}, chosen):
            self.command("undo", "undo", {})

    @task(1)
    def bring_in(self):
        """Bring a photo in, place it, then undo."""
        photo = Path(os.environ["GOUGE_PHOTO"]).read_bytes() + self.hand.randbytes(8)
        with self.client.post(
            f"{self.at}/photos", files={"photo": ("sea.jpg", photo)}, name="bring in", catch_response=True
        ) as answer:
            if answer.status_code != 200:
                answer.failure(f"{answer.status_code} {answer.text[:200]}")
                return
            file = answer.json()["file"]
        if self.command("place", "place", {"files": [file]}):
            self.command("undo", "undo", {})

    @task(1)
    def export(self):
        """Export the sheet small."""
        self.client.post(f"{self.at}/export", json={"format": "png", "size": "36"}, name="export")
