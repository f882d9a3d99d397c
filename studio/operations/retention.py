"""Deleting for good: after thirty days what is not used any more, and closed accounts."""

import time
from collections.abc import Iterable
from contextlib import suppress
from datetime import timedelta
from pathlib import Path
from typing import Any, Final

from axes.models import AccessAttempt
from django.conf import settings
from django.contrib.sessions.models import Session
from django.core.files.storage import default_storage
from django.db import transaction
from django.db.models import Exists, OuterRef
from django.utils import timezone

from sheet import SheetError
from studio.history import revisions
from studio.history.sessions import sessions
from studio.models import Batch, BatchPhoto, Export, OwnFile, PhotoFile, PhotoUse, Project, Revision, ShelfItem
from studio.storage import FOLDERS, Stored, keys_in, own_key, photo_key, preview_key
from studio.work import queue

__all__ = ["DAYS", "belongings", "clear", "close", "remove_project", "thin"]

DAYS: Final = 30
"""How long something deleted can be restored."""
UPLOAD: Final = 86_400
"""Seconds after which an unfinished upload is a leftover."""


def belongings(owner: Any) -> dict[str, Any]:
    """Return the contents of an account, as numbers and in words."""
    projects = Project.objects.filter(owner=owner, deleted=None).count()
    photos = PhotoFile.objects.filter(owner=owner).count()
    shelf = ShelfItem.objects.filter(owner=owner, deleted=None).count()
    parts = [(projects, "project"), (photos, "photo"), (shelf, "outline")]
    words = [f"{n:,} {word}{'' if n == 1 else 's'}" for n, word in parts]
    return {"projects": projects, "words": f"{words[0]}, {words[1]} and {words[2]} on the shelf"}


def remove_project(project: Project) -> None:
    """Delete a project with its history and its exports; its photos stay as long as something uses them."""
    with transaction.atomic():
        # the head is protected except when its project is deleted with it
        Project.objects.filter(pk=project.pk).update(head=None)
        Export.objects.filter(project=project).delete()
        # rows that refer to each other are deleted in one statement
        Revision.objects.filter(project=project)._raw_delete("default")
        pk = project.pk
        project.delete()
    _unlink_all(f"deliveries/{pk}")


def close(owner: Any) -> None:
    """Delete an account with everything in it."""
    shas = set(PhotoFile.objects.filter(owner=owner).values_list("sha256", flat=True))
    batches = list(Batch.objects.filter(owner=owner).values_list("pk", flat=True))
    for project in Project.objects.filter(owner=owner):
        remove_project(project)
    Batch.objects.filter(owner=owner).delete()
    AccessAttempt.objects.filter(username=owner.get_username()).delete()
    own = set(OwnFile.objects.filter(owner=owner).values_list("use", "digest"))
    pk = owner.pk
    owner.delete()
    _unlink_photos(shas)
    for use, digest in own - set(OwnFile.objects.values_list("use", "digest")):
        Stored(own_key(use, digest)).unlink()
    for folder in (f"drawings/{pk}", f"sheets/{pk}", *(f"runs/{batch}" for batch in batches)):
        _unlink_all(folder)


def _unlink_all(folder: str) -> None:
    """Delete a folder's files from the storage."""
    for key in list(keys_in(folder)):
        Stored(key).unlink()


def _unlink_photos(shas: Iterable[str]) -> int:
    """Delete the files of photos that nobody has any more; return how many."""
    gone = 0
    for sha in shas:
        if not PhotoFile.objects.filter(sha256=sha).exists():
            Stored(photo_key(sha)).unlink()
            Stored(preview_key(sha)).unlink()
            gone += 1
    return gone


def clear(days: int = DAYS) -> dict[str, int]:
    """Delete what was not used for some days, and return the counts of each kind."""
    before = timezone.now() - timedelta(days=days)
    counts = {"projects": 0, "outlines": 0, "photos": 0, "sessions": 0, "files": 0, "steps": 0, "results": 0}
    for project in Project.objects.filter(deleted__lt=before):
        remove_project(project)
        counts["projects"] += 1
    counts["outlines"] = ShelfItem.objects.filter(deleted__lt=before).delete()[1].get("studio.ShelfItem", 0)
    counts["photos"] = _clear_photos(before)
    counts["sessions"] = Session.objects.filter(expire_date__lt=timezone.now()).delete()[0]
    AccessAttempt.objects.filter(attempt_time__lt=before).delete()
    counts["files"] = _clear_files(days)
    # a queue that does not answer is cleared another day
    with suppress(SheetError):
        counts["results"] = queue.expire(days)
    if settings.GOUGE_THIN:
        older = timezone.now() - timedelta(days=settings.GOUGE_THIN)
        for project in Project.objects.filter(deleted=None):
            counts["steps"] += thin(project, older)
    return counts


def _clear_photos(before: Any) -> int:
    """Delete photos that no step of a project, and no batch, uses."""
    steps = PhotoUse.objects.filter(project__owner=OuterRef("owner"), sha256=OuterRef("sha256"))
    batches = BatchPhoto.objects.filter(photo=OuterRef("pk"))
    unused = PhotoFile.objects.filter(~Exists(steps), ~Exists(batches), created__lt=before)
    gone = set()
    for pk, sha in list(unused.values_list("pk", "sha256")):
        # checked again on deletion: it may be in use by now
        if unused.filter(pk=pk).delete()[0]:
            gone.add(sha)
    return _unlink_photos(gone)


def _clear_files(days: int) -> int:
    """Delete files that nothing refers to: drafts, unfinished uploads, results for deleted things."""
    since = time.time() - days * 86_400
    photos = set(PhotoFile.objects.values_list("sha256", flat=True))
    wanted = {row["key"] for files in Export.objects.values_list("files", flat=True) for row in files}
    wanted |= {k for k in BatchPhoto.objects.values_list("key", flat=True) if k}
    wanted |= {k for keys in Batch.objects.values_list("sheets", flat=True) for k in keys.values()}
    wanted |= {c["key"] for c in Batch.objects.values_list("contact", flat=True) if c.get("key")}
    wanted |= {own_key(use, digest) for use, digest in OwnFile.objects.values_list("use", "digest")}
    gone = 0
    for key in [k for folder in FOLDERS for k in keys_in(folder)]:
        name = key.rsplit("/", 1)[-1]
        if key.startswith(("photos/", "previews/")) and name in photos:
            continue
        if key in wanted or _at(key) > since:
            continue
        Stored(key).unlink()
        gone += 1
    # an upload takes minutes; anything older was left by a killed process
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
        # it was deleted in the meantime
        return time.time()


def thin(project: Project, before: Any) -> int:
    """Keep the last step of each session before some time, and named or exported ones; return how many were deleted."""
    # the head must not move during this
    with transaction.atomic():
        steps = list(project.revisions.order_by("-number").values("pk", "number", "parent", "name", "made"))
        keep = set(project.exports.values_list("revision_id", flat=True))
        keep |= set(Project.objects.filter(pk=project.pk).values_list("head", flat=True))
        keep |= {s["pk"] for s in steps if s["name"] or s["made"] >= before or s["number"] == 1}
        # newest first: the first of a session is its last step
        keep |= {session[0]["pk"] for session in sessions(steps)}
        parents = {s["pk"]: s["parent"] for s in steps}
        away = parents.keys() - keep
        for one in reversed(steps):
            parent = one["parent"]
            while parent in away:
                parent = parents[parent]
            if one["pk"] in keep and parent != one["parent"]:
                revisions.follow(Revision.objects.get(pk=one["pk"]), Revision.objects.get(pk=parent))
        Revision.objects.filter(pk__in=away)._raw_delete("default")
    return len(away)
