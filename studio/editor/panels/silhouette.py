"""The settings of a silhouette: of the selected photo, or of the silhouette traced from one."""

import json
from typing import Any

from django.urls import reverse

from sheet import Sheet, SheetError
from sheet.document.model import Item
from sheet.geometry.silhouettes import FIRST, default_deviation, default_smallest, on_sheet, shown_length, source_of

__all__ = ["context"]

WAYS = (("brightness", "Brightness"), ("tone", "A tone"), ("subject", "A subject"))
BRUSHES = (("fine", 0.006), ("middle", 0.02), ("broad", 0.06))
"""The radii of the brush, as shares of the photo's longer side."""


def _percent(value: float) -> str:
    return f"{100 * value:.3g}"


def context(sheet: Sheet, items: list[Item]) -> dict[str, Any]:
    """Return the panel; nothing unless one photo or silhouette is selected."""
    if len(items) != 1:
        return {}
    try:
        source = source_of(items[0])
        tracing = source.tracing or FIRST
        at, loop, marks = on_sheet(source, tracing)
    except (SheetError, ValueError):
        return {}

    def length(px: float) -> str:
        return shown_length(sheet, source, px) if px else ""

    is_traced = source.tracing is not None
    about = {
        "id": items[0].id,
        "name": source.name,
        "way": tracing.way,
        "at": at,
        "loop": loop,
        "marks": marks,
        "picture": reverse("photo_preview", args=[source.file]),
        "frame": [source.width, source.height, *source.placing.numbers()],
        "brushes": {name: share * source.longest * source.scale for name, share in BRUSHES},
    }
    lengths = (
        ("smooth", "Smooth", length(tracing.smooth), "0", "How far its edge is evened out"),
        ("grow", "Grow", length(tracing.grow), "0", "Grown by a length; shrunk where it is below 0"),
        (
            "smallest",
            "Smallest",
            length(tracing.smallest) if is_traced else "",
            length(default_smallest(source.longest)),
            "Parts and holes smaller than a square of that side are left out",
        ),
        (
            "deviation",
            "Accuracy",
            length(tracing.deviation) if is_traced else "",
            length(default_deviation(source.longest)),
            "How far its curves may be off what was found; more makes fewer nodes",
        ),
    )
    return {
        "silhouette": {
            "about": json.dumps(about),
            "traced": is_traced,
            "name": source.name,
            "ways": WAYS,
            "tracing": tracing,
            "level": "" if tracing.level is None else _percent(tracing.level),
            "tolerance": _percent(tracing.tolerance),
            "lengths": lengths,
            "unit": sheet.unit,
        }
    }
