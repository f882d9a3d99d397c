"""People who do what a page does: they retry when the server is busy, full or gone."""

import io
import json
import random
import threading
import time
from collections import Counter

from PIL import Image

from tests.studio.serving import TOKEN, Served

__all__ = ["Log", "Person"]

AGAIN = (429, 502, 503, 507)


class Log:
    """What people did, how long they waited, and what went wrong."""

    def __init__(self) -> None:
        self.waits: list[tuple[str, float, float]] = []
        self.wrong: Counter[str] = Counter()
        self.answers: Counter[int] = Counter()
        self.commands: list[tuple[int, str]] = []
        self.photos: list[str] = []
        self.mails: list[str] = []
        self.exports = [0, 0]


class Person(threading.Thread):
    """Somebody with a project, who does something every few seconds until it is over."""

    def __init__(self, number: int, seat: dict, served: Served, log: Log, over: threading.Event, seconds: float):
        super().__init__(daemon=True)
        self.number, self.served, self.log, self.over = number, served, log, over
        self.seconds = seconds
        self.pk, self.pieces, self.revision = seat["pk"], seat["pieces"], 1
        cookie = f"csrftoken={TOKEN}; sessionid={seat['session']}"
        self.head = {"X-CSRFToken": TOKEN, "Cookie": cookie, "Accept": "application/json"}
        self.hand = random.Random(number)
        self.mail_at = self.hand.uniform(0.05, 0.9)

    def run(self) -> None:
        time.sleep(self.hand.uniform(0, 8))
        acts = [self.move] * 12 + [self.cards] * 4 + [self.preview] * 3 + [self.draw] * 3 + [self.cut] * 2
        acts += [self.bring_in, self.export]
        began = time.monotonic()
        while not self.over.wait(self.hand.uniform(2, 8)):
            self.hand.choice(acts)()
            if self.hand.random() < 0.004:
                self.freehand()
            if self.mail_at and time.monotonic() - began > self.mail_at * self.seconds:
                self.mail_at = 0
                self.forgotten()

    def send(self, called: str, method: str, path: str, body: bytes = b"", kind: str = "application/json"):
        """Send a request as a page does, retrying while the server asks for it; return status and body."""
        began = time.monotonic()
        headers = {**self.head, "Content-Type": kind}
        while True:
            try:
                at = f"127.0.1.{self.number + 1}"
                status, _, body = self.served.ask(method, path, body, headers, at=at, patience=120)
            except OSError:
                status, body = 0, b""
            self.log.answers[status] += 1
            if status and status not in AGAIN:
                break
            if self.over.is_set() and time.monotonic() - began > 150:
                self.log.wrong[f"{called}: given up"] += 1
                break
            time.sleep(1)
        self.log.waits.append((called, began, time.monotonic()))
        if status >= 400:
            self.log.wrong[f"{called}: {status} {body[:90]!r}"] += 1
        return status, body

    def command(self, called: str, name: str, args: dict) -> bool:
        key = f"{self.number}-{self.hand.getrandbits(60)}"
        body = {"id": key, "name": name, "args": args, "revision": self.revision, "view": {"station": "draw"}}
        status, body = self.send(called, "POST", f"/p/{self.pk}/command", json.dumps(body).encode())
        if status != 200:
            return False
        self.revision = json.loads(body)["revision"]
        if name != "undo":
            self.log.commands.append((self.pk, key))
        return True

    def move(self) -> None:
        by = [1, 0, 0, 1, self.hand.uniform(-20, 20), self.hand.uniform(-20, 20)]
        self.command("move", "transform", {"ids": [self.hand.choice(self.pieces)], "matrix": by})

    def cards(self) -> None:
        body = json.dumps({"station": "cut", "chosen": self.hand.sample(self.pieces, 2)}).encode()
        self.send("cards", "POST", f"/p/{self.pk}/panels?station=cut", body)

    def preview(self) -> None:
        one = self.hand.choice(self.pieces)
        args = {"ids": [one], "matrix": [1, 0, 0, 1, 3, 4]}
        body = {"name": one, "command": "transform", "args": args, "revision": self.revision}
        self.send("preview", "POST", f"/p/{self.pk}/preview", json.dumps(body).encode())

    def draw(self) -> None:
        place = {"x": self.hand.uniform(0, 800), "y": self.hand.uniform(0, 600), "width": 90, "height": 70}
        if self.command("draw", "draw", {"kind": "star", **place}):
            self.command("undo", "undo", {})

    def cut(self) -> None:
        chosen = self.hand.sample(self.pieces, 2)
        if self.command("combine", "combine", {"ids": chosen, "operation": "union", "base": chosen[0]}):
            self.command("undo", "undo", {})

    def freehand(self) -> None:
        points = [[(k * 7919) % 997, (k * 104_729) % 797] for k in range(1500)]
        args = {"points": points, "tolerance": 0.02, "closed": True}
        if self.command("freehand", "draw_freehand", args):
            self.command("undo", "undo", {})

    def bring_in(self) -> None:
        out = io.BytesIO()
        color = tuple(self.hand.randrange(256) for _ in range(3))
        Image.new("RGB", (900, 600), color).save(out, "JPEG", quality=90, comment=self.hand.randbytes(16))
        body = b'--b\r\nContent-Disposition: form-data; name="photo"; filename="sea.jpg"\r\n\r\n%s\r\n--b--\r\n'
        kind = "multipart/form-data; boundary=b"
        status, body = self.send("bring in", "POST", f"/p/{self.pk}/photos", body % out.getvalue(), kind)
        if status != 200:
            return
        file = json.loads(body)["file"]
        self.log.photos.append(file)
        if self.command("place", "place", {"files": [file]}):
            self.command("undo", "undo", {})

    def export(self) -> None:
        """Export the sheet by the queue, wait for it, and fetch it."""
        order = json.dumps({"format": "png", "size": "36"}).encode()
        status, body = self.send("export", "POST", f"/p/{self.pk}/export", order)
        if status != 202:
            return
        self.log.exports[0] += 1
        number = json.loads(body)["export"]
        while True:
            time.sleep(1)
            status, body = self.send("exports", "GET", f"/p/{self.pk}/exports")
            rows = {row["id"]: row for row in json.loads(body)["rows"]} if status == 200 else {}
            state = rows.get(number, {}).get("state", "under way")
            if state != "under way":
                break
        status, body = self.send("fetch", "GET", f"/p/{self.pk}/exports/{number}/file")
        if body[:4] == b"\x89PNG":
            self.log.exports[1] += 1
        else:
            self.log.wrong[f"an export is {state}: {rows.get(number, {}).get('why')}"] += 1

    def forgotten(self) -> None:
        address = f"person{self.number}@marram.example"
        form = f"email={address.replace('@', '%40')}".encode()
        if self.send("forgotten", "POST", "/forgotten", form, "application/x-www-form-urlencoded")[0] == 302:
            self.log.mails.append(address)
