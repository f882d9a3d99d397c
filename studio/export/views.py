"""Exporting."""

import msgspec
from django.conf import settings
from django.contrib.auth.decorators import login_required
from django.http import FileResponse, Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404
from django.template.loader import render_to_string
from django.utils.http import content_disposition_header
from django.views.decorators.http import require_GET, require_POST

from picture import PictureError, format_of
from picture.write.estimate import estimated, in_words
from picture.write.memory import exporting
from sheet import Sheet, SheetError
from sheet.document.limits import Place
from sheet.export.order import Order, ordered
from sheet.export.sizes import Exported, part_of
from studio.http import own_project, posted, refusal, refused
from studio.library.photos import originals
from studio.library.thumbs import thumb_of
from studio.models import Export, Project
from studio.work.memory import reserved

from .exports import as_row, begin, fetched, followed, forget, halt

__all__ = [
    "export",
    "exports",
    "export_file",
    "export_forget",
    "export_picture",
    "export_stop",
    "docket",
    "estimate",
    "lens",
]


def _order(request: HttpRequest) -> Order:
    """Return the order, posted as JSON. Raises SheetError."""
    answer = posted(request)
    try:
        return msgspec.convert(answer, Order)
    except msgspec.ValidationError as error:
        raise SheetError("That didn’t work.", f"Reload the page. ({str(error)[:80]})", "what") from None


LENS = (340, 240)
"""The size in px of the part shown at 100 %."""
SHOWN = ("png", "jpg", "webp", "avif")
"""Formats that a browser shows; others are shown as PNG."""


@login_required
@require_POST
def lens(request: HttpRequest, pk: int) -> HttpResponse:
    """Return a part of an export around a point of the sheet, px for px as in the file."""
    project = own_project(request, pk)
    try:
        asked = msgspec.convert(posted(request), Looked)
        sheet = project.head.sheet
        near = part_of(_nearest(sheet, asked), asked.x, asked.y, *LENS)
        out = format_of(asked.order.format if asked.order.format in SHOWN else "png")
        load = originals(request.user)
        with reserved(exporting(sheet, [near], asked.order, load.place), settings.GOUGE_SECONDS):
            body = out.write(sheet, near, load, asked.order)
    except msgspec.ValidationError:
        return refusal("There is nothing to see at that place.", "Point at the sheet.", status=400)
    except (SheetError, PictureError) as error:
        return refused(error)
    response = HttpResponse(body, content_type=out.media)
    response["X-Size"] = f"{near.width} {near.height}"
    return response


DOCKET = 480
"""The longer side (px) of the preview of an export."""


@login_required
@require_POST
def docket(request: HttpRequest, pk: int) -> HttpResponse:
    """Return a preview of an export, from the small copies of its photos."""
    project = own_project(request, pk)
    try:
        body = thumb_of(project.head.sheet, _order(request), request.user, DOCKET)
    except (SheetError, PictureError) as error:
        return refused(error)
    return HttpResponse(body, content_type="image/png")


class Looked(msgspec.Struct, frozen=True):
    """The order, and the point of the sheet (px) to look at."""

    order: Order
    x: Place
    y: Place


def _nearest(sheet: Sheet, asked: Looked) -> Exported:
    """Return the file to look at: of several, the one that contains the point, or is nearest to it."""

    def away(file: Exported) -> float:
        x0, y0, x1, y1 = file.box
        return max(x0 - asked.x, asked.x - x1, 0.0) + max(y0 - asked.y, asked.y - y1, 0.0)

    return min(ordered(sheet, asked.order), key=away)


def _file(made: Export) -> HttpResponse:
    """Return the file of an export as a response. Raises SheetError if it is gone."""
    body, media = fetched(made)
    response = FileResponse(body, content_type=media)
    response["Content-Disposition"] = content_disposition_header(True, made.name)
    response["Cache-Control"] = "private, no-store"
    # an SVG file has its own pictures and runs no scripts
    response["Content-Security-Policy"] = "default-src 'none'; img-src data:; style-src 'unsafe-inline'; sandbox"
    return response


@login_required
@require_POST
def export(request: HttpRequest, pk: int) -> HttpResponse:
    """Make an export: return the file if that is quick, else 202 with the export in progress.

    The project remembers the order.
    """
    project = own_project(request, pk)
    try:
        order = _order(request)
        made = begin(project, order)
        response = _file(made) if made.state == Export.READY else None
    except (SheetError, PictureError) as error:
        return refused(error)
    Project.objects.filter(pk=project.pk).update(export=msgspec.to_builtins(order))
    return response or JsonResponse({"export": made.pk}, status=202)


def _own(request: HttpRequest, pk: int, number: int) -> Export:
    """Return an export of the person's own project, or answer 404."""
    project = own_project(request, pk)
    made: Export = get_object_or_404(project.exports.select_related("project", "revision"), pk=number)
    return made


@login_required
@require_GET
def exports(request: HttpRequest, pk: int) -> HttpResponse:
    """Return the list of exports, as HTML, and the progress of those being made."""
    project = own_project(request, pk)
    try:
        rows = [as_row(*followed(made), project.head_id) for made in project.exports.defer("order")]
    except SheetError as error:
        return refused(error, status=503)
    html = render_to_string("studio/exports.html", {"rows": rows, "project": project})
    return JsonResponse(
        {"html": html, "rows": [{k: r[k] for k in ("id", "state", "share", "why", "name", "size")} for r in rows]}
    )


@login_required
@require_GET
def export_file(request: HttpRequest, pk: int, number: int) -> HttpResponse:
    """Return the file of an export again."""
    try:
        made, _ = followed(_own(request, pk, number))
    except SheetError as error:
        return refused(error, status=503)
    if made.state != Export.READY:
        return refusal(f"“{made.name}” is not ready.", made.why or "Wait until it is, or export it again.", status=409)
    try:
        return _file(made)
    except SheetError as error:
        return refused(error, status=410)


@login_required
@require_GET
def export_picture(request: HttpRequest, pk: int, number: int) -> HttpResponse:
    """Return a small picture of an export."""
    made = _own(request, pk, number)
    try:
        body = thumb_of(made.revision.sheet, msgspec.convert(made.order, Order), request.user)
    except (SheetError, msgspec.ValidationError):
        raise Http404 from None
    response = HttpResponse(body, content_type="image/png")
    response["Cache-Control"] = "private, max-age=31536000, immutable"
    return response


@login_required
@require_POST
def export_stop(request: HttpRequest, pk: int, number: int) -> HttpResponse:
    """Stop an export in progress."""
    try:
        halt(_own(request, pk, number))
    except SheetError as error:
        return refused(error, status=503)
    return HttpResponse(status=204)


@login_required
@require_POST
def export_forget(request: HttpRequest, pk: int, number: int) -> HttpResponse:
    """Remove an export from the list, with its file."""
    try:
        forget(_own(request, pk, number))
    except SheetError as error:
        return refused(error, status=503)
    return HttpResponse(status=204)


@login_required
@require_POST
def estimate(request: HttpRequest, pk: int) -> HttpResponse:
    """Return about how many bytes an export will have."""
    project = own_project(request, pk)
    try:
        order = _order(request)
        sheet = project.head.sheet
        answer = estimated(sheet, ordered(sheet, order), originals(request.user), order)
    except (SheetError, PictureError) as error:
        return refused(error)
    return JsonResponse({"words": f"About {in_words(answer)}", "bytes": answer})
