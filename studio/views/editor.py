"""The editor: its page, its panels, and the one door for commands."""

import json
from dataclasses import replace
from typing import Any

import msgspec
from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.csrf import ensure_csrf_cookie
from django.views.decorators.http import require_GET, require_POST

import outline
from outline import OutlineError
from picture import fragment
from sheet import Photo, Piece, Sheet, SheetError, apply
from sheet.commands.ruling import modules
from sheet.details import set_detail
from sheet.geometry import outline_of, own_path
from sheet.lengths import px_per
from sheet.model import Polygon, Star
from sheet.snapping import snaps as make_snaps
from sheet.tree import find

from .. import history
from ..look import ALIGNS, STATIONS, Look, margin_rows, stack_differs
from ..look import panels as make_panels
from ..models import PhotoFile, Project, Revision
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


def _pasted(request: HttpRequest, args: dict[str, Any]) -> dict[str, Any]:
    """Return the arguments of a paste with the items themselves, looked up in the revision they were copied from."""
    try:
        pk, number, ids = int(args["project"]), int(args["revision"]), [str(i) for i in args["ids"]]
        revision = Revision.objects.get(project_id=pk, project__owner=request.user, number=number)
        items = [find(revision.sheet, i) for i in ids]
    except (KeyError, TypeError, ValueError, Revision.DoesNotExist, SheetError):
        raise SheetError("What was copied is no longer there.", "Copy it again.", "items") from None
    return {"items": msgspec.to_builtins(items), "shift": bool(args.get("shift"))}


def _surface(sheet: Sheet) -> dict[str, Any]:
    return {
        "width": sheet.width,
        "height": sheet.height,
        "unit": sheet.unit,
        "perUnit": px_per(sheet.unit, sheet.resolution),
        "resolution": sheet.resolution,
        "backdrop": sheet.backdrop,
        "guides": [[g.axis, g.at] for g in sheet.guides],
        "guidesLocked": sheet.guides_locked,
        "grid": sheet.grid.kind,
        "step": sheet.grid.step,
        "modules": modules(sheet) if sheet.grid.kind == "modules" else [],
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
    look = replace(look, chosen=chosen)
    with_stack = stack_differs(done.before, done.sheet)
    return {
        **_state(done.project, done.sheet, done.new),
        "swap": swap,
        "chosen": list(chosen),
        "note": done.note,
        "panels": make_panels(request, done.sheet, look, with_stack, with_tools=False),
    }


URLS = ("command", "panels", "preview", "bring_in", "deliver", "snaps", "template")


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
            "aligns": ALIGNS,
            "state": {
                **state,
                "project": pk,
                "urls": {n: reverse(n, args=[pk]) for n in URLS},
            },
        },
    )


@login_required
@require_POST
def panels(request: HttpRequest, pk: int) -> HttpResponse:
    """Return the panels for what is chosen; asked by POST, since a long choice does not fit into an address."""
    project = own_project(request, pk)
    try:
        data = json.loads(request.body)
    except ValueError:
        data = None
    look = Look.read(data)
    try:
        return JsonResponse({"panels": make_panels(request, project.head.sheet, look, with_stack=False)})
    except OutlineError as error:
        return refusal(str(error))


PREVIEWED = ("transform", "set_detail", "move_nodes", "move_handle")


@login_required
@require_POST
def preview(request: HttpRequest, pk: int) -> HttpResponse:
    """Answer what a command would make of one outline, for showing it under the pointer; nothing is stored."""
    project = own_project(request, pk)
    data = _read(request)
    if data is None or project.head.number != data["revision"]:
        return refusal("That preview is out of date.", status=409)
    name = data.get("command") or "transform"
    if name not in PREVIEWED:
        return refusal("That has no preview.", status=400)
    try:
        outcome = apply(project.head.sheet, name, data.get("args") or {})
        shown = find(outcome.sheet, str(data["name"]))
        path = outline_of(shown) if isinstance(shown, Piece) else None
        margins = margin_rows(outcome.sheet, shown) if data.get("margins") and isinstance(shown, Piece) else []
    except (SheetError, OutlineError) as error:
        return refusal(str(error))
    return JsonResponse({"d": path.to_svg(3) if path is not None else "", "margins": margins})


@login_required
@require_GET
def snaps(request: HttpRequest, pk: int) -> HttpResponse:
    """Return what a moved or drawn box may snap to."""
    project = own_project(request, pk)
    return JsonResponse({"revision": project.head.number, **make_snaps(project.head.sheet)})


@login_required
@require_GET
def template(request: HttpRequest, pk: int) -> HttpResponse:
    """Return the path of a polygon or star about 100 px large, for showing it while it is drawn."""
    project = own_project(request, pk)
    kind = {"polygon": Polygon, "star": Star}.get(request.GET.get("kind", ""))
    if kind is None:
        return refusal("There is no such piece.", status=400)
    shape: Any = kind(100.0, 100.0)
    try:
        for field in ("sides", "points", "inner"):
            if field in request.GET and hasattr(shape, field):
                shape, _ = set_detail(project.head.sheet, shape, field, request.GET[field])
    except SheetError as error:
        return refusal(error.message, error.remedy, error.field)
    # regular at its natural proportions
    natural = outline.polygon(shape.sides, 50) if kind is Polygon else outline.star(shape.points, 50, 50 * shape.inner)
    x0, y0, x1, y1 = natural.bounds or (0.0, 0.0, 1.0, 1.0)
    return JsonResponse({"d": own_path(shape).to_svg(3), "w": 100, "h": 100, "natural": [x1 - x0, y1 - y0]})


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
    look = Look.read(data.get("look"))
    where = (request.user, pk, str(data.get("id") or "")[:64])
    name, args, revision = data["name"], data.get("args") or {}, data["revision"]
    try:
        if name == "undo":
            done = history.undo(*where, revision)
        elif name == "redo":
            done = history.redo(*where, revision)
        elif name == "stop":
            done = history.stop(request.user, pk, str(args.get("id") or "")[:64])
        else:
            if name == "paste":
                args = _pasted(request, args)
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
