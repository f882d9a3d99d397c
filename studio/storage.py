"""The storage of files: Django's default storage, a folder or a bucket. All but drafts are named by their content."""

import errno
import hashlib
import os
import shutil
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import IO, Any

from django.conf import settings
from django.core.files.base import ContentFile, File
from django.core.files.storage import FileSystemStorage, default_storage
from django.db import OperationalError

from sheet import SheetError

__all__ = [
    "FOLDERS",
    "FULL",
    "Stored",
    "WholeFiles",
    "is_full",
    "keys_in",
    "own_key",
    "photo_key",
    "preview_key",
    "sheet_key",
    "refuse_if_full",
]

FULL = ("The server can’t write to its disk: nothing was changed.", "Tell the person who runs it, and try again later.")


_FULL_DISK = (errno.ENOSPC, errno.EDQUOT, errno.EROFS, errno.EACCES, errno.EPERM, errno.EIO)
_FULL_DATABASE = ("disk is full", "readonly database", "unable to open", "disk I/O")


def is_full(error: BaseException | None) -> bool:
    """Return whether an error means that the server cannot write: no room, no permission, or a bad disk."""
    if isinstance(error, OperationalError):
        return any(words in str(error) for words in _FULL_DATABASE)
    return isinstance(error, OSError) and error.errno in _FULL_DISK


@contextmanager
def refuse_if_full() -> Iterator[None]:
    """Turn errors of writing into SheetError while this context lasts."""
    try:
        yield
    except OSError as error:
        if is_full(error):
            raise SheetError(*FULL) from error
        raise


FOLDERS = ("photos", "previews", "drawings", "sheets", "deliveries", "runs", "fonts", "profiles")
"""The storage's files."""


def keys_in(folder: str) -> Iterator[str]:
    """Yield the keys of all files in a folder of the storage."""
    try:
        folders, files = default_storage.listdir(folder)
    except OSError:
        return
    yield from (f"{folder}/{name}" for name in sorted(files))
    for name in sorted(folders):
        yield from keys_in(f"{folder}/{name}")


class WholeFiles(FileSystemStorage):
    """A folder whose files appear whole and synced, or not at all."""

    def get_available_name(self, name: str, max_length: int | None = None) -> str:
        """Return the name itself: a file with that name is the same, or is to be replaced."""
        return name

    def _save(self, name: str, content: Any) -> str:
        path = Path(self.path(name))
        path.parent.mkdir(parents=True, exist_ok=True)
        handle, draft = tempfile.mkstemp(dir=path.parent)
        try:
            with os.fdopen(handle, "wb") as out:
                for chunk in content.chunks():
                    out.write(chunk)
                out.flush()
                os.fsync(out.fileno())
            Path(draft).replace(path)
        finally:
            Path(draft).unlink(missing_ok=True)
        return name


@dataclass(frozen=True, slots=True)
class Stored:
    """A file in the storage, which may not exist."""

    key: str

    def exists(self) -> bool:
        """Return whether it exists."""
        return default_storage.exists(self.key)

    def open(self) -> IO[bytes]:
        """Return it opened for reading. Raises OSError if it does not exist."""
        return default_storage.open(self.key, "rb")  # type: ignore[no-any-return]

    def read_bytes(self) -> bytes:
        """Return its content. Raises OSError if it does not exist."""
        with self.open() as file:
            return file.read()

    @property
    def size(self) -> int:
        """Its size in bytes."""
        return int(default_storage.size(self.key))

    def is_whole(self) -> bool:
        """Return whether a JPEG or WebP is complete (ITU-T T.81, B.1.1.3; RFC 9649)."""
        try:
            size = self.size
            with self.open() as file:
                head = file.read(12)
                if head[:4] == b"RIFF":
                    return int.from_bytes(head[4:8], "little") + 8 <= size
                file.seek(max(0, size - 2))
                return head[:2] == b"\xff\xd8" and file.read(2) == b"\xff\xd9"
        except OSError:
            return False

    def write(self, data: bytes | Path) -> None:
        """Store bytes, or those of a file. Raises SheetError if there is no room."""
        try:
            if isinstance(data, bytes):
                default_storage.save(self.key, ContentFile(data))
            else:
                with data.open("rb") as source:
                    default_storage.save(self.key, File(source))
        except OSError as error:
            raise SheetError(*FULL) from error

    def unlink(self) -> None:
        """Delete it, if it exists."""
        default_storage.delete(self.key)

    def local(self) -> Path:
        """Return a local file with its content: the file itself, or a cached copy.

        Raises OSError if it does not exist.
        """
        try:
            path = Path(default_storage.path(self.key))
        except NotImplementedError:
            return self._copied()
        if not path.exists():
            raise FileNotFoundError(self.key)
        return path

    def _copied(self) -> Path:
        copy = Path(settings.DATA_DIR) / "copies" / self.key
        if not copy.exists():
            copy.parent.mkdir(parents=True, exist_ok=True)
            with self.open() as source, tempfile.NamedTemporaryFile(dir=copy.parent, delete=False) as out:
                shutil.copyfileobj(source, out)
            Path(out.name).replace(copy)
        return copy


def sheet_key(owner: int, data: bytes) -> str:
    """Return the file of a person's stored sheet, for work without a database."""
    return f"sheets/{owner}/{hashlib.sha256(data).hexdigest()}"


def own_key(use: str, digest: str) -> str:
    """Return the file of a person's own "font" or "profile", by 32 digits of the SHA-256 of its bytes."""
    return f"{use}s/{digest[:2]}/{digest}"


def photo_key(sha256: str) -> str:
    """Return the file of an original photo, by the SHA-256 of its bytes."""
    return f"photos/{sha256[:2]}/{sha256}"


def preview_key(sha256: str) -> str:
    """Return the file of a photo's small copy for the screen."""
    return f"previews/{sha256[:2]}/{sha256}"
