"""A person's own print profiles, for PDF/X-4."""

from typing import Any

from picture.photos.print_profiles import read_profile
from picture.write.pdf_standards import press_of
from sheet import SheetError
from sheet.document.limits import clean_name
from sheet.export.order import Order
from studio.models import OwnFile

from . import own_files

__all__ = ["add", "check_owned", "check_usable", "find", "key_of", "listed"]


def find(digest: str) -> bytes | None:
    """Return the profile with these digits, None if there is none."""
    return own_files.find(OwnFile.PROFILE, digest)


def key_of(row: OwnFile) -> str:
    """Return the key by which an order names a profile."""
    return f"{row.digest}:{row.name}"


def listed(owner: Any) -> tuple[tuple[str, str, str], ...]:
    """Return a person's print profiles: key, name and colour space."""
    return tuple((key_of(row), row.name, row.kind) for row in own_files.listed(owner, OwnFile.PROFILE))


def add(owner: Any, data: bytes, file_name: str) -> OwnFile:
    """Import a profile, or find it. Raises PictureError if it is not one, SheetError for too many or no room."""
    profile = read_profile(data, clean_name(file_name, 200) or "the profile")
    names = (profile.name, file_name.rsplit(".", 1)[0])
    return own_files.keep(owner, OwnFile.PROFILE, profile.digest, data, names, profile.space)


def check_owned(owner: Any, order: Order) -> None:
    """Raise SheetError if an order names somebody else's profile."""
    digest, _, name = order.profile.partition(":")
    if digest and not OwnFile.objects.filter(owner=owner, use=OwnFile.PROFILE, digest=digest).exists():
        raise SheetError(f"The profile “{name}” is missing.", "Bring it in again, or select another one.", "profile")


def check_usable(order: Order) -> None:
    """Raise SheetError if an order lacks a profile that it needs, or one that suits it."""
    if order.format == "pdf":
        press_of(order)
