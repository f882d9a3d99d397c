"""The jobs of the queue's workers: pure functions from the storage to the storage, without a database."""

from collections.abc import Iterator
from typing import Any

import msgspec

import sheet as sheets
from picture import format_of
from picture.progress import report_progress, watched
from picture.write.contact import contact_sheet
from picture.write.memory import ALWAYS, exporting
from sheet import Sheet, refusals
from sheet.document.tree import find
from sheet.export.batch import Shot, filled
from sheet.export.order import Order, ordered
from sheet.export.sizes import Exported
from studio.library.photos import Originals, any_originals, here, prepared
from studio.storage import Stored, photo_key, refuse_if_full

from .memory import reserved
from .queue import task

__all__ = ["as_plain", "contact", "export", "prepare", "shoot"]


def as_plain(what: Exported) -> dict[str, Any]:
    """Return an exported file as plain numbers and ids."""
    plain = {name: getattr(what, name) for name in ("box", "scale", "resolution", "width", "height")}
    return {**plain, "ids": [i.id for i in what.items]}


def _of(sheet: Sheet, plain: dict[str, Any]) -> Exported:
    numbers = {**plain, "box": tuple(plain["box"])}
    return Exported(tuple(find(sheet, i) for i in numbers.pop("ids")), **numbers)


@task
def prepare(owner: int, sha256: str, name: str) -> dict[str, Any]:
    """Make the small copy of a photo in the storage, and return its metadata. Raises PictureError."""
    source = here(Stored(photo_key(sha256)), name)
    return {"owner": owner, "sha256": sha256, **prepared(source, sha256, name)}


@task
def export(
    sheet: str, order: dict[str, Any], files: list[dict[str, Any]], to: str, patience: float | None = None
) -> int:
    """Write a file of a sheet, or several as the pages of one; return its size (bytes).

    `sheet` is the storage key of the sheet, `to` that of the file, whose name depends on its
    input: if it exists already, nothing is done. It waits for
    memory, at most `patience` seconds. Raises SheetError and PictureError.
    """
    kept = Stored(to)
    if kept.exists():
        return kept.size
    read = sheets.load(Stored(sheet).read_bytes())
    asked = msgspec.convert(order, Order)
    out, load = format_of(asked.format), any_originals()
    with refusals():
        parts = [_of(read, plain) for plain in files]
        with reserved(exporting(read, parts, asked, load.place), patience), refuse_if_full():
            data = out.write(read, parts[0], load, asked) if len(parts) == 1 or out.pages is None else None
            if data is None and out.pages is not None:
                data = out.pages(read, parts, load, asked)
    assert data is not None
    # a file that is being written is completed
    with watched(lambda share: None):
        kept.write(data)
    return len(data)


@task
def shoot(sheet: str, frames: list[str], shots: list[dict[str, Any]], order: dict[str, Any], to: str) -> int:
    """Write the file of a batch's photo, or of as many as its sheet has frames; return its size (bytes).

    It is the export of the frame with that photo in it. The name `to` depends on the
    input: if it exists already, nothing is done. Raises SheetError and PictureError.
    """
    kept = Stored(to)
    if kept.exists():
        return kept.size
    data = shot(sheets.load(Stored(sheet).read_bytes()), frames, shots, order, any_originals())
    with watched(lambda share: None):
        kept.write(data)
    return len(data)


def shot(sheet: Sheet, frames: list[str], shots: list[dict[str, Any]], order: dict[str, Any], load: Originals) -> bytes:
    """Return the file of a sheet with photos in its frames. Raises SheetError and PictureError."""
    asked = msgspec.convert(order, Order)
    out = format_of(asked.format)
    with refusals():
        made = filled(sheet, frames, msgspec.convert(shots, list[Shot]))
        what = ordered(made, asked)[0]
        with reserved(exporting(made, [what], asked, load.place)), refuse_if_full():
            return out.write(made, what, load, asked)


@task
def contact(cells: list[dict[str, Any]], frames: list[str], order: dict[str, Any], title: str, to: str) -> int:
    """Write the contact sheet of a batch as a PDF; return its size (bytes).

    Each cell has the storage key of a file's sheet, its photos and its name.
    Raises SheetError and PictureError.
    """
    kept = Stored(to)
    if kept.exists():
        return kept.size
    asked = msgspec.convert(order, Order)

    def drawn() -> Iterator[tuple[Sheet, Exported, str]]:
        for number, cell in enumerate(cells):
            report_progress(0.5 * number / len(cells))
            read = sheets.load(Stored(cell["sheet"]).read_bytes())
            made = filled(read, frames, msgspec.convert(cell["shots"], list[Shot]))
            yield made, ordered(made, asked)[0], cell["name"]

    with refusals(), reserved(ALWAYS):
        data = contact_sheet(drawn(), title, any_originals())
    with watched(lambda share: None):
        kept.write(data)
    return len(data)
