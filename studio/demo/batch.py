"""The demo's batch: a frame of the shelf, and twelve photos that wait for it."""

import tempfile
from pathlib import Path
from typing import Any, Final

from studio.export import batches
from studio.library import shelf
from studio.library.photos import take_in_path

from .scenes import make

__all__ = ["TAKES", "load_batch"]

TAKES: Final = (
    ("dusk-sea", 1500, 1000), ("headlands", 1500, 1000), ("harbour-lights", 1000, 1500), ("pebbles", 1200, 1200),
    ("dune-ripples", 1500, 1000), ("headlands", 1000, 1500), ("dusk-sea", 1200, 1200), ("harbour-lights", 1500, 1000),
    ("dune-ripples", 1000, 1500), ("pebbles", 1500, 1000), ("headlands", 1200, 1200), ("dusk-sea", 1000, 1500),
)  # fmt: skip
"""Scenes and sizes (px)."""


def load_batch(owner: Any, say: Any) -> None:
    """Take twelve photos in, and put them in a batch of the porthole card."""
    photos = []
    with tempfile.TemporaryDirectory() as folder:
        for number, (scene, width, height) in enumerate(TAKES, 1):
            name = f"coast-{number:02}.jpg"
            say(f"developing {name}")
            file = Path(folder) / name
            file.write_bytes(make(scene, width, height, take=number))
            photos.append(take_in_path(owner, file, name))
    card = shelf.kept(owner).get(name="Porthole card")
    first = shelf.on_own_sheet(card, "")
    batch = batches.begin(owner, None, "Coast cards", first, [first.items[0].id])
    batches.add(batch, photos)
    batches.set_variants(batch, True)
    batch.where = "third"
    batch.save()
