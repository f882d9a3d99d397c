"""Colours for the Finish station: of one point of the sheet, and of the selected item's photos."""

import base64
import io

from django.conf import settings
from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET
from PIL import Image

from picture.draw.colours import SIZES, mean_of, sample, swatches_of
from picture.errors import PictureError
from sheet import Piece, SheetError
from sheet.document.gradients import flat
from sheet.document.tree import photos_of, present
from sheet.reading.colours import contrast
from studio.http import own_project, refusal, refused
from studio.library.photos import originals, previews
from studio.work.memory import reserved

MAX_COLOURS = 6
"""The most photos whose colours are shown."""
FEW = 0.12
"""The share of a photo's size at which its colours are looked for."""


@login_required
@require_GET
def sampled(request: HttpRequest, pk: int) -> HttpResponse:
    """Return the colour at a point of the sheet, and the px around it as a picture; `fine` reads the originals."""
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
        sheet = project.head.sheet
        largest = max((4 * p.width * p.height for p in photos_of(sheet.items)), default=0)
        # if the originals are too large for memory, the small copies are nearly the same
        if 2 * largest > settings.GOUGE_BUDGET * 1_000_000:
            load = previews(request.user)
        with reserved(largest if request.GET.get("fine") else 0, settings.GOUGE_SECONDS):
            found = sample(sheet, x, y, size, load)
    except (SheetError, PictureError) as error:
        return refused(error)
    out = io.BytesIO()
    Image.fromarray(found.pixels, "RGBA").save(out, "PNG")
    picture = f"data:image/png;base64,{base64.b64encode(out.getvalue()).decode()}"
    return JsonResponse({"color": found.color, "picture": picture})


@login_required
@require_GET
def colours(request: HttpRequest, pk: int) -> HttpResponse:
    """Return six colours of each photo of the selected item, and how its border stands out (WCAG contrast ratios)."""
    project = own_project(request, pk)
    load = previews(request.user)
    try:
        sheet = project.head.sheet
        items = present(sheet, [request.GET.get("id", "")]) or list(sheet.items)
        photos = list({p.file: p for p in photos_of(items)}.values())[:MAX_COLOURS]
        images = [load(p, FEW) for p in photos]
    except (SheetError, PictureError) as error:
        return refused(error)
    piece = items[0] if len(items) == 1 else None
    ground = (("backdrop", sheet.backdrop), ("photo", mean_of(images[0]) if images else None))
    context = {
        "photos": [(p.name, swatches_of(image)) for p, image in zip(photos, images, strict=True)],
        "contrasts": [
            (word, f"{contrast(flat(piece.paint.stroke) or color, color):.1f}")
            for word, color in ground
            if color and isinstance(piece, Piece) and piece.paint.stroke
        ],
    }
    return render(request, "panels/photo_colours.html", context)
