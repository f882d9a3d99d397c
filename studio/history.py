"""The only doors through which a project changes: a command, undo, redo.

Each runs in one transaction. A command made on another revision than the head raises
`Conflict`; a command id that was stored before changes nothing.
"""

from dataclasses import dataclass
from typing import Any

from django.db import IntegrityError, transaction
from django.utils import timezone

import sheet
from sheet import Sheet, SheetError

from .models import Project, Revision

__all__ = ["Conflict", "Done", "start", "run", "undo", "redo", "redo_target", "names"]


class Conflict(Exception):
    """The page knew another revision than the head."""


@dataclass(frozen=True, slots=True)
class Done:
    """What a change left: the project, the sheet before and now, what is chosen, whether a new revision was made,
    and what the person should be told."""

    project: Project
    before: Sheet
    sheet: Sheet
    chosen: tuple[str, ...]
    new: bool = False
    note: str = ""


def start(owner: Any, name: str, first: Sheet) -> Project:
    """Make a project whose first revision is `first`."""
    with transaction.atomic():
        project = Project.objects.create(owner=owner, name=name, made=1)
        project.head = Revision.objects.create(project=project, number=1, label="start", data=sheet.dump(first))
        project.save()
    return project


def _head(owner: Any, pk: int) -> Project:
    """Return a person's project with its head, inside a transaction. Raises Project.DoesNotExist."""
    # IMMEDIATE transactions hold SQLite's write lock from here on
    return Project.objects.select_related("head").get(pk=pk, owner=owner, deleted=None)


def _repeated(project: Project, command_id: str) -> bool:
    return bool(command_id) and (
        project.last_command == command_id or project.revisions.filter(command=command_id).exists()
    )


def run(owner: Any, pk: int, command_id: str, name: str, args: dict[str, Any], revision: int) -> Done:
    """Apply a command to the head of a person's project.

    Raises Conflict, SheetError or Project.DoesNotExist; nothing is stored then.
    """
    try:
        with transaction.atomic():
            project = _head(owner, pk)
            assert project.head is not None
            before = project.head.sheet
            if command_id and project.last_command == _stopped(command_id):
                return Done(project, before, before, ())
            if project.head.number != revision:
                if _repeated(project, command_id):
                    return Done(project, before, before, ())
                raise Conflict
            outcome = sheet.apply(before, name, args)
            project.made += 1
            project.head = Revision.objects.create(
                project=project,
                number=project.made,
                parent=project.head,
                label=outcome.label[:200],
                command=command_id,
                data=sheet.dump(outcome.sheet),
            )
            _store(project, command_id)
    except IntegrityError:
        # the same id on the same head: it was undone since, and is not done again
        project = _head(owner, pk)
        assert project.head is not None
        return Done(project, project.head.sheet, project.head.sheet, ())
    return Done(project, before, outcome.sheet, outcome.chosen, new=True, note=outcome.note)


def _store(project: Project, command_id: str) -> None:
    project.last_command = command_id
    project.updated = timezone.now()
    Project.objects.filter(pk=project.pk).update(
        head=project.head, made=project.made, last_command=command_id, updated=project.updated
    )


def redo_target(project: Project) -> Revision | None:
    """Return the newest revision made out of the head, which redo would show."""
    return project.revisions.filter(parent=project.head_id).defer("data").order_by("-number").first()


def _move(owner: Any, pk: int, command_id: str, revision: int, forward: bool) -> Done:
    with transaction.atomic():
        project = _head(owner, pk)
        assert project.head is not None
        before = project.head.sheet
        if project.head.number != revision:
            if _repeated(project, command_id):
                return Done(project, before, before, ())
            raise Conflict
        target = redo_target(project) if forward else project.head.parent
        if target is None:
            raise SheetError("There is nothing to redo." if forward else "There is nothing left to undo.")
        project.head = Revision.objects.get(pk=target.pk)
        _store(project, command_id)
    return Done(project, before, project.head.sheet, ())


def undo(owner: Any, pk: int, command_id: str, revision: int) -> Done:
    """Show the revision before the head. Raises Conflict, or SheetError at the first one."""
    return _move(owner, pk, command_id, revision, forward=False)


def redo(owner: Any, pk: int, command_id: str, revision: int) -> Done:
    """Show the newest revision made out of the head. Raises Conflict, or SheetError where there is none."""
    return _move(owner, pk, command_id, revision, forward=True)


def stop(owner: Any, pk: int, command_id: str) -> Done:
    """Take back command `command_id` if it is the newest, or see to it that it is not done when it arrives."""
    with transaction.atomic():
        project = _head(owner, pk)
        assert project.head is not None
        before = project.head.sheet
        if project.last_command == command_id and project.head.command == command_id and project.head.parent_id:
            project.head = Revision.objects.get(pk=project.head.parent_id)
        _store(project, _stopped(command_id))
    return Done(project, before, project.head.sheet, ())


def _stopped(command_id: str) -> str:
    return f"!{command_id}"[:64]


def names(project: Project, new: bool = False) -> dict[str, str]:
    """Return what undo and redo would do, in words; empty where they can do nothing.

    A `new` head has nothing made out of it yet, which saves asking.
    """
    assert project.head is not None
    target = None if new else redo_target(project)
    return {
        "undo": project.head.label if project.head.parent_id else "",
        "redo": target.label if target else "",
    }
