"""Sheets to measure on, as text for `app.running`."""

__all__ = ["begun", "filled"]

_BEGUN = """
import io, json, math
import numpy as np
from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from PIL import Image
from sheet import new_sheet
from studio.history import changes
user = get_user_model().objects.create_user("bench")
project = changes.start(user, "Bench", new_sheet(WIDTH, HEIGHT))
client = Client(HTTP_HOST="127.0.0.1")
client.force_login(user)
session = client.cookies[settings.SESSION_COOKIE_NAME].value


def place(images):
    photos = []
    for k, image in enumerate(images):
        out = io.BytesIO()
        image.save(out, "JPEG", quality=88)
        file = SimpleUploadedFile(f"photo-{k}.jpg", out.getvalue())
        photos.append(client.post(f"/p/{project.pk}/photos", {"photo": file}).json())
    return photos, changes.run(user, project.pk, "", "place", {"files": [p["file"] for p in photos]}, 1)
"""
_FILLED = """
photos, done = place(Image.new("RGB", (1200, 800), (40 * k, 90, 120)) for k in range(5))
pieces = []
for k in range(PIECES):
    args = {"kind": ("rectangle", "ellipse")[k % 2], "x": 37 * k % 3600, "y": 91 * k % 2700}
    args |= {"width": 300, "height": 200}
    done = changes.run(user, project.pk, "", "draw", args, done.project.head.number)
    pieces += done.chosen
"""


def begun(width: int, height: int) -> str:
    """Return code that signs a person in, starts a sheet of that many px, and defines `place(images)`."""
    return _BEGUN.replace("WIDTH", str(width)).replace("HEIGHT", str(height))


def filled(pieces: int) -> str:
    """Return code that begins a sheet of 4000 × 3000 px with 5 photos and that many pieces on it."""
    return begun(4000, 3000) + _FILLED.replace("PIECES", str(pieces))
