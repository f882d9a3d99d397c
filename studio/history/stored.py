"""The stored sheet of a revision: whole, or rebuilt from a whole one and the steps since.

Functions of rows for the models, which they do not import.
"""

from typing import Any, Final

import sheet
from sheet import Sheet, SheetError
from sheet.document.store import Damaged, packed, unfolded

from .deltas import BadStep, stepped

__all__ = ["from_steps", "readable_of", "sheet_of", "whole_of"]

_UNREADABLE: Final = ("This revision cannot be read.", "Open one that came before it.")


def from_steps(revision: Any) -> bytes:
    """Return the stored sheet of a revision, rebuilt. Raises SheetError if that is impossible."""
    # a damaged whole one is rebuilt from those before it
    first = revision.parent.key if revision.key == revision.number and revision.parent else revision.key
    between = type(revision).objects.filter(project=revision.project_id, number__gte=first, number__lte=revision.number)
    # in one query: a moment later a row may have been reduced to its step
    known = {pk: rest for pk, *rest in between.values_list("pk", "parent_id", "step", "data")}
    steps: list[bytes] = []
    at: int | None = revision.pk
    while at in known:
        parent, step, data = known[at]
        if at != revision.pk and data is not None:
            try:
                return _forward(bytes(data), steps)
            except (BadStep, Damaged):
                # there may be a sound one further back
                pass
        if step is None:
            break
        steps.append(bytes(step))
        at = parent
    raise SheetError(*_UNREADABLE)


def _forward(data: bytes, steps: list[bytes]) -> bytes:
    return packed(stepped(unfolded(data), *reversed(steps)))


def whole_of(revision: Any) -> bytes:
    """Return the stored sheet of a revision (`sheet.load` reads it). Raises SheetError if it is damaged."""
    if revision.data is not None:
        return bytes(revision.data)
    if revision.whole is None:
        revision.whole = from_steps(revision)
    return revision.whole


def readable_of(revision: Any) -> bytes:
    """Return the stored sheet of a revision, from its steps if the whole one is damaged. Raises SheetError."""
    data = whole_of(revision)
    try:
        sheet.load(data)
    except SheetError:
        if revision.data is None or revision.step is None:
            raise
        data = from_steps(revision)
        sheet.load(data)
    return data


def sheet_of(revision: Any) -> Sheet:
    """Return the sheet of a revision. Raises SheetError if it is damaged."""
    return sheet.load(readable_of(revision))
