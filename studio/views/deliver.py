"""Sending out what was made."""

import re

from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.views.decorators.http import require_GET

from outline import OutlineError
from picture import PictureError, format_of
from sheet import SheetError
from sheet.delivery import asked

from ..photos import originals
from .common import own_project, refusal, refused


def _file_name(project: str, item: str | None) -> str:
    words = re.sub(r"[^\w]+", "-", f"{project} {item or ''}".strip(), flags=re.ASCII).strip("-").lower()
    return words or "gouge"


@login_required
@require_GET
def deliver(request: HttpRequest, pk: int) -> HttpResponse:
    """Return the sheet or one item in a format at the asked px per inch, trimmed to what shows."""
    project = own_project(request, pk)
    try:
        sheet = project.head.sheet
        out = format_of(request.GET.get("format", "png"))
        what = asked(sheet, request.GET.get("what", "sheet"), request.GET.get("resolution", ""))
        body = out.write(sheet, what, originals(request.user))
    except (SheetError, PictureError) as error:
        return refused(error)
    except OutlineError as error:
        return refusal(str(error))
    response = HttpResponse(body, content_type=out.media)
    name = _file_name(project.name, what.only.name if what.only else None)
    response["Content-Disposition"] = f'attachment; filename="{name}.{out.key}"'
    # an SVG file brings its own pictures along and runs nothing
    response["Content-Security-Policy"] = "default-src 'none'; img-src data:; style-src 'unsafe-inline'"
    return response
