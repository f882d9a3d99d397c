"""The tray: the project's photos, on the sheet or not, to be used again."""

from typing import Any

from django.contrib.auth.decorators import login_required
from django.db.models import Q
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_http_methods

from sheet import SheetError
from sheet.document.tree import photos_of
from studio.http import own_project, refused
from studio.models import PhotoFile, Project

__all__ = ["photos_of_project", "tray"]


def photos_of_project(project: Project) -> list[dict[str, Any]]:
    """Return the photos that a revision of a project uses, newest first, and how often each is on the sheet.

    Cleared photos are left out while they are not on the sheet. Raises SheetError if
    the project cannot be read.
    """
    now = _on_sheet(project)
    uses = project.uses.filter(Q(cleared=False) | Q(sha256__in=set(now)))
    files = PhotoFile.objects.filter(owner=project.owner, sha256__in=uses.values("sha256"))
    return [{"file": f.sha256, "name": f.name, "count": now.count(f.sha256)} for f in files.order_by("-created", "-pk")]


def _on_sheet(project: Project) -> list[str]:
    assert project.head is not None
    return [photo.file for photo in photos_of(project.head.sheet.items)]


@login_required
@require_http_methods(["GET", "POST"])
def tray(request: HttpRequest, pk: int) -> HttpResponse:
    """Return the tray's pictures; a POST first clears those that are not on the sheet."""
    project = own_project(request, pk)
    try:
        if request.method == "POST":
            project.uses.exclude(sha256__in=set(_on_sheet(project))).update(cleared=True)
        photos = photos_of_project(project)
    except SheetError as error:
        return refused(error)
    return render(request, "panels/tray.html", {"photos": photos, "unused": any(not p["count"] for p in photos)})
