"""The editor: its page, its panels, and the one door for commands."""

import json
from typing import Any

from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.csrf import ensure_csrf_cookie
from django.views.decorators.http import require_GET, require_POST

from outline import OutlineError
from picture import fragment
from sheet import Photo, Piece, Sheet, SheetError, apply
from sheet.geometry import outline_of
from sheet.lengths import px_per
from sheet.tree import find

from .. import history
from ..look import STATIONS, Look, stack_key
from ..look import panels as make_panels
from ..models import PhotoFile, Project
from .common import own_project, refusal


def _href(photo: Photo) -> str:
    return f"/photos/{photo.file}/preview"


def _files_missing(request: HttpRequest, args: dict[str, Any]) -> bool:
    """Tell whether a place command names a photo that is not the person's own."""
    photos = args.get("photos")
    if not isinstance(photos, list):
        return False
    files = {p.get("file") for p in photos if isinstance(p, dict)}
    return PhotoFile.objects.filter(owner=request.user, sha256__in=files).count() != len(files)


def _surface(sheet: Sheet) -> dict[str, Any]:
    return {
        "width": sheet.width,
        "height": sheet.height,
        "unit": sheet.unit,
        "perUnit": px_per(sheet.unit, sheet.resolution),
        "resolution": sheet.resolution,
        "backdrop": sheet.backdrop,
    }


def _state(project: Any, sheet: Sheet, new: bool = False) -> dict[str, Any]:
    return {
        "revision": project.head.number,
        **history.names(project, new),
        "order": [i.id for i in sheet.items],
        "surface": _surface(sheet),
    }


def _whole(request: HttpRequest, project: Any, sheet: Sheet, look: Look) -> dict[str, Any]:
    """Return everything the page shows."""
    return {
        **_state(project, sheet),
        "swap": {i.id: fragment(i, _href) for i in sheet.items},
        "panels": make_panels(request, sheet, look),
    }


def _change(request: HttpRequest, done: history.Done, look: Look) -> dict[str, Any]:
    """Return what changed between two sheets, and the panels for what is chosen now."""
    before = {i.id: i for i in done.before.items}
    swap = {i.id: fragment(i, _href) for i in done.sheet.items if before.get(i.id) is not i and before.get(i.id) != i}
    chosen = done.chosen or tuple(c for c in look.chosen)
    look = Look(look.station, chosen, look.base, look.inside)
    with_stack = stack_key(done.before) != stack_key(done.sheet)
    return {
        **_state(done.project, done.sheet, done.new),
        "swap": swap,
        "chosen": list(chosen),
        "panels": make_panels(request, done.sheet, look, with_stack),
    }


@login_required
@require_GET
@ensure_csrf_cookie
def page(request: HttpRequest, pk: int) -> HttpResponse:
    """Show the editor."""
    project = own_project(request, pk)
    sheet = project.head.sheet
    look = Look(station=request.GET.get("station", "draw"))
    state = _whole(request, project, sheet, Look.read({"station": look.station}))
    swap, shown = state.pop("swap"), state.pop("panels")
    return render(
        request,
        "studio/editor.html",
        {
            "project": project,
            "stations": list(enumerate(STATIONS, 1)),
            "art": [swap[i] for i in state["order"]],
            "panels": shown,
            "sheet": sheet,
            "state": {
                **state,
                "urls": {n: reverse(n, args=[pk]) for n in ("command", "panels", "preview", "bring_in", "deliver")},
            },
        },
    )


@login_required
@require_GET
def panels(request: HttpRequest, pk: int) -> HttpResponse:
    """Return the panels for what is chosen."""
    project = own_project(request, pk)
    look = Look.read(request.GET.dict())
    try:
        return JsonResponse({"panels": make_panels(request, project.head.sheet, look, with_stack=False)})
    except OutlineError as error:
        return refusal(str(error))


@login_required
@require_POST
def preview(request: HttpRequest, pk: int) -> HttpResponse:
    """Answer what a move would make of one outline, for showing it under the pointer; nothing is stored."""
    project = own_project(request, pk)
    data = _read(request)
    if data is None or project.head.number != data["revision"]:
        return refusal("That preview is out of date.", status=409)
    try:
        outcome = apply(project.head.sheet, "transform", data.get("args") or {})
        shown = find(outcome.sheet, str(data["name"]))
        path = outline_of(shown) if isinstance(shown, Piece) else None
    except (SheetError, OutlineError) as error:
        return refusal(str(error))
    return JsonResponse({"d": path.to_svg(3) if path is not None else ""})


def _read(request: HttpRequest) -> dict[str, Any] | None:
    try:
        data = json.loads(request.body)
    except ValueError:
        return None
    if not isinstance(data, dict) or not isinstance(data.get("args", {}), dict):
        return None
    if not isinstance(data.get("name"), str) or not isinstance(data.get("revision"), int):
        return None
    return data


@login_required
@require_POST
def command(request: HttpRequest, pk: int) -> HttpResponse:
    """Run one command, undo or redo; answer what changed, a conflict with the whole sheet, or why not."""
    data = _read(request)
    if data is None:
        return refusal("That was no command.", "Reload the page.", status=400)
    look = Look.read(data.get("look") or {})
    where = (request.user, pk, str(data.get("id") or "")[:64])
    name, args, revision = data["name"], data.get("args") or {}, data["revision"]
    try:
        if name == "undo":
            done = history.undo(*where, revision)
        elif name == "redo":
            done = history.redo(*where, revision)
        else:
            if _files_missing(request, args):
                raise SheetError("That photo is not here.", "Bring it in again.", "photo")
            done = history.run(*where, name, args, revision)
        return JsonResponse(_change(request, done, look))
    except Project.DoesNotExist:
        raise Http404 from None
    except history.Conflict:
        project = own_project(request, pk)
        answer = _whole(request, project, project.head.sheet, look)
        answer["notice"] = "This project was changed in another window. Here is how it stands now; do that step again."
        return JsonResponse(answer, status=409)
    except SheetError as error:
        return refusal(error.message, error.remedy, error.field)
    except OutlineError as error:
        return refusal(str(error))
