"""Runs: one frame over many photos, each file made by the queue; what has not changed is not made again."""

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
from sheet.export.batch import WHERES, Seat, Shot, box_in, filled, frame_named, matching, seat_by, variants_of
from sheet.export.filenames import file_names
from sheet.export.order import Order, ordered
from sheet.geometry.geometry import box_of
from sheet.geometry.placing import moved
from sheet.geometry.refit import proportion_of
from studio.library import shelf
from studio.library.photos import interest
from studio.models import PhotoFile, Project, Run, RunPhoto
from studio.storage import FULL, Stored, sheet_key
from studio.work import queue

__all__ = [
    "MOST",
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

MOST: Final = 5000
"""Photos that a run takes."""
LOOK: Final = 24
"""So many that wait one after another are asked about; those behind them wait too."""


def _kept(owner: int, sheet: Sheet) -> str:
    """Store a person's sheet under a name made of what is in it; return its key."""
    data = sheets.dump(sheet)
    stored = Stored(sheet_key(owner, data))
    if not stored.exists():
        stored.write(data)
    return stored.key


def _read(key: str) -> Sheet:
    try:
        return sheets.load(Stored(key).read_bytes())
    except OSError:
        raise SheetError("The sheet of this run is no longer kept.", "Begin the run again.") from None


def begin(owner: Any, project: Project | None, name: str, sheet: Sheet, ids: list[str]) -> Run:
    """Begin a run of frames on a sheet: those named, else all that hold photos. Raises SheetError."""
    if not ids:
        ids = [i.id for i in sheet.items if not i.hidden and not isinstance(i, Photo) and _holds_photo(i)]
    if not ids:
        raise SheetError(
            "There is no frame on the sheet to run over photos.", "Choose an outline, or put a photo in one.", "ids"
        )
    for item_id in ids:
        frame_named(sheet, item_id)
        if not any(i.id == item_id for i in sheet.items):
            raise SheetError(
                f"“{find(sheet, item_id).name}” does not lie on the sheet itself.", "Step out first.", "ids"
            )
    what = ids[0] if len(ids) == 1 else "sheet"
    order = msgspec.to_builtins(Order(what=what, format="jpg", pattern="{photo}"))
    return Run.objects.create(
        owner=owner,
        project=project,
        name=clean_name(name) or "Run",
        frames=ids,
        sheets={"": _kept(owner.pk, sheet)},
        order=order,
    )


def _holds_photo(item: Any) -> bool:
    return any(_holds_photo(i) for i in item.items) if isinstance(item, Group) else bool(getattr(item, "photos", ()))


def order_of(run: Run) -> Order:
    """Return what the run delivers."""
    return msgspec.convert(run.order, Order)


def add(run: Run, photos: Iterable[PhotoFile]) -> tuple[int, int]:
    """Add photos at the end; return how many came, and how many were there already and are not taken twice.

    Raises SheetError where a run would have more than it takes.
    """
    with transaction.atomic():
        have = set(run.photos.values_list("photo_id", flat=True))
        fresh: list[PhotoFile] = []
        twice = 0
        for photo in photos:
            if photo.pk in have:
                twice += 1
                continue
            have.add(photo.pk)
            fresh.append(photo)
        if len(have) > MOST:
            raise SheetError(f"A run takes up to {MOST:,} photos.", "Begin another one for the rest.", "photos")
        last = run.photos.aggregate(last=Max("position"))["last"]
        first = 0 if last is None else last + 1
        RunPhoto.objects.bulk_create(
            [RunPhoto(run=run, position=first + k, photo=photo) for k, photo in enumerate(fresh)]
        )
        run.save()
    return len(fresh), twice


def set_variants(run: Run, on: bool) -> None:
    """Let photos take the frame in the proportion nearest to theirs, or all of them the same. Raises SheetError."""
    if len(run.frames) != 1:
        raise SheetError("A sheet with several frames has one proportion.", "Run a single frame for that.", "variants")
    sheet = _read(run.sheets[""])
    made = variants_of(sheet, run.frames[0], _on_shelf(run, sheet)) if on else {"": sheet}
    run.sheets = {word: _kept(run.owner_id, one) for word, one in made.items()}
    run.save()


def _on_shelf(run: Run, sheet: Sheet) -> dict[str, Item]:
    """Return the variants that the shelf has of a run's frame, as large as that is, by their words."""
    item = find(sheet, run.frames[0])
    mark = None if isinstance(item, Photo) else item.kept
    if mark is None:
        return {}
    m = Matrix(*mark.matrix)
    out: dict[str, Item] = {}
    for key in shelf.newest(run.owner):
        item_key, _, variant = key.partition(" ")
        if item_key == mark.item:
            found = shelf.shelved(run.owner, mark.item, variant).item
            x0, y0, x1, y1 = box_of(found)
            placed = moved(found, m, details=True)
            out[variant or proportion_of(x1 - x0, y1 - y0)] = placed
    return out


def outdated(run: Run, since: int = 0) -> None:
    """Note that files, from a position on, are not as they are asked for any more. Their names alone make no others."""
    run.photos.filter(state=RunPhoto.DONE, position__gte=since).update(state=RunPhoto.NEW)


class Source:
    """The sheets of a run, read once, and how photos sit on them."""

    def __init__(self, run: Run):
        self.run = run
        self.sheets = {word: _read(key) for word, key in run.sheets.items()}
        self.boxes = {word: [box_in(find(sheet, i)) for i in run.frames] for word, sheet in self.sheets.items()}
        self.each = {word: boxes[0] for word, boxes in self.boxes.items()}

    def word(self, photo: PhotoFile) -> str:
        """Return which of the sheets a photo takes."""
        return matching(self.each, photo.width, photo.height) if len(self.each) > 1 else ""

    def shot(self, row: RunPhoto, word: str, place: int) -> Shot:
        """Return a photo and how it sits, in one of the frames."""
        photo = row.photo
        shown = tuple(photo.shown) if photo.shown else None
        name = clean_name(photo.name, 200) or "photo"
        facts = PhotoFacts(photo.sha256, name, photo.width, photo.height, photo.has_alpha, shown)
        if row.seat is not None:
            return Shot(facts, msgspec.convert(row.seat, Seat))
        where = self.run.where if self.run.where in WHERES else "centred"
        spot = interest(photo) if where != "centred" else None
        return Shot(facts, seat_by(where, self.boxes[word][place], photo.width, photo.height, spot))  # type: ignore[arg-type]

    def lots(self, rows: list[RunPhoto]) -> list[tuple[str, list[RunPhoto], list[Shot]]]:
        """Return what goes into each file: one photo, or as many as the sheet has frames."""
        many = len(self.run.frames)
        out = []
        for k in range(0, len(rows), many):
            lot = rows[k : k + many]
            word = self.word(lot[0].photo)
            out.append((word, lot, [self.shot(r, word, place) for place, r in enumerate(lot)]))
        return out


def filled_sheet(run: Run, rows: list[RunPhoto]) -> Sheet:
    """Return the sheet with the photos of one file in its frames. Raises SheetError."""
    source = Source(run)
    ((word, _, shots),) = source.lots(rows)
    return filled(source.sheets[word], run.frames, shots)


def file_box(run: Run, rows: list[RunPhoto]) -> tuple[float, float, float, float]:
    """Return the box (px of the sheet) of the file that photos go into. Raises SheetError."""
    return ordered(filled_sheet(run, rows), Order(what=order_of(run).what))[0].box


def sizes(run: Run) -> list[tuple[str, int, int]]:
    """Return the proportions a run has, each with the px of its files. Raises SheetError."""
    source, order = Source(run), order_of(run)
    blank = PhotoFacts("0" * 64, "photo", 300, 200)
    out = []
    for word, sheet in source.sheets.items():
        what = ordered(filled(sheet, run.frames, [Shot(blank)] * len(run.frames)), order)[0]
        out.append((word, what.width, what.height))
    return out


def start(run: Run, again: Iterable[int] | None = None) -> int:
    """Have the files made that are not there as they are asked for; return how many.

    With `again` only those at these positions, which failed before. Raises SheetError or OutlineError.
    """
    rows = list(run.photos.select_related("photo"))
    if not rows:
        raise SheetError("The run has no photos.", "Drop some on the page, or take those of the project.", "photos")
    order = order_of(run)
    out = format_of(order.format)
    ending, _ = out.filed(order)
    source = Source(run)
    lots = source.lots(rows)
    blank = Shot(PhotoFacts("0" * 64, "photo", 300, 200))
    like = {
        word: ordered(filled(sheet, run.frames, [blank] * len(run.frames)), order)[0]
        for word, sheet in source.sheets.items()
    }
    stems = [PurePath(lot[0].photo.name).stem for _, lot, _ in lots]
    names = file_names(order.pattern, run.name, [like[word] for word, _, _ in lots], stems)
    # a name is the file's alone, and does not make another file
    told = msgspec.to_builtins(order) | {"pattern": ""}
    only = None if again is None else set(again)
    jobs: list[queue.Job] = []
    begun: list[RunPhoto] = []
    changed: list[RunPhoto] = []
    for (word, lot, shots), name in zip(lots, names, strict=True):
        leader, *others = lot
        plain = msgspec.to_builtins(shots)
        made_of = msgspec.json.encode([run.sheets[word], run.frames, plain, told])
        to = f"runs/{run.pk}/{hashlib.sha256(made_of).hexdigest()}.{ending}"
        leader.name = f"{name}.{ending}"
        changed.append(leader)
        for row in others:
            row.key, row.job, row.state, row.name, row.why = "", "", RunPhoto.NEW, "", ""
            changed.append(row)
        if leader.key == to and leader.state == RunPhoto.WAITING:
            continue
        if leader.key == to and leader.size and Stored(to).exists():
            leader.state, leader.why = RunPhoto.DONE, ""
            continue
        if only is not None and leader.position not in only:
            continue
        if leader.job:
            queue.stop([leader.job])
        leader.key, leader.state, leader.why, leader.size = to, RunPhoto.WAITING, "", 0
        args = {"sheet": run.sheets[word], "frames": run.frames, "shots": plain, "order": told, "to": to}
        jobs.append(queue.Job(run.owner_id, "shoot", args))
        begun.append(leader)
    ids = queue.put(jobs)
    for row, job in zip(begun, ids, strict=True):
        row.job = job
    run.state, run.contact = (Run.UNDER_WAY if begun else Run.DONE), {}
    with transaction.atomic():
        RunPhoto.objects.bulk_update(changed, ["key", "state", "why", "size", "job", "name"], batch_size=200)
        run.save()
    return len(begun)


def followed(run: Run) -> Run:
    """Bring a run's state up to what the queue knows."""
    if run.state != Run.UNDER_WAY:
        return run
    rows = list(run.photos.filter(state=RunPhoto.WAITING).exclude(job=""))
    ended: list[RunPhoto] = []
    waiting = 0
    for row in rows:
        how = queue.known([row.job])[row.job]
        waiting = waiting + 1 if how.state == "waiting" else 0
        if waiting >= LOOK:
            break
        if how.state == "done":
            row.state, row.size = RunPhoto.DONE, int(how.result or 0)
        elif how.state in ("failed", "stopped"):
            row.state = RunPhoto.FAILED if how.state == "failed" else RunPhoto.STOPPED
            row.why = f"{how.why} {how.remedy}".strip()[:500]
        else:
            continue
        ended.append(row)
    done = [row.job for row in ended]
    for row in ended:
        row.job = ""
    RunPhoto.objects.bulk_update(ended, ["state", "size", "why", "job"], batch_size=200)
    queue.forget(done)
    if len(ended) == len(rows):
        run.state = Run.STOPPED if run.photos.filter(state=RunPhoto.STOPPED).exists() else Run.DONE
        Run.objects.filter(pk=run.pk, state=Run.UNDER_WAY).update(state=run.state)
    return run


def halt(run: Run) -> None:
    """Stop what is under way; what is done stays."""
    waiting = run.photos.filter(state=RunPhoto.WAITING)
    queue.stop(j for j in waiting.values_list("job", flat=True) if j)
    waiting.update(state=RunPhoto.STOPPED, why="")
    Run.objects.filter(pk=run.pk, state=Run.UNDER_WAY).update(state=Run.STOPPED)


def packed(run: Run) -> IO[bytes]:
    """Return what is done of a run as a zip; what failed is named in it. Raises SheetError where nothing is."""
    rows = run.photos.select_related("photo")
    done = [r for r in rows if r.state == RunPhoto.DONE and r.key]
    if not done:
        raise SheetError("Nothing of this run is done yet.", "Start it, or wait a moment.")
    out: IO[bytes] = tempfile.TemporaryFile()  # noqa: SIM115  the response closes it
    try:
        with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as box:
            for row in done:
                with Stored(row.key).open() as file, box.open(row.name, "w", force_zip64=True) as member:
                    while chunk := file.read(1 << 20):
                        member.write(chunk)
            lacking = [(r.photo.name, r.why) for r in rows if r.state == RunPhoto.FAILED]
            if lacking:
                text = io.StringIO()
                csv.writer(text).writerows([("photo", "why it is not here"), *lacking])
                box.writestr("not-made.csv", text.getvalue())
    except FileNotFoundError:
        raise SheetError(
            "A file of this run is no longer kept.", "Start the run again: it makes what is missing."
        ) from None
    except OSError as error:
        raise SheetError(*FULL) from error
    out.seek(0)
    return out


def ask_contact(run: Run) -> None:
    """Have the contact sheet made of the photos as they sit now. Raises SheetError."""
    rows = list(run.photos.select_related("photo"))
    if not rows:
        raise SheetError("The run has no photos.", "Drop some on the page first.", "photos")
    source = Source(run)
    cells = [
        {"sheet": run.sheets[word], "shots": msgspec.to_builtins(shots), "name": PurePath(lot[0].photo.name).stem}
        for word, lot, shots in source.lots(rows)
    ]
    order = msgspec.to_builtins(Order(what=order_of(run).what))
    made_of = msgspec.json.encode([cells, run.frames, run.name])
    to = f"runs/{run.pk}/contact-{hashlib.sha256(made_of).hexdigest()}.pdf"
    args = {"cells": cells, "frames": run.frames, "order": order, "title": run.name, "to": to}
    (job,) = queue.put([queue.Job(run.owner_id, "contact", args)])
    run.contact = {"key": to, "job": job}
    run.save()


def contact_state(run: Run) -> queue.Known:
    """Return how the contact sheet that was asked for is."""
    if not run.contact:
        return queue.Known("stopped")
    return queue.known([run.contact["job"]])[run.contact["job"]]


def forget(run: Run) -> None:
    """Throw a run away, with its files."""
    halt(run)
    keys = [r.key for r in run.photos.all() if r.key]
    if run.contact:
        queue.stop([run.contact["job"]])
        keys.append(run.contact["key"])
    run.delete()
    for key in keys:
        Stored(key).unlink()
