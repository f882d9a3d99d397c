"""Digests of what must not change when code only moves: `python -m tests.same_bytes > digests`.

2,000 generated cases of the engine's five operations, 200 sheets made by seeded commands
as they are stored, and 40 exported files. Run it before and after, and compare the lines.
"""

import hashlib
import random

import numpy as np
from PIL import Image

import outline
from outline import OutlineError
from picture import FORMATS
from sheet import SheetError, dump
from sheet.document.model import Photo
from sheet.export.order import Order, ordered

from .outline.cases import any_case
from .sheet.helpers import Table

OPERATIONS = ("union", "intersect", "exclude", "subtract")


def digest(*parts: object) -> str:
    """Return a short digest of texts and bytes."""
    sha = hashlib.sha256()
    for part in parts:
        sha.update(part if isinstance(part, bytes) else str(part).encode())
    return sha.hexdigest()[:16]


def engine(seed: int) -> str:
    """Return the digest of one case's answers."""
    paths = any_case(random.Random(seed))
    try:
        regions = [
            outline.union(paths),
            outline.intersect(paths),
            outline.exclude(paths),
            outline.subtract(paths[0], paths[1:]),
            *outline.divide(paths),
        ]
    except OutlineError as error:
        return digest(error)
    return digest(*(r.to_svg() for r in regions))


def table(seed: int) -> Table:
    """Return a sheet after twenty commands, whatever of them is refused."""
    r, t = random.Random(seed), Table()

    def some(least: int, most: int) -> list[str]:
        ids = [i.id for i in t.sheet.items]
        return r.sample(ids, min(len(ids), r.randint(least, most)))

    for _ in range(20):
        box = {k: round(r.uniform(20, 500), 2) for k in ("x", "y", "width", "height")}
        command, args = r.choice(
            [
                ("draw", {"kind": r.choice(("rectangle", "ellipse", "polygon", "star")), **box}),
                ("draw", {"kind": r.choice(("rectangle", "ellipse", "polygon", "star")), **box}),
                ("draw_lettering", {"x": box["x"], "y": box["y"], "text": "Marram"}),
                ("combine", {"ids": some(2, 4), "operation": r.choice(OPERATIONS)}),
                ("divide", {"ids": some(2, 3)}),
                ("round_corners", {"ids": some(1, 1), "radius": "12"}),
                ("offset", {"ids": some(1, 1), "distance": "8"}),
                ("move", {"ids": some(1, 3), "dx": 12.5, "dy": -7.25}),
                ("group", {"ids": some(2, 3)}),
                ("paint", {"ids": some(1, 2), "field": "stroke", "value": "#0000ff"}),
                ("put_in", {"ids": some(2, 2)}),
                ("make_panes", {"id": (some(1, 1) or [""])[0], "rows": "2", "columns": "3"}),
            ]
        )
        try:
            if r.random() < 0.15:
                t.photo(600, 400, box["x"], box["y"])
            t.do(command, **args)
        except SheetError:
            pass
    return t


def loader(photo: Photo, at_least: float) -> Image.Image:
    """Return a picture of gradients."""
    y, x = np.mgrid[0 : photo.height, 0 : photo.width]
    rgb = np.stack([x * 255 // photo.width, y * 255 // photo.height, (x + y) % 256], axis=-1)
    return Image.fromarray(rgb.astype(np.uint8))


def main() -> None:
    """Print a line for each."""
    for seed in range(2000):
        print("engine", seed, engine(70_000 + seed))
    for seed in range(200):
        t = table(seed)
        print("sheet", seed, digest(dump(t.sheet)))
        if seed < 10:
            for key in ("png", "jpg", "tif", "svg"):
                order = Order(format=key, extent="whole", size="60")
                data = FORMATS[key].write(t.sheet, ordered(t.sheet, order)[0], loader, order)
                print("file", seed, key, digest(data))


if __name__ == "__main__":
    main()
