"""A person's own fonts and print profiles: stored with the account, identified by content."""

from typing import Any, Final

from sheet import SheetError
from sheet.document.limits import clean_name
from studio.models import OwnFile
from studio.storage import Stored, own_key

__all__ = ["MAX_FILES", "find", "keep", "listed"]

MAX_FILES: Final = 200
"""The most fonts, and the most profiles, that a person may have."""
_WORDS: Final = dict(OwnFile.USES)


def find(use: str, digest: str) -> bytes | None:
    """Return the file with these digits, None if there is none."""
    try:
        return Stored(own_key(use, digest)).read_bytes()
    except OSError:
        return None


def listed(owner: Any, use: str) -> tuple[OwnFile, ...]:
    """Return the fonts or profiles on a person's lists, by name."""
    return tuple(OwnFile.objects.filter(owner=owner, use=use, removed=False).order_by("name", "id"))


def keep(owner: Any, use: str, digest: str, data: bytes, names: tuple[str, str], kind: str) -> OwnFile:
    """Store a file, or find it; its name is the first of `names` that can be read. Raises SheetError for too many."""
    own = OwnFile.objects.filter(owner=owner, use=use)
    if own.filter(removed=False).exclude(digest=digest).count() >= MAX_FILES:
        raise SheetError(
            f"You have {MAX_FILES} {_WORDS[use]}s, which is the most.", "Remove one on your account’s page."
        )
    Stored(own_key(use, digest)).write(data)
    name = next((n for one in names if (n := clean_name(one, 60))), _WORDS[use].capitalize())
    row, _ = OwnFile.objects.update_or_create(
        owner=owner,
        use=use,
        digest=digest,
        defaults={"name": name, "kind": clean_name(kind, 40), "size": len(data), "removed": False},
    )
    return row
