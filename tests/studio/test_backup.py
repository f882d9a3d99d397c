"""A backup made while people work, and brought back elsewhere: nothing that was acknowledged before it is missing."""

import json
import sqlite3
import tarfile
import threading
import unittest
from pathlib import Path
from subprocess import CalledProcessError

from .helpers import jpeg
from .serving import Served

FORM = b"--b\r\nContent-Disposition: form-data; name=photo; filename=sea.jpg\r\n\r\n%s\r\n--b--\r\n"


class Backup(unittest.TestCase):
    def post(self, served: Served, path: str, body: bytes, kind: str = "application/json"):
        status, _, told = served.ask("POST", path, body, {**served.headers(), "Content-Type": kind})
        self.assertEqual(status, 200, told)
        return json.loads(told)

    def command(self, served: Served, name: str, args: dict, revision: int) -> int:
        body = {"id": f"c{revision}", "name": name, "args": args, "revision": revision}
        return self.post(served, f"/p/{served.pk}/command", json.dumps(body).encode())["revision"]

    def refused(self, served: Served, *words: str) -> str:
        with self.assertRaises(CalledProcessError) as failed:
            served.manage(*words)
        return failed.exception.stderr

    def test_there_and_back(self):
        with Served() as served:
            photo = self.post(served, f"/p/{served.pk}/photos", FORM % jpeg(), "multipart/form-data; boundary=b")
            acknowledged = [self.command(served, "place", {"files": [photo["file"]]}, 1)]
            over = threading.Event()

            def work():
                # as fast as a hand, so that what is tested has the cores
                while not over.wait(0.05):
                    place = {"kind": "ellipse", "x": acknowledged[-1], "y": 1, "width": 9, "height": 9}
                    acknowledged.append(self.command(served, "draw", place, acknowledged[-1]))

            hand = threading.Thread(target=work)
            hand.start()
            before = acknowledged[-1]
            file = served.data.parent / f"{served.data.name}.tar"
            self.addCleanup(file.unlink)
            served.manage("backup", str(file))
            over.set()
            hand.join()
            self.assertIn("the server is running", self.refused(served, "restore", str(file)))
            self.assertEqual(
                self.command(served, "backdrop", {"value": "#fff"}, acknowledged[-1]), acknowledged[-1] + 1
            )
            with tarfile.open(file) as box:
                names = box.getnames()
            self.assertEqual((names[0], names[-1]), ("gouge.sqlite3", "manifest.json"))
            self.assertIn(f"media/photos/{photo['file'][:2]}/{photo['file']}", names)
            self.assertEqual(file.stat().st_mode & 0o077, 0)

            elsewhere = Served()
            self.addCleanup(elsewhere.folder.cleanup)
            self.assertIn("brought back", elsewhere.manage("restore", str(file)))
            base = sqlite3.connect(elsewhere.data / "gouge.sqlite3")
            made = base.execute("SELECT made FROM studio_project").fetchone()[0]
            base.close()
            self.assertGreaterEqual(made, before)
            for key in ("photos", "previews"):
                path = Path("media", key, photo["file"][:2], photo["file"])
                self.assertEqual((elsewhere.data / path).read_bytes(), (served.data / path).read_bytes())
            code = "from studio.models import Project; print(len(Project.objects.get().head.sheet.items), 'items')"
            self.assertIn(f"{made - 1} items", elsewhere.manage("shell", "-v", "0", "-c", code))
            # once more over what is there: that is moved aside
            elsewhere.manage("restore", str(file))
            (aside,) = elsewhere.data.glob("before-restore-*")
            self.assertTrue((aside / "gouge.sqlite3").exists() and (aside / "media").exists())

            # a file of the storage is gone, and the manifest still tells of it
            fewer = served.data / "fewer.tar"
            with tarfile.open(file) as box, tarfile.open(fewer, "w") as out:
                for part in box:
                    if part.name != f"media/previews/{photo['file'][:2]}/{photo['file']}":
                        out.addfile(part, box.extractfile(part))
            self.assertRegex(self.refused(elsewhere, "restore", str(fewer)), "should have 2 files .* and has 1 with")
            for name, spoil in (("cut short", lambda d: d[: len(d) // 2]), ("no backup", lambda d: b"hello" * 500)):
                bad = served.data / "bad.tar"
                bad.write_bytes(spoil(file.read_bytes()))
                with self.subTest(name=name):
                    self.assertIn("nothing was changed", self.refused(elsewhere, "restore", str(bad)))
                    self.assertTrue((elsewhere.data / "gouge.sqlite3").exists())
