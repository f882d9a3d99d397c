"""The key map: one table for the list of keys, the hints and the scripts.

A key does the same wherever the focus is, unless text is being typed. `when` names the
mode in which it does something of its own.
"""

from typing import Any, Final, NamedTuple

from sheet.caching import cached
from sheet.document.kinds import KINDS
from sheet.document.model import OPERATIONS

from .view_state import STATIONS

__all__ = ["KeyRow", "key_map"]

Act = tuple[str, dict[str, Any]]


class KeyRow(NamedTuple):
    """One row: the keys as the page names them, what they do, when, and how they are written."""

    keys: tuple[str, ...]
    act: tuple[Act, ...]
    words: str
    shown: tuple[str, ...]
    when: str = ""


def _one(key: str, words: str, does: str, when: str = "", **args: Any) -> KeyRow:
    """Return the row of a single key, written as it is pressed."""
    parts = [key] if key == "+" else key.split("+")
    shown = tuple(part.capitalize() if len(part) > 1 else part.upper() for part in parts)
    return KeyRow((key,), ((does, args),), words, shown, when)


def _row(keys: str, words: str, *acts: Act, when: str = "", shown: tuple[str, ...] = ()) -> KeyRow:
    """Return a row of several keys, each with what it does."""
    names = tuple(keys.split())
    return KeyRow(names, acts, words, shown or tuple(n.split("+")[-1].upper() for n in names), when)


ARROWS: Final = ("arrowleft", "arrowright", "arrowup", "arrowdown")
STEPS: Final = ((-1, 0), (1, 0), (0, -1), (0, 1))


def _nudges(times: int, prefix: str) -> KeyRow:
    acts = tuple(("page:nudge", {"x": x * times, "y": y * times}) for x, y in STEPS)
    words = "nudge by 1 px, with Shift by 10" if times == 1 else ""
    return KeyRow(tuple(f"{prefix}{a}" for a in ARROWS), acts, words, ("↑", "↓", "←", "→"))


def _moves(does: str, words: str, shown: tuple[str, ...], when: str) -> tuple[KeyRow, KeyRow]:
    """Return the rows of something that the arrows move, by ten with Shift."""
    ten = tuple((does, {"x": 10 * x, "y": 10 * y}) for x, y in STEPS)
    return (
        KeyRow(ARROWS, tuple((does, {"x": x, "y": y}) for x, y in STEPS), words, shown, when),
        KeyRow(tuple(f"shift+{a}" for a in ARROWS), ten, "", (), when),
    )


@cached(entries=1)
def key_map() -> dict[str, tuple[KeyRow, ...]]:
    """Return the table by station, and the keys that work at every one. Rows without words are not listed."""
    ids = {"ids": "$chosen"}
    parts = {
        "draw": _draw(),
        "cut": _cut(ids),
        "fit": _fit(ids),
        "finish": _finish(),
        "export": _export(),
        "everywhere": _everywhere(ids),
    }
    assert set(parts) == {*STATIONS, "everywhere"}
    return parts


def _draw() -> tuple[KeyRow, ...]:
    tools = [
        _one(kind.tool.key, kind.name.lower(), "page:tool", name=kind.key)
        for kind in KINDS.values()
        if kind.tool is not None and kind.tool.key
    ]
    into = [("page:into", {"operation": o}) for o in OPERATIONS]
    return (
        *tools,
        _one("n", "nodes", "page:tool", name="nodes"),
        _one("b", "bring photos in", "page:bring-in"),
        KeyRow((), (), "a tool’s key twice: draw several pieces", ("R", "R")),
        _one("enter", "with a drawing tool: exact size", "page:exact", when="drawing"),
        _row("u s i x", "with a drawing tool: draw into the selected outline", *into, when="drawing"),
        KeyRow(
            ("arrowup", "arrowdown"),
            (("page:count", {"by": 1}), ("page:count", {"by": -1})),
            "with a polygon or star: sides, points",
            ("↑", "↓"),
            "steered",
        ),
        KeyRow((), (), "while drawing: move the piece", ("Space", "drag")),
        KeyRow(("enter",), (("page:finish-curve", {}),), "", (), "curve"),
        KeyRow(("backspace",), (("page:shorten-curve", {}),), "", (), "curve"),
        KeyRow(
            ("n", "shift+n"),
            (("page:next-node", {"by": 1}), ("page:next-node", {"by": -1})),
            "nodes: the next one, with Shift the previous one",
            ("N",),
            "noding",
        ),
        _one("h", "nodes: move a handle by the arrows", "page:next-handle", when="noding"),
        KeyRow(("delete", "backspace"), (("delete_nodes", {"id": "$first", "nodes": "$nodes"}),) * 2, "", (), "nodes"),
        _one("v", "see through pieces", "page:see"),
        _one("shift+v", "outlines only", "page:lines"),
    )


def _cut(ids: dict[str, str]) -> tuple[KeyRow, ...]:
    combine = [("combine", {**ids, "operation": o, "base": "$base"}) for o in OPERATIONS]
    apart = {**ids, "keep": "$keep", "neighbours": "$neighbours", "parts": "$parts"}
    brushes = [("page:brush", {"name": b}) for b in ("join", "away", "lift")]
    return (
        _row("u s i x", "unite, subtract, intersect, exclude", *combine),
        _one("m", "change base", "page:next-base"),
        _one("d", "divide, as the card shows it", "apart", **apart),
        _one("j", "part by part", "page:tool", name="cells"),
        _row("j a l", "part by part: join, take away, lift out", *brushes, when="cells"),
        KeyRow(
            ARROWS,
            tuple(("page:next-cell", {"x": x, "y": y}) for x, y in STEPS),
            "part by part: to the next part",
            ("→",),
            "cells",
        ),
        _one("enter", "part by part: accept", "page:accept-cells", when="cells"),
        _one("shift+r", "refit: another proportion", "page:tool", name="refit"),
        _one("enter", "refit: accept", "page:accept-refit", when="refit"),
    )


def _fit(ids: dict[str, str]) -> tuple[KeyRow, ...]:
    tries = [("try_photo", {**ids, "by": by}) for by in (1, -1)]
    hands = [("page:silhouette-brush", {"name": b}) for b in ("box", "loop", "add", "away")]
    return (
        _one("p", "put the photo in", "put_in", **ids),
        _one("t", "take it out", "take_out", **ids),
        _one("o", "move the outline alone, or both", "page:other-part"),
        _row("shift+n shift+b", "next and previous: the photos tried in a frame", *tries, shown=("Shift", "N", "B")),
        _one("shift+s", "trace a silhouette of the photo", "page:silhouette"),
        _row("b l j a", "silhouette: box, loop, add, take away", *hands, when="silhouette"),
        KeyRow(
            ARROWS,
            tuple(("page:silhouette-move", {"x": x, "y": y, "size": False}) for x, y in STEPS),
            "silhouette: move the spot, the box or the cross; with Shift the box’s corner",
            ("↑", "→"),
            "silhouette",
        ),
        KeyRow(
            tuple(f"shift+{a}" for a in ARROWS),
            tuple(("page:silhouette-move", {"x": x, "y": y, "size": True}) for x, y in STEPS),
            "",
            (),
            "silhouette",
        ),
        KeyRow(
            ("backspace",),
            (("page:silhouette-back", {}),),
            "silhouette: undo the last stroke",
            ("Backspace",),
            "silhouette",
        ),
        _one("enter", "silhouette: accept", "page:accept-silhouette", when="silhouette"),
    )


def _finish() -> tuple[KeyRow, ...]:
    copied = {"source": "$first", "ids": "$chosen"}
    return (
        _one(".", "sample a colour", "page:tool", name="sample"),
        *_moves("page:sample-move", "sampling: to the next px", ("↑", "→"), "sample"),
        _one("enter", "sampling: take the colour", "page:take-sample", when="sample"),
        _one(",", "copy the first selected piece’s paint to the others", "copy_paint", **copied),
    )


def _export() -> tuple[KeyRow, ...]:
    return (
        _one("ctrl+enter", "export, as last time", "page:export"),
        *_moves("page:lens-move", "lens: move it", ("↑", "→"), "lens"),
    )


def _everywhere(ids: dict[str, str]) -> tuple[KeyRow, ...]:
    by_one, by_all = ([("restack", {**ids, "to": to}) for to in pair] for pair in (("up", "down"), ("top", "bottom")))
    return (
        KeyRow(tuple("12345"), tuple(("page:station", {"name": s}) for s in STATIONS), "stations", ("1", "–", "5")),
        _row("f6 shift+f6", "drawer, sheet, side", *(("page:round", {"by": by}) for by in (1, -1)), shown=("F6",)),
        _one("c", "select", "page:tool", name="choose"),
        _one("enter", "move the photo, or edit the pieces", "page:step-inside"),
        KeyRow((), (), "step out, cancel, deselect", ("Esc",)),
        _one("ctrl+a", "select all", "page:all"),
        _nudges(1, ""),
        _nudges(10, "shift+"),
        _one("ctrl+z", "undo", "undo"),
        _one("ctrl+shift+z", "redo", "redo"),
        KeyRow(("ctrl+y",), (("redo", {}),), "", ()),
        KeyRow((), (), "copy, cut, paste, between projects too; with Shift in place", ("Ctrl", "C", "X", "V")),
        _one("ctrl+d", "duplicate", "page:duplicate"),
        _one("ctrl+shift+d", "copy again, as far on", "page:copy-step"),
        KeyRow((), (), "drag a copy", ("Alt", "drag")),
        KeyRow((), (), "no snapping while pressed", ("Ctrl",)),
        KeyRow(("delete", "backspace"), (("remove", ids), ("remove", ids)), "remove", ("Delete",)),
        _one("ctrl+g", "group", "group", **ids),
        _one("ctrl+shift+g", "ungroup", "ungroup", **ids),
        _row("pageup pagedown", "up or down in the stack", *by_one, shown=("Page Up", "Page Down")),
        _row("home end", "top or bottom of the stack", *by_all, shown=("Home", "End")),
        _one("shift+k", "add to the shelf", "page:keep-outline"),
        _one("shift+h", "the steps of this project", "page:steps"),
        KeyRow(("+", "="), (("page:zoom", {"by": 1.25}),) * 2, "zoom in", ("+",)),
        KeyRow(("-",), (("page:zoom", {"by": 0.8}),), "zoom out", ("−",)),
        _one("w", "show the whole sheet", "page:fit"),
        _one("k", "zoom to the selection", "page:fit-chosen"),
        _one("0", "actual size", "page:actual-size"),
        KeyRow((), (), "pan", ("Space", "drag")),
        _one("?", "help and keys", "page:keys"),
    )
