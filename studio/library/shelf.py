"""The shelf: a person's outlines for next time, with their versions and variants."""

from typing import Any, Final

from django.db import transaction
from django.db.models import Max, QuerySet
from django.utils import timezone
from msgspec.structs import replace

import sheet as sheets
from outline import Matrix, OutlineError
from sheet import Sheet, SheetError, new_sheet
from sheet.commands.shelving import bare
from sheet.document.library import Shelved
from sheet.document.limits import clean_name
from sheet.document.model import VARIANTS, Group, Item, Piece, ShelfLink
from sheet.document.tree import find, walk
from sheet.geometry.geometry import box_of, outline_of, pieces_of
from sheet.geometry.placing import moved
from sheet.geometry.variants import proportion_of, variant_of
from studio.models import ShelfItem, ShelfVersion

__all__ = [
    "MAX_OUTLINES",
    "drop",
    "add",
    "items_of",
    "latest",
    "make_independent",
    "make_variants",
    "newest",
    "on_own_sheet",
    "restored",
    "sheet_of",
    "shelved",
    "stored",
    "tiles",
]

MAX_OUTLINES: Final = 1000
"""The most outlines on one shelf."""


def items_of(owner: Any) -> QuerySet[ShelfItem]:
    """Return the outlines on a person's shelf."""
    return ShelfItem.objects.filter(owner=owner, deleted=None)


def newest(owner: Any) -> dict[str, tuple[int, str]]:
    """Return the newest version and the name of everything on a person's shelf, by "KEY VARIANT"."""
    rows = ShelfVersion.objects.filter(item__owner=owner, item__deleted=None).order_by()
    found = rows.values("item__key", "variant", "item__name").annotate(last=Max("number"))
    return {f"{r['item__key']} {r['variant']}": (r["last"], r["item__name"]) for r in found}


def latest(item: ShelfItem, variant: str) -> ShelfVersion | None:
    return item.versions.filter(variant=variant).order_by("-number").first()


def shelved(owner: Any, key: str, variant: str, version: int = 0) -> Shelved:
    """Return the newest version of an outline, and its earlier `version`. Raises SheetError if it is gone."""
    one = items_of(owner).filter(key=key).first()
    found = latest(one, variant) if one is not None else None
    if one is None or found is None:
        raise SheetError("That is no longer on the shelf.", "Choose another outline.", "item")
    old = one.versions.filter(variant=variant, number=version).first() if version else None
    try:
        before = old.sheet.items[0] if old is not None else None
    except SheetError:
        before = None
    return Shelved(one.name, found.number, found.sheet.items[0], before)


def sheet_of(item: Item, resolution: float, unit: str = "px") -> Sheet:
    """Return a sheet of an item's size with nothing else on it, for the shelf. Raises SheetError."""
    made = bare(item)
    x0, y0, x1, y1 = box_of(made)
    first = new_sheet(f"{x1 - x0!r} px", f"{y1 - y0!r} px", unit, repr(resolution))
    return replace(first, items=(made,), next_id=1 + max(int(i.id[1:]) for i, _ in walk(made)))


def stored(item: ShelfItem, variant: str, number: int, sheet: Sheet, follows: bool = False) -> ShelfVersion:
    data = sheets.dump(sheet)
    return ShelfVersion.objects.create(item=item, variant=variant, number=number, data=data, follows=follows)


def add(
    owner: Any, sheet: Sheet, item_id: str, name: str, tags: str = "", of: str = "", variant: str = ""
) -> tuple[ShelfItem, list[str]]:
    """Add an item of a sheet to the shelf: as a new outline, or as a new version `of` one, in one of its variants.

    Variants that follow it are made again; the names of those that failed are
    returned with it. Raises SheetError.
    """
    made = sheet_of(find(sheet, item_id), sheet.resolution, sheet.unit)
    if variant not in VARIANTS:
        raise SheetError("There is no such variant.", "Choose landscape, square or portrait.", "variant")
    with transaction.atomic():
        if of:
            one = items_of(owner).filter(key=of).first()
            if one is None:
                raise SheetError("That is no longer on the shelf.", "Add it as a new outline.", "of")
        else:
            if items_of(owner).count() >= MAX_OUTLINES:
                raise SheetError(f"A shelf has room for {MAX_OUTLINES:,} outlines.", "Remove some first.", "name")
            one = ShelfItem(owner=owner, name=_name(name))
            one.tags = clean_name(tags, 200)
        one.made += 1
        one.save()
        stored(one, variant, one.made, made)
        lost = _followed(one, made) if not variant else []
    return one, lost


def _name(name: str) -> str:
    return clean_name(name) or "Unnamed"


def _variant(source: Sheet, variant: str) -> Sheet:
    """Return a shelf item in another proportion. Raises SheetError or OutlineError."""
    return sheet_of(variant_of(source.items[0], variant), source.resolution, source.unit)


def _followed(item: ShelfItem, source: Sheet) -> list[str]:
    """Update the variants that follow an outline; return those that failed."""
    lost: list[str] = []
    for variant in VARIANTS[1:]:
        last = latest(item, variant)
        if last is None or not last.follows:
            continue
        try:
            stored(item, variant, item.made, _variant(source, variant), follows=True)
        except (SheetError, OutlineError):
            lost.append(variant)
    return lost


def make_variants(item: ShelfItem) -> tuple[list[str], dict[str, str]]:
    """Make the missing ones of landscape, square and portrait by refitting an outline.

    They follow it from then on. Returns those made, and why others were not, by their words.
    """
    source = latest(item, "")
    if source is None:
        raise SheetError(f"“{item.name}” has nothing to make variants of.", "Add it to the shelf again.")
    made: list[str] = []
    lost: dict[str, str] = {}
    with transaction.atomic():
        for variant in VARIANTS[1:]:
            if variant == proportion_of(source.sheet.width, source.sheet.height) or latest(item, variant) is not None:
                continue
            try:
                again = _variant(source.sheet, variant)
                stored(item, variant, source.number, again, follows=True)
                made.append(variant)
            except (SheetError, OutlineError) as error:
                lost[variant] = str(error)
        item.save()
    return made, lost


def make_independent(item: ShelfItem, variant: str) -> None:
    """Stop a variant from following its source. Raises SheetError if there is none."""
    last = latest(item, variant)
    if last is None or not variant:
        raise SheetError(f"“{item.name}” has no such variant.", "Make it first.")
    item.versions.filter(pk=last.pk).update(follows=False)


def on_own_sheet(item: ShelfItem, variant: str) -> Sheet:
    """Return the newest version on a sheet with room around it, for editing; for a missing variant, its
    source. Raises SheetError."""
    last = latest(item, variant) or latest(item, "")
    if last is None:
        raise SheetError("That is no longer on the shelf.", "Choose another outline.", "item")
    found = shelved(item.owner, item.key, last.variant)
    source = last.sheet
    room = round(0.12 * max(source.width, source.height)) or 1.0
    wide, high = source.width + 2 * room, source.height + 2 * room
    first = new_sheet(f"{wide!r} px", f"{high!r} px", source.unit, repr(source.resolution))
    laid = moved(found.item, Matrix.move(room, room))
    assert isinstance(laid, Piece | Group)
    mark = ShelfLink(item.key, found.version, variant, Matrix.move(room, room).numbers())  # type: ignore[arg-type]
    return replace(first, items=(replace(laid, name=found.name, shelf_link=mark),), next_id=source.next_id)


def drop(item: ShelfItem) -> None:
    """Take an outline off the shelf; this can be undone."""
    ShelfItem.objects.filter(pk=item.pk).update(deleted=timezone.now())


def restored(item: ShelfItem) -> None:
    """Put an outline back on the shelf."""
    ShelfItem.objects.filter(pk=item.pk).update(deleted=None)


def tiles(owner: Any) -> list[dict[str, Any]]:
    """Return the rows of a person's shelf: name, tags, and each variant with its outline."""
    out = []
    for item in items_of(owner).prefetch_related("versions"):
        last: dict[str, ShelfVersion] = {}
        for version in item.versions.all():
            last.setdefault(version.variant, version)
        shown = [_tile(v) for v in sorted(last.values(), key=lambda v: VARIANTS.index(v.variant))]  # type: ignore[arg-type]
        shown = [t for t in shown if t]
        if shown:
            out.append({"item": item, "variants": shown, "main": shown[0], "words": f"{item.name} {item.tags}".lower()})
    return out


def _tile(version: ShelfVersion) -> dict[str, Any]:
    try:
        sheet = version.sheet
    except SheetError:
        return {}
    pieces = pieces_of(sheet.items[0])
    return {
        "variant": version.variant,
        "word": version.variant or proportion_of(sheet.width, sheet.height),
        "number": version.number,
        "follows": version.follows,
        "d": " ".join(outline_of(p).to_svg(2) for p in pieces),
        "w": sheet.width,
        "h": sheet.height,
        "size": f"{sheet.width:.0f} × {sheet.height:.0f} px",
    }
