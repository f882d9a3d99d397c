"""The app's addresses, two empty views, and one that opens a head."""

from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.urls import include, path

from sheet.document.store import read
from studio.history.stored import whole_of
from studio.models import Project


def empty(request: HttpRequest) -> HttpResponse:
    """Return an empty response."""
    return HttpResponse("ok")


def head(request: HttpRequest, pk: int) -> HttpResponse:
    """Read a project's newest sheet from the database, as a process does that has not seen it yet."""
    project = Project.objects.select_related("head").get(pk=pk)
    assert project.head is not None
    # past what is kept of sheets that were read before
    read(whole_of(project.head))
    return HttpResponse("ok")


urlpatterns = [
    path("", include("config.urls")),
    path("bench/empty", empty),
    path("bench/known", login_required(empty)),
    path("bench/head/<int:pk>", head),
]
