"""Sending out what was made."""

import tempfile
import zipfile
from typing import Any

import msgspec
from django.contrib.auth.decorators import login_required
from django.http import FileResponse, HttpRequest, HttpResponse
from django.utils.http import content_disposition_header
from django.views.decorators.http import require_http_methods, require_POST

from outline import OutlineError
from picture import PictureError, format_of
from sheet import Sheet, SheetError
from sheet.delivery import Delivered, Order, file_names, ordered, part_of
from sheet.limits import Place

from ..models import Project
from ..photos import originals
from .common import own_project, posted, refusal, refused

__all__ = ["deliver", "lens"]


def _order(request: HttpRequest) -> Order:
    """Return what is asked for: posted as JSON, or in the address. Raises SheetError."""
    if request.method == "POST":
        told: Any = posted(request)
    else:
        told = {name: values[-1] for name, values in request.GET.lists() if name != "ids"}
        told |= {"ids": request.GET.getlist("ids")}
    try:
        return msgspec.convert(told, Order, strict=request.method == "POST")
    except msgspec.ValidationError as error:
        raise SheetError("That was no delivery.", f"Reload the page. ({str(error)[:80]})", "what") from None


LENS = (340, 240)
"""The px of the file that are looked at."""
SHOWN = ("png", "jpg", "webp", "avif")
"""Formats that a browser shows; the others are shown as PNG."""


@login_required
@require_POST
def lens(request: HttpRequest, pk: int) -> HttpResponse:
    """Return a part of what is ordered, about a place of the sheet, px for px as the file will have it."""
    project = own_project(request, pk)
    try:
        asked = msgspec.convert(posted(request), Looked)
        sheet = project.head.sheet
        near = part_of(_nearest(sheet, asked), asked.x, asked.y, *LENS)
        out = format_of(asked.order.format if asked.order.format in SHOWN else "png")
        body = out.write(sheet, near, originals(request.user), asked.order)
    except msgspec.ValidationError:
        return refusal("That place cannot be looked at.", "Point at the sheet.", status=400)
    except (SheetError, PictureError) as error:
        return refused(error)
    except OutlineError as error:
        return refusal(str(error))
    response = HttpResponse(body, content_type=out.media)
    response["X-Size"] = f"{near.width} {near.height}"
    return response


class Looked(msgspec.Struct, frozen=True):
    """What is ordered, and the place of the sheet (px) that is looked at."""

    order: Order
    x: Place
    y: Place


def _nearest(sheet: Sheet, asked: Looked) -> Delivered:
    """Return the file that is looked at: of several, the one that the place lies in, or lies nearest to."""

    def away(file: Delivered) -> float:
        x0, y0, x1, y1 = file.box
        return max(x0 - asked.x, asked.x - x1, 0.0) + max(y0 - asked.y, asked.y - y1, 0.0)

    return min(ordered(sheet, asked.order), key=away)


@login_required
@require_http_methods(["GET", "POST"])
def deliver(request: HttpRequest, pk: int) -> HttpResponse:
    """Return what is ordered as a file, each frame by itself in a zip; the project remembers the order."""
    project = own_project(request, pk)
    try:
        sheet = project.head.sheet
        order = _order(request)
        out = format_of(order.format)
        files = ordered(sheet, order)
        names = file_names(order.pattern, project.name, files)
        load = originals(request.user)
        whole = file_names("{project}", project.name, files[:1])[0]
        if order.what != "each":
            response = HttpResponse(out.write(sheet, files[0], load, order), content_type=out.media)
            name = f"{names[0]}.{out.key}"
        elif out.pages is not None:
            response = HttpResponse(out.pages(sheet, files, load, order), content_type=out.media)
            name = f"{whole}.{out.key}"
        else:
            # a file at a time, so that no more than one is in the memory
            packed = tempfile.TemporaryFile()  # noqa: SIM115  the response closes it
            with zipfile.ZipFile(packed, "w", zipfile.ZIP_STORED) as box:
                for file, name in zip(files, names, strict=True):
                    box.writestr(f"{name}.{out.key}", out.write(sheet, file, load, order))
            packed.seek(0)
            response = FileResponse(packed, content_type="application/zip")
            name = f"{whole}.zip"
    except (SheetError, PictureError) as error:
        return refused(error)
    except OutlineError as error:
        return refusal(str(error))
    if request.method == "POST":
        Project.objects.filter(pk=project.pk).update(delivery=msgspec.to_builtins(order))
    response["Content-Disposition"] = content_disposition_header(True, name)
    # an SVG file brings its own pictures along and runs nothing
    response["Content-Security-Policy"] = "default-src 'none'; img-src data:; style-src 'unsafe-inline'"
    return response
