"""Photos, and how they fit their outlines."""

from typing import Any

from django.template.loader import render_to_string

from sheet import Photo, Piece, Sheet
from sheet.commands.photo.framing import PutIn
from sheet.commands.photo.replacing import ring_of
from sheet.document.model import Group, Item
from sheet.document.tree import parent_of
from sheet.geometry import geometry
from sheet.geometry.covering import uncovered
from sheet.geometry.placing import outline_over, photo_under
from sheet.inspect.dimensions import px_per_inch
from sheet.inspect.preflight import is_low, wanted
from studio.editor.view_state import ViewState

from . import panes, silhouette

__all__ = ["html"]


def _row(sheet: Sheet, photo: Photo) -> dict[str, Any]:
    return {"photo": photo, "resolution": px_per_inch(sheet, photo), "low": is_low(sheet, photo)}


def _counted(rows: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Return the rows with equal ones merged, and the count of each."""
    out: dict[tuple, dict[str, Any]] = {}
    for row in rows:
        alike = out.setdefault((row["photo"].file, row["photo"].name, row["resolution"]), {**row, "count": 0})
        alike["count"] += 1
    return list(out.values())


SIDES = (
    ("left", "align-start"),
    ("centre", "align-center"),
    ("right", "align-end"),
    ("top", "align-top"),
    ("middle", "align-middle"),
    ("bottom", "align-bottom"),
)
"""The places where a photo can be aligned in its frame, with the icon of each."""


def _at_hand(frames: dict[str, Piece], items: list[Item]) -> tuple[Piece | None, Photo | None]:
    """Return the one frame being worked on, and its selected photo, or its top one."""
    if len(frames) != 1:
        return None, None
    (frame,) = frames.values()
    chosen = [i for i in items if isinstance(i, Photo) and i in frame.photos]
    return frame, (chosen or frame.photos)[-1]


def _view(frame: Piece, photo: Photo) -> dict[str, Any]:
    """Return the whole photo, with the frame's window on it, in px of the photo."""
    back = photo.placing.inverse()
    path = geometry.outline_of(frame).transform(back)
    x0, y0, x1, y1 = geometry.join_boxes([path.bounds or (0, 0, 0, 0), (0.0, 0.0, photo.width, photo.height)])
    box = geometry.window(frame, photo)
    return {
        "photo": photo,
        "box": f"{x0:.1f} {y0:.1f} {x1 - x0:.1f} {y1 - y0:.1f}",
        "width": x1 - x0,
        "height": y1 - y0,
        "window": path.to_svg(1),
        "veil": f"M{x0:.1f} {y0:.1f}H{x1:.1f}V{y1:.1f}H{x0:.1f}Z",
        "frame": " ".join(f"{v:.9g}" for v in (photo.width, photo.height, *photo.matrix)),
        "limits": " ".join(f"{v:.6f}" for v in box) if box and not frame.gaps and geometry.covers(frame, photo) else "",
    }


def html(sheet: Sheet, view: ViewState, items: list[Item]) -> str:
    """Return the drawer for the selection."""
    frames: dict[str, Piece] = {}
    for item in [p for i in items for p in (i.items if isinstance(i, Group) and i.panes is not None else (i,))]:
        frame = parent_of(sheet, item.id) if isinstance(item, Photo) else item
        if isinstance(frame, Piece) and frame.photos:
            frames[frame.id] = frame
    frame, photo = _at_hand(frames, items)
    pieces = [i for i in items if isinstance(i, Piece)]
    photos = [i for i in items if isinstance(i, Photo)]
    under = photo_under(sheet, pieces[0]) if len(pieces) == 1 and not photos else None
    over = outline_over(sheet, photos[0]) if len(photos) == 1 and not pieces else None
    context = {
        "view": _view(frame, photo) if frame is not None and photo is not None else None,
        "shares": [(f, round(100 * share)) for f in frames.values() if (share := uncovered(f)) > 0.0005],
        # "stay filled" needs a frame that is filled
        "gaps": all(f.gaps or uncovered(f) > 0.0005 for f in frames.values()),
        "sides": SIDES,
        "stand_out": ("top", "left", "right", "bottom"),
        "wanted": wanted(sheet),
        "frames": list(frames.values()),
        "chosen_photos": photos,
        "chosen_pieces": pieces,
        "under": under,
        "over": over,
        "ready": PutIn.refusal(sheet, [i.id for i in items]) is None,
        **panes.context(sheet, items),
        **silhouette.context(sheet, items),
        "ring": ring_of(frame, photo) if frame is not None and photo is not None and frame.tried else [],
        "at_hand": photo,
        "inside": _counted([_row(sheet, p) for f in frames.values() for p in f.photos]),
    }
    return render_to_string("panels/fit.html", context)
