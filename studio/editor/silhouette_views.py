"""Live preview of a silhouette, while its settings change."""

from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.views.decorators.http import require_POST

from sheet import SheetError, read
from sheet.commands.photo.silhouettes import Trace
from studio.http import refusal, refused, tried
from studio.library.lookup import Owned
from studio.library.photos import here
from studio.library.tracing import quickly
from studio.models import PhotoFile

__all__ = ["silhouette"]


@login_required
@require_POST
def silhouette(request: HttpRequest, pk: int) -> HttpResponse:
    """Return the command's tracing, approximately, from the photo's small copy; nothing is stored.

    `d` is in px of the sheet; `share` is that of the photo, in per cent. With `whole` it is
    traced from the photo itself, exactly as the command does, with the number of its `nodes`.
    """
    asked = tried(request, pk)
    if isinstance(asked, HttpResponse):
        return asked
    project, args = asked
    try:
        command = read("silhouette", args)
        assert isinstance(command, Trace)
        source, tracing = command.read_on(project.head.sheet)
        file = PhotoFile.objects.filter(owner=request.user, sha256=source.file).first()
        if file is None:
            return refusal(f"The file of “{source.name}” is missing.", "Bring the photo in again.")
        size = (source.width, source.height)
        whole = "whole" in request.GET
        if whole:
            path = Owned(request.user).silhouette(source.file, tracing)
        else:
            path = quickly(here(file.preview, source.name), source.name, size, tracing)
    except SheetError as error:
        return refused(error)
    share = abs(path.area) / (source.width * source.height)
    shown = {"d": path.transform(source.placing).to_svg(2), "share": 100 * share}
    return JsonResponse({**shown, "nodes": path.node_count} if whole else shown)
