"""The photos of a batch: adding and removing them, the contact sheet, and the place of each."""

import hashlib
import io
import json
from typing import Annotated, Any

import msgspec
from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, render
from django.views.decorators.cache import cache_control
from django.views.decorators.http import require_GET, require_POST
from msgspec import Meta
from PIL import Image

from outline import OutlineError
from picture import PictureError
from picture import render as draw
from picture.svg_in.plain import is_svg
from sheet import SheetError
from sheet.document.limits import clean_name
from sheet.document.tree import photos_of
from sheet.export.batch import Seat
from sheet.export.order import Order, ordered
from studio.http import posted, refusal, refused
from studio.library.photos import begin_taking, previews, taken
from studio.models import Batch, BatchPhoto, PhotoFile
from studio.operations.upload_limits import PHOTO, takes
from studio.work import queue

from . import batches

__all__ = [
    "add_own",
    "add_photo",
    "added",
    "cells",
    "cells_of",
    "leave_out",
    "own_batch",
    "picture",
    "project_photos",
    "read_posted",
    "seat",
    "seated",
]

SIDE = 300
"""The size in px of a picture on the contact sheet."""
LARGE_SIDE = 1000
"""The size in px of the picture being adjusted."""


def own_batch(request: HttpRequest, pk: int) -> Batch:
    """Return one of the person's own batches, or answer 404."""
    batch: Batch = get_object_or_404(Batch.objects.select_related("project"), owner=request.user, pk=pk)
    return batch


def read_posted(request: HttpRequest, kind: Any) -> Any:
    """Return the posted JSON. Raises SheetError for anything else."""
    try:
        return msgspec.convert(posted(request), kind)
    except msgspec.ValidationError as error:
        raise SheetError("That didn’t work.", f"Type it another way. ({str(error)[:80]})") from None


# -- the contact sheet


def _key(batch: Batch, lot: list[BatchPhoto]) -> str:
    """Return the cache key of a file's picture: it changes whenever the picture does."""
    given = json.dumps([batch.sheets, batch.where, [[r.photo_id, r.seat] for r in lot]])
    return hashlib.sha256(given.encode()).hexdigest()[:12]


def cells_of(batch: Batch) -> dict[str, Any]:
    """Return the cells of the contact sheet: one per file."""
    rows = list(batch.photos.select_related("photo").defer("photo__shown", "photo__interest"))
    many = len(batch.frames)
    lots = [rows[k : k + many] for k in range(0, len(rows), many)]
    out = []
    for lot in lots:
        first = lot[0]
        name = first.photo.name if many == 1 else f"{first.photo.name} and {len(lot) - 1} more"
        cell = {"n": first.position, "name": name, "key": _key(batch, lot), "state": first.state, "why": first.why}
        out.append({**cell, "by_hand": any(r.seat for r in lot)})
    return {"cells": out, "count": len(out)}


@login_required
@require_GET
def cells(request: HttpRequest, pk: int) -> HttpResponse:
    """Return the contact sheet's cells, as HTML."""
    batch = own_batch(request, pk)
    return render(request, "studio/batch_cells.html", {"batch": batch, **cells_of(batch)})


def _lot(batch: Batch, n: int) -> list[BatchPhoto]:
    """Return the rows of the file that a photo belongs to, or answer 404."""
    rows = batch.photos.select_related("photo")
    many = len(batch.frames)
    if not rows.filter(position=n).exists():
        raise Http404
    at = rows.filter(position__lt=n).count() if many > 1 else 0
    lot = list(rows[at - at % many :][:many]) if many > 1 else list(rows.filter(position=n))
    # another window may remove it in between
    if all(row.position != n for row in lot):
        raise Http404
    return lot


@login_required
@require_GET
@cache_control(private=True, max_age=86400)
def picture(request: HttpRequest, pk: int, n: int) -> HttpResponse:
    """Return a picture of a file of the batch, from the small copies; a place can be tried in its address."""
    batch = own_batch(request, pk)
    rows = _lot(batch, n)
    side = LARGE_SIDE if "large" in request.GET else SIDE
    try:
        if "zoom" in request.GET:
            given = {k: float(request.GET.get(k, "0.5")) for k in ("zoom", "x", "y")}
            next(r for r in rows if r.position == n).seat = msgspec.to_builtins(msgspec.convert(given, Seat))
        made = batches.filled_sheet(batch, rows)
        what = ordered(made, Order(what=batches.order_of(batch).what))[0]
        box = what.box
        scale = side / max(box[2] - box[0], box[3] - box[1])
        ground = made.backdrop if not what.items else None
        pixels = draw(what.items or made.items, box, scale, previews(request.user), ground)
    except (SheetError, PictureError, OutlineError, ValueError, msgspec.ValidationError) as error:
        return HttpResponse(str(error)[:200], status=422, content_type="text/plain")
    out = io.BytesIO()
    Image.fromarray(pixels, "RGBA").save(out, "WEBP", quality=82, method=1)
    return HttpResponse(out.getvalue(), content_type="image/webp")


# -- adding and removing photos


def project_photos(batch: Batch) -> list[PhotoFile]:
    """Return the photos in the batch's project now, lowest first."""
    if batch.project is None or batch.project.head is None or batch.project.deleted:
        return []
    try:
        files = list(dict.fromkeys(p.file for p in photos_of(batch.project.head.sheet.items)))
    except SheetError:
        return []
    found = {p.sha256: p for p in PhotoFile.objects.filter(owner=batch.owner, sha256__in=files)}
    return [found[f] for f in files if f in found]


@takes(PHOTO)
@login_required
@require_POST
def add_photo(request: HttpRequest, pk: int) -> HttpResponse:
    """Import one file; return the photo, or the job that reads it. `added` puts it into the batch."""
    own_batch(request, pk)
    upload = request.FILES.get("photo")
    if upload is None:
        return refusal("No file came with that.", "Select a photo.", "photo")
    try:
        head = upload.read(4000)
        upload.seek(0)
        if is_svg(head):
            name = clean_name(upload.name or "That file")
            raise SheetError(f"“{name}” is a drawing, not a photo.", "Bring it in in a project.")
        photo, job = begin_taking(request.user, upload)
    except (PictureError, SheetError) as error:
        return refused(error, "photo")
    return JsonResponse({"came": f"job {job}" if photo is None else f"photo {photo.sha256}"})


class Came(msgspec.Struct, frozen=True):
    """What was imported, in order: photos, and jobs that are reading some."""

    came: Annotated[list[Annotated[str, Meta(max_length=80)]], Meta(max_length=5000)]


@login_required
@require_POST
def added(request: HttpRequest, pk: int) -> HttpResponse:
    """Put the imported photos into the batch, in order, as far as they are read; return how many, and the errors."""
    batch = own_batch(request, pk)
    try:
        asked = read_posted(request, Came)
        given = [c.partition(" ")[::2] for c in asked.came]
        read = taken(request.user, [key for kind, key in given if kind == "job"])
        shas = [key for kind, key in given if kind == "photo"]
        have = {p.sha256: p for p in PhotoFile.objects.filter(owner=request.user, sha256__in=shas)}
        photos: list[PhotoFile] = []
        wrong: list[str] = []
        done = 0
        for kind, key in given:
            found = read.get(key) if kind == "job" else have.get(key)
            if isinstance(found, queue.Known) and found.state in ("waiting", "working"):
                break
            done += 1
            if isinstance(found, PhotoFile):
                photos.append(found)
            else:
                wrong.append(
                    f"{found.why} {found.remedy}".strip() if found is not None else "That isn’t one of your photos."
                )
        came, twice = batches.add(batch, photos)
    except SheetError as error:
        return refused(error)
    return JsonResponse({"done": done, "wrong": wrong, "came": came, "twice": twice})


@login_required
@require_POST
def add_own(request: HttpRequest, pk: int) -> HttpResponse:
    """Add the photos of the batch's project."""
    batch = own_batch(request, pk)
    photos = project_photos(batch)
    if not photos:
        return refusal("The project has no photo.", "Drop photos on the page.", "photo")
    try:
        came, twice = batches.add(batch, photos)
    except SheetError as error:
        return refused(error)
    return JsonResponse({"came": came, "twice": twice})


@login_required
@require_POST
def leave_out(request: HttpRequest, pk: int, n: int) -> HttpResponse:
    """Take a photo out of the batch, or, with a photo posted, put it back in its place."""
    batch = own_batch(request, pk)
    if "back" in request.GET:
        photo = get_object_or_404(PhotoFile, owner=request.user, sha256=request.GET["back"])
        if not batch.photos.filter(position=n).exists() and not batch.photos.filter(photo=photo).exists():
            BatchPhoto.objects.create(batch=batch, position=n, photo=photo)
        return JsonResponse({})
    row = get_object_or_404(batch.photos.select_related("photo"), position=n)
    try:
        queue.stop([row.job] if row.job else [])
    except SheetError as error:
        return refused(error, status=503)
    if len(batch.frames) > 1:
        # the photos after it move up, to other files
        batches.outdated(batch, _lot(batch, n)[0].position)
    row.delete()
    return JsonResponse({"back": row.photo.sha256})


@login_required
@require_POST
def seat(request: HttpRequest, pk: int, n: int) -> HttpResponse:
    """Set a photo's place by hand, or with nothing posted reset it to the rule."""
    batch = own_batch(request, pk)
    row = get_object_or_404(batch.photos, position=n)
    try:
        given = read_posted(request, Seat | None)
        row.seat = msgspec.to_builtins(given) if given is not None else None
        row.save(update_fields=["seat"])
        leader = _lot(batch, n)[0]
        batch.photos.filter(pk=leader.pk, state=BatchPhoto.DONE).update(state=BatchPhoto.NEW)
        return JsonResponse(_seated(batch, n))
    except SheetError as error:
        return refused(error)


def _seated(batch: Batch, n: int) -> dict[str, Any]:
    """Return a photo's place, its size, and the size of its frame (px)."""
    rows = _lot(batch, n)
    source = batches.BatchSource(batch)
    ((word, lot, shots),) = source.lots(rows)
    at = next(k for k, r in enumerate(lot) if r.position == n)
    x0, y0, x1, y1 = source.boxes(word)[at]
    return {
        "seat": msgspec.to_builtins(shots[at].seat),
        "by_hand": lot[at].seat is not None,
        "photo": [lot[at].photo.width, lot[at].photo.height],
        "frame": [x1 - x0, y1 - y0],
        "box": batches.file_box(batch, rows),
        "key": _key(batch, rows),
        "photos": [[r.position, r.photo.name] for r in rows],
        "name": lot[at].photo.name,
    }


@login_required
@require_GET
def seated(request: HttpRequest, pk: int, n: int) -> HttpResponse:
    """Return a photo's place."""
    batch = own_batch(request, pk)
    try:
        return JsonResponse(_seated(batch, n))
    except SheetError as error:
        return refused(error)
