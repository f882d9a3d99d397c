"""The shelf: its page, its tiles in Draw, adding, editing, exporting and importing."""

import tempfile
from typing import Annotated, Any

import msgspec
from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.cache import cache_control
from django.views.decorators.http import require_GET, require_POST
from msgspec import Meta

from outline import OutlineError
from picture import PictureError, format_of
from picture.svg_in.plain import is_svg
from sheet import SheetError
from sheet.document.limits import Id, MaybeId, Typed, clean_name
from sheet.document.model import VARIANTS, Variant
from sheet.export.order import Order, ordered
from sheet.geometry.geometry import box_of
from sheet.geometry.variants import variant_size
from studio.editor.panels import lean
from studio.editor.panels.draw import ready_tiles
from studio.history import changes
from studio.http import file_response, led, own_project, posted, refusal, refused
from studio.models import ShelfItem
from studio.operations.upload_limits import OUTLINES, takes

from . import shelf, shelf_files
from .archive import is_packed
from .lookup import Owned
from .photos import previews, store_drawing
from .thumbs import PICTURE_SIDE, thumb_of

__all__ = [
    "by_hand",
    "drop",
    "independent",
    "add",
    "page",
    "picture",
    "ready",
    "receive",
    "rename",
    "restore",
    "send",
    "shelf_open",
    "tiles",
    "variants",
]


class Asked(msgspec.Struct, frozen=True):
    """What to add: an item, its name and tags, or a new version `of` an outline, in one of its variants."""

    id: Id
    revision: int
    name: Typed = ""
    tags: Typed = ""
    of: Annotated[str, Meta(pattern=r"^([0-9a-f]{32})?\Z")] = ""
    variant: Variant = ""
    into: MaybeId = ""


def _own(request: HttpRequest, pk: int, deleted: bool = False) -> ShelfItem:
    """Return an outline of the person's own shelf, or answer 404."""
    items = ShelfItem.objects.filter(owner=request.user, deleted__isnull=not deleted)
    one: ShelfItem = get_object_or_404(items, pk=pk)
    return one


def _variant(request: HttpRequest) -> str:
    asked_variant = (request.POST if request.method == "POST" else request.GET).get("variant", "")
    if asked_variant not in VARIANTS:
        raise Http404
    return asked_variant


@login_required
@require_GET
def page(request: HttpRequest) -> HttpResponse:
    """Show the shelf."""
    return render(request, "studio/shelf.html", {"tiles": shelf.tiles(request.user)})


@login_required
@require_GET
def tiles(request: HttpRequest) -> HttpResponse:
    """Return the tiles of the Draw drawer."""
    return render(request, "studio/shelf_tiles.html", {"tiles": shelf.tiles(request.user)})


@login_required
@require_GET
@cache_control(private=True, max_age=86400)
def ready(request: HttpRequest) -> HttpResponse:
    """Return the tiles of the ready outlines; the address has their version."""
    return HttpResponse(lean(ready_tiles()))


@login_required
@require_POST
def add(request: HttpRequest, pk: int) -> HttpResponse:
    """Add an item to the shelf; return its number, version and name, or the refusal."""
    project = own_project(request, pk)
    try:
        asked = msgspec.convert(posted(request), Asked)
        if project.head.number != asked.revision:
            return refusal("This project was changed in another window.", "Do that step again.", status=409)
        one, lost = shelf.add(
            request.user, project.head.sheet, asked.id, asked.name, asked.tags, asked.of, asked.variant
        )
    except msgspec.ValidationError:
        return refusal("That didn’t work.", "Reload the page.", status=400)
    except SheetError as error:
        return refused(error, "name")
    words = ""
    if lost:
        words = f"Its {' and '.join(lost)} could not follow, and stay{'s' if len(lost) == 1 else ''} as before."
    return JsonResponse(
        {"item": one.key, "version": one.made, "name": one.name, "variant": asked.variant, "note": words}
    )


@login_required
@require_GET
@cache_control(private=True, max_age=31536000, immutable=True)
def picture(request: HttpRequest, pk: int) -> HttpResponse:
    """Return a picture of a shelf outline; its address has the version."""
    one = get_object_or_404(ShelfItem, owner=request.user, pk=pk)
    version = one.versions.filter(variant=_variant(request)).order_by("-number").first()
    if version is None:
        raise Http404
    try:
        return HttpResponse(thumb_of(version.sheet, Order(), request.user, PICTURE_SIDE), content_type="image/png")
    except SheetError:
        raise Http404 from None


@login_required
@require_POST
def shelf_open(request: HttpRequest, pk: int) -> HttpResponse:
    """Start a project with the outline on it, to edit it."""
    one = _own(request, pk)
    variant = _variant(request)
    try:
        first = shelf.on_own_sheet(one, variant)
        name = f"{one.name}, {variant}" if variant else one.name
        return redirect(changes.start(request.user, clean_name(name), first))
    except SheetError as error:
        messages.error(request, str(error))
        return redirect("shelf")


@login_required
@require_POST
def by_hand(request: HttpRequest, pk: int, variant: str) -> HttpResponse:
    """Start a project in which an outline is refitted by hand, to become one of its variants."""
    one = _own(request, pk)
    try:
        if variant not in VARIANTS[1:]:
            raise SheetError("There is no such variant.", "Choose landscape, square or portrait.", "variant")
        first = shelf.on_own_sheet(one, variant)
        x0, y0, x1, y1 = box_of(first.items[0])
        wide, high = variant_size(x1 - x0, y1 - y0, variant)
        project = changes.start(request.user, clean_name(f"{one.name}, {variant}"), first)
        return redirect(f"{project.get_absolute_url()}?refit={wide:.6g}x{high:.6g}")
    except SheetError as error:
        messages.error(request, str(error))
        return redirect("shelf")


@login_required
@require_POST
def rename(request: HttpRequest, pk: int) -> HttpResponse:
    """Change an outline's name and tags."""
    one = _own(request, pk)
    one.name = clean_name(request.POST.get("name", "")) or one.name
    one.tags = clean_name(request.POST.get("tags", ""), 200)
    one.save()
    return redirect("shelf")


@login_required
@require_POST
def variants(request: HttpRequest, pk: int) -> HttpResponse:
    """Make the missing landscape, square and portrait."""
    one = _own(request, pk)
    try:
        made, lost = shelf.make_variants(one)
    except (SheetError, OutlineError) as error:
        made, lost = [], {"": str(error)}
    if made:
        messages.success(request, f"“{one.name}” has a {' and a '.join(made)} now.")
    for word, why in lost.items():
        what = f"a {word} of “{one.name}” was not made" if word else f"variants of “{one.name}” were not made"
        at = reverse("shelf_by_hand", args=(one.pk, word)) if word else ""
        messages.error(request, f"{what[0].upper()}{what[1:]}. {why}", extra_tags=f"by-hand:{at}" if at else "")
    if not made and not lost:
        messages.info(request, f"“{one.name}” has all its variants.")
    return redirect("shelf")


@login_required
@require_POST
def independent(request: HttpRequest, pk: int) -> HttpResponse:
    """Stop a variant from following its source."""
    one = _own(request, pk)
    try:
        shelf.make_independent(one, _variant(request))
    except SheetError as error:
        messages.error(request, str(error))
    return redirect("shelf")


@login_required
@require_POST
def drop(request: HttpRequest, pk: int) -> HttpResponse:
    """Take an outline off the shelf."""
    one = _own(request, pk)
    shelf.drop(one)
    messages.success(request, f"“{one.name}” was taken off the shelf. Projects that use it keep theirs.", f"shelf:{pk}")
    return redirect("shelf")


@login_required
@require_POST
def restore(request: HttpRequest, pk: int) -> HttpResponse:
    """Put it back."""
    shelf.restored(_own(request, pk, deleted=True))
    return redirect("shelf")


@login_required
@require_GET
def send(request: HttpRequest, pk: int) -> HttpResponse:
    """Return an outline as a file: ours, with its variants, or SVG."""
    one = _own(request, pk)
    out = tempfile.TemporaryFile()  # noqa: SIM115  the response closes it
    try:
        if request.GET.get("form") == "svg":
            last = one.versions.filter(variant=_variant(request)).order_by("-number").first()
            if last is None:
                raise Http404
            order = Order(format="svg")
            what = ordered(last.sheet, order)[0]
            out.write(format_of("svg").write(last.sheet, what, previews(request.user), order))
            return file_response(out, f"{one.name}.svg", "image/svg+xml")
        shelf_files.send(one, out)
        return file_response(out, f"{one.name}.gouge", "application/zip")
    except (SheetError, PictureError, OutlineError) as error:
        messages.error(request, f"“{one.name}” was not saved as a file. {error}")
        return redirect("shelf")


def _received(owner: Any, upload: Any) -> ShelfItem:
    if is_packed(upload.file):
        return shelf_files.receive(owner, upload.file)
    head = upload.read(4000)
    upload.seek(0)
    if not is_svg(head):
        raise SheetError("It isn’t a Gouge file or an SVG.", "Choose a .gouge file or an SVG.")
    file, name = store_drawing(owner, upload)
    return shelf_files.receive_drawing(owner, clean_name(name), Owned(owner).drawing(file, 1.0).items, 96.0)


@takes(OUTLINES)
@login_required
@require_POST
def receive(request: HttpRequest) -> HttpResponse:
    """Add outlines from files to the shelf; name each that fails."""
    files = request.FILES.getlist("file")
    if not files:
        messages.error(request, "No file came with that. Choose a .gouge file or an SVG.")
    for upload in files[:100]:
        try:
            one = _received(request.user, upload)
            messages.success(request, f"“{one.name}” is on the shelf.")
        except (SheetError, PictureError, OutlineError) as error:
            messages.error(request, f"“{clean_name(upload.name or 'That file')}” couldn’t be added. {error}")
    return led(request, "shelf")
