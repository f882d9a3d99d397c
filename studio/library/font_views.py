"""Importing and removing fonts."""

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_POST

import outline
from picture.errors import PictureError
from picture.fonts import MOST_BYTES
from sheet import SheetError
from studio.http import refusal, refused
from studio.models import OwnFont
from studio.operations.upload_limits import takes

from . import fonts


@takes(MOST_BYTES + 1_000_000)
@login_required
@require_POST
def bring_in(request: HttpRequest) -> HttpResponse:
    """Import one font's file, and return its row for a list of fonts."""
    upload = request.FILES.get("font")
    if upload is None:
        return refusal("No file came with that.", "Choose a TTF, OTF or WOFF2 file.", "font")
    try:
        row = fonts.add(request.user, upload.read(), upload.name or "")
    except (PictureError, SheetError) as error:
        return refused(error, "font")
    return JsonResponse({"key": outline.own_font(row.digest, row.name), "name": row.name, "kind": row.kind})


@login_required
@require_POST
def remove(request: HttpRequest, pk: int) -> HttpResponse:
    """Take a font off the lists; letters set in it stay as they are."""
    row = get_object_or_404(OwnFont, pk=pk, owner=request.user)
    row.removed = request.POST.get("back") is None
    row.save(update_fields=["removed"])
    if row.removed:
        messages.success(request, f"“{row.name}” was removed from your lists. Letters set in it stay as they are.")
    return redirect("account")
