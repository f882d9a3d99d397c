"""Batches: one frame over many photos; the queue makes each file, and only those that changed."""

import csv
import hashlib
import io
import tempfile
import zipfile
from collections.abc import Iterable
from pathlib import PurePath
from typing import IO, Any, Final

import msgspec
from django.db import transaction
from django.db.models import Max

import sheet as sheets
from outline import Matrix
from picture import format_of
from sheet import Sheet, SheetError
from sheet.document.library import PhotoFacts
from sheet.document.limits import clean_name
from sheet.document.model import Group, Item, Photo
from sheet.document.tree import find
from sheet.export.batch import WHERES, Seat, Shot, box_in, filled, frame_named, seat_by, sheet_for, variants_of
from sheet.export.filenames import file_names
from sheet.export.order import Order, ordered
from sheet.geometry.geometry import Box, box_of
from sheet.geometry.placing import moved
from sheet.geometry.variants import proportion_of
from studio.library import print_profiles, shelf
from studio.library.photos import interest
from studio.models import Batch, BatchPhoto, PhotoFile, Project
from studio.storage import FULL, Stored, sheet_key
from studio.work import queue

from .exports import with_title

__all__ = [
    "MAX_BATCH",
    "add",
    "ask_contact",
    "begin",
    "contact_state",
    "file_box",
    "filled_sheet",
    "followed",
    "forget",
    "halt",
    "order_of",
    "outdated",
    "packed",
    "set_variants",
    "start",
    "sizes",
]

MAX_BATCH: Final = 5000
"""The most photos in a batch."""
LOOK: Final = 24
"""How many waiting jobs in a row are asked about; those behind them wait too."""


def _store_sheet(owner: int, sheet: Sheet) -> str:
    """Store a person's sheet under a name made from its content; return its key."""
    data = sheets.dump(sheet)
    stored = Stored(sheet_key(owner, data))
    if not stored.exists():
        stored.write(data)
    return stored.key


def _read(key: str) -> Sheet:
    try:
        return sheets.load(Stored(key).read_bytes())
    except OSError:
        raise SheetError("The sheet of this batch was deleted.", "Begin the batch again.") from None


_AS_BEFORE: Final = (
    "format", "quality", "lossless", "full_chroma", "palette", "own_profile", "packing", "effort", "ground",
    "standard", "profile", "inks", "author",
)  # fmt: skip
"""What a batch takes over from the project's last export."""


def begin(owner: Any, project: Project | None, name: str, sheet: Sheet, ids: list[str]) -> Batch:
    """Start a batch with frames of a sheet: those named, else all that have photos. Raises SheetError."""
    if not ids:
        ids = [i.id for i in sheet.items if not i.hidden and not isinstance(i, Photo) and _has_photo(i)]
    if not ids:
        raise SheetError(
            "There is no frame on the sheet for a batch.", "Select an outline, or put a photo in one.", "ids"
        )
    for item_id in ids:
        frame_named(sheet, item_id)
        if not any(i.id == item_id for i in sheet.items):
            raise SheetError(f"“{find(sheet, item_id).name}” is inside something else.", "Step out first.", "ids")
    what = ids[0] if len(ids) == 1 else "sheet"
    last = {key: value for key, value in (project.export if project else {}).items() if key in _AS_BEFORE}
    order = {**msgspec.to_builtins(Order(format="jpg")), **last, "what": what, "pattern": "{photo}"}
    return Batch.objects.create(
        owner=owner,
        project=project,
        name=clean_name(name) or "Batch",
        frames=ids,
        sheets={"": _store_sheet(owner.pk, sheet)},
        order=order,
    )


def _has_photo(item: Any) -> bool:
    return any(_has_photo(i) for i in item.items) if isinstance(item, Group) else bool(getattr(item, "photos", ()))


def order_of(batch: Batch) -> Order:
    """Return the export order of the batch."""
    return with_title(msgspec.convert(batch.order, Order), batch.project or batch)


def add(batch: Batch, photos: Iterable[PhotoFile]) -> tuple[int, int]:
    """Add photos at the end; return how many were added, and how many were in it already and are skipped.

    Raises SheetError if the batch would have too many.
    """
    with transaction.atomic():
        have = set(batch.photos.values_list("photo_id", flat=True))
        fresh: list[PhotoFile] = []
        twice = 0
        for photo in photos:
            if photo.pk in have:
                twice += 1
                continue
            have.add(photo.pk)
            fresh.append(photo)
        if len(have) > MAX_BATCH:
            raise SheetError(f"A batch takes up to {MAX_BATCH:,} photos.", "Begin another one for the rest.", "photos")
        last = batch.photos.aggregate(last=Max("position"))["last"]
        first = 0 if last is None else last + 1
        BatchPhoto.objects.bulk_create(
            [BatchPhoto(batch=batch, position=first + k, photo=photo) for k, photo in enumerate(fresh)]
        )
        batch.save()
    return len(fresh), twice


def set_variants(batch: Batch, on: bool) -> dict[str, str]:
    """Let each photo use the frame in the proportion nearest to its own, or all of them the same.

    Returns why some proportions are missing, by their words. Raises SheetError.
    """
    if len(batch.frames) != 1:
        raise SheetError(
            "A sheet with several frames has one proportion.", "Batch a single frame for that.", "variants"
        )
    sheet = _read(batch.sheets[""])
    made, lost = variants_of(sheet, batch.frames[0], _on_shelf(batch, sheet)) if on else ({"": sheet}, {})
    batch.sheets = {word: _store_sheet(batch.owner_id, one) for word, one in made.items()}
    batch.save()
    return lost


def _on_shelf(batch: Batch, sheet: Sheet) -> dict[str, Item]:
    """Return the shelf's variants of a batch's frame, in its size, by their words."""
    item = find(sheet, batch.frames[0])
    mark = None if isinstance(item, Photo) else item.shelf_link
    if mark is None:
        return {}
    m = Matrix(*mark.matrix)
    out: dict[str, Item] = {}
    for key in shelf.newest(batch.owner):
        item_key, _, variant = key.partition(" ")
        if item_key == mark.item:
            found = shelf.shelved(batch.owner, mark.item, variant).item
            x0, y0, x1, y1 = box_of(found)
            placed = moved(found, m, details=True)
            out[variant or proportion_of(x1 - x0, y1 - y0)] = placed
    return out


def outdated(batch: Batch, since: int = 0) -> None:
    """Mark files, from a position on, as out of date. Names alone do not make them so."""
    batch.photos.filter(state=BatchPhoto.DONE, position__gte=since).update(state=BatchPhoto.NEW)


class BatchSource:
    """The sheets of a batch, read once, and the places of photos on them."""

    def __init__(self, batch: Batch):
        self.batch = batch
        self.sheets = {word: _read(key) for word, key in batch.sheets.items()}

    def word(self, photo: PhotoFile) -> str:
        """Return the sheet for a photo, with the frame refitted if no proportion is near."""
        return sheet_for(self.sheets, self.batch.frames[0], photo.width, photo.height)

    def boxes(self, word: str) -> list[Box]:
        """Return the boxes of a sheet's frames."""
        return [box_in(find(self.sheets[word], i)) for i in self.batch.frames]

    def key(self, word: str) -> str:
        """Return the storage key of a sheet; a refitted one is stored now, once the batch is saved."""
        if word not in self.batch.sheets:
            self.batch.sheets[word] = _store_sheet(self.batch.owner_id, self.sheets[word])
        key: str = self.batch.sheets[word]
        return key

    def shot(self, row: BatchPhoto, word: str, place: int) -> Shot:
        """Return a photo and its place in one of the frames."""
        photo = row.photo
        shown = tuple(photo.shown) if photo.shown else None
        name = clean_name(photo.name, 200) or "photo"
        facts = PhotoFacts(photo.sha256, name, photo.width, photo.height, photo.has_alpha, shown)
        if row.seat is not None:
            return Shot(facts, msgspec.convert(row.seat, Seat))
        where = self.batch.where if self.batch.where in WHERES else "centred"
        spot = interest(photo) if where != "centred" else None
        return Shot(facts, seat_by(where, self.boxes(word)[place], photo.width, photo.height, spot))  # type: ignore[arg-type]

    def lots(self, rows: list[BatchPhoto]) -> list[tuple[str, list[BatchPhoto], list[Shot]]]:
        """Return the photos of each file: one, or as many as the sheet has frames."""
        many = len(self.batch.frames)
        out = []
        for k in range(0, len(rows), many):
            lot = rows[k : k + many]
            word = self.word(lot[0].photo)
            out.append((word, lot, [self.shot(r, word, place) for place, r in enumerate(lot)]))
        return out


def filled_sheet(batch: Batch, rows: list[BatchPhoto]) -> Sheet:
    """Return the sheet with the photos of one file in its frames. Raises SheetError."""
    source = BatchSource(batch)
    ((word, _, shots),) = source.lots(rows)
    return filled(source.sheets[word], batch.frames, shots)


def file_box(batch: Batch, rows: list[BatchPhoto]) -> tuple[float, float, float, float]:
    """Return the box (px of the sheet) of the file that photos go into. Raises SheetError."""
    return ordered(filled_sheet(batch, rows), Order(what=order_of(batch).what))[0].box


def sizes(batch: Batch) -> list[tuple[str, int, int]]:
    """Return the proportions a batch has, each with the px of its files. Raises SheetError."""
    source, order = BatchSource(batch), order_of(batch)
    blank = PhotoFacts("0" * 64, "photo", 300, 200)
    out = []
    for word, sheet in source.sheets.items():
        if " " in word:
            continue
        what = ordered(filled(sheet, batch.frames, [Shot(blank)] * len(batch.frames)), order)[0]
        out.append((word, what.width, what.height))
    return out


def start(batch: Batch, again: Iterable[int] | None = None) -> int:
    """Make the files that are out of date; return how many.

    With `again`, only those at these positions, which failed before. Raises SheetError or OutlineError.
    """
    rows = list(batch.photos.select_related("photo"))
    if not rows:
        raise SheetError("The batch has no photos.", "Drop some on the page, or take those of the project.", "photos")
    order = order_of(batch)
    print_profiles.check_usable(order)
    out = format_of(order.format)
    ending, _ = out.filed(order)
    source = BatchSource(batch)
    lots = source.lots(rows)
    blank = Shot(PhotoFacts("0" * 64, "photo", 300, 200))
    like = {
        word: ordered(filled(sheet, batch.frames, [blank] * len(batch.frames)), order)[0]
        for word, sheet in source.sheets.items()
    }
    stems = [PurePath(lot[0].photo.name).stem for _, lot, _ in lots]
    names = file_names(order.pattern, batch.name, [like[word] for word, _, _ in lots], stems)
    # a name belongs to the file only, and does not change its content
    settings_of = msgspec.to_builtins(order) | {"pattern": ""}
    only = None if again is None else set(again)
    jobs: list[queue.Job] = []
    begun: list[BatchPhoto] = []
    changed: list[BatchPhoto] = []
    for (word, lot, shots), name in zip(lots, names, strict=True):
        leader, *others = lot
        plain = msgspec.to_builtins(shots)
        made_of = msgspec.json.encode([source.key(word), batch.frames, plain, settings_of])
        to = f"runs/{batch.pk}/{hashlib.sha256(made_of).hexdigest()}.{ending}"
        leader.name = f"{name}.{ending}"
        changed.append(leader)
        for row in others:
            row.key, row.job, row.state, row.name, row.why = "", "", BatchPhoto.NEW, "", ""
            changed.append(row)
        if leader.key == to and leader.state == BatchPhoto.WAITING:
            continue
        if leader.key == to and leader.size and Stored(to).exists():
            leader.state, leader.why = BatchPhoto.DONE, ""
            continue
        if only is not None and leader.position not in only:
            continue
        if leader.job:
            queue.stop([leader.job])
        leader.key, leader.state, leader.why, leader.size = to, BatchPhoto.WAITING, "", 0
        args = {"sheet": source.key(word), "frames": batch.frames, "shots": plain, "order": settings_of, "to": to}
        jobs.append(queue.Job(batch.owner_id, "shoot", args))
        begun.append(leader)
    ids = queue.put(jobs)
    for row, job in zip(begun, ids, strict=True):
        row.job = job
    batch.state, batch.contact = (Batch.UNDER_WAY if begun else Batch.DONE), {}
    with transaction.atomic():
        BatchPhoto.objects.bulk_update(changed, ["key", "state", "why", "size", "job", "name"], batch_size=200)
        batch.save()
    return len(begun)


def followed(batch: Batch) -> Batch:
    """Update a batch's state from the queue."""
    if batch.state != Batch.UNDER_WAY:
        return batch
    rows = list(batch.photos.filter(state=BatchPhoto.WAITING).exclude(job=""))
    ended: list[BatchPhoto] = []
    waiting = 0
    for row in rows:
        how = queue.known([row.job])[row.job]
        waiting = waiting + 1 if how.state == "waiting" else 0
        if waiting >= LOOK:
            break
        if how.state == "done":
            row.state, row.size = BatchPhoto.DONE, int(how.result or 0)
        elif how.state in ("failed", "stopped"):
            row.state = BatchPhoto.FAILED if how.state == "failed" else BatchPhoto.STOPPED
            row.why = f"{how.why} {how.remedy}".strip()[:500]
        else:
            continue
        ended.append(row)
    done = [row.job for row in ended]
    for row in ended:
        row.job = ""
    BatchPhoto.objects.bulk_update(ended, ["state", "size", "why", "job"], batch_size=200)
    queue.forget(done)
    if len(ended) == len(rows):
        batch.state = Batch.STOPPED if batch.photos.filter(state=BatchPhoto.STOPPED).exists() else Batch.DONE
        Batch.objects.filter(pk=batch.pk, state=Batch.UNDER_WAY).update(state=batch.state)
    return batch


def halt(batch: Batch) -> None:
    """Stop the work in progress; finished files stay."""
    waiting = batch.photos.filter(state=BatchPhoto.WAITING)
    queue.stop(j for j in waiting.values_list("job", flat=True) if j)
    waiting.update(state=BatchPhoto.STOPPED, why="")
    Batch.objects.filter(pk=batch.pk, state=Batch.UNDER_WAY).update(state=Batch.STOPPED)


def packed(batch: Batch) -> IO[bytes]:
    """Return the finished files of a batch as a zip, with a list of those that failed. Raises SheetError for none."""
    rows = batch.photos.select_related("photo")
    done = [r for r in rows if r.state == BatchPhoto.DONE and r.key]
    if not done:
        raise SheetError("Nothing of this batch is done yet.", "Start it, or wait a moment.")
    out: IO[bytes] = tempfile.TemporaryFile()  # noqa: SIM115  the response closes it
    try:
        with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as box:
            for row in done:
                with Stored(row.key).open() as file, box.open(row.name, "w", force_zip64=True) as member:
                    while chunk := file.read(1 << 20):
                        member.write(chunk)
            lacking = [(r.photo.name, r.why) for r in rows if r.state == BatchPhoto.FAILED]
            if lacking:
                text = io.StringIO()
                csv.writer(text).writerows([("photo", "why it is missing"), *lacking])
                box.writestr("not-made.csv", text.getvalue())
    except FileNotFoundError:
        raise SheetError(
            "A file of this batch was deleted.", "Start the batch again: it makes what is missing."
        ) from None
    except OSError as error:
        raise SheetError(*FULL) from error
    out.seek(0)
    return out


def ask_contact(batch: Batch) -> None:
    """Make the contact sheet of the photos in their present places. Raises SheetError."""
    rows = list(batch.photos.select_related("photo"))
    if not rows:
        raise SheetError("The batch has no photos.", "Drop some on the page first.", "photos")
    source = BatchSource(batch)
    cells = [
        {"sheet": source.key(word), "shots": msgspec.to_builtins(shots), "name": PurePath(lot[0].photo.name).stem}
        for word, lot, shots in source.lots(rows)
    ]
    order = msgspec.to_builtins(Order(what=order_of(batch).what))
    made_of = msgspec.json.encode([cells, batch.frames, batch.name])
    to = f"runs/{batch.pk}/contact-{hashlib.sha256(made_of).hexdigest()}.pdf"
    args = {"cells": cells, "frames": batch.frames, "order": order, "title": batch.name, "to": to}
    (job,) = queue.put([queue.Job(batch.owner_id, "contact", args)])
    batch.contact = {"key": to, "job": job}
    batch.save()


def contact_state(batch: Batch) -> queue.Known:
    """Return the state of the contact sheet that was asked for."""
    if not batch.contact:
        return queue.Known("stopped")
    return queue.known([batch.contact["job"]])[batch.contact["job"]]


def forget(batch: Batch) -> None:
    """Delete a batch with its files."""
    halt(batch)
    keys = [r.key for r in batch.photos.all() if r.key]
    if batch.contact:
        queue.stop([batch.contact["job"]])
        keys.append(batch.contact["key"])
    batch.delete()
    for key in keys:
        Stored(key).unlink()
