"""The prepared demo in `ready/`: database rows, and the photos' small copies."""

from collections.abc import Iterator
from pathlib import Path
from typing import Any, Final

from django.core import serializers
from django.db import models, transaction
from django.db.models import Max

from sheet.export.order import Order
from studio.library.thumbs import thumb_of

from ..models import PhotoFile, PhotoUse, Project, Revision, ShelfItem, ShelfVersion, new_key
from .photos import photo_file

__all__ = ["PICTURES", "load", "load_project", "write"]

FOLDER: Final = Path(__file__).parent / "ready"
ROWS: Final = FOLDER / "rows.json"
PICTURES: Final = FOLDER / "pictures"
"""Pictures of the projects, by name."""
MODELS: Final = (PhotoFile, Project, Revision, PhotoUse, ShelfItem, ShelfVersion)


def _copy(name: str) -> Path:
    """Return the file of a photo's small copy."""
    return FOLDER / "previews" / name


def write() -> None:
    """Write the contents of the database, and the small copies."""
    _copy("").mkdir(parents=True, exist_ok=True)
    for photo in PhotoFile.objects.all():
        _copy(photo.name).write_bytes(photo.preview.read_bytes())
    PICTURES.mkdir(exist_ok=True)
    for project in Project.objects.select_related("head"):
        picture = thumb_of(project.head.sheet, Order(extent="whole"), project.owner, 480)
        (PICTURES / f"{project.name}.png").write_bytes(picture)
    rows = [row for model in MODELS for row in model.objects.order_by("pk")]
    with ROWS.open("w") as out:
        serializers.serialize("json", rows, stream=out, indent=0)


def _rows(owner: Any) -> Iterator[models.Model]:
    """Yield the rows with a person as owner, and with unused numbers."""
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
    _stored(list(_rows(owner)))


def load_project(owner: Any, name: str) -> Project:
    """Give a person one of the projects, with its photos if they are missing. Raises KeyError for another."""
    rows = list(_rows(owner))
    project = next((row for row in rows if isinstance(row, Project) and row.name == name), None)
    if project is None:
        raise KeyError(name)
    uses = [row for row in rows if isinstance(row, PhotoUse) and row.project_id == project.pk]
    have = set(PhotoFile.objects.filter(owner=owner).values_list("sha256", flat=True))
    wanted = {use.sha256 for use in uses} - have
    photos = [row for row in rows if isinstance(row, PhotoFile) and row.sha256 in wanted]
    revisions = [row for row in rows if isinstance(row, Revision) and row.project_id == project.pk]
    _stored([*photos, project, *revisions, *uses])
    return project


def _stored(rows: list[models.Model]) -> None:
    for row in rows:
        if isinstance(row, PhotoFile):
            row.original.write(photo_file(row.name))
            row.preview.write(_copy(row.name))
    # a project refers to its head, and the head to it: references are checked at the end
    with transaction.atomic():
        for model in MODELS:
            model.objects.bulk_create([row for row in rows if type(row) is model])
