"""The demo's batch: a frame of the shelf, and twelve photos that wait for it."""

from typing import Any

from studio.export import batches
from studio.library import shelf
from studio.library.photos import take_in_path

from .photos import BATCH, photo_file

__all__ = ["load_batch"]


def load_batch(owner: Any) -> None:
    """Take twelve photos in, and put them in a batch of the porthole card."""
    photos = [take_in_path(owner, photo_file(name), name) for name in BATCH]
    card = shelf.kept(owner).get(name="Porthole card")
    first = shelf.on_own_sheet(card, "")
    batch = batches.begin(owner, None, "Coast cards", first, [first.items[0].id])
    batches.add(batch, photos)
    batches.set_variants(batch, True)
    batch.where = "third"
    batch.save()
