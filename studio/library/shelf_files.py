"""Outlines of the shelf as files: export and import."""

from typing import IO, Any

from django.db import transaction
from msgspec.structs import replace

from sheet import Sheet, SheetError, new_sheet
from sheet.document.ids import new_ids
from sheet.document.limits import clean_name
from sheet.document.model import VARIANTS, Group, Item
from sheet.geometry.copies import copied
from studio.models import ShelfItem

from .archive import pack_sheet, take_fonts, take_photos, unpack_outline
from .fonts import claimed
from .shelf import add, latest, sheet_of, stored

__all__ = ["as_one", "receive", "receive_drawing", "send"]


def send(item: ShelfItem, out: IO[bytes]) -> None:
    """Write an outline with its variants as a Gouge file. Raises SheetError."""
    source = latest(item, "")
    if source is None:
        raise SheetError(f"“{item.name}” is empty.", "Add it to the shelf again.")
    found = {v: last for v in VARIANTS[1:] if (last := latest(item, v)) is not None}
    variants: dict[str, tuple[Sheet, bool]] = {v: (last.sheet, last.follows) for v, last in found.items()}
    pack_sheet(source.sheet, item.name, item.owner, out, item.tags, variants)


def receive(owner: Any, source: IO[bytes]) -> ShelfItem:
    """Add an outline from a Gouge file to the shelf; from a project's file, everything on its sheet.

    Raises SheetError.
    """
    manifest, sheet, variants = unpack_outline(source)
    came = take_fonts(owner, source, manifest, sheet)
    sheet, item = as_one(claimed(owner, sheet, came), manifest.name)
    take_photos(owner, source, sheet_of(item, sheet.resolution, sheet.unit), manifest)
    # all or nothing
    with transaction.atomic():
        one, _ = add(owner, sheet, item.id, manifest.name, manifest.tags)
        for variant, (other, follows) in variants.items():
            other, whole = as_one(claimed(owner, other, came), manifest.name)
            stored(one, variant, one.made, sheet_of(whole, other.resolution, other.unit), follows)
    return one


def receive_drawing(owner: Any, name: str, items: tuple[Item, ...], resolution: float) -> ShelfItem:
    """Add an imported drawing to the shelf. Raises SheetError."""
    sheet, item = as_one(replace(new_sheet(1, 1, "px", resolution), items=items), name)
    one, _ = add(owner, sheet, item.id, name)
    return one


def as_one(sheet: Sheet, name: str) -> tuple[Sheet, Item]:
    """Return a sheet with a single item: a group if there are several. Raises SheetError for none."""
    if not sheet.items:
        raise SheetError("There is nothing on the sheet of that file.", "Choose another file.")
    # foreign ids may clash with those of any sheet
    items = []
    for item in sheet.items:
        sheet, copy = copied(sheet, item)
        items.append(copy)
    one: Item = items[0]
    if len(items) > 1:
        sheet, (new,) = new_ids(sheet)
        one = Group(new, clean_name(name) or "Unnamed", tuple(items))
    return replace(sheet, items=(one,)), one
