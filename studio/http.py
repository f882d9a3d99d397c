"""Helpers shared by views."""

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
    """Return the posted JSON. Raises SheetError if it is not JSON."""
    return read_json(request.body)


class Tried(msgspec.Struct, frozen=True):
    """A command to preview: its arguments, and the revision it was made on."""

    revision: int
    args: dict[str, Any] = {}


def tried(request: HttpRequest, pk: int) -> tuple[Project, dict[str, Any]] | JsonResponse:
    """Return the person's project and the arguments of a command to preview on its head, or the refusal."""
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
    """Return the response for a refusal: why, what to do, the wrong field, and the offer."""
    body = {"error": message, "remedy": remedy, "field": field}
    return JsonResponse({**body, "offer": offer} if offer else body, status=status)


def refused(error: SheetError | PictureError, field: str = "", status: int = 422) -> JsonResponse:
    """Return the response for a SheetError or PictureError; 507 if the disk is full (RFC 4918)."""
    status = 507 if error.message == FULL[0] else status
    at = getattr(error, "field", "") or field
    return refusal(error.message, error.remedy, at, status, getattr(error, "offer", None))


def file_response(file: IO[bytes], name: str, media: str = "application/zip") -> FileResponse:
    """Return the response that saves a file, read from its start, under a name."""
    file.seek(0)
    response = FileResponse(file, content_type=media)
    response["Content-Disposition"] = content_disposition_header(True, clean_name(name).replace("/", "-"))
    return response


def led(request: HttpRequest, to: Any) -> HttpResponse:
    """Return a redirect; for a script that sent files, the address in JSON."""
    answer = redirect(to)
    return answer if request.accepts("text/html") else JsonResponse({"to": answer["Location"]})


def broken(request: HttpRequest) -> HttpResponse:
    """Answer an exception outside of every view: with busy, or full, if that is the reason."""
    return response_to(request, sys.exc_info()[1]) or server_error(request)


def unreadable(request: HttpRequest, exception: Exception) -> HttpResponse:
    """Answer a request that cannot be read, such as a form whose file name is far too long."""
    why, remedy = "That can’t be read.", "Reload the page, and try again."
    if isinstance(exception, MultiPartParserError):
        why, remedy = "The name of a file is too long.", "Give it a shorter one."
    if request.accepts("text/html"):
        return render(request, "400.html", {"message": why, "remedy": remedy}, status=400)
    return refusal(why, remedy, status=400)


def missing(request: HttpRequest, exception: Exception) -> HttpResponse:
    """Redirect from an address with an extra slash, if there is one without it; else answer 404."""
    at = request.path_info.rstrip("/")
    if request.method == "GET" and at not in ("", request.path_info):
        with suppress(Resolver404):
            resolve(at)
            query = request.META.get("QUERY_STRING", "")
            return redirect(f"{at}?{query}" if query else at)
    return page_not_found(request, exception)
