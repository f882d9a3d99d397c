"""Batches: one frame over many photos."""

from pathlib import PurePath
from typing import Any

import msgspec
from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import FileResponse, Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils.http import content_disposition_header
from django.views.decorators.csrf import ensure_csrf_cookie
from django.views.decorators.http import require_GET, require_POST

from outline import OutlineError
from picture import FORMATS, PictureError, format_of
from sheet import SheetError
from sheet.document.limits import Ids, Name, clean_name
from sheet.document.tree import framed, present
from sheet.export.batch import Where
from sheet.export.filenames import NAME_WORDS_OF_BATCH, file_names
from sheet.export.order import CHOICES, EXTENTS, SIZES, TICKS, Order
from sheet.export.sizes import Exported
from studio.http import file_response, own_project, refusal, refused
from studio.library import print_profiles, shelf
from studio.models import Batch, BatchPhoto, Project
from studio.storage import Stored

from . import batches
from .batch_photo_views import cells_of, own_batch, project_photos, read_posted

__all__ = [
    "begin",
    "begin_of_project",
    "begin_of_shelf",
    "contact",
    "drop",
    "file",
    "index",
    "packed",
    "page",
    "settings",
    "start",
    "state",
    "stop",
]

WHERE_WORDS = (
    ("centred", "In the middle", "The middle of each photo in the middle of the frame"),
    ("third", "On a third", "The photo’s point of interest on the nearest crossing of the thirds"),
    (
        "interest",
        "By its point of interest",
        "The photo’s point of interest as near to the middle as filling the frame allows",
    ),
)


# -- starting


MOST_OFFERED = 50
"""The most projects and shelf outlines offered for a new batch."""


class Begun(msgspec.Struct, frozen=True):
    """The frames to use: none for all with photos."""

    ids: Ids = []


@login_required
@require_GET
def index(request: HttpRequest) -> HttpResponse:
    """Show a person's batches."""
    rows = []
    for batch in Batch.objects.filter(owner=request.user):
        found = list(batch.photos.values_list("state", "position"))
        states = [how for how, _ in found]
        first = found[0][1] if found else 0
        rows.append({"batch": batch, "count": len(states), "done": states.count(BatchPhoto.DONE), "first": first})
    projects = Project.objects.filter(owner=request.user, deleted=None).exclude(head=None)[:MOST_OFFERED]
    outlines = shelf.items_of(request.user)[:MOST_OFFERED]
    offered = (
        ("The frames of a project", [(reverse("batch_of_project", args=[one.pk]), one.name) for one in projects]),
        ("An outline of the shelf", [(reverse("batch_of_shelf", args=[one.pk]), one.name) for one in outlines]),
    )
    context = {"rows": rows, "offered": [(words, ways) for words, ways in offered if ways]}
    return render(request, "studio/batches.html", context)


@login_required
@require_POST
def begin(request: HttpRequest, pk: int) -> HttpResponse:
    """Start a batch with frames of a project, as they are now; return its address."""
    project = own_project(request, pk)
    try:
        asked = read_posted(request, Begun)
        sheet = project.head.sheet
        ids = [i.id for i in framed(sheet, present(sheet, asked.ids))]
        batch = batches.begin(request.user, project, f"{project.name} batch", sheet, ids)
    except SheetError as error:
        return refused(error)
    return JsonResponse({"address": batch.get_absolute_url()})


@login_required
@require_POST
def begin_of_project(request: HttpRequest, pk: int) -> HttpResponse:
    """Start a batch with the frames that have photos in a project, as they are now."""
    project = own_project(request, pk)
    try:
        return redirect(batches.begin(request.user, project, f"{project.name} batch", project.head.sheet, []))
    except SheetError as error:
        messages.error(request, str(error))
        return redirect("batches")


@login_required
@require_POST
def begin_of_shelf(request: HttpRequest, pk: int) -> HttpResponse:
    """Start a batch with an outline of the shelf."""
    found = get_object_or_404(shelf.items_of(request.user), pk=pk)
    try:
        first = shelf.on_own_sheet(found, "")
        batch = batches.begin(request.user, None, f"{found.name} batch", first, [first.items[0].id])
    except (SheetError, OutlineError) as error:
        messages.error(request, str(error))
        return redirect("shelf")
    return redirect(batch)


# -- the page


@login_required
@require_GET
@ensure_csrf_cookie
def page(request: HttpRequest, pk: int) -> HttpResponse:
    """Show a batch."""
    batch = own_batch(request, pk)
    order = batches.order_of(batch)
    context = {
        "batch": batch,
        "order": order,
        "wheres": WHERE_WORDS,
        "formats": FORMATS.values(),
        "sizes": SIZES,
        "many": len(batch.frames),
        "extents": EXTENTS,
        "name_words": NAME_WORDS_OF_BATCH,
        "choices": [(field, word, ways, getattr(order, field)) for field, word, ways in CHOICES],
        "profiles": print_profiles.listed(request.user),
        "ticks": [(key, word, getattr(order, key)) for key, word in TICKS],
        "own": len(project_photos(batch)),
        **cells_of(batch),
        **_words(batch),
    }
    return render(request, "studio/batch.html", context)


def _words(batch: Batch) -> dict[str, Any]:
    """Return the texts of the settings: the sizes of the files, and an example of a name."""
    order = batches.order_of(batch)
    out: dict[str, Any] = {"options": format_of(order.format).options}
    try:
        print_profiles.check_usable(order)
        rows = batches.sizes(batch)
        out["pixels"] = " · ".join(
            f"{word + ' ' if word else ''}{width:,} × {height:,} px" for word, width, height in rows
        )
        first = batch.photos.select_related("photo").first()
        stem = PurePath(first.photo.name).stem if first else "dusk-sea"
        like = Exported((), (0, 0, 1, 1), 1, 1, rows[0][1], rows[0][2])
        ending, _ = format_of(order.format).filed(order)
        out["example"] = f"{file_names(order.pattern, batch.name, [like], [stem])[0]}.{ending}"
    except (SheetError, OutlineError) as error:
        out["wrong"] = str(error)
        out["field"] = getattr(error, "field", "")
    return out


# -- settings


class Settings(msgspec.Struct, frozen=True):
    """The settings of a batch; None to leave one as it is."""

    name: Name | None = None
    where: Where | None = None
    variants: bool | None = None
    order: dict[str, Any] | None = None


@login_required
@require_POST
def settings(request: HttpRequest, pk: int) -> HttpResponse:
    """Apply the posted settings; return their texts."""
    batch, lost = own_batch(request, pk), {}
    try:
        asked = read_posted(request, Settings)
        if asked.variants is not None:
            lost = batches.set_variants(batch, asked.variants)
        if asked.name is not None:
            batch.name = clean_name(asked.name) or batch.name
        if asked.where is not None:
            batch.where = asked.where
        if asked.order is not None:
            batch.order = msgspec.to_builtins(
                msgspec.convert({**batch.order, **asked.order, "what": batch.order["what"], "ids": ()}, Order)
            )
            format_of(batches.order_of(batch).format)
            print_profiles.check_owned(request.user, batches.order_of(batch))
        batch.save()
        if asked.where is not None or asked.variants is not None or set(asked.order or ()) - {"pattern"}:
            batches.outdated(batch)
    except msgspec.ValidationError:
        return refusal("That can’t be exported like that.", "Choose something else.", "order", status=400)
    except SheetError as error:
        return refused(error)
    out = _words(batch)
    for word, why in lost.items():
        out.setdefault("wrong", f"The frame has no {word}: {why} Photos of that shape take the nearest it has.")
    return JsonResponse(out)


# -- making the files


@login_required
@require_POST
def start(request: HttpRequest, pk: int) -> HttpResponse:
    """Make the files that are not up to date; with `failed`, only those that failed."""
    batch = own_batch(request, pk)
    try:
        batch = batches.followed(batch)
        failed = None
        if request.GET.get("failed"):
            failed = list(batch.photos.filter(state=BatchPhoto.FAILED).values_list("position", flat=True))
        begun = batches.start(batch, failed)
    except (SheetError, PictureError) as error:
        return refused(error)
    return JsonResponse({"begun": begun})


@login_required
@require_POST
def stop(request: HttpRequest, pk: int) -> HttpResponse:
    """Stop the work in progress."""
    try:
        batches.halt(own_batch(request, pk))
    except SheetError as error:
        return refused(error)
    return HttpResponse(status=204)


@login_required
@require_GET
def state(request: HttpRequest, pk: int) -> HttpResponse:
    """Return the state of a batch: a letter for each file, and why some failed."""
    batch = own_batch(request, pk)
    try:
        batch = batches.followed(batch)
        contact_state = batches.contact_state(batch)
    except SheetError as error:
        return refused(error, status=503)
    rows = list(batch.photos.values_list("position", "state", "why", "size"))[:: len(batch.frames)]
    return JsonResponse(
        {
            "state": batch.state,
            "files": {n: how[0] for n, how, _, _ in rows},
            "why": {n: why for n, how, why, _ in rows if how == BatchPhoto.FAILED},
            "size": sum(size for *_, size in rows),
            "contact": [contact_state.state, contact_state.share, contact_state.why],
        }
    )


@login_required
@require_GET
def packed(request: HttpRequest, pk: int) -> HttpResponse:
    """Return the finished files of a batch as a zip."""
    batch = own_batch(request, pk)
    try:
        return file_response(batches.packed(batches.followed(batch)), f"{batch.name}.zip")
    except SheetError as error:
        messages.error(request, str(error))
        return redirect(batch)


@login_required
@require_GET
def file(request: HttpRequest, pk: int, n: int) -> HttpResponse:
    """Return one file of a batch."""
    try:
        batch = batches.followed(own_batch(request, pk))
    except SheetError as error:
        return refused(error, status=503)
    row = get_object_or_404(batch.photos, position=n, state=BatchPhoto.DONE)
    try:
        body = Stored(row.key).open()
    except OSError:
        return refusal("That file was deleted.", "Start the batch again: it makes what is missing.", status=410)
    _, media = format_of(batches.order_of(batch).format).filed(batches.order_of(batch))
    return _sent(body, row.name, media)


def _sent(body: Any, name: str, media: str) -> HttpResponse:
    response = FileResponse(body, content_type=media)
    response["Content-Disposition"] = content_disposition_header(True, name)
    response["Cache-Control"] = "private, no-store"
    response["Content-Security-Policy"] = "default-src 'none'; img-src data:; style-src 'unsafe-inline'; sandbox"
    return response


@login_required
def contact(request: HttpRequest, pk: int) -> HttpResponse:
    """Make the contact sheet (POST), or return it (GET)."""
    batch = own_batch(request, pk)
    try:
        if request.method == "POST":
            batches.ask_contact(batch)
            return HttpResponse(status=202)
        body = Stored(batch.contact["key"]).open()
    except (SheetError, PictureError) as error:
        return refused(error)
    except (OSError, KeyError):
        raise Http404 from None
    return _sent(body, f"{batch.name} contact sheet.pdf", "application/pdf")


@login_required
@require_POST
def drop(request: HttpRequest, pk: int) -> HttpResponse:
    """Delete a batch."""
    batch = own_batch(request, pk)
    batches.forget(batch)
    messages.success(request, f"“{batch.name}” and its files were deleted. Photos and frames are still there.")
    return redirect("batches")
