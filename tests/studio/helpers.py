"""A signed-in client with a project."""

import io
import itertools
import json
import tempfile
from pathlib import Path

from django.contrib.auth import get_user_model
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase, override_settings
from PIL import Image

from sheet import new_sheet
from studio.history import changes
from studio.models import Project

_ids = itertools.count(1)


def jpeg(width=300, height=200, color=(200, 80, 60), **options) -> bytes:
    """Return a plain JPEG."""
    out = io.BytesIO()
    Image.new("RGB", (width, height), color).save(out, "JPEG", quality=95, **options)
    return out.getvalue()


class StudioCase(TestCase):
    """A person `ada` with an empty 1000 × 800 px project, and media in a folder of its own."""

    def setUp(self):
        self._folder = tempfile.TemporaryDirectory()
        self.addCleanup(self._folder.cleanup)
        folder = Path(self._folder.name)
        settings = override_settings(MEDIA_ROOT=folder, GOUGE_QUEUE=str(folder / "queue.sqlite3"))
        settings.enable()
        self.addCleanup(settings.disable)
        self.user = get_user_model().objects.create_user("ada", password="a-long-enough-word")
        self.other = get_user_model().objects.create_user("bob", password="a-long-enough-word")
        self.client.force_login(self.user)
        self.project = changes.start(self.user, "Card", new_sheet(1000, 800, "px", 100))

    def fresh(self) -> Project:
        """Return the project as it is stored now."""
        return Project.objects.select_related("head").get(pk=self.project.pk)

    def send(self, name, args=None, revision=None, command_id=None, view=None, client=None):
        """Post a command and return the response."""
        body = {
            "id": command_id or f"c{next(_ids)}",
            "name": name,
            "args": args or {},
            "revision": self.fresh().head.number if revision is None else revision,
            "view": view or {},
        }
        url = f"/p/{self.project.pk}/command"
        return (client or self.client).post(url, json.dumps(body), content_type="application/json")

    def ask_panels(self, **view):
        """Return the panels for a look."""
        answer = self.client.post(f"/p/{self.project.pk}/panels", json.dumps(view), content_type="application/json")
        return answer.json()["panels"]

    def draw(self, kind="rectangle", x=0, y=0, width=100, height=100) -> str:
        """Draw a piece and return its id."""
        answer = self.send("draw", {"kind": kind, "x": x, "y": y, "width": width, "height": height})
        self.assertEqual(answer.status_code, 200, answer.content)
        return answer.json()["chosen"][0]

    def upload(self, data: bytes, name="sea.jpg"):
        """Post a file and return the response."""
        return self.client.post(f"/p/{self.project.pk}/photos", {"photo": SimpleUploadedFile(name, data)})

    def order(self, project=None, **order):
        """Order an export and return the response."""
        url = f"/p/{(project or self.project).pk}/export"
        return self.client.post(url, json.dumps(order), content_type="application/json")

    def place(self, **size) -> str:
        """Bring a photo in and place it; return its id."""
        photo = self.upload(jpeg(**size)).json()
        return self.send("place", {"files": [photo["file"]]}).json()["chosen"][0]
