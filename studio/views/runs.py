"""Runs: one frame over many photos."""

import hashlib
import io
import json
from pathlib import PurePath
from typing import Annotated, Any

import msgspec
from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import FileResponse, Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.http import content_disposition_header
from django.views.decorators.cache import cache_control
from django.views.decorators.csrf import ensure_csrf_cookie
from django.views.decorators.http import require_GET, require_POST
from msgspec import Meta
from PIL import Image

from outline import OutlineError
from picture import FORMATS, PictureError, format_of
from picture import render as draw
from picture.svgread import is_svg
from sheet import SheetError
from sheet.delivery import EXTENTS, PHOTOS, SIZES, Delivered, Order, file_names, ordered
from sheet.limits import Ids, Name, clean_name
from sheet.runs import Seat, Where
from sheet.tree import photos_of

from .. import queue, runs, shelf
from ..models import PhotoFile, Run, RunPhoto
from ..photos import begin_taking, previews, taken
from ..storage import Stored
from .common import file_response, own_project, posted, refusal, refused

__all__ = [
    "add_own",
    "add_photo",
    "added",
    "begin",
    "begin_of_shelf",
    "cells",
    "contact",
    "drop",
    "file",
    "index",
    "leave_out",
    "packed",
    "page",
    "picture",
    "seat",
    "seated",
    "settings",
    "start",
    "state",
    "stop",
]

SIDE = 300
"""Px of a picture on the contact sheet."""
LARGE = 1000
"""Px of the picture that is adjusted."""

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


def _own(request: HttpRequest, pk: int) -> Run:
    """Return a run of the person's own, or answer 404."""
    run: Run = get_object_or_404(Run.objects.select_related("project"), owner=request.user, pk=pk)
    return run


def _read(request: HttpRequest, kind: Any) -> Any:
    """Return what was posted. Raises SheetError for anything else."""
    try:
        return msgspec.convert(posted(request), kind)
    except msgspec.ValidationError as error:
        raise SheetError("That cannot be set.", f"Type it otherwise. ({str(error)[:80]})") from None


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
        asked = _read(request, Begun)
        sheet = project.head.sheet
        run = runs.begin(request.user, project, f"{project.name} run", sheet, asked.ids)
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
        run = runs.begin(request.user, None, f"{found.name} run", first, [first.items[0].id])
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
    run = _own(request, pk)
    order = runs.order_of(run)
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
        "own": len(_project_photos(run)),
        **_cells(run),
        **_told(run),
    }
    return render(request, "studio/run.html", context)


def _told(run: Run) -> dict[str, Any]:
    """Return what the settings' words say: the sizes of the files, and an example of a name."""
    order = runs.order_of(run)
    out: dict[str, Any] = {"options": format_of(order.format).options}
    try:
        rows = runs.sizes(run)
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


def _project_photos(run: Run) -> list[PhotoFile]:
    """Return the photos that lie in the run's project now, lowest first."""
    if run.project is None or run.project.head is None or run.project.deleted:
        return []
    try:
        files = list(dict.fromkeys(p.file for p in photos_of(run.project.head.sheet.items)))
    except SheetError:
        return []
    found = {p.sha256: p for p in PhotoFile.objects.filter(owner=run.owner, sha256__in=files)}
    return [found[f] for f in files if f in found]


def _key(run: Run, lot: list[RunPhoto]) -> str:
    """Return what a picture of a file is kept under: another one where it looks otherwise."""
    told = json.dumps([run.sheets, run.where, [[r.photo_id, r.seat] for r in lot]])
    return hashlib.sha256(told.encode()).hexdigest()[:12]


def _cells(run: Run) -> dict[str, Any]:
    """Return the cells of the contact sheet: one for each file."""
    rows = list(run.photos.select_related("photo").defer("photo__shown", "photo__interest"))
    many = len(run.frames)
    lots = [rows[k : k + many] for k in range(0, len(rows), many)]
    out = []
    for lot in lots:
        first = lot[0]
        name = first.photo.name if many == 1 else f"{first.photo.name} and {len(lot) - 1} more"
        cell = {"n": first.position, "name": name, "key": _key(run, lot), "state": first.state, "why": first.why}
        out.append({**cell, "by_hand": any(r.seat for r in lot)})
    return {"cells": out, "count": len(out)}


@login_required
@require_GET
def cells(request: HttpRequest, pk: int) -> HttpResponse:
    """Return the contact sheet's cells, as HTML."""
    run = _own(request, pk)
    return render(request, "studio/run_cells.html", {"run": run, **_cells(run)})


def _lot(run: Run, n: int) -> list[RunPhoto]:
    """Return the rows of the file that a photo goes into, or answer 404."""
    rows = run.photos.select_related("photo")
    many = len(run.frames)
    if not rows.filter(position=n).exists():
        raise Http404
    at = rows.filter(position__lt=n).count() if many > 1 else 0
    return list(rows[at - at % many :][:many]) if many > 1 else list(rows.filter(position=n))


@login_required
@require_GET
@cache_control(private=True, max_age=86400)
def picture(request: HttpRequest, pk: int, n: int) -> HttpResponse:
    """Return a picture of a file of the run, from the small copies; a seat may be tried in its address."""
    run = _own(request, pk)
    rows = _lot(run, n)
    side = LARGE if "large" in request.GET else SIDE
    try:
        if "zoom" in request.GET:
            told = {k: float(request.GET.get(k, "0.5")) for k in ("zoom", "x", "y")}
            next(r for r in rows if r.position == n).seat = msgspec.to_builtins(msgspec.convert(told, Seat))
        made = runs.filled_sheet(run, rows)
        what = ordered(made, Order(what=runs.order_of(run).what))[0]
        box = what.box
        scale = side / max(box[2] - box[0], box[3] - box[1])
        ground = made.backdrop if not what.items else None
        pixels = draw(what.items or made.items, box, scale, previews(request.user), ground)
    except (SheetError, PictureError, OutlineError, ValueError, msgspec.ValidationError) as error:
        return HttpResponse(str(error)[:200], status=422, content_type="text/plain")
    out = io.BytesIO()
    Image.fromarray(pixels, "RGBA").save(out, "WEBP", quality=82, method=1)
    return HttpResponse(out.getvalue(), content_type="image/webp")


# -- photos


@login_required
@require_POST
def add_photo(request: HttpRequest, pk: int) -> HttpResponse:
    """Take one file in; answer the photo, or the job that reads it. It is put into the run by `added`."""
    _own(request, pk)
    upload = request.FILES.get("photo")
    if upload is None:
        return refusal("No file came with that.", "Choose a photo.", "photo")
    try:
        head = upload.read(4000)
        upload.seek(0)
        if is_svg(head):
            name = clean_name(upload.name or "That file")
            raise SheetError(f"“{name}” is a drawing and no photo.", "Bring it in in a project.")
        photo, job = begin_taking(request.user, upload)
    except (PictureError, SheetError) as error:
        return refused(error, "photo")
    return JsonResponse({"came": f"job {job}" if photo is None else f"photo {photo.sha256}"})


class Came(msgspec.Struct, frozen=True):
    """What came in, in order: photos, and jobs that read some."""

    came: Annotated[list[Annotated[str, Meta(max_length=80)]], Meta(max_length=5000)]


@login_required
@require_POST
def added(request: HttpRequest, pk: int) -> HttpResponse:
    """Put what came in into the run, in order, as far as it was read; answer how much of it, and what went wrong."""
    run = _own(request, pk)
    try:
        asked = _read(request, Came)
        told = [c.partition(" ")[::2] for c in asked.came]
        read = taken(request.user, [key for kind, key in told if kind == "job"])
        shas = [key for kind, key in told if kind == "photo"]
        have = {p.sha256: p for p in PhotoFile.objects.filter(owner=request.user, sha256__in=shas)}
        photos: list[PhotoFile] = []
        wrong: list[str] = []
        done = 0
        for kind, key in told:
            found = read.get(key) if kind == "job" else have.get(key)
            if isinstance(found, queue.Known) and found.state in ("waiting", "working"):
                break
            done += 1
            if isinstance(found, PhotoFile):
                photos.append(found)
            else:
                wrong.append(
                    f"{found.why} {found.remedy}".strip() if found is not None else "That is no photo of yours."
                )
        came, twice = runs.add(run, photos)
    except SheetError as error:
        return refused(error)
    return JsonResponse({"done": done, "wrong": wrong, "came": came, "twice": twice})


@login_required
@require_POST
def add_own(request: HttpRequest, pk: int) -> HttpResponse:
    """Put the photos of the run's project in it."""
    run = _own(request, pk)
    photos = _project_photos(run)
    if not photos:
        return refusal("No photo lies in the project.", "Drop photos on the page.", "photo")
    try:
        came, twice = runs.add(run, photos)
    except SheetError as error:
        return refused(error)
    return JsonResponse({"came": came, "twice": twice})


@login_required
@require_POST
def leave_out(request: HttpRequest, pk: int, n: int) -> HttpResponse:
    """Take a photo out of the run, or, posted a photo, put it back where it was."""
    run = _own(request, pk)
    if "back" in request.GET:
        photo = get_object_or_404(PhotoFile, owner=request.user, sha256=request.GET["back"])
        if not run.photos.filter(position=n).exists() and not run.photos.filter(photo=photo).exists():
            RunPhoto.objects.create(run=run, position=n, photo=photo)
        return JsonResponse({})
    row = get_object_or_404(run.photos.select_related("photo"), position=n)
    try:
        queue.stop([row.job] if row.job else [])
    except SheetError as error:
        return refused(error, status=503)
    row.delete()
    return JsonResponse({"back": row.photo.sha256})


@login_required
@require_POST
def seat(request: HttpRequest, pk: int, n: int) -> HttpResponse:
    """Say by hand how a photo sits, or with nothing posted leave it to the rule."""
    run = _own(request, pk)
    row = get_object_or_404(run.photos, position=n)
    try:
        told = _read(request, Seat | None)
        row.seat = msgspec.to_builtins(told) if told is not None else None
        row.save(update_fields=["seat"])
        return JsonResponse(_seated(run, n))
    except SheetError as error:
        return refused(error)


def _seated(run: Run, n: int) -> dict[str, Any]:
    """Return how a photo sits now, its size, and that of the frame it sits in (px)."""
    rows = _lot(run, n)
    source = runs.Source(run)
    ((word, lot, shots),) = source.lots(rows)
    at = next(k for k, r in enumerate(lot) if r.position == n)
    x0, y0, x1, y1 = source.boxes[word][at]
    return {
        "seat": msgspec.to_builtins(shots[at].seat),
        "by_hand": lot[at].seat is not None,
        "photo": [lot[at].photo.width, lot[at].photo.height],
        "frame": [x1 - x0, y1 - y0],
        "box": runs.file_box(run, rows),
        "key": _key(run, rows),
        "photos": [[r.position, r.photo.name] for r in rows],
        "name": lot[at].photo.name,
    }


@login_required
@require_GET
def seated(request: HttpRequest, pk: int, n: int) -> HttpResponse:
    """Answer how a photo sits."""
    run = _own(request, pk)
    try:
        return JsonResponse(_seated(run, n))
    except SheetError as error:
        return refused(error)


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
    run = _own(request, pk)
    try:
        asked = _read(request, Settings)
        if asked.variants is not None:
            runs.set_variants(run, asked.variants)
        if asked.name is not None:
            run.name = clean_name(asked.name) or run.name
        if asked.where is not None:
            run.where = asked.where
        if asked.order is not None:
            run.order = msgspec.to_builtins(
                msgspec.convert({**run.order, **asked.order, "what": run.order["what"], "ids": ()}, Order)
            )
            format_of(runs.order_of(run).format)
        run.save()
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
    run = _own(request, pk)
    try:
        run = runs.followed(run)
        failed = None
        if request.GET.get("failed"):
            failed = list(run.photos.filter(state=RunPhoto.FAILED).values_list("position", flat=True))
        begun = runs.start(run, failed)
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
        runs.halt(_own(request, pk))
    except SheetError as error:
        return refused(error)
    return HttpResponse(status=204)


@login_required
@require_GET
def state(request: HttpRequest, pk: int) -> HttpResponse:
    """Answer how a run is: a letter for each file, and why some failed."""
    run = _own(request, pk)
    try:
        run = runs.followed(run)
        contact_state = runs.contact_state(run)
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
    run = _own(request, pk)
    try:
        return file_response(runs.packed(runs.followed(run)), f"{run.name}.zip")
    except SheetError as error:
        messages.error(request, str(error))
        return redirect(run)


@login_required
@require_GET
def file(request: HttpRequest, pk: int, n: int) -> HttpResponse:
    """Return one file of a run."""
    try:
        run = runs.followed(_own(request, pk))
    except SheetError as error:
        return refused(error, status=503)
    row = get_object_or_404(run.photos, position=n, state=RunPhoto.DONE)
    try:
        body = Stored(row.key).open()
    except OSError:
        return refusal("That file is no longer kept.", "Start the run again: it makes what is missing.", status=410)
    _, media = format_of(runs.order_of(run).format).filed(runs.order_of(run))
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
    run = _own(request, pk)
    try:
        if request.method == "POST":
            runs.ask_contact(run)
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
    run = _own(request, pk)
    runs.forget(run)
    messages.success(request, f"“{run.name}” was thrown away, with its files. Photos and frames are still there.")
    return redirect("runs")
