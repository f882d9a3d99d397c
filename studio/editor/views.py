"""The editor: its page, its panels, and the single view for commands."""

import hashlib
from functools import partial
from typing import Annotated, Any

import msgspec
from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils.functional import SimpleLazyObject
from django.views.decorators.csrf import ensure_csrf_cookie
from django.views.decorators.http import require_GET, require_POST
from msgspec import Meta

from outline import READY
from picture.draw.colours import SIZES
from sheet import Command, Piece, SheetError, apply, load
from sheet.commands import COMMANDS
from sheet.commands.painting import FirstPaint
from sheet.document.kinds import KINDS, Kind
from sheet.document.limits import Id, Ids
from sheet.document.tree import find, present
from sheet.geometry.copies import default_paint
from sheet.geometry.geometry import outline_of, own_path, pieces_of
from sheet.geometry.holes import Of
from sheet.inspect.dimensions import margins_of
from sheet.inspect.effort import LIGHT, effort_of
from sheet.inspect.snapping import snaps as make_snaps
from sheet.reading.details import set_detail
from sheet.reading.sizes import fixed_size
from studio.guide.stations import station_help
from studio.history import changes, stored
from studio.http import own_project, posted, refusal, refused
from studio.library import fonts, print_profiles, shelf
from studio.models import OwnFile, Project
from studio.work import worker_pool

from . import responses
from .keys import key_map
from .panels import arrange, lean
from .panels.silhouette import BRUSHES
from .panels.stack import rows_html
from .view_state import STATIONS, ViewState

URLS = (
    "command", "panels", "preview", "bring_in", "export", "snaps", "template", "tool_settings", "now", "project_rename",
    "sample", "colours", "silhouette", "web_sample", "lens", "docket", "brought", "estimate", "exports", "shelf_add",
    "refit", "refit_shelved", "batch_begin", "rows", "tray", "may",
)  # fmt: skip

SILHOUETTE_BRUSHES = (
    ("point", "Point", ""), ("box", "Box", "B"), ("loop", "Loop", "L"), ("add", "Add", "J"), ("away", "Take away", "A"),
)  # fmt: skip


PROPORTIONS = (("3:2", 1.5), ("1:1", 1.0), ("2:3", 2 / 3), ("4:5", 0.8), ("16:9", 16 / 9), ("sheet", "sheet"))
"""The proportions that refit offers."""


def _limits(kind: Kind) -> dict[str, float]:
    """Return the limits of the count that the arrows change while a piece is drawn."""
    assert kind.tool is not None
    counts = (field for field in kind.fields if field.field == kind.tool.steered)
    return next(({"least": field.low, "most": field.high} for field in counts), {})


class Sent(msgspec.Struct, frozen=True):
    """A command from a page: the revision it was made on, an id of its own, and the page's view."""

    name: Annotated[str, Meta(max_length=40)]
    revision: Annotated[int, Meta(ge=0, le=4_000_000_000)]
    args: dict[str, Any] = {}
    id: Annotated[str, Meta(max_length=60, pattern=r"^[\w.\-]*\Z")] = ""
    view: Any = None


class May(msgspec.Struct, frozen=True):
    """A command that a page wants to begin, and the selection."""

    command: Annotated[str, Meta(max_length=40)]
    ids: Ids


class Rows(msgspec.Struct, frozen=True):
    """The rows that are asked for, by their items."""

    ids: Annotated[list[Id], Meta(max_length=1000)]


class Previewed(msgspec.Struct, frozen=True):
    """A command whose result for one outline is previewed during a gesture."""

    name: Id
    revision: int
    command: Annotated[str, Meta(max_length=40)] = "transform"
    args: dict[str, Any] = {}
    margins: bool = False
    of: Of = "border"


def _tiles() -> dict[str, str]:
    """Return the addresses of the Shapes tool's tiles (the ready ones' with their version), and of own files."""
    mark = hashlib.sha256(" ".join(READY).encode()).hexdigest()[:8]
    ready = f"{reverse('ready_tiles')}?v={mark}"
    tiles = {"shelf_tiles": reverse("shelf_tiles"), "ready_tiles": ready}
    return {**tiles, **{use: reverse(f"{use}s") for use, _ in OwnFile.USES}}


def _view(request: HttpRequest, data: Any) -> ViewState:
    """Return the state of a page's view, with what the server adds to it: most panels ask for none of that."""
    listings = (shelf.newest, fonts.listed, print_profiles.listed)
    return ViewState.read(data, *(SimpleLazyObject(partial(listing, request.user)) for listing in listings))


def _sent(request: HttpRequest, kind: Any) -> Any:
    """Return the posted JSON as `kind`. Raises SheetError for anything else."""
    try:
        return msgspec.convert(posted(request), kind)
    except msgspec.ValidationError:
        raise SheetError("That didn’t work.", "Reload the page.") from None


def _project_state(project: Project, new: bool = False) -> dict[str, Any]:
    assert project.head is not None
    return {"revision": project.head.number, **changes.names(project, new)}


@login_required
@require_GET
@ensure_csrf_cookie
def page(request: HttpRequest, pk: int) -> HttpResponse:
    """Show the editor."""
    project = own_project(request, pk)
    try:
        sheet = project.head.sheet
    except SheetError:
        messages.error(request, f"The newest step of “{project.name}” cannot be read. The one before it can be opened.")
        return redirect("projects")
    begun = {"station": request.GET.get("station", "draw"), "export": project.export, "project": project.name}
    view = _view(request, begun)
    state = {**_project_state(project), **responses.whole(sheet, view)}
    swap, shown = state.pop("swap"), state.pop("panels")
    return render(
        request,
        "studio/editor.html",
        {
            "project": project,
            "station": view.station,
            "stations": list(enumerate(STATIONS, 1)),
            "art": [swap[i] for i in state["order"]],
            "sample_sizes": SIZES,
            "silhouette_brushes": SILHOUETTE_BRUSHES,
            "silhouette_widths": BRUSHES,
            "proportions": PROPORTIONS,
            "panels": shown,
            "sheet": sheet,
            **arrange.ROWS,
            "keys": key_map().items(),
            "station_help": station_help(),
            "state": {
                **state,
                # a notice about how the person came here
                "note": " ".join(str(m) for m in messages.get_messages(request)),
                "project": pk,
                "export": project.export,
                "station": view.station,
                "urls": {n: reverse(n, args=[pk]) for n in URLS} | _tiles(),
                "keys": [[k.keys, k.act, k.when] for group in key_map().values() for k in group],
                "tools": {
                    kind.key: {
                        "name": kind.name,
                        "gesture": kind.tool.gesture,
                        "hint": kind.tool.hint,
                        "steered": kind.tool.steered,
                        **_limits(kind),
                    }
                    for kind in KINDS.values()
                    if kind.tool is not None
                },
            },
        },
    )


@login_required
@require_POST
def panels(request: HttpRequest, pk: int) -> HttpResponse:
    """Return the panels for the selection; by POST, because a long selection does not fit into an address."""
    project = own_project(request, pk)
    try:
        view = _view(request, posted(request))
        data = stored.readable_of(project.head)
        if effort_of(load(data), view.chosen) <= LIGHT:
            made = responses.asked(data, view)
        else:
            made = worker_pool.do("studio.editor.responses:asked", data, view)
    except SheetError as error:
        return refused(error)
    return JsonResponse({"panels": made, "revision": project.head.number})


TYPED = 8
"""How much heavier a preview for typed numbers may be than one for a moving pointer."""


@login_required
@require_POST
def preview(request: HttpRequest, pk: int) -> HttpResponse:
    """Return what a command would make of one outline, as a preview; nothing is stored."""
    project = own_project(request, pk)
    try:
        sent: Previewed = _sent(request, Previewed)
        if project.head.number != sent.revision:
            return refusal("That preview is out of date.", status=409)
        sheet = project.head.sheet
        # a pointer asks many times a second, typing a few times
        most = LIGHT if sent.command == "transform" else TYPED * LIGHT
        if effort_of(sheet, [sent.name]) > most:
            return refusal("That is too much to show while it moves; it appears when you release the pointer.")
        outcome = apply(sheet, sent.command, sent.args)
        after = outcome.sheet
        # a split replaces the item by another one
        there = present(after, [sent.name, *outcome.chosen])
        shown = there[0] if there else find(after, sent.name)
        paths = [outline_of(p) for p in pieces_of(shown)]
        rows = margins_of(after, shown, sent.of) if sent.margins and isinstance(shown, Piece) else ()
    except SheetError as error:
        return refused(error)
    margins = [{"number": m.number, "sides": m.sides, "even": m.even, "outline": m.path.to_svg(3)} for m in rows]
    return JsonResponse({"d": " ".join(p.to_svg(3) for p in paths), "margins": margins})


@login_required
@require_POST
def may(request: HttpRequest, pk: int) -> HttpResponse:
    """Return nothing if a command can begin with this selection, else why not and what to do."""
    project = own_project(request, pk)
    try:
        asked: May = _sent(request, May)
        kind = COMMANDS.get(asked.command, Command)
        error = kind.refusal(project.head.sheet, asked.ids)
    except SheetError as failed:
        error = failed
    return refused(error) if error else JsonResponse({})


@login_required
@require_POST
def rows(request: HttpRequest, pk: int) -> HttpResponse:
    """Return the rows of the stack that came into view."""
    project = own_project(request, pk)
    try:
        asked: Rows = _sent(request, Rows)
        view = ViewState.read({}, shelf.newest(request.user))
        return HttpResponse(lean(rows_html(project.head.sheet, view, asked.ids)))
    except SheetError as error:
        return refused(error)


@login_required
@require_GET
def snaps(request: HttpRequest, pk: int) -> HttpResponse:
    """Return the snapping candidates for a moved or drawn box."""
    project = own_project(request, pk)
    try:
        return JsonResponse({"revision": project.head.number, **make_snaps(project.head.sheet)})
    except SheetError as error:
        return refused(error)


@login_required
@require_GET
def template(request: HttpRequest, pk: int) -> HttpResponse:
    """Return the path of a piece, for drawing it live; fields as the tool has them.

    It is about 100 px large, or of the size given if something in it, such as a corner's
    radius, does not scale.
    """
    project = own_project(request, pk)
    kind = KINDS.get(request.GET.get("kind", ""))
    if kind is None or kind.sample is None:
        return refusal("There is no such piece.", status=400)
    shape, w, h = kind.sample(), 100.0, 100.0
    try:
        if kind.start is not None and "width" in request.GET:
            size = fixed_size(project.head.sheet, request.GET["width"], request.GET.get("height", ""), "")
            w, h = size[0] or w, size[1] or h
            shape = kind.start(w, h)
        for field in kind.fields:
            if field.field in request.GET:
                shape, _ = set_detail(project.head.sheet, shape, field.field, request.GET[field.field])
    except SheetError as error:
        return refused(error)
    return JsonResponse({"d": own_path(shape).to_svg(3), "w": w, "h": h, "natural": kind.natural(shape)})


@login_required
@require_GET
def tool_settings(request: HttpRequest, pk: int) -> HttpResponse:
    """Return the parsed settings of the drawing tools: size and proportion (px), and the colours of fill and
    border, #rrggbb or null."""
    project = own_project(request, pk)
    sheet = project.head.sheet
    size = (request.GET.get(name, "") for name in ("width", "height", "proportion"))
    texts = {name: request.GET.get(name, "") for name in ("fill", "stroke", "stroke_width")}
    try:
        width, height, proportion = fixed_size(sheet, *size)
        paint = FirstPaint(**texts).on(sheet, default_paint(sheet))
    except SheetError as error:
        return refused(error)
    sizes = {"width": width, "height": height, "proportion": proportion}
    return JsonResponse({**sizes, "fill": paint.fill, "stroke": paint.stroke})


@login_required
@require_POST
def now(request: HttpRequest, pk: int) -> HttpResponse:
    """Answer a window that was in the background: only the revision if the page knows it, else everything."""
    project = own_project(request, pk)
    if request.GET.get("revision") == str(project.head.number):
        return JsonResponse({"revision": project.head.number})
    try:
        view = _view(request, posted(request))
        return JsonResponse({**_project_state(project), **responses.whole(project.head.sheet, view)})
    except SheetError as error:
        return refused(error)


@login_required
@require_POST
def command(request: HttpRequest, pk: int) -> HttpResponse:
    """Run one command, undo, redo or stop; return the changes, a conflict with the whole sheet, or the refusal."""
    view = ViewState()
    try:
        sent: Sent = _sent(request, Sent)
    except SheetError as error:
        return refused(error, status=400)
    try:
        view = _view(request, sent.view or {})
        handler = changes.REQUESTS.get(sent.name)
        if handler is not None:
            done = handler(request.user, pk, sent, view)
        else:
            done = changes.run(request.user, pk, sent.id, sent.name, sent.args, sent.revision, view)
    except Project.DoesNotExist:
        raise Http404 from None
    except changes.Conflict:
        project = own_project(request, pk)
        answer = {**_project_state(project), **responses.whole(project.head.sheet, view)}
        answer["notice"] = "This project was changed in another window. This is its newest state; do that step again."
        return JsonResponse(answer, status=409)
    except SheetError as error:
        return refused(error)
    return JsonResponse({**_project_state(done.project, done.new), **done.answer})
