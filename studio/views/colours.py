"""Colours for the Finish station: one place of the sheet, and those of the chosen item's photos."""

import base64
import io

from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.views.decorators.http import require_GET
from PIL import Image

from picture.colours import SIZES, mean_of, sample, swatches_of
from picture.errors import PictureError
from sheet import Photo, Piece, Sheet, SheetError
from sheet.colours import contrast
from sheet.model import Group, Item
from sheet.tree import present

from ..photos import originals, previews
from .common import own_project, refusal, refused

FEW = 0.12
"""The share of a photo's size that its few colours are looked for at."""


@login_required
@require_GET
def sampled(request: HttpRequest, pk: int) -> HttpResponse:
    """Answer the colour at a place of the sheet, and the px about it as a picture; `fine` asks the originals."""
    project = own_project(request, pk)
    try:
        x, y = float(request.GET.get("x", "")), float(request.GET.get("y", ""))
        size = int(request.GET.get("size", "1"))
    except ValueError:
        return refusal("A place and a size are numbers.", "Point at the sheet.", status=400)
    if size not in SIZES or not (abs(x) < 1e7 and abs(y) < 1e7):
        return refusal("That place cannot be sampled.", "Point at the sheet.", status=400)
    load = originals(request.user) if request.GET.get("fine") else previews(request.user)
    try:
        found = sample(project.head.sheet, x, y, size, load)
    except (SheetError, PictureError) as error:
        return refused(error)
    out = io.BytesIO()
    Image.fromarray(found.pixels, "RGBA").save(out, "PNG")
    picture = f"data:image/png;base64,{base64.b64encode(out.getvalue()).decode()}"
    return JsonResponse({"color": found.color, "picture": picture})


def _photos(items: list[Item]) -> list[Photo]:
    out: list[Photo] = []
    for item in items:
        if isinstance(item, Photo):
            out.append(item)
        elif isinstance(item, Group):
            out += _photos(list(item.items))
        else:
            out += item.photos
    return list({p.file: p for p in out}.values())


@login_required
@require_GET
def colours(request: HttpRequest, pk: int) -> HttpResponse:
    """Answer six colours of each photo of the chosen item, and how the border stands out (WCAG contrast ratios)."""
    project = own_project(request, pk)
    try:
        sheet = project.head.sheet
        items = present(sheet, [request.GET.get("id", "")]) or list(sheet.items)
        load = previews(request.user)
        rows = []
        means = []
        for photo in _photos(items)[:6]:
            image = load(photo, FEW)
            rows.append({"name": photo.name, "colors": swatches_of(image)})
            means.append(mean_of(image))
    except (SheetError, PictureError) as error:
        return refused(error)
    return JsonResponse({"photos": rows, "contrast": _contrast(sheet, items, means)})


def _contrast(sheet: Sheet, items: list[Item], means: list[str | None]) -> list[dict[str, str]]:
    piece = items[0] if len(items) == 1 else None
    if not isinstance(piece, Piece) or piece.paint.stroke is None:
        return []
    told = []
    for word, color in (("backdrop", sheet.backdrop), ("photo", means[0] if means else None)):
        if color:
            told.append({"to": word, "ratio": f"{contrast(piece.paint.stroke, color):.1f}"})
    return told
