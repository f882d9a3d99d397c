"""The demo as it lies ready made in `ready/`: rows of the database, and the photos' small copies."""

from collections.abc import Iterator
from pathlib import Path
from typing import Any, Final

from django.core import serializers
from django.db import models, transaction
from django.db.models import Max

from ..models import PhotoFile, PhotoUse, Project, Revision, ShelfItem, ShelfVersion, new_key
from .photos import photo_file

__all__ = ["load", "write"]

FOLDER: Final = Path(__file__).parent / "ready"
ROWS: Final = FOLDER / "rows.json"
MODELS: Final = (PhotoFile, Project, Revision, PhotoUse, ShelfItem, ShelfVersion)


def _copy(name: str) -> Path:
    """Return where the small copy of a photo lies."""
    return FOLDER / "previews" / name


def write() -> None:
    """Write down what lies in the database, and the small copies."""
    _copy("").mkdir(parents=True, exist_ok=True)
    for photo in PhotoFile.objects.all():
        _copy(photo.name).write_bytes(photo.preview.read_bytes())
    rows = [row for model in MODELS for row in model.objects.order_by("pk")]
    with ROWS.open("w") as out:
        serializers.serialize("json", rows, stream=out, indent=0)


def _rows(owner: Any) -> Iterator[models.Model]:
    """Give the rows as those of a person, with numbers that nothing has yet."""
    above = {model: model.objects.aggregate(most=Max("pk"))["most"] or 0 for model in MODELS}
    with ROWS.open() as source:
        for read in serializers.deserialize("json", source):
            row = read.object
            row.pk += above[type(row)]
            for field in row._meta.concrete_fields:
                number = getattr(row, field.attname)
                if field.related_model in above and number is not None:
                    setattr(row, field.attname, number + above[field.related_model])
            if hasattr(row, "owner_id"):
                row.owner = owner
            if isinstance(row, ShelfItem):
                row.key = new_key()
            yield row


def load(owner: Any) -> None:
    """Give a person the photos, projects and outlines."""
    rows = list(_rows(owner))
    for row in rows:
        if isinstance(row, PhotoFile):
            row.original.write(photo_file(row.name))
            row.preview.write(_copy(row.name))
    # a project names its head, and that its project: what is named is looked for at the end
    with transaction.atomic():
        for model in MODELS:
            model.objects.bulk_create([row for row in rows if type(row) is model])
