"""Runs: one frame over many photos."""

from pathlib import PurePath
from typing import Any

import msgspec
from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import FileResponse, Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.http import content_disposition_header
from django.views.decorators.csrf import ensure_csrf_cookie
from django.views.decorators.http import require_GET, require_POST

from outline import OutlineError
from picture import FORMATS, PictureError, format_of
from sheet import SheetError
from sheet.document.limits import Ids, Name, clean_name
from sheet.export.batch import Where
from sheet.export.filenames import file_names
from sheet.export.order import EXTENTS, PHOTOS, SIZES, Order
from sheet.export.sizes import Delivered
from studio.http import file_response, own_project, refusal, refused
from studio.library import shelf
from studio.models import Run, RunPhoto
from studio.storage import Stored

from . import batches
from .batch_photo_views import cells_of, own_run, project_photos, read_posted

__all__ = [
    "begin",
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

TICKS = (
    ("palette", "256 colours at most"),
    ("marks", "Crop marks"),
    ("lossless", "Without losses"),
    ("full_chroma", "Colours as fine as brightness"),
    ("own_profile", "Keep the photo’s own profile"),
)
WHERE_WORDS = (
    ("centred", "In the middle", "The middle of each photo in the middle of the frame"),
    ("third", "On a third", "Its point of interest on the nearest crossing of the thirds"),
    ("interest", "By its point of interest", "That point as near to the middle as covering allows"),
)


# -- beginning


class Begun(msgspec.Struct, frozen=True):
    """The frames that are run: none for all that hold photos."""

    ids: Ids = []


@login_required
@require_GET
def index(request: HttpRequest) -> HttpResponse:
    """Show a person's runs."""
    rows = []
    for run in Run.objects.filter(owner=request.user):
        found = list(run.photos.values_list("state", "position"))
        states = [how for how, _ in found]
        first = found[0][1] if found else 0
        rows.append({"run": run, "count": len(states), "done": states.count(RunPhoto.DONE), "first": first})
    return render(request, "studio/runs.html", {"rows": rows})


@login_required
@require_POST
def begin(request: HttpRequest, pk: int) -> HttpResponse:
    """Begin a run of frames of a project, as they are now; answer its address."""
    project = own_project(request, pk)
    try:
        asked = read_posted(request, Begun)
        sheet = project.head.sheet
        run = batches.begin(request.user, project, f"{project.name} run", sheet, asked.ids)
    except SheetError as error:
        return refused(error)
    except OutlineError as error:
        return refusal(str(error))
    return JsonResponse({"address": run.get_absolute_url()})


@login_required
@require_POST
def begin_of_shelf(request: HttpRequest, pk: int) -> HttpResponse:
    """Begin a run of what is kept on the shelf."""
    found = get_object_or_404(shelf.kept(request.user), pk=pk)
    try:
        first = shelf.on_own_sheet(found, "")
        run = batches.begin(request.user, None, f"{found.name} run", first, [first.items[0].id])
    except (SheetError, OutlineError) as error:
        messages.error(request, str(error))
        return redirect("shelf")
    return redirect(run)


# -- the page


@login_required
@require_GET
@ensure_csrf_cookie
def page(request: HttpRequest, pk: int) -> HttpResponse:
    """Show a run."""
    run = own_run(request, pk)
    order = batches.order_of(run)
    context = {
        "run": run,
        "order": order,
        "wheres": WHERE_WORDS,
        "formats": FORMATS.values(),
        "sizes": SIZES,
        "many": len(run.frames),
        "extents": EXTENTS,
        "photo_ways": PHOTOS,
        "ticks": [(key, word, getattr(order, key)) for key, word in TICKS],
        "own": len(project_photos(run)),
        **cells_of(run),
        **_told(run),
    }
    return render(request, "studio/run.html", context)


def _told(run: Run) -> dict[str, Any]:
    """Return what the settings' words say: the sizes of the files, and an example of a name."""
    order = batches.order_of(run)
    out: dict[str, Any] = {"options": format_of(order.format).options}
    try:
        rows = batches.sizes(run)
        out["pixels"] = " · ".join(
            f"{word + ' ' if word else ''}{width:,} × {height:,} px" for word, width, height in rows
        )
        first = run.photos.select_related("photo").first()
        stem = PurePath(first.photo.name).stem if first else "dusk-sea"
        like = Delivered((), (0, 0, 1, 1), 1, 1, rows[0][1], rows[0][2])
        ending, _ = format_of(order.format).filed(order)
        out["example"] = f"{file_names(order.pattern, run.name, [like], [stem])[0]}.{ending}"
    except (SheetError, OutlineError) as error:
        out["wrong"] = str(error)
        out["field"] = getattr(error, "field", "")
    return out


# -- settings


class Settings(msgspec.Struct, frozen=True):
    """What is set of a run; nothing where it stays."""

    name: Name | None = None
    where: Where | None = None
    variants: bool | None = None
    order: dict[str, Any] | None = None


@login_required
@require_POST
def settings(request: HttpRequest, pk: int) -> HttpResponse:
    """Set what is posted; answer the words that go with it."""
    run = own_run(request, pk)
    try:
        asked = read_posted(request, Settings)
        if asked.variants is not None:
            batches.set_variants(run, asked.variants)
        if asked.name is not None:
            run.name = clean_name(asked.name) or run.name
        if asked.where is not None:
            run.where = asked.where
        if asked.order is not None:
            run.order = msgspec.to_builtins(
                msgspec.convert({**run.order, **asked.order, "what": run.order["what"], "ids": ()}, Order)
            )
            format_of(batches.order_of(run).format)
        run.save()
        if asked.where is not None or asked.variants is not None or set(asked.order or ()) - {"pattern"}:
            batches.outdated(run)
    except msgspec.ValidationError:
        return refusal("That cannot be delivered so.", "Choose something else.", "order", status=400)
    except SheetError as error:
        return refused(error)
    except OutlineError as error:
        return refusal(str(error))
    return JsonResponse(_told(run))


# -- doing it


@login_required
@require_POST
def start(request: HttpRequest, pk: int) -> HttpResponse:
    """Have made what is not there yet; with `failed`, what failed alone."""
    run = own_run(request, pk)
    try:
        run = batches.followed(run)
        failed = None
        if request.GET.get("failed"):
            failed = list(run.photos.filter(state=RunPhoto.FAILED).values_list("position", flat=True))
        begun = batches.start(run, failed)
    except (SheetError, PictureError) as error:
        return refused(error)
    except OutlineError as error:
        return refusal(str(error))
    return JsonResponse({"begun": begun})


@login_required
@require_POST
def stop(request: HttpRequest, pk: int) -> HttpResponse:
    """Stop what is under way."""
    try:
        batches.halt(own_run(request, pk))
    except SheetError as error:
        return refused(error)
    return HttpResponse(status=204)


@login_required
@require_GET
def state(request: HttpRequest, pk: int) -> HttpResponse:
    """Answer how a run is: a letter for each file, and why some failed."""
    run = own_run(request, pk)
    try:
        run = batches.followed(run)
        contact_state = batches.contact_state(run)
    except SheetError as error:
        return refused(error, status=503)
    rows = list(run.photos.values_list("position", "state", "why", "size"))[:: len(run.frames)]
    return JsonResponse(
        {
            "state": run.state,
            "files": {n: how[0] for n, how, _, _ in rows},
            "why": {n: why for n, how, why, _ in rows if how == RunPhoto.FAILED},
            "size": sum(size for *_, size in rows),
            "contact": [contact_state.state, contact_state.share, contact_state.why],
        }
    )


@login_required
@require_GET
def packed(request: HttpRequest, pk: int) -> HttpResponse:
    """Return what is done of a run as a zip."""
    run = own_run(request, pk)
    try:
        return file_response(batches.packed(batches.followed(run)), f"{run.name}.zip")
    except SheetError as error:
        messages.error(request, str(error))
        return redirect(run)


@login_required
@require_GET
def file(request: HttpRequest, pk: int, n: int) -> HttpResponse:
    """Return one file of a run."""
    try:
        run = batches.followed(own_run(request, pk))
    except SheetError as error:
        return refused(error, status=503)
    row = get_object_or_404(run.photos, position=n, state=RunPhoto.DONE)
    try:
        body = Stored(row.key).open()
    except OSError:
        return refusal("That file is no longer kept.", "Start the run again: it makes what is missing.", status=410)
    _, media = format_of(batches.order_of(run).format).filed(batches.order_of(run))
    return _sent(body, row.name, media)


def _sent(body: Any, name: str, media: str) -> HttpResponse:
    response = FileResponse(body, content_type=media)
    response["Content-Disposition"] = content_disposition_header(True, name)
    response["Cache-Control"] = "private, no-store"
    response["Content-Security-Policy"] = "default-src 'none'; img-src data:; style-src 'unsafe-inline'; sandbox"
    return response


@login_required
def contact(request: HttpRequest, pk: int) -> HttpResponse:
    """Have the contact sheet made (POST), or return it (GET)."""
    run = own_run(request, pk)
    try:
        if request.method == "POST":
            batches.ask_contact(run)
            return HttpResponse(status=202)
        body = Stored(run.contact["key"]).open()
    except (SheetError, PictureError) as error:
        return refused(error)
    except (OSError, KeyError):
        raise Http404 from None
    return _sent(body, f"{run.name} contact sheet.pdf", "application/pdf")


@login_required
@require_POST
def drop(request: HttpRequest, pk: int) -> HttpResponse:
    """Throw a run away."""
    run = own_run(request, pk)
    batches.forget(run)
    messages.success(request, f"“{run.name}” was thrown away, with its files. Photos and frames are still there.")
    return redirect("runs")
