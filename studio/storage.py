"""Where files lie: Django's default storage, a folder or a bucket. All but drafts are named by what is in them."""

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
    "font_key",
    "is_full",
    "keys_in",
    "photo_key",
    "preview_key",
    "sheet_key",
    "refuse_if_full",
]

FULL = ("The server can’t write to its disk: nothing was changed.", "Tell the person who runs it, and try again later.")


_FULL_DISK = (errno.ENOSPC, errno.EDQUOT, errno.EROFS, errno.EACCES, errno.EPERM, errno.EIO)
_FULL_DATABASE = ("disk is full", "readonly database", "unable to open", "disk I/O")


def is_full(error: BaseException | None) -> bool:
    """Tell whether nothing can be written on the server: no room, no right to, or a bad disk."""
    if isinstance(error, OperationalError):
        return any(words in str(error) for words in _FULL_DATABASE)
    return isinstance(error, OSError) and error.errno in _FULL_DISK


@contextmanager
def refuse_if_full() -> Iterator[None]:
    """Raise SheetError, in words, where something cannot be written while this lasts."""
    try:
        yield
    except OSError as error:
        if is_full(error):
            raise SheetError(*FULL) from error
        raise


FOLDERS = ("photos", "previews", "drawings", "sheets", "deliveries", "runs", "fonts")
"""What the storage holds."""


def keys_in(folder: str) -> Iterator[str]:
    """Give the keys of all files in a folder of the storage."""
    try:
        folders, files = default_storage.listdir(folder)
    except OSError:
        return
    yield from (f"{folder}/{name}" for name in sorted(files))
    for name in sorted(folders):
        yield from keys_in(f"{folder}/{name}")


class WholeFiles(FileSystemStorage):
    """A folder in which a file is there whole, and on the disk, or not at all."""

    def get_available_name(self, name: str, max_length: int | None = None) -> str:
        """Return the name itself: what has it already is the same, or is to be replaced."""
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
    """A file in the storage, there or not."""

    key: str

    def exists(self) -> bool:
        """Tell whether it is there."""
        return default_storage.exists(self.key)

    def open(self) -> IO[bytes]:
        """Return it opened for reading. Raises OSError where it is not there."""
        return default_storage.open(self.key, "rb")  # type: ignore[no-any-return]

    def read_bytes(self) -> bytes:
        """Return what is in it. Raises OSError where it is not there."""
        with self.open() as file:
            return file.read()

    @property
    def size(self) -> int:
        """How many bytes it has."""
        return int(default_storage.size(self.key))

    def is_whole(self) -> bool:
        """Tell whether a JPEG or WebP is there to its end (ITU-T T.81, B.1.1.3; RFC 9649)."""
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
        """Store some bytes, or those of a file. Raises SheetError where there is no room for them."""
        try:
            if isinstance(data, bytes):
                default_storage.save(self.key, ContentFile(data))
            else:
                with data.open("rb") as source:
                    default_storage.save(self.key, File(source))
        except OSError as error:
            raise SheetError(*FULL) from error

    def unlink(self) -> None:
        """Remove it, if it is there."""
        default_storage.delete(self.key)

    def local(self) -> Path:
        """Return a file of this machine with the same in it: the file itself, or a copy that is kept.

        Raises OSError where it is not there.
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
    """Return where a person's stored sheet lies for those that work at it without a database."""
    return f"sheets/{owner}/{hashlib.sha256(data).hexdigest()}"


def font_key(digest: str) -> str:
    """Return where a font of one's own lies, by 32 digits of the SHA-256 of its bytes."""
    return f"fonts/{digest[:2]}/{digest}"


def photo_key(sha256: str) -> str:
    """Return where a photo lies, untouched, by the SHA-256 of its bytes."""
    return f"photos/{sha256[:2]}/{sha256}"


def preview_key(sha256: str) -> str:
    """Return where the screen's small copy of a photo lies."""
    return f"previews/{sha256[:2]}/{sha256}"
