"""Scripts and styles as they are collected for use: what one names by a hash of its content is there."""

import re
import tempfile
from pathlib import Path

from django.contrib.staticfiles.finders import find
from django.core.management import call_command
from django.test import SimpleTestCase, override_settings

from config import settings

NAMED = re.compile(r"""(?:from|import)\s+"(\.[^"]+)"|url\(["']?(?!data:|#)([^"')]+)""")


class Collected(SimpleTestCase):
    def test_what_is_named_is_there(self):
        hashed = {"BACKEND": "studio.operations.statics.Hashed"}
        with (
            tempfile.TemporaryDirectory() as folder,
            override_settings(STATIC_ROOT=folder, STORAGES={**settings.STORAGES, "staticfiles": hashed}),
        ):
            call_command("collectstatic", interactive=False, verbosity=0)
            root = Path(folder)
            files = [f for f in (root / "studio").rglob("*.*.*") if f.suffix in (".js", ".css")]
            self.assertGreater(len(files), 70)
            gone = [
                f"{file.relative_to(root)}: {name}"
                for file in files
                for name in map("".join, NAMED.findall(file.read_text()))
                if not (file.parent / name.partition("#")[0].partition("?")[0]).exists()
            ]
            self.assertEqual(gone, [])


class Icon(SimpleTestCase):
    def test_what_browsers_ask_for_by_themselves_is_there(self):
        answer = self.client.get("/favicon.ico")
        self.assertEqual((answer.status_code, answer["Location"]), (302, "/static/studio/mark.svg"))
        self.assertTrue(find("studio/mark.svg"))
