"""The tray: the project's photos, on the sheet or not, each to be used again."""

from typing import Any

from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET

from sheet import SheetError
from sheet.document.tree import photos_of
from studio.http import own_project, refused
from studio.models import PhotoFile, Project

__all__ = ["photos_of_project", "tray"]


def photos_of_project(project: Project) -> list[dict[str, Any]]:
    """Return the photos that a revision of a project uses, the newest first, and how often each is on the sheet now.

    Raises SheetError where the project cannot be read.
    """
    assert project.head is not None
    now = [photo.file for photo in photos_of(project.head.sheet.items)]
    files = PhotoFile.objects.filter(owner=project.owner, sha256__in=project.uses.values("sha256"))
    return [{"file": f.sha256, "name": f.name, "count": now.count(f.sha256)} for f in files.order_by("-created", "-pk")]


@login_required
@require_GET
def tray(request: HttpRequest, pk: int) -> HttpResponse:
    """Answer the tray's pictures."""
    try:
        photos = photos_of_project(own_project(request, pk))
    except SheetError as error:
        return refused(error)
    return render(request, "panels/tray.html", {"photos": photos})
