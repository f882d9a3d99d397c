"""The history of a project: its steps by session, and what can be done with one."""

import itertools
from typing import Any, Final

from django.conf import settings
from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.cache import cache_control
from django.views.decorators.http import require_GET, require_POST

from sheet import SheetError
from sheet.document.limits import clean_name
from studio.http import own_project, refusal
from studio.library.thumbs import thumb
from studio.models import Project, Revision

from . import changes
from .sessions import sessions

__all__ = ["back", "branch", "name", "page", "picture", "session"]

PAGE: Final = 60
"""Steps of a session shown before more are asked for."""
SMALL: Final = 240


def _steps(project: Project) -> list[dict[str, Any]]:
    """Return all steps, newest first, without their sheets."""
    rows = project.revisions.order_by("-number").values("number", "label", "name", "made", "parent__number")
    return list(rows)


def _on_the_way(steps: list[dict[str, Any]], head: int) -> set[int]:
    """Return the steps that led to the head; the others were undone and replaced."""
    parents = {s["number"]: s["parent__number"] for s in steps}
    way: set[int] = set()
    at: int | None = head
    while at is not None and at not in way:
        way.add(at)
        at = parents.get(at)
    return way


def _summary(session: list[dict[str, Any]]) -> dict[str, Any]:
    last, first = session[0], session[-1]
    named = [s["name"] for s in session if s["name"]]
    long = f"{last['made']:%H:%M}" != f"{first['made']:%H:%M}"
    return {"first": first, "last": last, "long": long, "count": len(session), "named": named}


@login_required
@require_GET
def page(request: HttpRequest, pk: int) -> HttpResponse:
    """Show the sessions, the newest with its steps."""
    project = own_project(request, pk)
    steps = _steps(project)
    way = _on_the_way(steps, project.head.number)
    parted = sessions(steps)
    context = {
        "project": project,
        "head": next(s for s in steps if s["number"] == project.head.number),
        "count": len(steps),
        "thinned": settings.GOUGE_THIN,
        "sessions": [_summary(s) for s in parted],
        "named": [s for s in steps if s["name"]],
        **_shown(parted[0], way),
    }
    return render(request, "studio/steps.html", context)


def _shown(session: list[dict[str, Any]], way: set[int], below: int | None = None) -> dict[str, Any]:
    rows = [s for s in session if below is None or s["number"] < below]
    cells = [{**s, "aside": s["number"] not in way} for s in itertools.islice(rows, PAGE)]
    more = rows[PAGE - 1]["number"] if len(rows) > PAGE else None
    return {"cells": cells, "more": more, "left": len(rows) - PAGE}


@login_required
@require_GET
def session(request: HttpRequest, pk: int, number: int) -> HttpResponse:
    """Return the steps of the session that ended with step `number`, only those below another one if given."""
    project = own_project(request, pk)
    steps = _steps(project)
    found = next((s for s in sessions(steps) if s[0]["number"] == number), None)
    if found is None:
        raise Http404
    below = request.GET.get("below", "")
    way = _on_the_way(steps, project.head.number)
    shown = _shown(found, way, int(below) if below.isdecimal() and len(below) < 10 else None)
    return render(
        request, "studio/steps_cells.html", {"project": project, "head": {"number": project.head.number}, **shown}
    )


def _step(request: HttpRequest, pk: int, number: int) -> Revision:
    project = own_project(request, pk)
    found: Revision = get_object_or_404(project.revisions, number=number)
    return found


@login_required
@require_GET
@cache_control(private=True, max_age=31536000, immutable=True)
def picture(request: HttpRequest, pk: int, number: int) -> HttpResponse:
    """Return a PNG of a step, a small one with `small`."""
    try:
        sheet = _step(request, pk, number).sheet
    except SheetError:
        raise Http404 from None
    side = {"side": SMALL} if "small" in request.GET else {}
    return HttpResponse(thumb(sheet, request.user, **side), content_type="image/png")


@login_required
@require_POST
def back(request: HttpRequest, pk: int, number: int) -> HttpResponse:
    """Go back to a step: its sheet becomes the newest, and later steps stay."""
    step = _step(request, pk, number)
    try:
        return redirect(changes.go_back(request.user, pk, step))
    except SheetError as error:
        messages.error(request, str(error))
    except changes.Conflict:
        messages.error(request, "This project was changed in another window just now. Go back once more.")
    return redirect("steps", pk)


@login_required
@require_POST
def name(request: HttpRequest, pk: int, number: int) -> HttpResponse:
    """Name a step, or remove its name."""
    step = _step(request, pk, number)
    given = clean_name(request.POST.get("name", ""))[:80]
    if request.POST.get("name", "").strip() and not given:
        return refusal("A name needs at least one letter.", "Type another.", "name")
    Revision.objects.filter(pk=step.pk).update(name=given)
    return JsonResponse({"name": given})


@login_required
@require_POST
def branch(request: HttpRequest, pk: int, number: int) -> HttpResponse:
    """Make a project from a step."""
    step = _step(request, pk, number)
    try:
        word = step.name or f"step {number}"
        copy = changes.start(request.user, f"{step.project.name[: 75 - len(word)]} · {word}"[:80], step.sheet)
    except SheetError as error:
        messages.error(request, str(error))
        return redirect("steps", pk)
    return redirect(copy)
