"""The guide says what the app says: its labels and keys are those of the screen, its pictures come of commands."""

import re
import xml.etree.ElementTree as ET
from pathlib import Path

from django.test import Client

from studio.editor.keys import key_map
from studio.guide.jobs import JOBS, marked
from studio.guide.pictures import PICTURES
from studio.guide.reference import TEXT
from studio.guide.stations import STATIONS_FOR

from .helpers import StudioCase

ROOT = Path(__file__).resolve().parents[2]


class Guide(StudioCase):
    texts = [(job.key, " ".join(job.steps)) for job in JOBS] + [(k, one.words) for k, one in STATIONS_FOR.items()]
    texts.append(("reference", TEXT.replace("\n", " ")))

    def test_a_dozen_jobs_of_at_most_ten_steps(self):
        self.assertEqual(len(JOBS), 12)
        self.assertEqual(len({job.key for job in JOBS}), 12)
        for job in JOBS:
            self.assertLessEqual(len(job.steps), 10)
        self.assertEqual(set(PICTURES), {job.key for job in JOBS})

    def test_every_label_is_on_the_screen(self):
        files = [*ROOT.glob("studio/editor/**/*"), *ROOT.glob("studio/templates/**/*.html")]
        files += [*ROOT.glob("sheet/document/kinds/*.py"), *ROOT.glob("sheet/**/*.py")]
        said = "\n".join(f.read_text() for f in files if f.suffix in (".html", ".py"))
        for key, text in self.texts:
            for label in re.findall(r"(?<!\*)\*([^*\s][^*]*)\*(?!\*)", text.replace("**", "*")):
                self.assertTrue(re.search(rf"[>\"\s]{re.escape(label)}[<\"\s{{:.]", said), (key, label))

    def test_every_key_is_in_the_map(self):
        known = {word.lower() for rows in key_map().values() for key in rows for word in key.shown}
        known |= {k for rows in key_map().values() for key in rows for k in key.keys}
        for where, text in self.texts:
            for key in re.findall(r"\[([^\]]+)\](?!\()", text):
                self.assertIn(key.lower(), known | {"shift"}, (where, key))

    def test_each_station_has_three_sentences_and_a_picture(self):
        self.assertEqual(list(STATIONS_FOR), [name for name in key_map() if name != "everywhere"])
        for name, one in STATIONS_FOR.items():
            self.assertEqual(len(re.findall(r"\.(?:\s|$)", one.words)), 3, name)
            key, number = one.picture
            self.assertEqual(Client().get(f"/guide/{key}-{number}.svg").status_code, 200)

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

    def test_the_reference_is_one_page_whose_parts_can_be_linked_to(self):
        page = Client().get("/guide/reference/").content.decode()
        for part in ("draw", "cut", "fit", "finish", "export", "everywhere"):
            self.assertIn(f'<h2 id="{part}">', page)
        self.assertIn("<kbd>Shift</kbd>", page)
        self.assertNotIn("[", page.partition("<article")[2].partition("</article")[0])
        self.assertContains(Client().get("/guide/"), 'href="/guide/reference/"')

    def test_steps_are_marked_and_nothing_else(self):
        self.assertEqual(marked("*Fill* <b> [P]"), "<strong>Fill</strong> &lt;b&gt; <kbd>P</kbd>")
