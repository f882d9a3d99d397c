"""The held set of refit as one picture, every frame in all its proportions: `python docs/refit_picture.py`."""

import sys
from pathlib import Path as FilePath

sys.path.insert(0, str(FilePath(__file__).resolve().parent.parent))

import outline
from sheet import SheetError
from sheet.geometry.geometry import outline_of
from sheet.geometry.refit import refitted
from tests.sheet.refit_frames import BUILT, PROPORTIONS, ready
from tests.sheet.test_refit_frames import built, sized

OUT = FilePath(__file__).resolve().parent / "refit.svg"
SIDE, GAP = 88, 14
READY = ("scallop-card", "postage", "pinked", "wave-card", "ticket-stub", "window")
INK, OCHRE = "#22302f", "#b7791f"


def of(key):
    """Return what draws a ready outline, 600 px on its longer side."""
    x0, y0, x1, y1 = outline.ready(key).bounds
    size = 600 / max(x1 - x0, y1 - y0)
    return lambda table: ready(table, key, (x1 - x0) * size, (y1 - y0) * size)


def cell(path: outline.Path, x: float, y: float) -> str:
    """Return a path as large as its place."""
    x0, y0, x1, y1 = path.bounds or (0, 0, 1, 1)
    size = SIDE / max(x1 - x0, y1 - y0)
    place = (size, 0, 0, size, x - size * x0, y - size * y0)
    return f'<path d="{path.transform(place).to_svg(2)}" fill="{INK}"/>'


def main() -> None:
    """Draw all."""
    heads = ["as built", *(f"{p}:{q}" for p, q in PROPORTIONS)]
    body = [f'<text x="{GAP + k * (SIDE + GAP)}" y="20">{word}</text>' for k, word in enumerate(heads)]
    y = 34
    for make in (*BUILT, *(of(key) for key in READY)):
        item = built(make)
        body.append(cell(outline_of(item), GAP, y))
        for k, proportion in enumerate(PROPORTIONS, 1):
            x = GAP + k * (SIDE + GAP)
            try:
                body.append(cell(outline_of(refitted(item, *sized(item, proportion))), x, y))
            except SheetError as error:
                words = str(error).split(":")[-1].split(".")[0].strip()
                body.append(f'<text x="{x}" y="{y + 20}" fill="{OCHRE}">refused:</text>')
                body.append(f'<text x="{x}" y="{y + 32}" fill="{OCHRE}">{words[:24]}</text>')
        y += SIDE + GAP
    width = GAP + len(heads) * (SIDE + GAP)
    style = "<style>text{font:9px sans-serif;fill:#5e6a66}</style>"
    box = f'width="{width}" height="{y}" viewBox="0 0 {width} {y}"'
    ground = f'<rect width="{width}" height="{y}" fill="#fcfaf5"/>'
    OUT.write_text(f'<svg xmlns="http://www.w3.org/2000/svg" {box}>{style}{ground}{"".join(body)}</svg>\n')


if __name__ == "__main__":
    main()
