"""A person's projects as pictures."""

import io

import numpy as np
from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.cache import cache_control
from django.views.decorators.http import require_GET, require_http_methods, require_POST
from PIL import Image

import sheet
from outline import OutlineError
from picture.errors import PictureError
from picture.raster import render as draw
from sheet import SIZES, SheetError, new_sheet
from sheet.lengths import UNITS, show_length
from sheet.limits import clean_name

from .. import history
from ..models import Project
from ..photos import previews
from .common import own_project

PICTURE_SIDE = 560


def _forms(typed: dict | None = None, error: SheetError | None = None) -> dict:
    first = {"name": "", "size": "a5", "width": "148", "height": "210", "unit": "mm", "resolution": "300"}
    first |= {"backdrop_kind": "none", "backdrop": "#f5f0e6"}
    return {"sizes": SIZES, "units": UNITS, "typed": {**first, **(typed or {})}, "error": error}


def _last_unit(request: HttpRequest) -> dict:
    """Return unit and resolution of the project that was worked on last, for a sheet of one's own size."""
    project = Project.objects.select_related("head").filter(owner=request.user, deleted=None).first()
    try:
        last = project.head.sheet if project else None
    except SheetError:
        last = None
    return {"last_unit": last.unit, "last_resolution": f"{last.resolution:g}"} if last else {}


def _listing(request: HttpRequest, extra: dict, status: int = 200) -> HttpResponse:
    projects = Project.objects.select_related("head").filter(owner=request.user, deleted=None)
    cards = []
    for project in projects:
        try:
            one = project.head.sheet
        except SheetError:
            # the others show as ever
            cards.append({"project": project, "unreadable": True})
            continue
        size = " × ".join(show_length(v, one.unit, one.resolution, 1) for v in (one.width, one.height))
        cards.append({"project": project, "size": f"{size} {one.unit}", "count": len(one.items)})
    return render(request, "studio/projects.html", {"cards": cards, **extra}, status=status)


@login_required
@require_GET
def index(request: HttpRequest) -> HttpResponse:
    """Show the projects and the form for a new one."""
    return _listing(request, _forms(_last_unit(request)))


@login_required
@require_http_methods(["GET", "POST"])
def create(request: HttpRequest) -> HttpResponse:
    """Make a project of the size asked for, or say which number is wrong; an address typed or kept leads back."""
    if request.method == "GET":
        return redirect("projects")
    typed = {k: request.POST.get(k, "") for k in ("name", "size", "width", "height", "unit", "resolution")}
    typed |= {k: request.POST.get(k, "") for k in ("backdrop_kind", "backdrop")}
    try:
        backdrop = typed["backdrop"] if typed["backdrop_kind"] == "colour" else None
        first = new_sheet(typed["width"], typed["height"], typed["unit"], typed["resolution"], backdrop)
    except SheetError as error:
        return _listing(request, _forms(typed, error), status=422)
    name = clean_name(typed["name"]) or "Untitled"
    return redirect(history.start(request.user, name, first))


@login_required
@require_POST
def rename(request: HttpRequest, pk: int) -> HttpResponse:
    """Give a project another name."""
    project = own_project(request, pk)
    name = clean_name(request.POST.get("name", ""))
    refusal = "" if name else f"“{project.name}” keeps its name: a name needs at least one letter."
    if name:
        Project.objects.filter(pk=project.pk).update(name=name)
    if request.accepts("text/html"):
        if refusal:
            messages.error(request, refusal)
        return redirect("projects")
    if refusal:
        return JsonResponse({"error": refusal, "remedy": "Type a name.", "field": "name"}, status=422)
    return JsonResponse({"name": name})


@login_required
@require_POST
def duplicate(request: HttpRequest, pk: int) -> HttpResponse:
    """Make a project of the head of another."""
    project = own_project(request, pk)
    try:
        copy = history.start(request.user, f"{project.name[:75]} copy", project.head.sheet)
    except SheetError as error:
        messages.error(request, f"“{project.name}” cannot be duplicated: {error}")
        return redirect("projects")
    messages.success(request, f"“{copy.name}” is made.")
    return redirect("projects")


@login_required
@require_POST
def delete(request: HttpRequest, pk: int) -> HttpResponse:
    """Put a project away; the notice offers to bring it back."""
    project = own_project(request, pk)
    Project.objects.filter(pk=pk).update(deleted=timezone.now())
    messages.warning(request, f"“{project.name}” is deleted.", extra_tags=f"restore:{pk}")
    return redirect("projects")


@login_required
@require_POST
def restore(request: HttpRequest, pk: int) -> HttpResponse:
    """Bring a deleted project back."""
    project = own_project(request, pk, deleted=True)
    Project.objects.filter(pk=pk).update(deleted=None)
    messages.success(request, f"“{project.name}” is back.")
    return redirect("projects")


@login_required
@require_POST
def recover(request: HttpRequest, pk: int) -> HttpResponse:
    """Open the last step of a project that can be read."""
    own_project(request, pk)
    try:
        return redirect(history.recover(request.user, pk))
    except SheetError as error:
        messages.error(request, str(error))
        return redirect("projects")


@login_required
@require_GET
@cache_control(private=True, max_age=31536000, immutable=True)
def picture(request: HttpRequest, pk: int) -> HttpResponse:
    """Return a small PNG of the project's sheet; its address carries the revision."""
    try:
        one: sheet.Sheet = own_project(request, pk).head.sheet
    except SheetError:
        raise Http404 from None
    scale = PICTURE_SIDE / max(one.width, one.height)
    box = (0.0, 0.0, one.width, one.height)
    try:
        pixels = draw(one.items, box, scale, previews(request.user), one.backdrop or "#ffffff")
    except (PictureError, SheetError, OutlineError):
        pixels = np.full((4, 4, 4), 255, np.uint8)
    out = io.BytesIO()
    Image.fromarray(pixels, "RGBA").convert("RGB").save(out, "PNG", compress_level=3)
    return HttpResponse(out.getvalue(), content_type="image/png")
