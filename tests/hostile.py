"""Sequences of all registered commands with arguments a page never sends: what may come in, as Hypothesis strategies.

`python -m tests.hostile 200000` runs that many commands; a small share of them runs in the tests.
"""

import math
import sys
import types
import typing
from typing import Annotated, Any, Literal, get_args, get_origin

import msgspec
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

import outline
from outline import Path
from picture import fragment
from sheet import COMMANDS, Photo, Sheet, SheetError, apply, dump, load, new_sheet
from sheet.commands.shelving import bare
from sheet.document.kinds import Tracing
from sheet.document.library import Brought, PhotoFacts, Shelved
from sheet.document.tree import find, remembered

__all__ = ["FILES", "Known", "commands", "play"]

FILES = ("a" * 64, "b" * 64)
NUMBERS = st.sampled_from(
    [0, -1, -5, 1e-320, 1e-12, 0.5, 7, 1e6, 1e16, -1e300, 1e308, math.inf, -math.inf, math.nan, 2**70, True, None]
)
TEXTS = st.sampled_from(
    ["", " ", "0", "-5", "1e999", "NaN", "inf", "9" * 250, "a\x01b", "\ud800", "\ufffe", "<b>&\"'", "1/0", "((((", "%",
     "none", "#12", "x" * 3000, "M0 0L", "M0 0H1e300V9Z", "🙂"]
)  # fmt: skip
USEFUL = st.sampled_from(
    ["12", "50%", "12mm + 3", "200", "3", "45°", "#b5432a", "none", "Marram", "M10 10H400V300H10Z", "M0 0L500 500",
     "rosette", "alfa-slab-one", "yes", "radius", "text", "sides", "multiply", "5:3"]
)  # fmt: skip
ANY_TEXT = st.one_of(st.sampled_from(["12", "50%", "200", "3", "12mm + 3"]), USEFUL)
TOLD = {
    "d": st.sampled_from(["M10 10H400V300H10Z", "M0 0L500 500", "M50 50C200 0 300 400 90 300Z"]),
    "text": st.sampled_from(["Marram", "A\n\n", "", "\n", "VA"]),
    "font": st.sampled_from(["alfa-slab-one", "pacifico", "none such"]),
    "ready": st.sampled_from(["rosette", "cloud", "none such"]),
    "field": st.sampled_from(["radius", "sides", "points", "text", "size", "tip", "closed", "pitch"]),
    "kind": st.sampled_from(["zigzag", "wave", "torn"]),
}
JUNK = st.one_of(NUMBERS, TEXTS, st.sampled_from([[], {}, [[]], [None], {"a": 1}]))


class Known:
    """A library with two photos, and a sheet to paste from."""

    def __init__(self, sheet: Sheet):
        self.sheet = sheet

    def photo(self, file: str) -> PhotoFacts:
        """Return one of the two."""
        if file not in FILES:
            raise SheetError("Photo not found.", "Bring it in again.", "files")
        alpha = file == FILES[1]
        return PhotoFacts(file, "sea.jpg", 600, 400, alpha, (10, 10, 500, 300) if alpha else None)

    def copied(self, project: int, revision: int, ids: list[str]) -> tuple:
        """Return items of the sheet, as if it had another resolution."""
        return tuple(find(self.sheet, i) for i in ids), 72.0

    def drawing(self, file: str, scale: float) -> Brought:
        """Return what lies on the sheet, as if it had been drawn elsewhere."""
        self.photo(file)
        return Brought("Drawing", self.sheet.items[:3], (0, 0, 300 * scale, 200 * scale), {"text": 2})

    def shelved(self, item: str, variant: str, version: int = 0) -> Shelved:
        """Return what lies undermost on the sheet, in a version that is newer now and then."""
        kept = [i for i in self.sheet.items if not isinstance(i, Photo)]
        if not kept or item != FILES[0][:32]:
            raise SheetError("That is no longer on the shelf.", "Choose another outline.", "item")
        return Shelved("Kept", 1 + len(self.sheet.items), bare(kept[0]), bare(kept[-1]) if version else None)

    def silhouette(self, file: str, tracing: Tracing) -> Path:
        """Return a ring as large as the numbers asked for make it."""
        self.photo(file)
        r = min(200.0, 20 + tracing.smooth + abs(tracing.grow))
        return outline.subtract(outline.ellipse(r, r, 300, 200), [outline.ellipse(r / 2, r / 2, 300, 200)])


def _plausible(hint: Any, name: str, ids: list[str]) -> st.SearchStrategy:
    """Return values that the type may take."""
    origin, args = get_origin(hint), get_args(hint)
    if origin is Annotated:
        pattern = next((m.pattern for m in args[1:] if getattr(m, "pattern", None)), "") or ""
        if pattern.startswith(("^i[0-9]", "^(i[0-9]")):
            return st.sampled_from([*ids, *ids, "i999999"] if ids else ["i999999"])
        if pattern.startswith("^(sheet"):
            return st.sampled_from(["sheet", "chosen", *ids])
        if pattern.startswith("^[0-9a-f]{32}"):
            return st.sampled_from([FILES[0][:32], FILES[1][:32]])
        if pattern.startswith("^[0-9a-f]"):
            return st.sampled_from(FILES)
        return _plausible(args[0], name, ids)
    if origin is Literal:
        return st.sampled_from(args)
    if origin in (typing.Union, types.UnionType):
        return st.one_of([_plausible(a, name, ids) for a in args])
    if origin is list:
        return st.lists(_value(args[0], name, ids), max_size=4)
    if origin is tuple:
        if name == "matrix":
            return st.tuples(*[st.sampled_from([1.0, 0.0, -1.0, 0.5, 2.0])] * 4, *[st.floats(-300, 300)] * 2)
        return st.tuples(*(_value(a, name, ids) for a in args if a is not Ellipsis))
    if origin is dict:
        return st.dictionaries(st.sampled_from(["radius", "sides", "points", "leading", "flank"]), USEFUL, max_size=2)
    if hint is bool:
        return st.booleans()
    if hint is int:
        return st.integers(0, 4)
    if hint is float:
        return st.floats(-400, 1200).map(lambda v: round(v, 2))
    if hint is str:
        return TOLD.get(name, ANY_TEXT)
    if hint is type(None):
        return st.none()
    if isinstance(hint, type) and issubclass(hint, msgspec.Struct):
        hints = typing.get_type_hints(hint, include_extras=True)
        return st.fixed_dictionaries({}, optional={n: _value(h, n, ids) for n, h in hints.items()})
    return JUNK


def _value(hint: Any, name: str, ids: list[str]) -> st.SearchStrategy:
    """Return mostly values of the type, now and then none of it."""
    good = _plausible(hint, name, ids)
    return st.integers(0, 60).flatmap(lambda n: good if n else JUNK)


def commands(ids: list[str]) -> st.SearchStrategy:
    """Return (name, arguments) of any registered command, for a sheet with items `ids`."""

    def of(name: str) -> st.SearchStrategy:
        kind = COMMANDS[name]
        required = {f.name for f in msgspec.structs.fields(kind) if f.required}
        hints = {
            n: h
            for n, h in typing.get_type_hints(kind, include_extras=True).items()
            if get_origin(h) is not typing.ClassVar
        }
        values = {n: _value(h, n, ids) for n, h in hints.items()}
        needed = {n: v for n, v in values.items() if n in required}
        rest = {n: v for n, v in values.items() if n not in required}
        args = st.fixed_dictionaries(needed, optional=rest)
        return st.tuples(st.just(name), args)

    # drawing more often than taking away, so that there is something to work on
    names = [*COMMANDS, *["draw", "draw_curve", "place", "combine", "put_in", "group"] * 4]
    return st.sampled_from(names).flatmap(of)


MOST_ITEMS = 40


def play(data: Any, sheet: Sheet, count: int) -> tuple[Sheet, int]:
    """Do `count` commands on a sheet: each is done, or refused in words; what is done loads, is found, and is drawn."""
    done = 0
    for _ in range(count):
        ids = list(remembered(sheet))[:30]
        name, args = data.draw(commands(ids))
        try:
            outcome = apply(sheet, name, args, Known(sheet))
            stored = dump(outcome.sheet)
        except SheetError as error:
            assert error.message and "_" not in error.message.replace(name, ""), error.message
            continue
        assert load(stored) == outcome.sheet
        found = remembered(outcome.sheet)
        assert all(i in found or not i.startswith("i") for i in outcome.chosen if name != "remove")
        for item in outcome.sheet.items:
            if item.id not in remembered(sheet) or remembered(sheet)[item.id][0] is not item:
                assert fragment(item, lambda p: p.file)
        done += 1
        if len(found) <= MOST_ITEMS:
            sheet = outcome.sheet
    return sheet, done


def main(total: int) -> int:
    """Run `total` commands in sequences of 50; 0 where none of them broke anything."""
    each = 50
    told = [0, 0]

    @settings(
        max_examples=math.ceil(total / each), deadline=None, database=None, suppress_health_check=list(HealthCheck)
    )
    @given(st.data())
    def run(data: Any) -> None:
        _, done = play(data, new_sheet(1000, 800, "px", 100), each)
        told[0] += each
        told[1] += done
        if told[0] % 10_000 == 0:
            print(f"{told[0]:,} commands, {told[1]:,} of them done, the others refused in words", flush=True)

    run()
    print(
        f"{told[0]:,} commands, {told[1]:,} of them done: no traceback, no sheet that could not be read and drawn again"
    )
    return 0


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]) if len(sys.argv) > 1 else 20_000))
