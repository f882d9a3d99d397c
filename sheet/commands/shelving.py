"""Commands on shelved outlines: draw one, mark one, and update to its newest version."""

from msgspec.structs import replace

from outline import Matrix
from sheet.document.errors import SheetError
from sheet.document.ids import numbered
from sheet.document.library import Library, Shelved
from sheet.document.limits import Id, Ids, Key, MaybeId, Place, Typed
from sheet.document.model import CutList, Group, Item, Panes, Photo, Piece, Sheet, ShelfLink, Variant
from sheet.document.tree import change, find, members, photos_of
from sheet.geometry import geometry, placing
from sheet.geometry.copies import as_piece, copied, copied_photos
from sheet.geometry.placing import is_similarity
from sheet.geometry.refit import refitted
from sheet.reading.lengths import read_length

from .base import Command, Outcome, check_count, register, require_one, require_selection
from .draw.drawing import IntoOperation, drawn_into

__all__ = ["DrawShelved", "LinkShelf", "TakeOver", "bare", "in_box"]


def bare(item: Item) -> Item:
    """Return an item in the form that the shelf stores: without photos, its box at the origin, linked to nothing.

    Raises SheetError for a photo, and for an item without an outline.
    """
    made = _outline_alone(item)
    x0, y0, x1, y1 = geometry.box_of(made)
    if x1 <= x0 or y1 <= y0:
        raise SheetError(f"“{item.name}” has no area.", "Add a piece with a width and a height.", "id")
    return placing.moved(made, Matrix.move(-x0, -y0))


def _outline_alone(item: Item) -> Piece | Group:
    if isinstance(item, Photo):
        raise SheetError(f"“{item.name}” is a photo.", "Add the frame it is in, or an outline.", "id")
    made = _without_photos(item)
    if made is None or isinstance(made, Photo) or not geometry.pieces_of(made):
        raise SheetError(f"“{item.name}” has no outline in it.", "Add a piece, an outline or a frame.", "id")
    return made


def _without_photos(item: Item) -> Item | None:
    if isinstance(item, Photo):
        return None
    if isinstance(item, Piece):
        return replace(item.as_member(), shelf_link=None, link="", gaps=False, locked=False, hidden=False)
    inner = tuple(i for one in item.items if (i := _without_photos(one)) is not None)
    if not inner:
        return None
    cut = item.panes and replace(item.panes, base=item.panes.base.as_member())
    return replace(item, items=inner, panes=cut, shelf_link=None, locked=False, hidden=False)


@register
class DrawShelved(Command, frozen=True):
    """Draw an outline of the shelf in a box; numbers are px, texts take units and sums. Details scale too.

    In a box of another proportion it is refitted, unless `stretch` is on.
    """

    command = "draw_shelved"
    item: Key
    x: Place | Typed
    y: Place | Typed
    width: Place | Typed
    height: Place | Typed
    variant: Variant = ""
    into: MaybeId = ""
    operation: IntoOperation = ""
    stretch: bool = False
    centred: bool = False

    def informed(self, library: Library, sheet: Sheet) -> Command:
        """Return the command with the outline itself."""
        return _Drawn(self, library.shelved(self.item, self.variant))


class _Drawn(Command, frozen=True):
    asked: DrawShelved
    found: Shelved

    def weight(self, sheet: Sheet) -> int:
        """Return a high estimate: only the shelf knows how large it is."""
        return 300

    def named(self) -> list[str]:
        """Return the outline it is drawn into, if any."""
        return [self.asked.into] if self.asked.into else []

    def run(self, sheet: Sheet) -> Outcome:
        asked, kept = self.asked, self.found
        read = {}
        for field, whole in (("x", sheet.width), ("y", sheet.height), ("width", sheet.width), ("height", sheet.height)):
            read[field] = read_length(sheet, field, getattr(asked, field), whole)
            if field in ("width", "height") and read[field] <= 0:
                raise SheetError(f"The {field} must be greater than 0.", "Type a larger number.", field)
        if asked.centred:
            read["x"], read["y"] = read["x"] - read["width"] / 2, read["y"] - read["height"] / 2
        check_count(sheet)
        sheet, copy = copied(sheet, kept.item)
        made, m = in_box(copy, (read["x"], read["y"], read["width"], read["height"]), asked.stretch)
        mark = ShelfLink(asked.item, kept.version, asked.variant, m.numbers())
        made = replace(made, name=numbered(sheet, kept.name), shelf_link=mark)
        if not asked.into:
            return Outcome(replace(sheet, items=(*sheet.items, made)), f"draw {made.name}", (made.id,))
        sheet, piece = as_piece(sheet, made)
        assert piece is not None
        return drawn_into(sheet, replace(piece, shelf_link=None), asked.into, asked.operation)


def in_box(item: Item, place: tuple[float, float, float, float], stretch: bool = False) -> tuple[Item, Matrix]:
    """Return an outline of the shelf in a box (x, y, width, height in px), and its map to the sheet: scaled to
    fit, and then refitted if the box has another proportion. Raises SheetError."""
    x, y, width, height = place
    x0, y0, x1, y1 = geometry.box_of(item)
    across, down = width / (x1 - x0), height / (y1 - y0)
    if not stretch and abs(across - down) > 1e-6 * max(across, down):
        size = min(across, down)
        m = Matrix.move(x, y) @ Matrix(size, 0, 0, size, 0, 0) @ Matrix.move(-x0, -y0)
        return refitted(placing.moved(item, m, details=True), width, height), m
    m = Matrix.move(x, y) @ Matrix(across, 0, 0, down, 0, 0) @ Matrix.move(-x0, -y0)
    return placing.moved(item, m, details=True), m


@register
class LinkShelf(Command, frozen=True):
    """Note on an item which outline of the shelf it was saved as."""

    command = "link_shelf"
    locks = False
    id: Id
    item: Key
    variant: Variant = ""

    @classmethod
    def accept(cls, sheet: Sheet, ids: list[str]) -> None:
        """Raise SheetError unless one item with an outline is selected."""
        way = "Select a piece, an outline or a frame. Ctrl G groups several."
        _outline_alone(require_one(sheet, ids, "Adding to the shelf needs", way))

    def informed(self, library: Library, sheet: Sheet) -> Command:
        """Return the command with the outline itself."""
        return _Marked(self, library.shelved(self.item, self.variant))


class _Marked(Command, frozen=True):
    locks = False
    asked: LinkShelf
    found: Shelved

    def run(self, sheet: Sheet) -> Outcome:
        item = find(sheet, self.asked.id)
        x0, y0, _, _ = geometry.box_of(_outline_alone(item))
        mark = ShelfLink(self.asked.item, self.found.version, self.asked.variant, Matrix.move(x0, y0).numbers())
        made = change(sheet, [item.id], lambda i: i if isinstance(i, Photo) else replace(i, shelf_link=mark))
        return Outcome(made, f"add {item.name} to the shelf", (item.id,))


@register
class TakeOver(Command, frozen=True):
    """Update items from the shelf to its newest version, with the size, turn and place they have.

    Their photos stay in place.
    """

    command = "take_over"
    ids: Ids

    def informed(self, library: Library, sheet: Sheet) -> Command:
        """Return the command with the newest version of each."""
        found = []
        for item in require_selection(sheet, self.ids, "update"):
            mark = None if isinstance(item, Photo) else item.shelf_link
            if mark is None:
                raise SheetError(f"“{item.name}” did not come from the shelf.", "Select one that did.", "ids")
            found.append((item.id, library.shelved(mark.item, mark.variant, mark.version)))
        return _Taken(tuple(self.ids), tuple(found))


class _Taken(Command, frozen=True):
    ids: tuple[str, ...]
    found: tuple[tuple[str, Shelved], ...]

    def weight(self, sheet: Sheet) -> int:
        """Return a high estimate."""
        return 300 * len(self.found)

    def run(self, sheet: Sheet) -> Outcome:
        names, changed = [], []
        for item_id, newer in self.found:
            item = find(sheet, item_id)
            assert isinstance(item, Piece | Group) and item.shelf_link is not None
            if newer.version <= item.shelf_link.version:
                continue
            if newer.before is not None and not _untouched(item, newer.before):
                changed.append(item.name)
            sheet, made = _renewed(sheet, item, newer)
            sheet = change(sheet, [item_id], lambda _, made=made: made)  # type: ignore[misc]
            names.append(item.name)
        if not names:
            raise SheetError("That is already the newest version.", "Add a new version to the shelf first.", "ids")
        words = names[0] if len(names) == 1 else f"{len(names)} frames"
        note = f"Your changes to “{changed[0]}” are not in the new version; Undo brings them back." if changed else ""
        return Outcome(sheet, f"update to the newest {words}", self.ids, note)


def _untouched(item: Piece | Group, before: Item) -> bool:
    """Return whether an item still has the outlines that it came with, whatever its place and size now."""
    assert item.shelf_link is not None
    m = Matrix(*item.shelf_link.matrix)
    was = geometry.pieces_of(placing.moved(before, m, details=True))
    now = geometry.pieces_of(item)
    # a group that got photos is one outline of the same pieces
    if isinstance(item, Piece) and item.grouped and isinstance(item.shape, CutList):
        now = list(members(item.shape))
    return len(was) == len(now) and all(
        geometry.outline_of(p).node_count == geometry.outline_of(q).node_count for p, q in zip(was, now, strict=True)
    )


def _renewed(sheet: Sheet, item: Piece | Group, newer: Shelved) -> tuple[Sheet, Item]:
    mark = item.shelf_link
    assert mark is not None
    m = Matrix(*mark.matrix)
    sheet, copy = copied(sheet, newer.item)
    made = placing.moved(copy, m, details=True)
    if newer.before is not None and is_similarity(m):
        # it was refitted since then: the new one is wider and higher in the same measure
        x0, y0, x1, y1 = geometry.box_of(placing.moved(newer.before, m, details=True))
        a0, b0, a1, b1 = geometry.box_of(item)
        dx, dy = (a1 - a0) - (x1 - x0), (b1 - b0) - (y1 - y0)
        if max(abs(dx), abs(dy)) > 1e-6 * (x1 - x0 + y1 - y0):
            n0, p0, n1, p1 = geometry.box_of(made)
            made = placing.moved(refitted(made, n1 - n0 + dx, p1 - p0 + dy), Matrix.move(a0 - x0, b0 - y0))
    photos = tuple(photos_of([item]))
    if photos and isinstance(made, Group) and made.panes is None:
        sheet, piece = as_piece(sheet, made)
        made = piece or made
    if isinstance(made, Group) and made.panes is not None:
        sheet, made = _with_photos(sheet, made, made.panes, item)
    elif isinstance(made, Piece):
        own = item.photos if isinstance(item, Piece) else photos
        as_was = {name: getattr(item, name) for name in ("gaps", "grouped", "tried") if isinstance(item, Piece)}
        made = replace(made, photos=own, **as_was)
    assert isinstance(made, Piece | Group)
    kept = replace(mark, version=newer.version)
    return sheet, replace(made, id=item.id, name=item.name, locked=item.locked, hidden=item.hidden, shelf_link=kept)


def _with_photos(sheet: Sheet, made: Group, cut: Panes, item: Piece | Group) -> tuple[Sheet, Group]:
    """Return panes with the photos of those in the same places, or of the frame that they replace."""
    old = item.panes if isinstance(item, Group) else None
    by_cells = {}
    if old is not None and isinstance(item, Group):
        inner = {i.id: i for i in item.items}
        by_cells = {cells: inner[i] for i, cells in old.panes if i in inner}
    shared = item.photos if isinstance(item, Piece) else (old.base.photos if old is not None else ())
    cells_of = dict(cut.panes)
    items: list[Item] = []
    for inner_item in made.items:
        source = by_cells.get(cells_of.get(inner_item.id, ()))
        photos = source.photos if isinstance(source, Piece) else shared
        if isinstance(inner_item, Piece):
            sheet, mine = copied_photos(sheet, photos)
            inner_item = replace(inner_item, photos=mine)
        items.append(inner_item)
    return sheet, replace(made, items=tuple(items), panes=replace(cut, base=replace(cut.base, photos=shared)))
