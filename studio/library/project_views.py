"""A person's projects as pictures."""

import re
import shutil
import tempfile
import zipfile
from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.core.files.uploadedfile import UploadedFile
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.cache import cache_control
from django.views.decorators.http import require_GET, require_http_methods, require_POST

import sheet
from picture.errors import PictureError
from picture.svg_in.plain import is_svg
from sheet import SIZES, SheetError, new_sheet
from sheet.document.limits import clean_name
from sheet.reading.lengths import UNITS, show_length
from studio.history import changes
from studio.http import file_response, led, own_project
from studio.models import OwnFile, Project
from studio.operations.retention import DAYS, remove_project
from studio.operations.upload_limits import PROJECT, takes

from .archive import is_packed, pack, unpack
from .examples import EXAMPLES
from .lookup import Owned
from .photos import store_drawing, take_in
from .thumbs import thumb


def _forms(typed: dict | None = None, error: SheetError | None = None) -> dict:
    first = {"name": "", "size": "a5", "width": "148", "height": "210", "unit": "mm", "resolution": "300"}
    first |= {"backdrop_kind": "none", "backdrop": "#f5f0e6"}
    return {"sizes": SIZES, "units": UNITS, "typed": {**first, **(typed or {})}, "error": error}


def _last_unit(request: HttpRequest) -> dict:
    """Return unit and resolution of the last project, for a sheet of a custom size."""
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
            # the others show as usual
            cards.append({"project": project, "unreadable": True})
            continue
        size = " × ".join(show_length(v, one.unit, one.resolution, 1) for v in (one.width, one.height))
        cards.append({"project": project, "size": f"{size} {one.unit}", "count": len(one.items)})
    gone = Project.objects.filter(owner=request.user, deleted__isnull=False).order_by("-deleted")
    away = [{"project": p, "days": max(1, DAYS - (timezone.now() - p.deleted).days)} for p in gone]
    own_fonts = OwnFile.objects.filter(owner=request.user, use=OwnFile.FONT).exists()
    context = {"own_fonts": own_fonts, "cards": cards, "away": away, "examples": () if cards else EXAMPLES, **extra}
    return render(request, "studio/projects.html", context, status=status)


@login_required
@require_GET
def index(request: HttpRequest) -> HttpResponse:
    """Show the projects and the form for a new one."""
    return _listing(request, _forms(_last_unit(request)))


@login_required
@require_http_methods(["GET", "POST"])
def create(request: HttpRequest) -> HttpResponse:
    """Make a project of the size given, or say which number is wrong; visiting its address leads back."""
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
    return redirect(changes.start(request.user, name, first))


@login_required
@require_POST
def rename(request: HttpRequest, pk: int) -> HttpResponse:
    """Rename a project."""
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
    """Make a project from the head of another."""
    project = own_project(request, pk)
    try:
        copy = changes.start(request.user, f"{project.name[:75]} copy", project.head.sheet)
    except SheetError as error:
        messages.error(request, f"“{project.name}” cannot be duplicated: {error}")
        return redirect("projects")
    messages.success(request, f"“{copy.name}” created.")
    return redirect("projects")


@login_required
@require_POST
def delete(request: HttpRequest, pk: int) -> HttpResponse:
    """Delete a project; the notice offers to restore it."""
    project = own_project(request, pk)
    Project.objects.filter(pk=pk).update(deleted=timezone.now())
    messages.warning(request, f"“{project.name}” is deleted.", extra_tags=f"restore:{pk}")
    return redirect("projects")


@login_required
@require_POST
def restore(request: HttpRequest, pk: int) -> HttpResponse:
    """Restore a deleted project."""
    project = own_project(request, pk, deleted=True)
    Project.objects.filter(pk=pk).update(deleted=None)
    messages.success(request, f"“{project.name}” restored.")
    return redirect("projects")


@login_required
@require_POST
def recover(request: HttpRequest, pk: int) -> HttpResponse:
    """Open a project at its last readable step."""
    own_project(request, pk)
    try:
        return redirect(changes.recover(request.user, pk))
    except SheetError as error:
        messages.error(request, str(error))
        return redirect("projects")


@login_required
@require_GET
@cache_control(private=True, max_age=31536000, immutable=True)
def picture(request: HttpRequest, pk: int) -> HttpResponse:
    """Return a small PNG of the project's sheet; its address has the revision."""
    try:
        one: sheet.Sheet = own_project(request, pk).head.sheet
    except SheetError:
        raise Http404 from None
    return HttpResponse(thumb(one, request.user), content_type="image/png")


@login_required
@require_GET
def file(request: HttpRequest, pk: int) -> HttpResponse:
    """Return the project as one file."""
    project = own_project(request, pk)
    packed = tempfile.TemporaryFile()  # noqa: SIM115  the response closes it
    try:
        pack(project, packed, with_fonts=request.GET.get("fonts") is not None)
    except (SheetError, PictureError) as error:
        messages.error(request, f"“{project.name}” can’t be saved as a file: {error}")
        return redirect("projects")
    return file_response(packed, f"{project.name}.gouge")


@login_required
@require_GET
def everything(request: HttpRequest) -> HttpResponse:
    """Return all projects as files in one zip; it names any that cannot be saved."""
    packed = tempfile.TemporaryFile()  # noqa: SIM115  the response closes it
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_STORED) as box:
        lacking = []
        for project in Project.objects.select_related("head").filter(owner=request.user, deleted=None):
            with tempfile.TemporaryFile() as one:
                try:
                    # all of it is the person's own
                    pack(project, one, with_fonts=True)
                except (SheetError, PictureError) as error:
                    lacking.append(f"{project.name}: {error}")
                    continue
                one.seek(0)
                name = re.sub(r"[^\w-]+", "-", project.name).strip("-") or "project"
                with box.open(f"{project.pk}-{name}.gouge", "w") as member:
                    shutil.copyfileobj(one, member)
        if lacking:
            box.writestr("not-kept.txt", "\n".join(lacking) + "\n")
    return file_response(packed, "gouge-projects.zip")


def _head(upload: UploadedFile) -> bytes:
    head = upload.read(4000)
    upload.seek(0)
    return head


CSS_PX = 96
"""Px per inch of a drawing's own px (CSS Values 4, 5.2)."""


def _of_drawing(owner: Any, file: str, name: str) -> changes.Done:
    """Make a project with a drawing on it, in its real size. Raises SheetError."""
    x0, y0, x1, y1 = Owned(owner).drawing(file, 1.0).box
    first = new_sheet(f"{x1 - x0:.4f}", f"{y1 - y0:.4f}", "px", str(CSS_PX))
    project = changes.start(owner, clean_name(name) or "Untitled", first)
    try:
        return changes.run(owner, project.pk, "", "bring_drawing", {"file": file}, 1)
    except SheetError:
        # nothing of it can be drawn
        remove_project(project)
        raise


@takes(PROJECT)
@login_required
@require_POST
def open_file(request: HttpRequest) -> HttpResponse:
    """Make a project from a saved file, or from a photo or an SVG: a sheet of its size with it on it."""
    upload = request.FILES.get("file")
    if upload is None:
        messages.error(request, "No file came with that. Select a project file, an SVG or a photo.")
        return led(request, "projects")
    try:
        if is_packed(upload.file):
            project = unpack(request.user, upload.file)
        elif is_svg(_head(upload)):
            file, name = store_drawing(request.user, upload)
            done = _of_drawing(request.user, file, name)
            project, said = done.project, done.answer["note"]
            if said:
                messages.info(request, said)
        elif (upload.name or "").lower().endswith(".gouge"):
            raise SheetError("It is damaged, or not a project file.", "Choose a file saved by Gouge.")
        else:
            photo = take_in(request.user, upload)
            name = clean_name(photo.name.rsplit(".", 1)[0]) or "Untitled"
            per_inch = photo.resolution if photo.resolution and photo.resolution >= 1 else 300
            first = new_sheet(str(photo.width), str(photo.height), "px", f"{min(per_inch, 10_000):.4f}")
            project = changes.start(request.user, name, first)
            changes.run(request.user, project.pk, "", "place", {"files": [photo.sha256]}, 1)
    except (SheetError, PictureError) as error:
        messages.error(request, f"“{clean_name(upload.name or 'That file')}” was not opened. {error}")
        return led(request, "projects")
    return led(request, project)
