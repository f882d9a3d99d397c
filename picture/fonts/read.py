"""Reading a font's file without trusting it."""

import hashlib
import subprocess
import sys
import threading
from pathlib import Path
from typing import Final

import msgspec

from picture.errors import PictureError

__all__ = ["MOST_BYTES", "FontFile", "read_font"]

MOST_BYTES: Final = 20_000_000
SECONDS: Final = 30.0
_READER: Final = Path(__file__).with_name("reader.py")
_ONE: Final = threading.Lock()
"""One at a time per process: each may take a gigabyte."""


class FontFile(msgspec.Struct, frozen=True):
    """A usable font: its name and kind, its file with only the tables that letters need, and its identity:
    32 hexadecimal digits of the file's SHA-256."""

    name: str
    kind: str
    data: bytes

    @property
    def digest(self) -> str:
        """The digits."""
        return hashlib.sha256(self.data).hexdigest()[:32]


class _Said(msgspec.Struct):
    name: str = ""
    kind: str = ""
    why: str = ""
    remedy: str = ""


def read_font(data: bytes, file_name: str) -> FontFile:
    """Return the font in a TTF, OTF, WOFF or WOFF2 file. Raises PictureError for anything else, and damaged ones."""
    if len(data) > MOST_BYTES:
        raise PictureError(
            f"“{file_name}” is larger than {MOST_BYTES // 1_000_000} MB.", "Bring in a font with fewer letters."
        )
    damaged = PictureError(f"“{file_name}” is damaged.", "Download the font again.")
    try:
        # in its own process: a file that asks for all memory, or never ends, harms nothing else
        with _ONE:
            run = subprocess.run([sys.executable, "-I", str(_READER)], input=data, capture_output=True, timeout=SECONDS)
    except subprocess.TimeoutExpired:
        raise damaged from None
    head, _, font = run.stdout.partition(b"\n")
    try:
        said = msgspec.json.decode(head, type=_Said)
    except msgspec.MsgspecError:
        raise damaged from None
    if said.why:
        raise PictureError(f"“{file_name}” {said.why}", said.remedy)
    return FontFile(said.name, said.kind, font)
