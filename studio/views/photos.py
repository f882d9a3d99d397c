"""Bringing photos in, and showing their previews."""

from django.contrib.auth.decorators import login_required
from django.http import FileResponse, Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404
from django.views.decorators.http import require_GET, require_POST

from picture.errors import PictureError
from picture.photos import WORDS
from picture.svgread import is_svg

from ..models import PhotoFile
from ..photos import keep_drawing, take_in
from .common import own_project, refusal, refused


@login_required
@require_POST
def bring_in(request: HttpRequest, pk: int) -> HttpResponse:
    """Take one file in and answer what the place command needs; the sheet is not changed here."""
    own_project(request, pk)
    upload = request.FILES.get("photo")
    if upload is None:
        return refusal("No file came with that.", f"Choose a {WORDS} file.", "photo")
    try:
        head = upload.read(4000)
        upload.seek(0)
        if is_svg(head):
            file, name = keep_drawing(request.user, upload)
            return JsonResponse({"file": file, "name": name, "drawing": True})
        photo = take_in(request.user, upload)
    except PictureError as error:
        return refused(error, "photo")
    return JsonResponse({"file": photo.sha256, "name": photo.name, "width": photo.width, "height": photo.height})


@login_required
@require_GET
def preview(request: HttpRequest, sha256: str) -> HttpResponse:
    """Return the small copy of the person's own photo."""
    photo = get_object_or_404(PhotoFile, owner=request.user, sha256=sha256)
    if not photo.preview.exists():
        raise Http404
    response = FileResponse(photo.preview.open(), content_type=photo.preview_type)
    response["Cache-Control"] = "private, max-age=31536000, immutable"
    return response
