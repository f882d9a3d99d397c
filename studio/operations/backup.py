"""Backing up and restoring everything while people work: the database and the files of the storage.

SQLite itself copies the database, as it was at one moment; then the files that it
refers to, which never change. What is added later is in the next backup.
"""

import hashlib
import io
import json
import os
import shutil
import sqlite3
import tarfile
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Any, Final

from django.conf import settings
from django.core.files.storage import default_storage
from django.db import connections

from studio.storage import FOLDERS, keys_in

__all__ = ["FORM", "BadBackup", "backup", "restore"]

FORM: Final = 1
"""The layout of the file: an uncompressed tar of `manifest.json`, `gouge.sqlite3` and `media/…`."""
DATABASE: Final = "gouge.sqlite3"


class BadBackup(ValueError):
    """A file that is not a backup, or an incomplete one; or a destination in use."""


def _copied(to: Path) -> None:
    """Copy the database as it is at one moment; writers go on (SQLite's online backup)."""
    source = sqlite3.connect(f"file:{connections['default'].settings_dict['NAME']}?mode=ro", uri=True)
    target = sqlite3.connect(to)
    try:
        source.backup(target, pages=2000)
        target.execute("PRAGMA journal_mode=DELETE")
        _check(target)
    finally:
        target.close()
        source.close()


def _check(base: sqlite3.Connection) -> None:
    said = base.execute("PRAGMA integrity_check").fetchone()[0]
    if said != "ok":
        raise BadBackup(f"the database is damaged: {said}")


def _photos(base: Path) -> set[str]:
    with sqlite3.connect(base) as known:
        return {sha for (sha,) in known.execute("SELECT DISTINCT sha256 FROM studio_photofile")}


def backup(to: Path, say: Callable[[str], object] = print) -> dict[str, int]:
    """Write everything into one file, which appears whole or not at all; return the counts of each kind.

    Raises BadBackup if the database is damaged, OSError if there is no room.
    """
    counts = {"files": 0, "bytes": 0, "missing": 0}
    with tempfile.TemporaryDirectory(dir=to.parent) as folder:
        base, draft = Path(folder) / DATABASE, Path(folder) / "draft"
        _copied(base)
        wanted = _photos(base)
        there = set()
        with draft.open("wb") as out, tarfile.open(fileobj=out, mode="w", format=tarfile.PAX_FORMAT) as box:
            draft.chmod(0o600)
            box.add(base, DATABASE)
            for key in (key for part in FOLDERS for key in keys_in(part)):
                try:
                    size = default_storage.size(key)
                    with default_storage.open(key) as file:
                        info = tarfile.TarInfo(f"media/{key}")
                        info.size, info.mode = size, 0o600
                        box.addfile(info, file)
                except FileNotFoundError:
                    # it was deleted in the meantime; nothing that the copy refers to is
                    continue
                counts["files"] += 1
                counts["bytes"] += size
                if key.startswith("photos/"):
                    there.add(key.rsplit("/", 1)[-1])
            counts["missing"] = len(wanted - there)
            manifest = json.dumps({"gouge": FORM, **counts}).encode()
            last = tarfile.TarInfo("manifest.json")
            last.size, last.mode = len(manifest), 0o600
            # last, so that a file that is cut short has none
            box.addfile(last, io.BytesIO(manifest))
            out.flush()
            os.fsync(out.fileno())
        draft.replace(to)
    say(f"{counts['files']} files, {counts['bytes'] / 1e6:.1f} MB, and the database are in {to}")
    if counts["missing"]:
        say(f"{counts['missing']} photos that the database knows are not in the storage")
    return counts


def restore(source: Path, say: Callable[[str], object] = print) -> Path | None:
    """Replace the present data by a backup's, and return the folder of the former, None if there was none.

    All of it is checked before anything is moved. Raises BadBackup.
    """
    data = Path(settings.DATA_DIR)
    _check_unused(data / DATABASE)
    with tempfile.TemporaryDirectory(dir=data) as name:
        folder = Path(name)
        _unpacked(source, folder)
        base = folder / DATABASE
        known = sqlite3.connect(base)
        try:
            _check(known)
        except sqlite3.DatabaseError as error:
            raise BadBackup("the database in it is damaged") from error
        finally:
            known.close()
        for sha in _photos(base):
            file = folder / "media" / "photos" / sha[:2] / sha
            if file.exists():
                with file.open("rb") as photo:
                    if hashlib.file_digest(photo, "sha256").hexdigest() != sha:
                        raise BadBackup(f"the photo {sha} in it is damaged")
        before = _put(folder, data)
    say(f"brought back from {source}")
    if before:
        say(f"what was there before lies in {before}")
    return before


def _check_unused(base: Path) -> None:
    """Raise BadBackup if the database is open for writing."""
    if not base.exists() or not base.stat().st_size:
        return
    known = sqlite3.connect(base, timeout=1)
    try:
        known.execute("PRAGMA locking_mode=EXCLUSIVE")
        known.execute("BEGIN EXCLUSIVE")
        known.execute("COMMIT")
    except sqlite3.OperationalError as error:
        raise BadBackup("the server is running: stop it first") from error
    except sqlite3.DatabaseError:
        # a damaged one is what backups are for
        pass
    finally:
        known.close()


def _unpacked(source: Path, folder: Path) -> None:
    try:
        with tarfile.open(source, "r:") as box:
            box.extractall(folder, filter="data")
        manifest: Any = json.loads((folder / "manifest.json").read_text())
    except (tarfile.TarError, OSError, ValueError, KeyError) as error:
        raise BadBackup(f"{source} is no backup, or not a whole one: {error}") from error
    if not isinstance(manifest, dict) or manifest.get("gouge") != FORM:
        raise BadBackup(f"{source} was made by another version")
    sizes = [f.stat().st_size for f in (folder / "media").rglob("*") if f.is_file()]
    if (len(sizes), sum(sizes)) != (manifest.get("files"), manifest.get("bytes")):
        expected = f"{manifest.get('files')} files with {manifest.get('bytes')} bytes"
        raise BadBackup(f"{source} should have {expected}, and has {len(sizes)} with {sum(sizes)}")


def _put(folder: Path, data: Path) -> Path | None:
    """Move the present data aside, and the restored data in its place."""
    names = [DATABASE, f"{DATABASE}-wal", f"{DATABASE}-shm", "media"]
    before = Path(tempfile.mkdtemp(prefix="before-restore-", dir=data))
    for name in names:
        there = data / name
        # an unused database is an empty file
        if there.is_dir() or (there.exists() and there.stat().st_size):
            there.replace(before / name)
    (folder / DATABASE).chmod(0o600)
    (folder / DATABASE).replace(data / DATABASE)
    if settings.BUCKET:
        _upload(folder / "media")
    elif (folder / "media").exists():
        (folder / "media").replace(Path(settings.MEDIA_ROOT))
    if not any(before.iterdir()):
        before.rmdir()
        return None
    return before


def _upload(media: Path) -> None:
    """Upload files to a bucket, under the names they had."""
    from django.core.files.base import File

    for file in sorted(f for f in media.rglob("*") if f.is_file()):
        key = str(file.relative_to(media))
        if not default_storage.exists(key):
            with file.open("rb") as source:
                default_storage.save(key, File(source))
    shutil.rmtree(media)
