"""Names of exported files, by a pattern."""

import re
from collections.abc import Sequence
from typing import Final

from sheet.document.errors import SheetError

from .sizes import Exported

__all__ = ["NAME_WORDS", "NAME_WORDS_OF_BATCH", "file_names"]

NAME_WORDS: Final = ("project", "name", "number", "width", "height")
"""The words that a pattern may have in braces."""
NAME_WORDS_OF_BATCH: Final = ("photo", *NAME_WORDS)
_ENDING: Final = re.compile(r"\.(jpe?g|png|webp|avif|tiff?|hei[cf]|gif|bmp|svgz?|pdf)$", re.IGNORECASE)
"""Endings that are dropped from a photo's name: the new file has its own."""
_TOKEN: Final = re.compile(r"\{([^{}]*)\}")


_DEVICE: Final = re.compile(r"(con|prn|aux|nul|com\d|lpt\d)(\.|$)")
"""Names that a file cannot have on Windows (Microsoft, "Naming Files, Paths, and Namespaces")."""


_MOST: Final = 230
"""Bytes of a name before its number and ending: a file's may have 255 (NAME_MAX on Linux)."""


def _clean(text: str) -> str:
    name = re.sub(r"[^\w.]+", "-", text.strip()).strip("-._").lower()[:100]
    name = name.encode()[:_MOST].decode(errors="ignore")
    return f"file-{name}" if _DEVICE.match(name) else name


def file_names(pattern: str, project: str, files: Sequence[Exported], photos: Sequence[str] | None = None) -> list[str]:
    """Return a name for each file, without its ending, by a pattern such as "{project} {name}"; all are unique.

    For a batch, `photos` are the names of the photos, without their endings, which replace "{photo}".

    Raises SheetError for an unknown word in braces.
    """
    for token in _TOKEN.findall(pattern):
        if token not in (known_tokens := NAME_WORDS if photos is None else NAME_WORDS_OF_BATCH):
            known = ", ".join(f"{{{t}}}" for t in known_tokens)
            raise SheetError(f"“{{{token[:30]}}}” means nothing in a name.", f"Use {known}.", "pattern")
    digits = len(str(len(files)))
    taken: set[str] = set()
    names = []
    for number, file in enumerate(files, 1):
        values = {
            "project": project,
            "name": _ENDING.sub("", file.name),
            "number": f"{number:0{digits}}",
            "width": str(file.width),
            "height": str(file.height),
            "photo": photos[number - 1] if photos is not None else "",
        }
        name = stem = _clean(_TOKEN.sub(lambda m, values=values: values[m[1]], pattern)) or "gouge"  # type: ignore[misc]
        again = 2
        while name in taken:
            name, again = f"{stem}-{again}", again + 1
        taken.add(name)
        names.append(name)
    return names
