"""Importing photos, and showing their previews."""

import contextlib
from typing import Annotated, Any

import msgspec
from django.contrib.auth.decorators import login_required
from django.http import FileResponse, Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404
from django.views.decorators.http import require_GET, require_POST
from msgspec import Meta

from picture.errors import PictureError
from picture.photos.probe import WORDS, has_several, was_completed
from picture.svg_in.plain import is_svg
from sheet import SheetError
from studio.http import own_project, posted, refusal, refused
from studio.models import PhotoFile
from studio.operations.upload_limits import PHOTO, takes
from studio.work import queue

from .photos import begin_taking, shown, store_drawing, take_in, taken


@takes(PHOTO)
@login_required
@require_POST
def bring_in(request: HttpRequest, pk: int) -> HttpResponse:
    """Import one file and return what the place command needs; the sheet is not changed here."""
    own_project(request, pk)
    upload = request.FILES.get("photo")
    if upload is None:
        return refusal("No file came with that.", f"Choose a {WORDS} file.", "photo")
    try:
        head = upload.read(4000)
        upload.seek(0)
        if is_svg(head):
            file, name = store_drawing(request.user, upload)
            return JsonResponse({"file": file, "name": name, "drawing": True})
        if request.POST.get("later"):
            photo, job = begin_taking(request.user, upload)
            if photo is None:
                return JsonResponse({"job": job, "name": upload.name}, status=202)
        else:
            photo = take_in(request.user, upload)
    except (PictureError, SheetError) as error:
        return refused(error, "photo")
    return JsonResponse(_described(photo))


def _described(photo: PhotoFile) -> dict[str, Any]:
    out = {"file": photo.sha256, "name": photo.name, "width": photo.width, "height": photo.height}
    with contextlib.suppress(OSError), photo.original.open() as file:
        if was_completed(file):
            out["note"] = f"“{photo.name}” had no end mark. It was given one, and nothing of it is missing."
        elif has_several(file):
            out["note"] = f"“{photo.name}” has several pictures. The first was brought in."
            out["remedy"] = "For another one, save it as a file of its own."
    return out


@login_required
@require_POST
def brought(request: HttpRequest, pk: int) -> HttpResponse:
    """Return the state of photos being imported: the photo, an error, or neither yet; or stop them."""
    own_project(request, pk)
    try:
        asked = msgspec.convert(posted(request), Many)
    except (msgspec.ValidationError, SheetError):
        return refusal("Those aren’t photos.", "Bring them in again.", status=400)
    if asked.stop:
        queue.stop(asked.jobs)
        return JsonResponse({})
    out: dict[str, Any] = {}
    for job, how in taken(request.user, asked.jobs).items():
        if isinstance(how, PhotoFile):
            out[job] = _described(how)
        elif how.state in ("failed", "stopped"):
            out[job] = {"error": how.why, "remedy": how.remedy}
        else:
            out[job] = None
    return JsonResponse(out)


class Many(msgspec.Struct, frozen=True):
    """Photos that the queue is reading, by their jobs."""

    jobs: Annotated[list[Annotated[str, Meta(pattern=r"^[0-9a-f]{32}\Z")]], Meta(max_length=1000)]
    stop: bool = False


@login_required
@require_GET
def preview(request: HttpRequest, sha256: str) -> HttpResponse:
    """Return the small copy of the person's own photo."""
    photo = get_object_or_404(PhotoFile, owner=request.user, sha256=sha256)
    try:
        response = FileResponse(shown(photo).open(), content_type=photo.preview_type)
    except (OSError, PictureError, SheetError):
        # not cached: it may be imported again
        raise Http404 from None
    response["Cache-Control"] = "private, max-age=31536000, immutable"
    return response
