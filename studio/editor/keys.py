"""The key map: one table, which the list of keys, the hints and the scripts read.

A key means one thing wherever the focus is, unless text is being typed. `when` names the
work at hand for which it means something of its own.
"""

from typing import Any, Final, NamedTuple

from sheet.caching import cached
from sheet.document.kinds import KINDS
from sheet.document.model import OPERATIONS

__all__ = ["Key", "key_map"]

Act = tuple[str, dict[str, Any]]


class Key(NamedTuple):
    """One row: the keys as the page names them, what they do, in words, when, and how they are written."""

    keys: tuple[str, ...]
    act: tuple[Act, ...]
    words: str
    shown: tuple[str, ...]
    when: str = ""


def _one(key: str, words: str, does: str, when: str = "", **args: Any) -> Key:
    """Return the row of a single key, written as it is pressed."""
    parts = [key] if key == "+" else key.split("+")
    shown = tuple(part.capitalize() if len(part) > 1 else part.upper() for part in parts)
    return Key((key,), ((does, args),), words, shown, when)


def _row(keys: str, words: str, *acts: Act, when: str = "", shown: tuple[str, ...] = ()) -> Key:
    """Return a row of several keys, each with what it does."""
    names = tuple(keys.split())
    return Key(names, acts, words, shown or tuple(n.split("+")[-1].upper() for n in names), when)


ARROWS: Final = ("arrowleft", "arrowright", "arrowup", "arrowdown")
STEPS: Final = ((-1, 0), (1, 0), (0, -1), (0, 1))


def _nudges(times: int, prefix: str) -> Key:
    acts = tuple(("page:nudge", {"x": x * times, "y": y * times}) for x, y in STEPS)
    words = "nudge by 1 px, with Shift by 10" if times == 1 else ""
    return Key(tuple(f"{prefix}{a}" for a in ARROWS), acts, words, ("↑", "↓", "←", "→"))


@cached(entries=1)
def key_map() -> tuple[tuple[Key, ...], ...]:
    """Return the table, in the columns of the list of keys. Rows without words are not listed."""
    stations = ("draw", "cut", "fit", "finish", "export")
    tools = [
        _one(kind.tool.key, kind.said, "page:tool", name=kind.key) for kind in KINDS.values() if kind.tool is not None
    ]
    first = (
        Key(
            tuple("12345"),
            tuple(("page:station", {"name": s}) for s in stations),
            "stations",
            ("1", "–", "5"),
        ),
        _row("f6 shift+f6", "drawer, sheet, side", *(("page:round", {"by": by}) for by in (1, -1)), shown=("F6",)),
        _one("c", "select", "page:tool", name="choose"),
        _one("n", "nodes", "page:tool", name="nodes"),
        *tools,
        _one("b", "bring photos in", "page:bring-in"),
    )
    ids = {"ids": "$chosen"}
    combine = [("combine", {**ids, "operation": o, "base": "$base"}) for o in OPERATIONS]
    into = [("page:into", {"operation": o}) for o in OPERATIONS]
    hands = [("page:silhouette-brush", {"name": b}) for b in ("box", "loop", "add", "away")]
    tries = [("try_photo", {**ids, "by": by}) for by in (1, -1)]
    brushes = [("page:brush", {"name": b}) for b in ("join", "away", "lift")]
    by_one, by_all = ([("restack", {**ids, "to": to}) for to in pair] for pair in (("up", "down"), ("top", "bottom")))
    apart = {**ids, "keep": "$keep", "neighbours": "$neighbours", "parts": "$parts"}
    second = (
        _row("u s i x", "unite, subtract, intersect, exclude", *combine),
        _row("u s i x", "with a drawing tool: draw into the selected outline that way", *into, when="drawing"),
        _one("m", "change base", "page:next-base"),
        _one("d", "divide, as the card shows it", "apart", **apart),
        _one("j", "part by part", "page:tool", name="cells"),
        _row("j a l", "part by part: join, take away, lift out", *brushes, when="cells"),
        _one("enter", "part by part: accept", "page:accept-cells", when="cells"),
        _one("shift+s", "trace a silhouette of the photo", "page:silhouette"),
        _row("b l j a", "silhouette: box, loop, add, take away", *hands, when="silhouette"),
        _one("enter", "silhouette: accept", "page:accept-silhouette", when="silhouette"),
        Key(
            ("backspace",),
            (("page:silhouette-back", {}),),
            "silhouette: take the last stroke back",
            ("Backspace",),
            "silhouette",
        ),
        _one("p", "put the photo in", "put_in", **ids),
        _one("t", "take it out", "take_out", **ids),
        _row("shift+n shift+b", "next and back: the photos a frame had", *tries, shown=("Shift", "N", "B")),
        _one("o", "move the outline alone, or both", "page:other-part"),
        _one("enter", "step inside", "page:step-inside"),
        Key((), (), "step out, cancel, deselect", ("Esc",)),
        _one("v", "see through pieces", "page:see"),
        _one("shift+v", "outlines only", "page:lines"),
        _row("pageup pagedown", "up or down in the stack", *by_one, shown=("Page Up", "Page Down")),
        _row("home end", "top or bottom of the stack", *by_all, shown=("Home", "End")),
        _one("ctrl+g", "group", "group", **ids),
        _one("ctrl+shift+g", "ungroup", "ungroup", **ids),
    )
    third = (
        _nudges(1, ""),
        _nudges(10, "shift+"),
        _one("ctrl+z", "undo", "undo"),
        _one("ctrl+shift+z", "redo", "redo"),
        Key(("ctrl+y",), (("redo", {}),), "", ()),
        _one("ctrl+a", "select all", "page:all"),
        Key((), (), "copy, cut, paste, between projects too; with Shift in place", ("Ctrl", "C", "X", "V")),
        _one("ctrl+d", "duplicate", "page:duplicate"),
        _one("ctrl+shift+d", "repeat the last copy's step", "page:copy-step"),
        Key((), (), "drag a copy", ("Alt", "drag")),
        Key((), (), "no snapping while it is held", ("Ctrl",)),
        Key(("delete", "backspace"), (("remove", ids), ("remove", ids)), "remove", ("Delete",)),
        Key(
            ("n", "shift+n"),
            (("page:next-node", {"by": 1}), ("page:next-node", {"by": -1})),
            "with the nodes: the next one, with Shift the one before",
            ("N",),
            "noding",
        ),
        _one("h", "with a node: its handles, for the arrows", "page:next-handle", when="noding"),
        Key(("delete", "backspace"), (("delete_nodes", {"id": "$first", "nodes": "$nodes"}),) * 2, "", (), "nodes"),
        Key(("enter",), (("page:finish-curve", {}),), "", (), "curve"),
        Key(("backspace",), (("page:shorten-curve", {}),), "", (), "curve"),
        _one("enter", "with a drawing tool: exact numbers", "page:exact", when="drawing"),
        Key((), (), "the tool's key twice: keep it for several pieces", ("R", "R")),
        Key(
            ("arrowup", "arrowdown"),
            (("page:count", {"by": 1}), ("page:count", {"by": -1})),
            "with a polygon or star: sides, points",
            ("↑", "↓"),
            "steered",
        ),
        Key(
            ARROWS,
            tuple(("page:next-cell", {"x": x, "y": y}) for x, y in STEPS),
            "part by part: to the next part",
            ("→",),
            "cells",
        ),
        Key(
            ARROWS,
            tuple(("page:sample-move", {"x": x, "y": y}) for x, y in STEPS),
            "sampling: to the next px",
            ("↑", "→"),
            "sample",
        ),
        Key(
            tuple(f"shift+{a}" for a in ARROWS),
            tuple(("page:sample-move", {"x": 10 * x, "y": 10 * y}) for x, y in STEPS),
            "",
            (),
            "sample",
        ),
        Key(
            ARROWS,
            tuple(("page:lens-move", {"x": x, "y": y}) for x, y in STEPS),
            "with the lens: move it",
            ("↑", "→"),
            "lens",
        ),
        Key(
            ARROWS,
            tuple(("page:silhouette-move", {"x": x, "y": y, "size": False}) for x, y in STEPS),
            "silhouette: move the place, the box or the cross; with Shift the box's corner",
            ("↑", "→"),
            "silhouette",
        ),
        Key(
            tuple(f"shift+{a}" for a in ARROWS),
            tuple(("page:silhouette-move", {"x": x, "y": y, "size": True}) for x, y in STEPS),
            "",
            (),
            "silhouette",
        ),
        _one("enter", "sampling: take the colour", "page:take-sample", when="sample"),
        Key(("+", "="), (("page:zoom", {"by": 1.25}),) * 2, "zoom in", ("+",)),
        Key(("-",), (("page:zoom", {"by": 0.8}),), "zoom out", ("−",)),
        _one(".", "sample a colour", "page:tool", name="sample"),
        Key(
            (",",),
            (("copy_paint", {"source": "$first", "ids": "$chosen"}),),
            "copy the first selected piece’s paint to the others",
            (",",),
        ),
        _one("shift+r", "refit: another proportion", "page:tool", name="refit"),
        _one("enter", "refit: accept", "page:accept-refit", when="refit"),
        _one("shift+h", "the steps of this project", "page:steps"),
        _one("shift+k", "add it to the shelf", "page:keep-outline"),
        _one("ctrl+enter", "export again, as last time", "page:export"),
        _one("w", "the whole sheet", "page:fit"),
        _one("k", "what is selected", "page:fit-chosen"),
        _one("0", "actual size", "page:actual-size"),
        Key((), (), "pan; while drawing: move the piece", ("Space", "drag")),
        _one("?", "this list", "page:keys"),
    )
    return first, second, third
