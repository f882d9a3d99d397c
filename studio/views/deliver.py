"""Sending out what was made."""

import re

from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.views.decorators.http import require_GET

from outline import OutlineError
from picture import deliver_png, deliver_svg
from picture.errors import PictureError
from sheet import SheetError
from sheet.lengths import parse
from sheet.tree import find

from ..photos import originals
from .common import own_project, refusal


def _file_name(project: str, item: str | None) -> str:
    words = re.sub(r"[^\w]+", "-", f"{project} {item or ''}".strip(), flags=re.ASCII).strip("-").lower()
    return words or "gouge"


@login_required
@require_GET
def deliver(request: HttpRequest, pk: int) -> HttpResponse:
    """Return the sheet or one item as PNG or SVG at the asked px per inch, trimmed to what shows."""
    project = own_project(request, pk)
    sheet = project.head.sheet
    what = request.GET.get("what", "sheet")
    kind = request.GET.get("format", "png")
    try:
        resolution = parse(request.GET.get("resolution") or f"{sheet.resolution:g}", "resolution")
        if not 1 <= resolution <= 10_000:
            raise SheetError("The resolution must be from 1 to 10,000 px per inch.", "Type a number like 300.")
        only = None if what == "sheet" else find(sheet, what)
        if kind == "png":
            body: bytes | str = deliver_png(sheet, resolution, originals(request.user), only)
            media = "image/png"
        elif kind == "svg":
            body = deliver_svg(sheet, resolution, originals(request.user), only)
            media = "image/svg+xml"
        else:
            return refusal(f"“{kind[:20]}” is no format.", "Use png or svg.", "format")
    except SheetError as error:
        return refusal(error.message, error.remedy, error.field or "resolution")
    except PictureError as error:
        return refusal(error.message, error.remedy)
    except OutlineError as error:
        return refusal(str(error))
    response = HttpResponse(body, content_type=media)
    name = _file_name(project.name, only.name if only else None)
    response["Content-Disposition"] = f'attachment; filename="{name}.{kind}"'
    # an SVG file brings its own pictures along and runs nothing
    response["Content-Security-Policy"] = "default-src 'none'; img-src data:; style-src 'unsafe-inline'"
    return response
