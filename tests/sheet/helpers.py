"""Shortcuts to a sheet with something on it."""

import unittest

import outline
from outline import Path
from sheet import Item, Sheet, SheetError, apply, new_sheet
from sheet.document.kinds import Tracing
from sheet.document.library import Brought, PhotoFacts, Shelved
from sheet.document.tree import find

FILE = "a" * 64


class Known:
    """A library that knows one photo, and the sheets that may be copied from."""

    def __init__(self, photo: PhotoFacts | None = None, sheets: tuple[Sheet, ...] = ()):
        self.facts, self.sheets = photo, sheets
        self.traced: Path = outline.ellipse(100, 80, 300, 200)
        self.asked: list[Tracing] = []
        self.kept: dict[str, list[Item]] = {}

    def photo(self, file: str) -> PhotoFacts:
        """Return the one photo."""
        if self.facts is None or file != self.facts.file:
            raise SheetError("Photo not found.", "Bring it in again.", "files")
        return self.facts

    def copied(self, project: int, revision: int, ids: list[str]) -> tuple[tuple[Item, ...], float]:
        """Return items of sheet number `revision`."""
        sheet = self.sheets[revision]
        return tuple(find(sheet, i) for i in ids), sheet.resolution

    def drawing(self, file: str, scale: float) -> Brought:
        """Refuse."""
        raise SheetError("Drawing not found.", "Bring it in again.", "file")

    def shelved(self, item: str, variant: str, version: int = 0) -> Shelved:
        """Return what was put on the shelf under that number: its versions, the newest last."""
        versions = self.kept.get(item)
        if not versions:
            raise SheetError("That is no longer on the shelf.", "Choose another outline.", "item")
        before = versions[version - 1] if 0 < version <= len(versions) else None
        return Shelved("Kept card", len(versions), versions[-1], before)

    def silhouette(self, file: str, tracing: Tracing) -> Path:
        """Return `traced`, whatever is asked, and remember that."""
        self.photo(file)
        self.asked.append(tracing)
        return self.traced


class Table:
    """A sheet under commands: each `do` replaces it, and `chosen` is what the command selects."""

    def __init__(self, width="1000", height="800", unit="px", resolution="100"):
        self.sheet: Sheet = new_sheet(width, height, unit, resolution)
        self.chosen: tuple[str, ...] = ()
        self.label = ""
        self.note = ""
        self.library = Known()

    def do(self, command: str, /, **args) -> tuple[str, ...]:
        """Run a command."""
        outcome = apply(self.sheet, command, args, self.library)
        self.sheet, self.chosen, self.label, self.note = outcome.sheet, outcome.chosen, outcome.label, outcome.note
        return outcome.chosen

    def rectangle(self, x, y, w, h) -> str:
        """Draw one and return its id."""
        return self.do("draw", kind="rectangle", x=x, y=y, width=w, height=h)[0]

    def ellipse(self, x, y, w, h) -> str:
        """Draw one and return its id."""
        return self.do("draw", kind="ellipse", x=x, y=y, width=w, height=h)[0]

    def photo(self, w=600, h=400, x=None, y=None, name="sea.jpg", alpha=False) -> str:
        """Place one about a point and return its id."""
        self.library = Known(PhotoFacts(FILE, name, w, h, alpha))
        return self.do("place", files=[FILE], x=x, y=y)[0]

    def item(self, item_id: str) -> Item:
        """Return the item on the sheet itself."""
        return next(i for i in self.sheet.items if i.id == item_id)

    @property
    def ids(self) -> list[str]:
        """The stack, lowest first."""
        return [i.id for i in self.sheet.items]


class TableCase(unittest.TestCase):
    """A test with a table of its own."""

    def setUp(self):
        self.table = Table()

    def refused(self, words: str, command: str, /, **args) -> SheetError:
        """Run a command that must be refused with `words`, the sheet staying as it is."""
        before = self.table.sheet
        with self.assertRaisesRegex(SheetError, words) as caught:
            self.table.do(command, **args)
        self.assertIs(self.table.sheet, before)
        return caught.exception

    def near(self, got, want, delta: float = 1e-6) -> None:
        """Compare numbers one by one."""
        self.assertEqual(len(got), len(want))
        far = [(a, b) for a, b in zip(got, want, strict=True) if not abs(a - b) <= delta]
        self.assertFalse(far, f"{got} is not near {want}" if far else "")
