"""What is taken away for good: after thirty days what nobody wants any more, and an account that is closed."""

import time
from collections.abc import Iterable
from datetime import timedelta
from pathlib import Path
from typing import Any, Final

from axes.models import AccessAttempt
from django.conf import settings
from django.contrib.sessions.models import Session
from django.core.files.storage import default_storage
from django.db import transaction
from django.utils import timezone

from . import revisions
from .models import Delivery, PhotoFile, PhotoUse, Project, Revision, Run, RunPhoto, ShelfItem
from .storage import FOLDERS, Stored, keys_in, photo_key, preview_key

__all__ = ["DAYS", "belongings", "clear", "close", "remove_project", "thin"]

DAYS: Final = 30
"""How long what was deleted can be brought back."""
UPLOAD: Final = 86_400
"""Seconds after which an upload that was not finished is left over."""
SITTING: Final = timedelta(minutes=30)
"""A pause that ends a sitting."""


def belongings(owner: Any) -> dict[str, Any]:
    """Return what an account holds, as numbers and in words."""
    projects = Project.objects.filter(owner=owner, deleted=None).count()
    photos = PhotoFile.objects.filter(owner=owner).count()
    shelf = ShelfItem.objects.filter(owner=owner, deleted=None).count()
    parts = [(projects, "project"), (photos, "photo"), (shelf, "outline")]
    words = [f"{n:,} {word}{'' if n == 1 else 's'}" for n, word in parts]
    return {"projects": projects, "words": f"{words[0]}, {words[1]} and {words[2]} on the shelf"}


def remove_project(project: Project) -> None:
    """Take a project away with its history and its deliveries; its photos stay as long as something uses them."""
    keys = {row["key"] for files in project.deliveries.values_list("files", flat=True) for row in files}
    with transaction.atomic():
        # the head is protected from all that does not take the project with it
        Project.objects.filter(pk=project.pk).update(head=None)
        Delivery.objects.filter(project=project).delete()
        # rows that point at one another are gone in one statement
        Revision.objects.filter(project=project)._raw_delete("default")
        project.delete()
    for key in keys:
        Stored(key).unlink()


def close(owner: Any) -> None:
    """Take an account away with all that is in it."""
    shas = set(PhotoFile.objects.filter(owner=owner).values_list("sha256", flat=True))
    keys = {k for k in RunPhoto.objects.filter(run__owner=owner).values_list("key", flat=True) if k}
    for project in Project.objects.filter(owner=owner):
        remove_project(project)
    Run.objects.filter(owner=owner).delete()
    AccessAttempt.objects.filter(username=owner.get_username()).delete()
    pk = owner.pk
    owner.delete()
    _unlink_photos(shas)
    for key in keys:
        Stored(key).unlink()
    for key in [*keys_in(f"drawings/{pk}"), *keys_in(f"sheets/{pk}")]:
        Stored(key).unlink()


def _unlink_photos(shas: Iterable[str]) -> int:
    """Take the files of photos out of the storage that nobody has any more; return how many."""
    gone = 0
    for sha in shas:
        if not PhotoFile.objects.filter(sha256=sha).exists():
            Stored(photo_key(sha)).unlink()
            Stored(preview_key(sha)).unlink()
            gone += 1
    return gone


def clear(days: int = DAYS) -> dict[str, int]:
    """Take away what has not been wanted for some days, and return how much of each kind."""
    before = timezone.now() - timedelta(days=days)
    told = {"projects": 0, "outlines": 0, "photos": 0, "sessions": 0, "files": 0, "steps": 0}
    for project in Project.objects.filter(deleted__lt=before):
        remove_project(project)
        told["projects"] += 1
    told["outlines"] = ShelfItem.objects.filter(deleted__lt=before).delete()[1].get("studio.ShelfItem", 0)
    told["photos"] = _clear_photos(before)
    told["sessions"] = Session.objects.filter(expire_date__lt=timezone.now()).delete()[0]
    AccessAttempt.objects.filter(attempt_time__lt=before).delete()
    told["files"] = _clear_files(days)
    if settings.GOUGE_THIN:
        older = timezone.now() - timedelta(days=settings.GOUGE_THIN)
        for project in Project.objects.filter(deleted=None):
            told["steps"] += thin(project, older)
    return told


def _clear_photos(before: Any) -> int:
    """Take photos away that no step of a project, and no run, uses."""
    used = PhotoUse.objects.values("project__owner", "sha256")
    kept = {(row["project__owner"], row["sha256"]) for row in used.iterator()}
    runs = set(RunPhoto.objects.values_list("photo_id", flat=True))
    gone = set()
    for photo in PhotoFile.objects.filter(created__lt=before).iterator():
        if (photo.owner_id, photo.sha256) not in kept and photo.pk not in runs:
            photo.delete()
            gone.add(photo.sha256)
    return _unlink_photos(gone)


def _clear_files(days: int) -> int:
    """Take away files that nothing leads to: drafts, unfinished uploads, what was made for others that are gone."""
    since = time.time() - days * 86_400
    photos = set(PhotoFile.objects.values_list("sha256", flat=True))
    wanted = {row["key"] for files in Delivery.objects.values_list("files", flat=True) for row in files}
    wanted |= {k for k in RunPhoto.objects.values_list("key", flat=True) if k}
    wanted |= {k for keys in Run.objects.values_list("sheets", flat=True) for k in keys.values()}
    wanted |= {c["key"] for c in Run.objects.values_list("contact", flat=True) if c.get("key")}
    gone = 0
    for key in [k for folder in FOLDERS for k in keys_in(folder)]:
        name = key.rsplit("/", 1)[-1]
        if key.startswith(("photos/", "previews/")) and name in photos:
            continue
        if key in wanted or _at(key) > since:
            continue
        Stored(key).unlink()
        gone += 1
    # an upload lasts minutes; whatever is older was left by a process that was killed
    for folder, before in (("copies", since), ("uploads", time.time() - UPLOAD)):
        for file in (Path(settings.DATA_DIR) / folder).rglob("*"):
            if file.is_file() and max(file.stat().st_atime, file.stat().st_mtime) < before:
                file.unlink(missing_ok=True)
                gone += 1
    return gone


def _at(key: str) -> float:
    try:
        return float(default_storage.get_modified_time(key).timestamp())
    except OSError:
        # it went away meanwhile
        return time.time()


def thin(project: Project, before: Any) -> int:
    """Keep of each sitting before some time the last step, and what was named or delivered; return how many went."""
    steps = list(project.revisions.defer("data", "step").order_by("number"))
    delivered = set(project.deliveries.values_list("revision_id", flat=True))
    keep = set()
    for one, after in zip(steps, [*steps[1:], None], strict=True):
        ends = after is None or after.made - one.made > SITTING
        if one.made >= before or ends or one.name or one.pk in delivered or one.pk == project.head_id:
            keep.add(one.pk)
    gone = [one for one in steps if one.pk not in keep and one.number > 1]
    if not gone:
        return 0
    known = {one.pk: one for one in steps}
    away = {one.pk for one in gone}
    with transaction.atomic():
        for one in steps:
            parent = one.parent_id
            while parent in away:
                parent = known[parent].parent_id
            if one.pk not in away and parent != one.parent_id:
                revisions.follow(Revision.objects.get(pk=one.pk), Revision.objects.get(pk=parent))
        Revision.objects.filter(pk__in=away)._raw_delete("default")
    return len(gone)
