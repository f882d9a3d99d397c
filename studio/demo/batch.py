"""The demo's batch: a frame of the shelf, and twelve photos waiting for it."""

from typing import Any

from studio.export import batches
from studio.library import shelf
from studio.library.photos import take_in_path

from ..models import PhotoFile
from .photos import BATCH, photo_file

__all__ = ["load_batch", "take_batch_photos"]


def take_batch_photos(owner: Any) -> None:
    """Import the twelve photos."""
    for name in BATCH:
        take_in_path(owner, photo_file(name), name)


def load_batch(owner: Any) -> None:
    """Put the twelve imported photos into a batch of the porthole card."""
    photos = {photo.name: photo for photo in PhotoFile.objects.filter(owner=owner, name__in=BATCH)}
    card = shelf.items_of(owner).get(name="Porthole card")
    first = shelf.on_own_sheet(card, "")
    batch = batches.begin(owner, None, "Coast cards", first, [first.items[0].id])
    batches.add(batch, [photos[name] for name in BATCH])
    batches.set_variants(batch, True)
    batch.where = "third"
    batch.save()
