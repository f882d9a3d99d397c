"""The guide says what the app says: its labels and keys are those of the screen, its pictures come of commands."""

import re
import xml.etree.ElementTree as ET
from pathlib import Path

from django.test import Client

from studio.editor.keys import key_map
from studio.guide.jobs import JOBS, marked
from studio.guide.pictures import PICTURES

from .helpers import StudioCase

ROOT = Path(__file__).resolve().parents[2]


class Guide(StudioCase):
    def test_a_dozen_jobs_of_at_most_ten_steps(self):
        self.assertEqual(len(JOBS), 12)
        self.assertEqual(len({job.key for job in JOBS}), 12)
        for job in JOBS:
            self.assertLessEqual(len(job.steps), 10)
        self.assertLessEqual(set(PICTURES), {job.key for job in JOBS})

    def test_every_label_is_on_the_screen(self):
        files = [*ROOT.glob("studio/editor/**/*"), *ROOT.glob("studio/templates/**/*.html")]
        files += [*ROOT.glob("sheet/document/kinds/*.py"), *ROOT.glob("sheet/**/*.py")]
        said = "\n".join(f.read_text() for f in files if f.suffix in (".html", ".py"))
        for job in JOBS:
            for label in re.findall(r"\*([^*]+)\*", " ".join(job.steps)):
                self.assertRegex(said, rf"[>\"\s]{re.escape(label)}[<\"\s{{:.]", (job.key, label))

    def test_every_key_is_in_the_map(self):
        known = {word.lower() for column in key_map() for key in column for word in key.shown}
        known |= {k for column in key_map() for key in column for k in key.keys}
        for job in JOBS:
            for key in re.findall(r"\[([^\]]+)\]", " ".join(job.steps)):
                self.assertIn(key.lower(), known | {"shift"}, (job.key, key))

    def test_it_is_there_for_everybody_with_its_pictures(self):
        stranger = Client()
        page = stranger.get("/guide/").content.decode()
        for job in JOBS:
            self.assertIn(f'id="{job.key}"', page)
        for key in PICTURES:
            before, after = (stranger.get(f"/guide/{key}-{step}.svg") for step in (0, 1))
            self.assertEqual((before.status_code, after["Content-Type"]), (200, "image/svg+xml"))
            self.assertNotEqual(before.content, after.content)
            ET.fromstring(after.content)
        for wrong in ("none-0", "shape-2"):
            self.assertEqual(stranger.get(f"/guide/{wrong}.svg").status_code, 404)

    def test_steps_are_marked_and_nothing_else(self):
        self.assertEqual(marked("*Fill* <b> [P]"), "<strong>Fill</strong> &lt;b&gt; <kbd>P</kbd>")
