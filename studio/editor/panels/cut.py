"""The cards: what each operation would make of the selection, as it was planned."""

from typing import Any

from django.template.loader import render_to_string

from outline import Path
from picture import outline_thumb
from sheet import CutList, Sheet
from sheet.document.gradients import flat
from sheet.document.model import FINISHES, OPERATIONS, Item
from sheet.document.tree import parent_of, remembered
from sheet.geometry.combination import Combination, CombinationPlan, gathered
from sheet.inspect.dimensions import suggested
from studio.editor.view_state import ViewState

__all__ = ["html"]

MANY = 60
"""The most parts drawn pulled apart; more could not be distinguished."""
KEYS = {"union": "u", "subtract": "s", "intersect": "i", "exclude": "x", "apart": "d"}
FINISH_WORDS = {"offset": "Offset", "round": "Round", "simplify": "Simplify", "clean": "Clean up"}
CHOICES = (
    ("keep", (("every", "all parts"), ("shows", "visible parts"), ("under", "only inside the top piece"))),
    ("neighbours", (("apart", "keep separate"), ("joined", "merge same colour"))),
    ("parts", (("areas", "areas"), ("lines", "lines"))),
)
"""The three choices of Divide; within a row only one applies."""


def _thumb(plan: CombinationPlan, combination: Combination, size: tuple[int, int], spread: float = 0.0) -> str:
    """Return the result as a drawing, what is dropped hatched; parts are pulled apart by `spread` of the size."""
    drawn: list[tuple[Path, str, str | None]] = []
    if not plan.away.is_empty and not spread:
        drawn.append((plan.away, "t-away", None))
    if spread and len(plan.results) <= MANY:
        drawn += [(path, kind, fill) for path, kind, fill in _pulled(plan, combination, spread)]
    else:
        # the parts of one result do not overlap, so parts of the same fill are drawn at once
        fills: dict[str, list[Path]] = {}
        for path, k in plan.results:
            fill = "none" if plan.unit == "lines" else flat(combination.pieces[k].paint.fill) or "none"
            fills.setdefault(fill, []).append(path)
        drawn += [(Path.gather(paths), "t-shape", fill) for fill, paths in fills.items()]
    return outline_thumb(drawn, *size, 5)


def _pulled(plan: CombinationPlan, combination: Combination, spread: float) -> list[tuple[Path, str, str | None]]:
    boxes = [path.bounds or (0.0, 0.0, 0.0, 0.0) for path, _ in plan.results]
    middle = [(min(b[k] for b in boxes) + max(b[k + 2] for b in boxes)) / 2 for k in (0, 1)]
    out: list[tuple[Path, str, str | None]] = []
    for (path, k), box in zip(plan.results, boxes, strict=True):
        dx, dy = (spread * ((box[i] + box[i + 2]) / 2 - middle[i]) for i in (0, 1))
        fill = "none" if plan.unit == "lines" else flat(combination.pieces[k].paint.fill) or "none"
        out.append((path.transform((1, 0, 0, 1, dx, dy)), "t-shape", fill))
    return out


def _card(plan: CombinationPlan, combination: Combination) -> dict[str, Any]:
    one = plan.operation != "apart"
    thumb = "" if plan.why else _thumb(plan, combination, (98, 62) if one else (208, 92), 0.0 if one else 0.35)
    return {"plan": plan, "word": plan.operation.capitalize(), "key": KEYS[plan.operation], "thumb": thumb}


def html(sheet: Sheet, view: ViewState, items: list[Item]) -> str:
    """Return the cards for two or more pieces, and for one piece what can be done with it."""
    found = remembered(sheet)
    tops = [i.id for i in items if found[i.id][1] is None]
    # a group counts as one piece; showing cards does not change the sheet
    _, pieces, top_of = gathered(sheet, tops)
    ids = list(top_of.values())
    base = ids.index(view.base) if view.base in ids else None
    combination = Combination(pieces, base)
    outlines = [p for p in pieces if isinstance(p.shape, CutList)]
    context: dict[str, Any] = {
        "chosen": items,
        "pieces": pieces,
        "holder": parent_of(sheet, items[0].id) if items and not pieces else None,
        "operations": OPERATIONS,
        "unit": sheet.unit,
        "reshapes": _reshapes(sheet),
        "addable": outlines[0] if len(outlines) == 1 and len(pieces) > 1 else None,
    }
    if len(pieces) > 1:
        *ones, apart = combination.all(view.keep, view.neighbours, view.parts)
        context |= {
            "base": pieces[combination.base],
            "base_id": ids[combination.base],
            "cutters": combination.others,
            "cards": [_card(plan, combination) for plan in ones],
            "apart": _card(apart, combination),
            "choices": [(name, getattr(view, name), options) for name, options in CHOICES],
            "photos_along": sum(len(p.photos) for p in pieces),
        }
    return render_to_string("panels/cut.html", context)


def _reshapes(sheet: Sheet) -> list[dict[str, str]]:
    """Return each way to reshape an outline with a length that suits the sheet, and its one-off command."""
    sizes = suggested(sheet)
    return [
        {
            "kind": kind,
            "word": FINISH_WORDS[kind],
            "value": sizes["fine"] if kind == "simplify" else sizes["large"],
        }
        for kind in FINISHES
    ]
