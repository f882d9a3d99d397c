"""What several views need."""

import sys
from contextlib import suppress
from typing import IO, Any

import msgspec
from django.http import FileResponse, HttpRequest, HttpResponse, JsonResponse
from django.http.multipartparser import MultiPartParserError
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import Resolver404, resolve
from django.utils.http import content_disposition_header
from django.views.defaults import page_not_found, server_error

from picture.errors import PictureError
from sheet import SheetError
from sheet.commands.reading import read_json
from sheet.document.errors import Offer
from sheet.document.limits import clean_name

from .models import Project
from .operations.middleware import response_to
from .storage import FULL

__all__ = [
    "broken",
    "file_response",
    "led",
    "missing",
    "own_project",
    "posted",
    "refusal",
    "refused",
    "tried",
    "unreadable",
]


def own_project(request: HttpRequest, pk: int, deleted: bool = False) -> Project:
    """Return the person's own project with its head, or answer 404."""
    projects = Project.objects.select_related("head").filter(owner=request.user, deleted__isnull=not deleted)
    project: Project = get_object_or_404(projects, pk=pk)
    return project


def posted(request: HttpRequest) -> Any:
    """Return the JSON that was posted. Raises SheetError for what is none."""
    return read_json(request.body)


class Tried(msgspec.Struct, frozen=True):
    """A command whose outcome is to be looked at: its arguments, made on a revision."""

    revision: int
    args: dict[str, Any] = {}


def tried(request: HttpRequest, pk: int) -> tuple[Project, dict[str, Any]] | JsonResponse:
    """Return the person's project and the arguments of a command that is tried on its head, or why it is not."""
    project = own_project(request, pk)
    try:
        asked = msgspec.convert(posted(request), Tried)
    except (msgspec.ValidationError, SheetError):
        return refusal("That can’t be previewed.", "Reload the page.", status=400)
    if project.head.number != asked.revision:
        return refusal("That preview is out of date.", status=409)
    return project, asked.args


def refusal(
    message: str, remedy: str = "", field: str = "", status: int = 422, offer: Offer | None = None
) -> JsonResponse:
    """Return the answer to something that cannot be done: why, what to do, the field that is wrong, and a way out."""
    body = {"error": message, "remedy": remedy, "field": field}
    return JsonResponse({**body, "offer": offer} if offer else body, status=status)


def refused(error: SheetError | PictureError, field: str = "", status: int = 422) -> JsonResponse:
    """Return the answer to an error of the sheet or of a picture; 507 where the disk is full (RFC 4918)."""
    status = 507 if error.message == FULL[0] else status
    at = getattr(error, "field", "") or field
    return refusal(error.message, error.remedy, at, status, getattr(error, "offer", None))


def file_response(file: IO[bytes], name: str, media: str = "application/zip") -> FileResponse:
    """Return the answer that saves a file, from its beginning, under a name."""
    file.seek(0)
    response = FileResponse(file, content_type=media)
    response["Content-Disposition"] = content_disposition_header(True, clean_name(name).replace("/", "-"))
    return response


def led(request: HttpRequest, to: Any) -> HttpResponse:
    """Return the answer that leads somewhere: a script, which sent files, is body where."""
    answer = redirect(to)
    return answer if request.accepts("text/html") else JsonResponse({"to": answer["Location"]})


def broken(request: HttpRequest) -> HttpResponse:
    """Answer what failed outside of every view: that something is busy, or full, where it was that."""
    return response_to(request, sys.exc_info()[1]) or server_error(request)


def unreadable(request: HttpRequest, exception: Exception) -> HttpResponse:
    """Answer a request that cannot be read, such as a form with a file whose name fills a page."""
    why, remedy = "That can’t be read.", "Reload the page, and try again."
    if isinstance(exception, MultiPartParserError):
        why, remedy = "The name of a file is too long.", "Give it a shorter one."
    if request.accepts("text/html"):
        return render(request, "400.html", {"message": why, "remedy": remedy}, status=400)
    return refusal(why, remedy, status=400)


def missing(request: HttpRequest, exception: Exception) -> HttpResponse:
    """Lead on from an address with a slash too many, where there is one without it; else answer 404."""
    at = request.path_info.rstrip("/")
    if request.method == "GET" and at not in ("", request.path_info):
        with suppress(Resolver404):
            resolve(at)
            query = request.META.get("QUERY_STRING", "")
            return redirect(f"{at}?{query}" if query else at)
    return page_not_found(request, exception)
