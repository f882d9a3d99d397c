"""A page that draws a generated case: `python -m tests.outline.draw SEED` writes it and opens it in the browser.

It shows the inputs, the map with its vertices and what lies in each face, each answer, and what is wrong with them.
"""

import random
import sys
import tempfile
import webbrowser
from html import escape
from pathlib import Path as FilePath

import numpy as np

from outline import OutlineError, Path, PlanarMap

from .cases import any_case, wrong

COLORS = ("#c9bda4", "#a9c7bf", "#e0b7a6", "#d9cfa2", "#b9c3cf", "#cbb4c4", "#9fb58f", "#e3d3c1")
INK, MADDER = "#22302f", "#b5432a"


def _drawn(path: Path, fill: str, stroke: str, size: float, opacity: float = 1) -> str:
    return (
        f'<path d="{path.to_svg(12)}" fill="{fill}" fill-opacity="{opacity}" fill-rule="{path.fill_rule}"'
        f' stroke="{stroke}" stroke-width="{size / 400:g}"/>'
    )


def _figure(words: str, body: str, box: tuple[float, float, float, float]) -> str:
    view = " ".join(f"{v:.17g}" for v in box)
    return f'<figure><svg viewBox="{view}">{body}</svg><figcaption>{escape(words)}</figcaption></figure>'


def page(seed: int) -> str:
    """Return the case of a seed as HTML."""
    paths = any_case(random.Random(seed))
    corners = np.concatenate([p.arrays[0].reshape(-1, 2) for p in paths])
    low, high = corners.min(axis=0), corners.max(axis=0)
    size = float((high - low).max()) or 1.0
    edge = size / 20
    box = (low[0] - edge, low[1] - edge, high[0] - low[0] + 2 * edge, high[1] - low[1] + 2 * edge)
    each = "".join(_drawn(p, COLORS[k % len(COLORS)], INK, size, 0.5) for k, p in enumerate(paths))
    figures = [_figure(f"{len(paths)} inputs, the first one lowest", each, box)]
    try:
        m = PlanarMap(paths)
    except OutlineError as error:
        said = f"{type(error).__name__}: {error} {getattr(error, 'certificates', '')}"
    else:
        cells = "".join(
            f"<g><title>{sorted(c.inside)}</title>{_drawn(c.path, COLORS[k % len(COLORS)], INK, size)}</g>"
            for k, c in enumerate(m.cells)
        )
        dots = "".join(
            f'<circle cx="{x:.17g}" cy="{y:.17g}" r="{size / 200:g}" fill="{MADDER}"/>' for x, y in m.vertices
        )
        failed = " and ".join(c.name for c in m.certificates)
        tries = f"after {failed}" if failed else "at the first try"
        figures.append(
            _figure(f"the map: {len(m.vertices)} vertices, {len(m.cells)} cells, {tries}", cells + dots, box)
        )
        answers = {name: getattr(m, name)() for name in ("union", "subtract", "intersect", "exclude")}
        figures += [_figure(name, _drawn(path, COLORS[1], INK, size), box) for name, path in answers.items()]
        parts = m.divide()
        divided = "".join(_drawn(p, COLORS[k % len(COLORS)], INK, size) for k, p in enumerate(parts))
        figures.append(_figure(f"divide, {len(parts)} parts", divided, box))
        said = wrong(paths, seed) or "Nothing is wrong."
    data = "\n".join(f"{p.fill_rule}: {p.to_svg()}" for p in paths)
    style = "body{font:15px sans-serif;margin:24px}figure{display:inline-block;margin:8px}svg{width:380px;height:380px}"
    return (
        f"<!DOCTYPE html><title>Case {seed}</title><style>{style}</style><h1>Case {seed}</h1><p>{escape(said)}</p>"
        f"{''.join(figures)}<pre>{escape(data)}</pre>"
    )


if __name__ == "__main__":
    out = FilePath(tempfile.gettempdir()) / f"case-{sys.argv[1]}.html"
    out.write_text(page(int(sys.argv[1])))
    print(out)
    webbrowser.open(out.as_uri())
