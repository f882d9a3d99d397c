"""How revisions are stored: the head and every so often one whole, the others as differences.

A revision other than the head has only the `step` from its parent. Its sheet is
rebuilt from the nearest whole one before it, its key, which is never more than `CHAIN`
steps away, and the steps since then never weigh more than a whole one: so a
revision costs about twice its step on average, and the head is always whole.
"""

from typing import Any, Final

from sheet import SheetError
from sheet.document.store import Damaged, unfolded
from studio.models import PhotoUse, Project, Revision

from .deltas import step as step_between
from .stored import from_steps, whole_of

__all__ = ["CHAIN", "add", "follow", "make_head", "used"]

CHAIN: Final = 200
"""The most steps between a revision and the whole one it is rebuilt from."""


def add(project: Project, label: str, data: bytes, step: bytes, command: str = "", name: str = "") -> Revision:
    """Store a revision after the head of a project, to become the new head."""
    number = project.made + 1
    fields: dict[str, Any] = {"project": project, "number": number, "label": label, "command": command, "name": name}
    return Revision.objects.create(
        **fields, parent=project.head, data=data, **_storage_of(project.head, number, data, step)
    )


def _storage_of(parent: Revision | None, number: int, data: bytes, step: bytes) -> dict[str, Any]:
    """Return how a revision is stored once it is not the head: by its step, or whole, as a key for others."""
    weight = parent.weight + len(step) if parent else 0
    if parent is None or not step or number - parent.key > CHAIN or weight > len(data):
        # its step is stored too, in case the whole one is damaged
        return {"key": number, "step": step or None, "weight": 0}
    return {"key": parent.key, "step": step, "weight": weight}


def make_head(revision: Revision, before: Revision | None) -> None:
    """Store a revision whole, as the new head, and only the step of the head before it."""
    if revision.data is None:
        revision.data = whole_of(revision)
        Revision.objects.filter(pk=revision.pk).update(data=revision.data)
    if before is None or before.pk == revision.pk or before.key == before.number:
        return
    # a revision that cannot be rebuilt, because one of its steps is damaged, stays whole
    rows = Revision.objects.filter(pk=before.pk)
    if revision.parent_id == before.pk or _is_sound(before):
        rows.update(data=None)
    else:
        rows.update(step=None, key=before.number, weight=0)


def _is_sound(revision: Revision) -> bool:
    """Return whether a revision can be rebuilt from its steps."""
    try:
        return revision.data is not None and unfolded(from_steps(revision)) == unfolded(bytes(revision.data))
    except (SheetError, Damaged):
        return False


def follow(revision: Revision, parent: Revision) -> None:
    """Give a revision another parent, to be rebuilt from."""
    data = whole_of(revision)
    made = step_between(unfolded(whole_of(parent)), unfolded(data))
    kept = _storage_of(parent, revision.number, data, made)
    whole = kept["key"] == revision.number or revision.data is not None
    Revision.objects.filter(pk=revision.pk).update(parent=parent, data=data if whole else None, **kept)


def used(project: Project, files: Any) -> None:
    """Note that a project uses photos, so that they last as long as it does, and are in its tray."""
    files = list(files)
    if not files:
        return
    PhotoUse.objects.bulk_create([PhotoUse(project=project, sha256=f) for f in files], ignore_conflicts=True)
    project.uses.filter(sha256__in=files, cleared=True).update(cleared=False)
