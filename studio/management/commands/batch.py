"""A batch from a shell: one frame over many photos, into a folder."""

import argparse
import hashlib
import json
import os
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor, as_completed
from pathlib import Path
from typing import Any

import msgspec
from django.core.management.base import CommandError

from outline import OutlineError
from picture import PictureError, format_of
from picture.photos.interest import interest_of
from picture.photos.probe import inspect
from picture.svg_in.plain import is_svg
from picture.svg_in.read import read_svg
from sheet import Photo, Sheet, SheetError, dump, load, new_sheet
from sheet.document.library import PhotoFacts
from sheet.document.limits import clean_name
from sheet.export.batch import WHERES, Shot, box_in, filled, seat_by, sheet_for, variants_of
from sheet.export.filenames import file_names
from sheet.export.order import Order, ordered
from sheet.export.sizes import Exported
from studio.library.archive import is_packed, unpack_outline
from studio.library.photos import beside
from studio.library.shelf_files import as_one
from studio.management.base import ExampleCommand, add_order
from studio.work.tasks import shot

ENDINGS = {".jpg", ".jpeg", ".png", ".webp", ".tif", ".tiff", ".avif", ".heic"}
NOTES = ".gouge-batch.json"


class Command(ExampleCommand):
    """Put each photo in a frame, and write a file for each."""

    help = "Put each of some photos in a frame, and write a file for each: batch FRAME PHOTOS… --out DIR"
    example = "gouge batch frame.gouge photos --out cards --format jpg --size 300"

    def add_arguments(self, parser: argparse.ArgumentParser) -> None:
        """Add the options."""
        parser.add_argument("frame", help="a .gouge file of a project or of the shelf, or an SVG")
        parser.add_argument("photos", nargs="+", help="photos, and folders of them")
        parser.add_argument("--out", required=True, help="the folder that the files are written to")
        parser.add_argument("--name", default="", help="the frame's name, where several lie on the sheet")
        parser.add_argument("--at", choices=WHERES, default="centred", help="how the photos sit")
        parser.add_argument("--variants", action="store_true", help="the frame in each photo's proportion")
        add_order(parser, "jpg", "{photo}", "{photo}, {number}, {name}")
        parser.add_argument("--workers", type=int, default=os.cpu_count() or 1)

    def handle(self, *args: Any, **options: Any) -> None:
        """Run it, with a line for each photo; print the failures at the end."""
        try:
            done, same, wrong = self.batch_all(options)
        except (SheetError, PictureError, OutlineError) as error:
            raise CommandError(str(error)) from error
        self.stdout.write(f"{done} made, {same} were there already, {len(wrong)} failed")
        for name, why in wrong:
            self.stderr.write(f"{name}: {why}")
        if wrong and not done and not same:
            raise CommandError("None of the photos could be made.")

    def batch_all(self, options: dict[str, Any]) -> tuple[int, int, list[tuple[str, str]]]:
        """Return how many were made, how many existed, and the failures. Raises SheetError."""
        options_given = {k: options[k] for k in ("format", "size", "by", "quality", "pattern")}
        title, sheet, given = _frame(Path(options["frame"]))
        ids = _frames(sheet, options["name"])
        order = Order(what=ids[0] if len(ids) == 1 else "sheet", **options_given)
        ending, _ = format_of(order.format).filed(order)
        sheets = variants_of(sheet, ids[0], given)[0] if options["variants"] and len(ids) == 1 else {"": sheet}
        paths = list(_photos(options["photos"]))
        if not paths:
            raise SheetError("There is no photo among those.", f"Name files that end in {', '.join(sorted(ENDINGS))}.")
        wrong: list[tuple[str, str]] = []
        facts: list[tuple[Path, PhotoFacts]] = []
        for path in paths:
            try:
                facts.append((path, _facts(path)))
            except PictureError as error:
                wrong.append((str(path), str(error)))
        if not facts:
            return 0, 0, wrong
        out = Path(options["out"])
        out.mkdir(parents=True, exist_ok=True)
        notes = _noted(out)
        jobs = []
        for k in range(0, len(facts), len(ids)):
            lot = facts[k : k + len(ids)]
            first = lot[0][1]
            word = sheet_for(sheets, ids[0], first.width, first.height)
            boxes = [box_in(_item(sheets[word], i)) for i in ids]
            shots = [_seated(path, one, boxes[place], options["at"]) for place, (path, one) in enumerate(lot)]
            jobs.append((word, lot, shots))
        blank = [Shot(facts[0][1])] * len(ids)
        like: dict[str, Exported] = {w: ordered(filled(one, ids, blank), order)[0] for w, one in sheets.items()}
        stems = [lot[0][0].stem for _, lot, _ in jobs]
        names = file_names(order.pattern, title, [like[word] for word, _, _ in jobs], stems)
        data = {word: dump(one) for word, one in sheets.items()}
        plain_order = msgspec.to_builtins(order) | {"pattern": ""}
        done = same = 0
        with ProcessPoolExecutor(max(1, options["workers"])) as pool:
            waiting = {}
            for (word, lot, shots), name in zip(jobs, names, strict=True):
                plain = msgspec.to_builtins(shots)
                made_of = msgspec.json.encode([hashlib.sha256(data[word]).hexdigest(), ids, plain, plain_order])
                mark, to = hashlib.sha256(made_of).hexdigest(), out / f"{name}.{ending}"
                if notes.get(to.name) == mark and to.exists():
                    same += 1
                    continue
                where = {one.file: str(path) for path, one in lot}
                job = pool.submit(_make, data[word], ids, plain, plain_order, where, str(to))
                waiting[job] = (lot[0][0].name, to.name, mark)
            for number, job in enumerate(as_completed(waiting), 1):
                photo, name, mark = waiting[job]
                why = job.result()
                if why:
                    wrong.append((photo, why))
                else:
                    done += 1
                    notes[name] = mark
                    _note(out, notes)
                self.stdout.write(f"{number} of {len(waiting)}: {photo} {'failed' if why else name}")
        return done, same, wrong


def _make(
    data: bytes, ids: list[str], shots: list[dict[str, Any]], order: dict[str, Any], where: dict[str, str], to: str
) -> str:
    """Write one file, in its own process; return why it failed, empty if it did not."""
    path = Path(to)
    draft = path.with_name(f".{path.name}.{os.getpid()}")
    try:
        made = shot(load(data), ids, shots, order, beside({file: Path(at) for file, at in where.items()}))
        draft.write_bytes(made)
        draft.replace(path)
    except (SheetError, PictureError, OutlineError) as error:
        return str(error)
    except OSError as error:
        return f"It cannot be written: {error.strerror or error}."
    finally:
        draft.unlink(missing_ok=True)
    return ""


def _item(sheet: Sheet, item_id: str) -> Any:
    return next(i for i in sheet.items if i.id == item_id)


def _frame(path: Path) -> tuple[str, Sheet, dict[str, Any]]:
    """Return the name and the sheet of a file, and its frame's other proportions. Raises SheetError."""
    try:
        with path.open("rb") as source:
            if is_packed(source):
                manifest, sheet, others = unpack_outline(source)
                given = {word: one.items[0] for word, (one, _) in others.items() if len(one.items) == 1}
                return clean_name(manifest.name) or path.stem, sheet, given
            source.seek(0)
            data = source.read()
    except OSError as error:
        raise SheetError(f"“{path}” cannot be read.", error.strerror or "") from error
    if not is_svg(data[:4000]):
        raise SheetError(f"“{path.name}” isn’t a Gouge file or an SVG.", "Name a .gouge file or an SVG.")
    read = read_svg(data, path.stem, 1.0)
    x0, y0, x1, y1 = read.box
    sheet = new_sheet(f"{x1 - x0!r} px", f"{y1 - y0!r} px", "px", 96)
    drawn = tuple(i for i in read.items if not isinstance(i, Photo))
    return path.stem, as_one(msgspec.structs.replace(sheet, items=drawn), path.stem)[0], {}


def _frames(sheet: Sheet, name: str) -> list[str]:
    """Return the frames to use: the one with a name, those that have photos, or the only outline."""
    outlines = [i for i in sheet.items if not isinstance(i, Photo) and not i.hidden]
    if name:
        found = [i.id for i in outlines if i.name == name]
        if not found:
            names = ", ".join(f"“{i.name}”" for i in outlines[:12])
            raise SheetError(f"There is no frame “{name}”.", f"There are {names}.")
        return found[:1]
    holding = [i.id for i in outlines if getattr(i, "photos", ()) or getattr(i, "panes", None)]
    found = holding or [i.id for i in outlines]
    if not found or (len(found) > 1 and not holding):
        raise SheetError("It is not clear which frame is meant.", "Name it with --name.")
    return found


def _photos(named: list[str]) -> Iterator[Path]:
    for name in named:
        path = Path(name)
        if path.is_dir():
            yield from sorted(p for p in path.rglob("*") if p.suffix.lower() in ENDINGS and not p.name.startswith("."))
        else:
            yield path


def _facts(path: Path) -> PhotoFacts:
    """Return the metadata of a photo's file. Raises PictureError."""
    try:
        info = inspect(path, path.name, path.stat().st_size)
        with path.open("rb") as file:
            digest = hashlib.file_digest(file, "sha256").hexdigest()
    except OSError as error:
        raise PictureError(f"“{path.name}” cannot be read.", error.strerror or "") from error
    return PhotoFacts(digest, clean_name(path.name, 200) or "photo", info.width, info.height, info.has_alpha)


def _seated(path: Path, facts: PhotoFacts, box: Any, where: Any) -> Shot:
    spot = interest_of(path) if where != "centred" else None
    return Shot(facts, seat_by(where, box, facts.width, facts.height, spot))


def _noted(out: Path) -> dict[str, str]:
    try:
        options_given = json.loads((out / NOTES).read_text())
        return {str(k): str(v) for k, v in options_given.items()} if isinstance(options_given, dict) else {}
    except (OSError, ValueError):
        return {}


def _note(out: Path, notes: dict[str, str]) -> None:
    draft = out / f"{NOTES}.new"
    draft.write_text(json.dumps(notes, indent=1))
    draft.replace(out / NOTES)
