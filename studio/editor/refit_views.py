"""Live preview of a refit, while the pointer changes the proportion."""

import math
from typing import Any

import msgspec
from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.views.decorators.http import require_GET, require_POST
from msgspec.structs import replace

from picture import fragment
from sheet import Piece, Sheet, SheetError, read
from sheet.commands.arrange.refitting import Refit
from sheet.commands.shelving import in_box
from sheet.document.errors import Offer, refusals
from sheet.document.limits import Key, Size
from sheet.document.model import Hold, Variant
from sheet.document.tree import walk
from sheet.geometry.anchor_plan import refitted_parts, stretched
from sheet.geometry.anchoring import bands_on_sheet, can_anchor, has_bands
from sheet.geometry.geometry import box_of, outline_of, pieces_of
from sheet.geometry.refit import TooSmall
from sheet.inspect.effort import LIGHT, effort_of
from sheet.reading.lengths import show_length
from studio.http import own_project, refusal, refused, tried
from studio.library.lookup import Owned

from .responses import href

__all__ = ["refit", "shelved"]

HEAVY = 8 * LIGHT
"""The most work for a live preview."""
MOST_PINS = 60

WORDS: dict[str, dict[Hold, str]] = {
    "x": {"near": "to the left", "middle": "to the middle", "far": "to the right"},
    "y": {"near": "to the top", "middle": "to the middle", "far": "to the bottom"},
}
for _axis in WORDS.values():
    _axis |= {"both": "to both sides", "scale": "scaled"}


@login_required
@require_POST
def refit(request: HttpRequest, pk: int) -> HttpResponse:
    """Return the command's result, drawn, with the pins of its parts or its bands; nothing is stored."""
    asked = tried(request, pk)
    if isinstance(asked, HttpResponse):
        return asked
    project, args = asked
    try:
        sheet = project.head.sheet
        command = read("refit", args)
        assert isinstance(command, Refit)
        if effort_of(sheet, [command.id]) > HEAVY:
            return refusal("That is too much to show while it changes.", "Type a size and accept it.")
        try:
            given, made, note = command.worked_out(sheet)
        except TooSmall as error:
            error.offer = _as_small_as_it_goes(sheet, command, error)
            raise
    except SheetError as error:
        return refused(error)
    x0, y0, x1, y1 = made_at = box_of(made)
    size = [show_length(v, sheet.unit, sheet.resolution) for v in (x1 - x0, y1 - y0)]
    bands = {}
    if isinstance(given, Piece) and isinstance(made, Piece) and has_bands(given):
        bands = {
            axis: {"was": bands_on_sheet(given, k), "now": bands_on_sheet(made, k)} for k, axis in enumerate(("x", "y"))
        }
    was = box_of(given)
    changed = [abs((made_at[k + 2] - made_at[k]) - (was[k + 2] - was[k])) > 1e-9 * made_at[k + 2] for k in (0, 1)]
    ids = {i.id for axis in (0, 1) if changed[axis] for i in stretched(given, axis)}
    marked = [box_of(i) for i, _ in walk(made) if i.id in ids]
    pins = [_pin(p) for p in list(refitted_parts(made))[:MOST_PINS]]
    return JsonResponse(
        {
            "art": fragment(made, href, inside=False),
            "box": [x0, y0, x1, y1],
            "size": size,
            "note": note,
            "pins": pins,
            "bands": bands,
            "stretched": marked,
        }
    )


def _as_small_as_it_goes(sheet: Sheet, command: Refit, error: TooSmall) -> Offer | None:
    """Return a button for the least size, if that is what stopped a refit, and not one of its parts."""
    size = {"width": command.width, "height": command.height}
    size[("width", "height")[error.axis]] = math.ceil(1000 * error.least) / 1000
    try:
        replace(command, **size).worked_out(sheet)
    except SheetError:
        return None
    return f"Make it {error.size}", "page:refit-to", size


@login_required
@require_GET
def shelved(request: HttpRequest, pk: int) -> HttpResponse:
    """Return the path of a shelf outline in a box of so many px, while it is being drawn."""
    try:
        own_project(request, pk)
        asked = msgspec.convert(request.GET.dict(), _Boxed, strict=False)
        found = Owned(request.user).shelved(asked.item, asked.variant)
        with refusals():
            made, _ = in_box(found.item, (0, 0, asked.width, asked.height))
    except msgspec.ValidationError as error:
        return refusal(str(error), status=400)
    except SheetError as error:
        return refused(error)
    return JsonResponse({"d": " ".join(outline_of(p).to_svg(2) for p in pieces_of(made))})


class _Boxed(msgspec.Struct, frozen=True):
    item: Key
    width: Size
    height: Size
    variant: Variant = ""


def _pin(part: Any) -> dict[str, Any]:
    x0, y0, x1, y1 = part.box
    holds = part.holds
    return {
        "id": part.item.id,
        "name": part.item.name,
        "at": [(x0 + x1) / 2, (y0 + y1) / 2],
        "x": holds.x,
        "y": holds.y,
        "can": can_anchor(part.item),
        "words": f"{part.item.name}: across {WORDS['x'][holds.x]}, down {WORDS['y'][holds.y]}",
    }
