"""Small SVG files that ask for much: a hundred kB of borders, clips, masks, shadows, uses and texts."""

import random
from collections.abc import Callable, Iterator
from typing import NamedTuple

__all__ = ["PLAINLY", "UNEVEN", "dense_files"]

HEAD = '<svg xmlns="http://www.w3.org/2000/svg" width="500" height="500">'
UNEVEN = "border that is wider one way (its mean width)"
CUT = "border that a clip cuts (it is whole)"
IN_PX = "pathLength (its dashes are measured in px)"
PLAINLY = {UNEVEN, CUT, IN_PX, "mask that cannot be read", "filter"}
"""Reports of what is drawn more plainly than a file asks."""


class Dense(NamedTuple):
    """The start of a file, a maker of its repeated part, and what is reported if these are too many."""

    before: str
    one: Callable[[random.Random], str]
    told: str = ""


def scribble(hand: random.Random, curves: int) -> str:
    """Return path data of so many random curves."""
    return f"M{hand.randrange(500)} 0C" + " ".join(str(hand.randrange(500)) for _ in range(6 * curves))


def _path(curves: int) -> Callable[[random.Random], str]:
    return lambda hand: f'<path d="{scribble(hand, curves)}"/>'


def _masked(hand: random.Random) -> str:
    name = f"m{hand.random()}"
    shown = f'<path d="{scribble(hand, 8)}" stroke="#fff"/>'
    return f'<mask id="{name}">{shown}</mask><circle r="99" mask="url(#{name})"/>'


def _rect(hand: random.Random) -> str:
    return f'<rect x="{hand.randrange(500)}" y="{hand.randrange(500)}" width="9" height="9"/>'


def _word(hand: random.Random) -> str:
    return f'<text x="{hand.randrange(400)}" y="{hand.randrange(500)}">word{hand.randrange(3000)}</text>'


def _use(hand: random.Random) -> str:
    return f'<use href="#p" x="{hand.randrange(500)}"/>'


def _arcs(hand: random.Random) -> str:
    arcs = "".join(f"a9 5 {hand.randrange(90)} 01{hand.randrange(9)} {hand.randrange(9)}" for _ in range(20))
    return f'<path d="M{hand.randrange(500)} 0{arcs}"/>'


PEN = '<g fill="none" stroke="#000" transform="scale(2 1)">'
CLIP = '<clipPath id="c"><circle cx="250" cy="250" r="150"/></clipPath>'
USED = f'<defs><path id="p" stroke="#000" d="{scribble(random.Random(2), 20)}"/></defs>'
SHADE = '<linearGradient id="g"><stop stop-color="red"/><stop offset="1"/></linearGradient>'
DENSE = {
    "rectangles wider one way": Dense(PEN, _rect),
    "curves wider one way": Dense(PEN, _path(1), UNEVEN),
    "scribbles wider one way": Dense(PEN, _path(10), UNEVEN),
    "dashes wider one way": Dense(
        '<g stroke="#000" stroke-dasharray="5 3" transform="scale(2 1)">',
        lambda hand: f'<path d="M0 {hand.randrange(500)}H500"/>',
        UNEVEN,
    ),
    "words wider one way": Dense('<g stroke="#000" font-size="20" transform="scale(2 1)">', _word, UNEVEN),
    "uses wider one way": Dense(USED + '<g transform="scale(2 1)">', _use),
    "rectangles cut by a clip": Dense(CLIP + '<g stroke="#000" clip-path="url(#c)">', _rect),
    "scribbles cut by a clip": Dense(CLIP + '<g stroke="#000" clip-path="url(#c)">', _path(10), CUT),
    "uses cut by a clip": Dense(CLIP + USED + '<g clip-path="url(#c)">', _use),
    "one mask for all": Dense(
        '<mask id="m"><circle cx="250" cy="250" r="150" fill="#fff"/><path d="M200 200h50v60z"/></mask><g>',
        lambda hand: f'<circle cx="{hand.randrange(500)}" cy="{hand.randrange(500)}" r="40" mask="url(#m)"/>',
    ),
    "masks": Dense("<g>", _masked, "mask that cannot be read"),
    "shadows": Dense(
        '<filter id="f"><feDropShadow stdDeviation="0"/></filter><g stroke="#000" filter="url(#f)">',
        lambda hand: f'<path d="{scribble(hand, 10)}" filter="url(#f)"/>',
        "filter",
    ),
    "gradients": Dense(SHADE + '<g fill="url(#g)">', _rect),
    "words": Dense('<g font-size="20">', _word),
    "arcs": Dense("<g>", _arcs),
    "dashes measured by their paths": Dense(
        '<g stroke="#000" stroke-dasharray="9 9">',
        lambda hand: f'<path pathLength="99" d="{scribble(hand, 2)}"/>',
        IN_PX,
    ),
}


def dense_files(size: int) -> Iterator[tuple[str, bytes, str]]:
    """Yield each file's name, its bytes (about `size`), and what is reported."""
    for name, (before, one, told) in DENSE.items():
        hand, parts = random.Random(1), [HEAD, before]
        length = len(HEAD) + len(before)
        while length < size:
            parts.append(one(hand))
            length += len(parts[-1])
        yield name, ("".join(parts) + "</g></svg>").encode(), told
