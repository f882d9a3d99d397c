"""The only ways a project changes: a command, undo, redo, a stop.

A command's result is computed, and drawn, before the write lock is taken; the
transaction then only compares the head with the revision it was computed from, and
swaps it. A command made on a revision other than the head raises `Conflict`; a command
id that was stored before changes nothing.
"""

from dataclasses import dataclass
from typing import Any

from django.db import IntegrityError, transaction
from django.db.models import QuerySet
from django.utils import timezone

import sheet
from sheet import Sheet, SheetError
from sheet.document.store import photos_in, unfolded
from sheet.inspect.effort import LIGHT, effort_of
from studio.editor import responses
from studio.editor.view_state import ViewState
from studio.library.lookup import Owned
from studio.models import Project, Revision
from studio.work import worker_pool

from . import revisions, stored
from .deltas import step

__all__ = [
    "REQUESTS",
    "Conflict",
    "Done",
    "go_back",
    "names",
    "readable",
    "recover",
    "redo",
    "redo_target",
    "run",
    "start",
    "stop",
    "undo",
]

FIRST_LOOK = ViewState()
TRIES = 5
"""How often storing a command is retried if others made and undid something in the meantime."""


class Conflict(Exception):
    """The page knew a revision other than the head."""


@dataclass(frozen=True, slots=True)
class Done:
    """The result of a change: the project with its head, the answer for the page, and whether a revision was made."""

    project: Project
    answer: dict[str, Any]
    new: bool = False

    @property
    def sheet(self) -> Sheet:
        """The sheet at the head."""
        assert self.project.head is not None
        return self.project.head.sheet

    @property
    def chosen(self) -> tuple[str, ...]:
        """The selection after it."""
        return tuple(self.answer.get("chosen", ()))


def start(owner: Any, name: str, first: Sheet) -> Project:
    """Make a project whose first revision is `first`."""
    data = sheet.dump(first)
    with transaction.atomic():
        project = Project.objects.create(owner=owner, name=name)
        project.head = revisions.add(project, "start", data, b"")
        project.made = 1
        project.save()
        revisions.used(project, photos_in(unfolded(data)))
    return project


def _project(owner: Any, pk: int) -> Project:
    """Return a person's project with its head. Raises Project.DoesNotExist."""
    return Project.objects.select_related("head").get(pk=pk, owner=owner, deleted=None)


def _repeated(project: Project, command_id: str) -> bool:
    return bool(command_id) and (
        project.last_command == command_id or project.revisions.filter(command=command_id).exists()
    )


def _unchanged(project: Project, view: ViewState) -> Done:
    assert project.head is not None
    now = project.head.sheet
    return Done(project, responses.shown(now, now, view))


def _on_head(project: Project, command_id: str, revision: int) -> bool:
    """Return whether a command must still run: not if it was stored or stopped already. Raises Conflict."""
    assert project.head is not None
    if command_id and project.last_command == _stopped(command_id):
        return False
    if project.head.number != revision:
        if _repeated(project, command_id):
            return False
        raise Conflict
    return True


def _work(owner: Any, command_id: str) -> str:
    """Return the key that stops long work for a person's command, and nobody else's."""
    return f"{owner.pk}-{command_id}" if command_id else ""


def _worked_out(project: Project, command: sheet.Command, view: ViewState, key: str) -> responses.Made:
    """Return the result of a command: computed here if it is light, else by a worker."""
    assert project.head is not None
    data = stored.readable_of(project.head)
    if effort_of(sheet.load(data), view.chosen, command) <= LIGHT:
        return responses.made(data, command, view)
    made: responses.Made = worker_pool.do("studio.editor.responses:made", data, command, view, key=key)
    return made


def run(
    owner: Any, pk: int, command_id: str, name: str, args: Any, revision: int, view: ViewState = FIRST_LOOK
) -> Done:
    """Apply a command to the head of a person's project.

    Raises Conflict, SheetError or Project.DoesNotExist; nothing is stored then.
    """
    project = _project(owner, pk)
    if not _on_head(project, command_id, revision):
        return _unchanged(project, view)
    assert project.head is not None
    key = _work(owner, command_id)
    command = sheet.read(name, args).informed(Owned(owner, key), project.head.sheet)
    made = _worked_out(project, command, view, key)
    for _ in range(TRIES):
        try:
            return Done(_swapped(project, made, command_id), made.answer, new=True)
        except IntegrityError:
            project = _project(owner, pk)
            # the same id on the same head: it was undone since then, and does not run again
            if not _on_head(project, command_id, revision) or _repeated(project, command_id):
                return _unchanged(project, view)
    raise Conflict


def _swapped(project: Project, made: responses.Made, command_id: str) -> Project:
    """Store a revision, and make it the head in place of the one it was computed from.

    Raises IntegrityError, with nothing stored, if the head has changed.
    """
    with transaction.atomic():
        # IMMEDIATE: from here on there is no other writer
        new = revisions.add(project, made.label, made.data, made.step, command_id)
        then = Project.objects.filter(pk=project.pk, head=project.head, made=project.made, deleted=None)
        project.made = new.number
        if not _store(project, new, command_id, then.exclude(last_command=_stopped(command_id))):
            raise IntegrityError("another revision is the head by now")
        revisions.used(project, made.files)
    return project


def _store(project: Project, head: Revision, command_id: str, then: QuerySet[Project] | None = None) -> bool:
    """Make a revision the head if the project is still at `then`; return whether it was."""
    before, project.head = project.head, head
    project.last_command = command_id
    project.updated = timezone.now()
    rows = Project.objects.filter(pk=project.pk) if then is None else then
    fields = {"head": head, "made": project.made, "last_command": command_id, "updated": project.updated}
    if not rows.update(**fields):
        return False
    revisions.make_head(head, before)
    return True


def redo_target(project: Project) -> Revision | None:
    """Return the newest revision made from the head, for redo."""
    return _newest_out_of(project, project.head_id)


def _newest_out_of(project: Project, pk: int | None) -> Revision | None:
    return project.revisions.filter(parent=pk).defer("data", "step").order_by("-number").first()


def _is_readable(revision: Revision) -> bool:
    try:
        revision.sheet  # noqa: B018  reading it is the question
    except SheetError:
        return False
    return True


def _target(project: Project, forward: bool) -> Revision | None:
    """Return the nearest readable revision to the head, skipping any that cannot be read."""
    at = redo_target(project) if forward else project.head and project.head.parent
    while at is not None:
        whole = Revision.objects.get(pk=at.pk)
        if _is_readable(whole):
            return whole
        at = _newest_out_of(project, at.pk) if forward else at.parent
    return None


def readable(project: Project) -> Revision | None:
    """Return the head, or if it cannot be read, the last readable revision before it."""
    at = project.head
    while at is not None and not _is_readable(at):
        at = at.parent
    return at


def _move(owner: Any, pk: int, command_id: str, revision: int, forward: bool, view: ViewState) -> Done:
    project = _project(owner, pk)
    if not _on_head(project, command_id, revision):
        return _unchanged(project, view)
    target = _target(project, forward)
    if target is None:
        raise SheetError("There is nothing to redo." if forward else "There is nothing left to undo.")
    assert project.head is not None
    before = project.head.sheet if _is_readable(project.head) else sheet.new_sheet(1, 1)
    answer = responses.shown(before, target.sheet, view, touched=True)
    with transaction.atomic():
        project = _project(owner, pk)
        if not _on_head(project, command_id, revision):
            return _unchanged(project, view)
        _store(project, target, command_id)
    return Done(project, answer)


def undo(owner: Any, pk: int, command_id: str, revision: int, view: ViewState = FIRST_LOOK) -> Done:
    """Go back to the revision before the head. Raises Conflict, or SheetError at the first one."""
    return _move(owner, pk, command_id, revision, False, view)


def redo(owner: Any, pk: int, command_id: str, revision: int, view: ViewState = FIRST_LOOK) -> Done:
    """Go to the newest revision made from the head. Raises Conflict, or SheetError if there is none."""
    return _move(owner, pk, command_id, revision, True, view)


def go_back(owner: Any, pk: int, to: Revision) -> Project:
    """Make the sheet of a revision the newest one; later ones stay, and undo leads back to them.

    Raises Conflict, SheetError or Project.DoesNotExist.
    """
    project = _project(owner, pk)
    assert project.head is not None
    if to.pk == project.head.pk:
        return project
    data = stored.readable_of(to)
    text = unfolded(data)
    try:
        changed = step(unfolded(stored.readable_of(project.head)), text)
    except SheetError:
        # nothing can be made from a head that cannot be read
        changed = b""
    label = f"back to “{to.name}”" if to.name else f"back to step {to.number}"
    made = responses.Made(data, changed, (), label, {})
    try:
        return _swapped(project, made, "")
    except IntegrityError:
        raise Conflict from None


def recover(owner: Any, pk: int) -> Project:
    """Make the last readable revision the head. Raises SheetError if none can be read."""
    project = _project(owner, pk)
    target = readable(project)
    if target is None:
        raise SheetError("None of this project's steps can be read.", "Restore it from a backup.")
    if target != project.head:
        with transaction.atomic():
            project = _project(owner, pk)
            _store(project, target, "")
    return project


def stop(owner: Any, pk: int, command_id: str, view: ViewState = FIRST_LOOK) -> Done:
    """Undo command `command_id` if it is the newest, or prevent it from running when it arrives."""
    _project(owner, pk)
    if command_id:
        worker_pool.stop(_work(owner, command_id))
    with transaction.atomic():
        project = _project(owner, pk)
        assert project.head is not None
        before = project.head.sheet
        head = project.head
        if project.last_command == command_id and head.command == command_id and head.parent_id:
            head = Revision.objects.get(pk=head.parent_id)
        _store(project, head, _stopped(command_id))
    return Done(project, responses.shown(before, project.head.sheet, view))


def _stopped(command_id: str) -> str:
    return f"!{command_id}"[:64]


def names(project: Project, new: bool = False) -> dict[str, str]:
    """Return the labels of undo and redo; empty if they can do nothing.

    A `new` head has nothing made from it yet, which saves a query.
    """
    assert project.head is not None
    target = None if new else redo_target(project)
    return {
        "undo": project.head.label if project.head.parent_id else "",
        "redo": target.label if target else "",
    }


REQUESTS = {
    "undo": lambda owner, pk, sent, view: undo(owner, pk, sent.id, sent.revision, view),
    "redo": lambda owner, pk, sent, view: redo(owner, pk, sent.id, sent.revision, view),
    "stop": lambda owner, pk, sent, view: stop(owner, pk, str(sent.args.get("id") or "")[:60], view),
}
"""Page requests other than the sheet's commands, by name: each takes (owner, project, request, view)."""
