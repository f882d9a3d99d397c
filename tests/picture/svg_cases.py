"""Generated SVG files of every feature in any order: `python -m tests.picture.svg_cases COUNT [SEED]` holds them
against resvg and prints those that look otherwise without a word."""

import random
import sys
from collections.abc import Iterator

import numpy as np

from picture.svg_in.read import read_svg

from .test_svg_agree import compared, ours, theirs

__all__ = ["drawing", "silent"]

COLOURS = (
    "#a33", "red", "rgb(20 120 200)", "hsl(120 50% 40%)", "currentColor", "none", "url(#a)", "url(#b)", "url(#c)",
)  # fmt: skip
PAINTS = """
<linearGradient id="a"><stop stop-color="#f00"/><stop offset="1" stop-color="#00f" stop-opacity=".6"/></linearGradient>
<radialGradient id="b" cx=".3" fx=".2"><stop stop-color="#ff0"/><stop offset=".7" stop-color="#083"/></radialGradient>
<linearGradient id="c" gradientUnits="userSpaceOnUse" x1="10" x2="60" y2="40" spreadMethod="reflect">
  <stop stop-color="#0ff"/><stop offset="1" stop-color="#f0f"/>
</linearGradient>"""
HEADS = ('width="100" height="100"', 'viewBox="0 0 100 100" width="120" height="90"', 'viewBox="-10 -10 120 110"')
UNITS = {"": 1.0, "px": 1.0, "%": 1.0, "mm": 96 / 25.4, "em": 16.0, "pt": 96 / 72}
STYLES = ("fill", "stroke", "opacity", "clip", "mask", "visibility", "display", "color", "font-size", "text-anchor")
"""The beginnings of what may be written as an attribute or in a style."""
COUNTS = {"L": 2, "H": 1, "V": 1, "C": 6, "S": 4, "Q": 4, "T": 2, "Z": 0}


class _Hand:
    def __init__(self, seed: int):
        self.r = random.Random(seed)
        self.defs: list[str] = []
        self.units = list(UNITS)

    def number(self, low: float, high: float) -> str:
        return f"{self.r.uniform(low, high):.2f}"

    def length(self, low: float, high: float) -> str:
        unit = self.r.choice(("", "", "", *self.units))
        return f"{self.r.uniform(low, high) / UNITS[unit]:.2f}{unit}"

    def sometimes(self, share: float, made: dict[str, str]) -> dict[str, str]:
        return made if self.r.random() < share else {}

    def define(self, name: str, attributes: str, body: str) -> str:
        self.defs.append(f'<{name} id="d{len(self.defs)}"{attributes}>{body}</{name}>')
        return f"d{len(self.defs) - 1}"

    def tag(self, name: str, own: dict[str, str], body: str = "") -> str:
        if self.r.random() < 0.3:
            styled = {k: v for k, v in own.items() if k.startswith(STYLES)}
            own = {k: v for k, v in own.items() if k not in styled}
            own["style"] = ";".join(f"{k}:{v}" for k, v in styled.items())
        written = " ".join(f'{k}="{v}"' for k, v in own.items())
        return f"<{name} {written}>{body}</{name}>"

    def transform(self) -> str:
        n = self.number
        return self.r.choice(
            (
                f"translate({n(-20, 20)},{n(-20, 20)})", f"rotate({n(0, 360)} 50 50)", f"scale({n(0.5, 1.4)})",
                f"scale({n(0.5, 1.4)} {n(0.5, 1.4)})", "translate(100) scale(-1 1)", f"skewX({n(-25, 25)})",
                f"matrix({n(0.5, 1.2)} {n(-0.3, 0.3)} {n(-0.3, 0.3)} {n(0.5, 1.2)} {n(-10, 10)} {n(-10, 10)})",
                f"translate({n(-10, 10)}) rotate({n(-30, 30)})",
            )
        )  # fmt: skip

    def look(self) -> dict[str, str]:
        r, some = self.r, self.sometimes
        own = some(0.8, {"fill": r.choice(COLOURS)})
        if r.random() < 0.5:
            own |= {"stroke": r.choice(COLOURS), "stroke-width": self.length(1, 9)}
            own |= some(0.3, {"stroke-dasharray": r.choice(("5 3", "8", "4 2 1"))})
            own |= some(0.3, {"stroke-linecap": r.choice(("round", "square", "butt"))})
            own |= some(0.3, {"stroke-linejoin": r.choice(("round", "bevel", "miter"))})
            own |= some(0.2, {"stroke-opacity": self.number(0.2, 1)})
        own |= some(0.2, {"fill-opacity": r.choice((self.number(0.2, 1), "60%"))})
        own |= some(0.2, {"opacity": self.number(0.3, 1)})
        own |= some(0.15, {"fill-rule": r.choice(("evenodd", "nonzero"))})
        return own | some(0.1, {"color": r.choice(("#080", "blue"))})

    def placed(self) -> dict[str, str]:
        r = self.r
        own = self.sometimes(0.35, {"transform": self.transform()})
        if r.random() < 0.15:
            own["clip-path"] = f"url(#{self.clip()})"
        if r.random() < 0.08:
            own["mask"] = f"url(#{self.mask()})"
        own |= self.sometimes(0.05, {"display": "none"})
        return own | self.sometimes(0.05, {"visibility": r.choice(("hidden", "visible"))})

    def shape(self) -> tuple[str, dict[str, str]]:
        r, a = self.r, self.length
        name = r.choice(("rect", "circle", "ellipse", "path", "path", "polygon", "polyline", "line"))
        if name == "rect":
            own = {"x": a(0, 60), "y": a(0, 60), "width": a(10, 50), "height": a(10, 50)}
            return name, own | self.sometimes(0.4, {"rx": a(2, 20)}) | self.sometimes(0.2, {"ry": a(2, 20)})
        if name == "circle":
            return name, {"cx": a(20, 80), "cy": a(20, 80), "r": a(5, 40)}
        if name == "ellipse":
            return name, {"cx": a(20, 80), "cy": a(20, 80), "rx": a(5, 40), "ry": a(5, 30)}
        if name == "line":
            return name, {"x1": a(0, 90), "y1": a(0, 90), "x2": a(0, 90), "y2": a(0, 90)}
        if name != "path":
            points = (f"{self.number(0, 100)},{self.number(0, 100)}" for _ in range(r.randint(3, 6)))
            return name, {"points": " ".join(points)}
        return name, {"d": f"M{self.number(10, 90)} {self.number(10, 90)}{''.join(self.steps(r.randint(1, 5)))}"}

    def steps(self, count: int) -> Iterator[str]:
        for _ in range(count):
            letter = self.r.choice("LlHhVvCcSsQqTtAaZz")
            low, high = (0, 100) if letter.isupper() else (-40, 40)
            if letter in "Aa":
                flags = f"{self.r.randint(0, 1)} {self.r.randint(0, 1)}"
                yield f"{letter}{self.number(5, 40)} {self.number(5, 40)} {self.number(0, 90)} {flags} "
                yield f"{self.number(low, high)} {self.number(low, high)}"
            else:
                yield letter + " ".join(self.number(low, high) for _ in range(COUNTS[letter.upper()]))

    def clip(self) -> str:
        extra = f' transform="{self.transform()}"' if self.r.random() < 0.15 else ""
        if self.r.random() < 0.3:
            extra += ' clipPathUnits="objectBoundingBox"'
            return self.define("clipPath", extra, '<circle cx=".5" cy=".5" r=".45"/>')
        name, own = self.shape()
        own |= self.sometimes(0.3, {"clip-rule": "evenodd"}) | self.sometimes(0.3, {"transform": self.transform()})
        body = self.tag(name, own) + (self.tag(*self.shape()) if self.r.random() < 0.3 else "")
        return self.define("clipPath", extra, body)

    def mask(self) -> str:
        extra = self.r.choice(("", ' maskUnits="userSpaceOnUse" x="0" y="0" width="100" height="100"'))
        name, own = self.shape()
        dark = self.r.random() < 0.3
        below = '<rect width="300" height="300" x="-100" y="-100" fill="white"/>' if dark else ""
        return self.define("mask", extra, below + self.tag(name, own | {"fill": "black" if dark else "white"}))

    def used(self) -> str:
        if self.r.random() < 0.5:
            own = self.look() | self.placed()
            own["href"] = "#" + self.define("g", "", self.tag(*self.shape()))
            own |= self.sometimes(0.5, {"x": self.length(-20, 30), "y": self.length(-20, 30)})
        else:
            # a symbol's per cent, and the clip of one that is moved, are resvg's own: browsers draw them as Gouge does
            self.units.remove("%")
            own = self.look() | self.placed()
            own["href"] = "#" + self.define("symbol", ' viewBox="0 0 100 100"', self.item(3))
            self.units.append("%")
        return self.tag("use", own)

    def item(self, depth: int = 0) -> str:
        r, kind = self.r, self.r.random()
        if depth < 3 and kind < 0.25:
            body = "".join(self.item(depth + 1) for _ in range(r.randint(1, 3)))
            return self.tag("g", self.placed() | self.sometimes(0.5, self.look()), body)
        if depth < 2 and kind < 0.32:
            return self.used()
        if depth < 2 and kind < 0.37:
            own = {"x": self.length(0, 30), "y": self.length(0, 30)}
            own |= {"width": self.length(30, 70), "height": self.length(30, 70)}
            own |= self.sometimes(0.6, {"viewBox": f"{self.number(-10, 10)} 0 {self.number(50, 150)} 100"})
            own |= self.sometimes(0.3, {"preserveAspectRatio": r.choice(("none", "xMinYMin", "xMaxYMid slice"))})
            return self.tag("svg", own | self.sometimes(0.2, {"overflow": "visible"}), self.item(depth + 1))
        if kind < 0.43:
            own = self.look() | self.placed() | {"x": self.length(5, 40), "y": self.length(30, 80)}
            own |= {"font-size": self.length(12, 40), "font-family": r.choice(("Archivo Black", "Bungee"))}
            return self.tag("text", own | self.sometimes(0.2, {"text-anchor": r.choice(("middle", "end"))}), "Ab")
        name, own = self.shape()
        return self.tag(name, own | self.look() | self.placed())


def drawing(seed: int) -> bytes:
    """Return a generated file."""
    hand = _Hand(seed)
    head = hand.r.choice(HEADS)
    body = "".join(hand.item() for _ in range(hand.r.randint(1, 5)))
    defs = f"<defs>{PAINTS}{''.join(hand.defs)}</defs>"
    return f'<svg xmlns="http://www.w3.org/2000/svg" {head}>{defs}{body}</svg>'.encode()


NEAR, LEVELS, SIDES = 0.01, 24, (300, 900)
"""The share of px that may differ, by more than so many levels of 255, in pictures of these sides."""


def silent(seed: int) -> float:
    """Return the share of px that differ from resvg's picture of a file without reports; 0 if few do."""
    data = drawing(seed)
    read = read_svg(data, "case", 1.0)
    if any(what != "hidden element" for what in read.unknown):
        return 0.0
    off = 1.0
    for side in SIDES:
        scale = side / max(read.box[2] - read.box[0], read.box[3] - read.box[1])
        a, b = compared(ours(read, scale), theirs(data, scale))
        if a.shape != b.shape:
            return 1.0
        apart = np.abs(a.astype(int) - b.astype(int))
        off = float(((apart.max(axis=-1) if apart.ndim == 3 else apart) > LEVELS).mean())
        if off <= NEAR:
            return 0.0
    return off


def main(count: int, first: int = 0) -> int:
    """Print the files that look otherwise without a report; return how many there are."""
    found = [(seed, off) for seed in range(first, first + count) if (off := silent(seed))]
    for seed, off in found:
        print(f"{seed}: {off:.1%} of its px")
    print(f"{len(found)} of {count} files look otherwise than resvg draws them, and nothing is told of them")
    return len(found)


if __name__ == "__main__":
    sys.exit(main(*map(int, sys.argv[1:])) > 0)
