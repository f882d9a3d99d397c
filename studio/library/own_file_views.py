"""Importing and removing a person's own fonts and print profiles."""

from collections.abc import Callable
from typing import Any, NamedTuple

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_POST

import outline
from picture import fonts as font_files
from picture.errors import PictureError
from picture.photos import print_profiles as profile_files
from sheet import SheetError
from studio.http import refusal, refused
from studio.models import OwnFile
from studio.operations.upload_limits import takes

from . import fonts, print_profiles


class _Use(NamedTuple):
    """What is done with one use of files."""

    add: Callable[[Any, bytes, str], OwnFile]
    key: Callable[[OwnFile], str]
    files: str
    removed: str


USES = {
    OwnFile.FONT: _Use(
        fonts.add,
        lambda row: outline.own_font(row.digest, row.name),
        "Choose a TTF, OTF or WOFF2 file.",
        "Letters set in it stay as they are.",
    ),
    OwnFile.PROFILE: _Use(
        print_profiles.add,
        print_profiles.key_of,
        "Choose an ICC file.",
        "Files exported with it stay as they are.",
    ),
}


@takes(max(font_files.MOST_BYTES, profile_files.MOST_BYTES) + 1_000_000)
@login_required
@require_POST
def bring_in(request: HttpRequest, use: str) -> HttpResponse:
    """Import one font's or profile's file, and return its row for a list."""
    upload = request.FILES.get("file")
    if upload is None:
        return refusal("No file came with that.", USES[use].files, "file")
    try:
        row = USES[use].add(request.user, upload.read(), upload.name or "")
    except (PictureError, SheetError) as error:
        return refused(error, "file")
    return JsonResponse({"key": USES[use].key(row), "name": row.name, "kind": row.kind})


@login_required
@require_POST
def remove(request: HttpRequest, pk: int) -> HttpResponse:
    """Take a font or a profile off the lists; whatever uses it stays as it is."""
    row = get_object_or_404(OwnFile, pk=pk, owner=request.user)
    row.removed = request.POST.get("back") is None
    row.save(update_fields=["removed"])
    if row.removed:
        messages.success(request, f"“{row.name}” was removed from your lists. {USES[row.use].removed}")
    return redirect("account")
