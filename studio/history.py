"""The only doors through which a project changes: a command, undo, redo.

Each runs in one transaction. A command made on another revision than the head raises
`Conflict`; a command id that was stored before changes nothing.
"""

from dataclasses import dataclass
from typing import Any

from django.db import transaction
from django.utils import timezone

import sheet
from sheet import Sheet, SheetError

from .models import Project, Revision

__all__ = ["Conflict", "Done", "start", "run", "undo", "redo", "redo_target", "names"]


class Conflict(Exception):
    """The page knew another revision than the head."""


@dataclass(frozen=True, slots=True)
class Done:
    """What a change left: the project, its head's sheet, the sheet before, and what is chosen."""

    project: Project
    before: Sheet
    sheet: Sheet
    chosen: tuple[str, ...]


def start(owner: Any, name: str, first: Sheet) -> Project:
    """Make a project whose first revision is `first`."""
    with transaction.atomic():
        project = Project.objects.create(owner=owner, name=name)
        project.head = Revision.objects.create(project=project, number=1, label="start", data=sheet.dump(first))
        project.save()
    return project


def _locked(project_id: int) -> Project:
    # IMMEDIATE transactions hold SQLite's write lock from here on
    return Project.objects.select_related("head").get(pk=project_id)


def run(project: Project, command_id: str, name: str, args: dict[str, Any], revision: int) -> Done:
    """Apply a command to the head. Raises Conflict or SheetError; nothing is stored then."""
    with transaction.atomic():
        project = _locked(project.pk)
        assert project.head is not None
        before = project.head.sheet
        if command_id and (project.last_command == command_id or project.revisions.filter(command=command_id).exists()):
            return Done(project, before, before, ())
        if project.head.number != revision:
            raise Conflict
        outcome = sheet.apply(before, name, args)
        last = project.revisions.order_by("-number").values_list("number", flat=True)[0]
        project.head = Revision.objects.create(
            project=project,
            number=last + 1,
            parent=project.head,
            label=outcome.label[:200],
            command=command_id,
            data=sheet.dump(outcome.sheet),
        )
        project.last_command = command_id
        project.updated = timezone.now()
        project.save(update_fields=["head", "last_command", "updated"])
    return Done(project, before, outcome.sheet, outcome.chosen)


def redo_target(project: Project) -> Revision | None:
    """Return the newest revision made out of the head, which redo would show."""
    return project.revisions.filter(parent=project.head_id).defer("data").order_by("-number").first()


def _move(project: Project, command_id: str, revision: int, forward: bool) -> Done:
    with transaction.atomic():
        project = _locked(project.pk)
        assert project.head is not None
        before = project.head.sheet
        if command_id and project.last_command == command_id:
            return Done(project, before, before, ())
        if project.head.number != revision:
            raise Conflict
        target = redo_target(project) if forward else project.head.parent
        if target is None:
            raise SheetError("There is nothing to redo." if forward else "There is nothing left to undo.")
        project.head = Revision.objects.get(pk=target.pk)
        project.last_command = command_id
        project.updated = timezone.now()
        project.save(update_fields=["head", "last_command", "updated"])
    return Done(project, before, project.head.sheet, ())


def undo(project: Project, command_id: str, revision: int) -> Done:
    """Show the revision before the head. Raises Conflict, or SheetError at the first one."""
    return _move(project, command_id, revision, forward=False)


def redo(project: Project, command_id: str, revision: int) -> Done:
    """Show the newest revision made out of the head. Raises Conflict, or SheetError where there is none."""
    return _move(project, command_id, revision, forward=True)


def names(project: Project) -> dict[str, str]:
    """Return what undo and redo would do, in words; empty where they can do nothing."""
    assert project.head is not None
    target = redo_target(project)
    return {
        "undo": project.head.label if project.head.parent_id else "",
        "redo": target.label if target else "",
    }
