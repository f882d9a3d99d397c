"""A project's exports: made at once or by the queue, listed, downloaded again, deleted when old."""

import hashlib
import tempfile
import zipfile
from typing import IO, Any, Final

import msgspec
from django.conf import settings
from msgspec.structs import replace

import sheet as sheets
from picture import Format, format_of
from sheet import Sheet, SheetError
from sheet.document.tree import photos_of
from sheet.export.filenames import file_names
from sheet.export.order import Order, ordered
from sheet.export.sizes import Exported
from sheet.geometry.placing import needed_share
from studio.library import print_profiles
from studio.library.photos import check_owned
from studio.models import Batch, Export, Project
from studio.storage import FULL, Stored, sheet_key
from studio.work import queue, tasks

__all__ = ["KEPT", "as_row", "begin", "fetched", "followed", "forget", "halt", "is_small", "with_title"]

KEPT: Final = 24
"""How many exports of a project are kept."""
UNDER_WAY: Final = 12
"""How many of one person's exports may be in progress."""
FEW: Final = 20
"""The most files made at once, without the queue."""


def is_small(sheet: Sheet, files: list[Exported]) -> bool:
    """Return whether files can be made while a person waits: by the px to draw, and to read."""
    reach: dict[str, float] = {}
    for what in files:
        for photo in photos_of(what.items or sheet.items, hidden=False):
            share = needed_share(photo, what.scale)
            reach[photo.file] = max(reach.get(photo.file, 0.0), share**2 * photo.width * photo.height)
    px = sum(what.width * what.height for what in files) + sum(reach.values())
    return px <= settings.GOUGE_AT_ONCE * 1e6 and len(files) <= FEW


def with_title(order: Order, of: Project | Batch) -> Order:
    """Return an order with the title of its file, in a format that has one."""
    return replace(order, title=of.name if "author" in format_of(order.format).options else "")


def _parts(files: list[Exported], order: Order, out: Format) -> list[list[Exported]]:
    """Return the parts of each file: pages share one."""
    return [files] if out.pages is not None and order.what == "each" else [[f] for f in files]


def begin(project: Project, order: Order) -> Export:
    """Export: at once if it is small, else by the queue. Raises SheetError, PictureError or OutlineError."""
    assert project.head is not None
    sheet = project.head.sheet
    out = format_of(order.format)
    order = with_title(order, project)
    ending, _ = out.filed(order)
    files = ordered(sheet, order)
    names = file_names(order.pattern, project.name, files)
    whole = file_names("{project}", project.name, files[:1])[0]
    print_profiles.check_owned(project.owner, order)
    print_profiles.check_usable(order)
    check_owned(project.owner, [p for f in files for p in photos_of(f.items or sheet.items, hidden=False)])
    small = is_small(sheet, files)
    if not small and _busy(project) >= UNDER_WAY:
        raise SheetError(
            f"{UNDER_WAY} of your exports are still running.", "Wait for one of them, or stop one.", "what"
        )
    plain_order = msgspec.to_builtins(order)
    data = sheets.dump(sheet)
    parts = _parts(files, order, out)
    rows: list[dict[str, Any]] = []
    jobs: list[dict[str, Any]] = []
    for part, name in zip(parts, names, strict=False):
        plain = [tasks.as_plain(f) for f in part]
        made_of = msgspec.json.encode([project.owner_id, plain_order | {"pattern": "", "ids": []}, plain])
        to = f"deliveries/{project.pk}/{hashlib.sha256(data + made_of).hexdigest()}.{ending}"
        size = {"width": part[0].width, "height": part[0].height}
        rows.append({"name": f"{name}.{ending}", "key": to, "job": "", **size})
        jobs.append({"sheet": sheet_key(project.owner_id, data), "order": plain_order, "files": plain, "to": to})
    if len(parts) < len(files):
        rows[0]["name"] = f"{whole}.{ending}"
    # ordered twice, it is made once
    same = [row["key"] for row in rows]
    for one in project.exports.filter(state=Export.UNDER_WAY, revision=project.head):
        if [row["key"] for row in one.files] == same:
            return one
    kept = Stored(jobs[0]["sheet"])
    if not kept.exists():
        kept.write(data)
    name = rows[0]["name"] if order.what != "each" or len(parts) < len(files) else f"{whole}.zip"
    made = Export(project=project, revision=project.head, name=name, order=plain_order, files=rows)
    if small:
        made.size = sum(tasks.export(**job, patience=settings.GOUGE_SECONDS) for job in jobs)
        made.state = Export.READY
    else:
        ids = queue.put(queue.Job(project.owner_id, "export", job) for job in jobs)
        for row, key in zip(rows, ids, strict=True):
            row["job"] = key
    made.save()
    _thin(project)
    return made


def _busy(project: Project) -> int:
    under_way = Export.objects.filter(project__owner_id=project.owner_id, state=Export.UNDER_WAY)
    return sum(followed(d)[0].state == Export.UNDER_WAY for d in under_way.select_related("project"))


def followed(made: Export) -> tuple[Export, float]:
    """Return an export in its present state, and the share that is done."""
    if made.state != Export.UNDER_WAY:
        return made, 1.0
    jobs = [row["job"] for row in made.files]
    known = queue.known(jobs)
    bad = next((k for k in known.values() if k.state in ("failed", "stopped")), None)
    if bad is not None:
        made.state = Export.STOPPED if bad.state == "stopped" else Export.FAILED
        made.why = f"{bad.why} {bad.remedy}".strip()[:500]
        queue.stop(k for k, how in known.items() if how.state in ("waiting", "working"))
    elif all(k.state == "done" for k in known.values()):
        made.state, made.size = Export.READY, sum(k.result for k in known.values())
    else:
        return made, sum(k.share for k in known.values()) / len(known)
    changes = {"state": made.state, "why": made.why, "size": made.size}
    Export.objects.filter(pk=made.pk, state=Export.UNDER_WAY).update(**changes)
    if made.state == Export.READY:
        queue.forget(jobs)
    return made, 1.0


def halt(made: Export) -> None:
    """Stop an export in progress."""
    if made.state == Export.UNDER_WAY:
        queue.stop(row["job"] for row in made.files)
        Export.objects.filter(pk=made.pk, state=Export.UNDER_WAY).update(state=Export.STOPPED)


def fetched(made: Export) -> tuple[IO[bytes], str]:
    """Return the file of an export, and its media type: a zip if there are several.

    Raises SheetError if it is missing.
    """
    order = msgspec.convert(made.order, Order)
    _, media = format_of(order.format).filed(order)
    try:
        if len(made.files) == 1 and made.name == made.files[0]["name"]:
            return Stored(made.files[0]["key"]).open(), media
        packed: IO[bytes] = tempfile.TemporaryFile()  # noqa: SIM115  the response closes it
        # one file at a time, so that memory has only one
        with zipfile.ZipFile(packed, "w", zipfile.ZIP_STORED) as box:
            for row in made.files:
                with Stored(row["key"]).open() as file, box.open(row["name"], "w", force_zip64=True) as member:
                    while chunk := file.read(1 << 20):
                        member.write(chunk)
        packed.seek(0)
        return packed, "application/zip"
    except FileNotFoundError:
        raise SheetError("That file was deleted.", "Export it again.", "what") from None
    except OSError as error:
        raise SheetError(*FULL) from error


def forget(made: Export) -> None:
    """Remove an export from the list, and its files from the storage unless another one uses them."""
    halt(made)
    keys = {row["key"] for row in made.files}
    for files in Export.objects.filter(project=made.project_id).exclude(pk=made.pk).values_list("files", flat=True):
        keys -= {row["key"] for row in files}
    made.delete()
    for key in keys:
        Stored(key).unlink()


def _thin(project: Project) -> None:
    """Delete all but the last exports of a project."""
    for old in project.exports.exclude(state=Export.UNDER_WAY)[KEPT:]:
        forget(old)


def as_row(made: Export, share: float, head: Any) -> dict[str, Any]:
    """Return an export's row for the list."""
    first = made.files[0]
    what = f"{len(made.files)} files" if len(made.files) > 1 else f"{first['width']:,} × {first['height']:,} px"
    return {
        "id": made.pk,
        "name": made.name,
        "what": what,
        "size": made.size,
        "state": made.state,
        "why": made.why,
        "share": share,
        "made": made.made,
        "current": made.revision_id == head,
    }
