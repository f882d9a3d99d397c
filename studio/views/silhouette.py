"""What a silhouette would be, while its settings change."""

from typing import Any

import msgspec
from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.views.decorators.http import require_POST

from sheet import SheetError, read
from sheet.commands.silhouettes import Trace

from ..models import PhotoFile
from ..photos import here
from ..tracing import quickly
from .common import own_project, posted, refusal, refused

__all__ = ["silhouette"]


class Asked(msgspec.Struct, frozen=True):
    """The arguments of the command, on a revision."""

    revision: int
    args: dict[str, Any] = {}


@login_required
@require_POST
def silhouette(request: HttpRequest, pk: int) -> HttpResponse:
    """Answer about what the command would trace, from the small copy of the photo; nothing is stored.

    `d` is in px of the sheet; `share` is that of the photo, in per cent.
    """
    project = own_project(request, pk)
    try:
        asked = msgspec.convert(posted(request), Asked)
    except (msgspec.ValidationError, SheetError):
        return refusal("That was no silhouette.", "Reload the page.", status=400)
    if project.head.number != asked.revision:
        return refusal("That preview is out of date.", status=409)
    try:
        command = read("silhouette", asked.args)
        assert isinstance(command, Trace)
        source, tracing = command.read_on(project.head.sheet)
        file = PhotoFile.objects.filter(owner=request.user, sha256=source.file).first()
        if file is None:
            return refusal(f"The file of “{source.name}” is missing.", "Bring the photo in again.")
        size = (source.width, source.height)
        path = quickly(here(file.preview, source.name), source.name, size, tracing)
    except SheetError as error:
        return refused(error)
    share = abs(path.area) / (source.width * source.height)
    return JsonResponse({"d": path.transform(source.placing).to_svg(2), "share": 100 * share, "nodes": path.node_count})
