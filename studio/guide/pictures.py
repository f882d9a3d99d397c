"""Sheets for the guide, made by the app's own commands, and drawn with photos of the demo."""

import base64
import io
from collections.abc import Callable
from functools import lru_cache
from pathlib import Path
from typing import Final

from PIL import Image

import outline
from picture import fragment
from sheet import Sheet
from sheet.document.kinds import Tracing
from sheet.document.library import Nothing, PhotoFacts
from sheet.document.model import Photo
from studio.demo.table import Table

__all__ = ["PICTURES", "drawn"]

PHOTOS: Final = Path(__file__).resolve().parent.parent / "demo" / "photos"
SIZE: Final = (900, 600)
"""Width and height of the guide's sheets (px)."""


class _Photos(Nothing):
    """Two photos of the demo, by the digits of their file names, and the outline of a hill."""

    def photo(self, file: str) -> PhotoFacts:
        return PhotoFacts(file, f"coast-0{file[0]}.jpg", 1200, 800)

    def silhouette(self, file: str, tracing: Tracing) -> outline.Path:
        return outline.Path.from_svg(
            "M0 430C150 350 260 390 360 350 470 290 560 320 640 350 760 290 900 330 1000 380 1080 410 1150 390 1200 400"
            "V800H0Z"
        )


def _table() -> Table:
    return Table(str(SIZE[0]), str(SIZE[1]), _Photos())


def _photo(t: Table, which: int = 1, x: float = 450, y: float = 300, width: float = 720) -> str:
    photo = t.do("place", files=[str(which) * 64], x=x, y=y)
    t.do("measure", ids=[photo], field="width", value=str(width), keep_proportion=True)
    t.do("measure", ids=[photo], field="x", value=str(x - width / 2))
    t.do("measure", ids=[photo], field="y", value=str(y - width / 3))
    return photo


def _over(t: Table, kind: str = "ellipse") -> tuple[str, str]:
    photo = _photo(t)
    return photo, t.draw(kind, 250, 100, 400, 400, "Circle")


def _framed(t: Table, piece: str, photo: str) -> str:
    frame = t.do("put_in", ids=[photo, piece])
    t.do("settle", ids=[frame], how="cover")
    return frame


def in_a_shape(step: int) -> Sheet:
    t = _table()
    photo, piece = _over(t)
    if step:
        _framed(t, piece, photo)
    return t.sheet


def even_margins(step: int) -> Sheet:
    t = _table()
    plate = t.draw("rectangle", 150, 100, 600, 400, "Card")
    hole = t.draw("rectangle", 220, 130, 430, 320, "Window")
    card = t.do("combine", ids=[plate, hole], operation="subtract")
    if step:
        t.do("set_margin", id=card, hole=0, side="even")
    return t.sheet


def lettering(step: int) -> Sheet:
    t = _table()
    photo = _photo(t, 2)
    word = t.do("draw_lettering", text="MARRAM", font="alfa-slab-one", size="110", x=175, y=340)
    if step:
        _framed(t, word, photo)
    return t.sheet


def standing_out(step: int) -> Sheet:
    t = _table()
    photo = _photo(t, 2, 450, 300, 840)
    hill = t.do("silhouette", id=photo)
    t.do("measure", ids=[hill], field="width", value="600")
    t.do("measure", ids=[hill], field="x", value="150")
    card = t.draw("rectangle", 150, 330, 600, 220, "Card")
    if step:
        made = t.do("combine", ids=[hill, card], operation="union")
        _framed(t, made, photo)
    return t.sheet


def panes(step: int) -> Sheet:
    t = _table()
    photo = _photo(t, 3)
    wall = t.draw("rectangle", 180, 90, 540, 420, "Wall")
    frame = _framed(t, wall, photo)
    if step:
        t.do("split", ids=[frame], columns="3", rows="3", gap_x="14", gap_y="14")
    return t.sheet


def zigzag(step: int) -> Sheet:
    t = _table()
    photo = _photo(t, 4)
    card = t.draw("rectangle", 150, 100, 600, 400, "Card")
    frame = _framed(t, card, photo)
    line = t.do("draw_edge", kind="zigzag", pitch=60, x0=450, y0=60, x1=450, y1=540)
    if step:
        t.do("apart", ids=[frame, line])
        left, right = [i.id for i in t.sheet.items][:2]
        t.do("transform", ids=[left], matrix=[1, 0, 0, 1, -25, 0], part="both")
        t.do("transform", ids=[right], matrix=[1, 0, 0, 1, 25, 0], part="both")
    return t.sheet


def shading(step: int) -> Sheet:
    t = _table()
    sea = t.draw("ellipse", 170, 100, 400, 400, "Sea")
    sand = t.draw("ellipse", 330, 100, 400, 400, "Sand")
    t.paint(sea, fill="#2b7a72")
    t.paint(sand, fill="#c9bda4")
    if step:
        t.do("apart", ids=[sea, sand], keep="every")
        t.paint(t.sheet.items[-1].id, fill="#b5432a")
    return t.sheet


def _label(t: Table) -> str:
    card = t.draw("ready", 200, 130, 500, 340, "Card", ready="scallop-card")
    hole = t.draw("ellipse", 600, 180, 50, 50, "Hole")
    return t.do("combine", ids=[card, hole], operation="subtract")


def for_next_time(step: int) -> Sheet:
    t = _table()
    label = _label(t)
    if step:
        _framed(t, label, _photo(t, 5))
    return t.sheet


def proportion(step: int) -> Sheet:
    t = _table()
    label = _label(t)
    if step:
        t.do("refit", id=label, width=260, height=440)
    return t.sheet


def many(step: int) -> Sheet:
    t = _table()
    if not step:
        _label(t)
        return t.sheet
    for k in range(6):
        x, y = 60 + 270 * (k % 3), 80 + 230 * (k // 3)
        card = t.draw("ready", x, y, 240, 163, f"Card {k + 1}", ready="scallop-card")
        _framed(t, card, _photo(t, k + 1, x + 120, y + 80, 250))
    return t.sheet


def for_the_web(step: int) -> Sheet:
    t = _table()
    card = t.draw("ready", 180, 120, 540, 360, "Ticket", ready="ticket")
    if step:
        # a web page: a picture clipped by the outline, beside lines of text
        _framed(t, card, _photo(t, 2))
        t.do("transform", ids=[card], matrix=[0.62, 0, 0, 0.62, -60, 100])
        for k in range(6):
            t.draw("rectangle", 470, 190 + 40 * k, 330 if k < 5 else 200, 14, f"Line {k + 1}")
    return t.sheet


def artwork(step: int) -> Sheet:
    t = _table()
    pieces = [t.draw("ready", x, y, w, h, key, ready=key) for key, x, y, w, h in (
        ("leaf", 150, 130, 330, 330), ("rosette", 330, 150, 330, 330), ("wave-band", 200, 380, 520, 110),
    )]  # fmt: skip
    if step:
        made = t.do("combine", ids=pieces, operation="union")
        _framed(t, made, _photo(t, 6))
    return t.sheet


PICTURES: Final[dict[str, tuple[Callable[[int], Sheet], tuple[str, str]]]] = {
    "shape": (in_a_shape, ("the circle over the photo", "the photo in it")),
    "margins": (even_margins, ("as it was cut", "all margins equal")),
    "lettering": (lettering, ("the word over the photo", "the photo in the word")),
    "out": (standing_out, ("the silhouette and the card", "one frame of both")),
    "panes": (panes, ("one frame", "nine panes of it")),
    "zigzag": (zigzag, ("a zigzag over the frame", "two frames, moved a little")),
    "parts": (shading, ("two pieces", "their parts, one in another colour")),
    "again": (for_next_time, ("the outline", "with another photo, another day")),
    "hundred": (many, ("the frame", "the same frame, many photos")),
    "web": (for_the_web, ("the outline", "a photo on a page, clipped by it")),
    "artwork": (artwork, ("the pieces of a drawing", "one frame of them")),
    "refit": (proportion, ("landscape", "portrait: the teeth and the hole keep their form")),
}
"""By a job's key: the functions for its two pictures, and their descriptions."""

WORDS: Final = ("through", "done")
_STYLE: Final = (
    "<style>.ghost,.members{display:none}.bare{stroke:#22302f;stroke-width:1.5}"
    ".through g[data-kind=piece] .shape{fill-opacity:.55}</style>"
)


@lru_cache(maxsize=8)
def _small(file: str) -> str:
    image = Image.open(PHOTOS / f"coast-0{file[0]}.jpg").convert("RGB").resize((600, 400))
    out = io.BytesIO()
    image.save(out, "JPEG", quality=78)
    return f"data:image/jpeg;base64,{base64.b64encode(out.getvalue()).decode()}"


def _href(photo: Photo) -> str:
    return _small(photo.file)


@lru_cache(maxsize=64)
def drawn(key: str, step: int) -> str:
    """Return a picture of a job as SVG; 0 for before, 1 for after. Raises KeyError."""
    make, _ = PICTURES[key]
    art = "".join(fragment(i, _href) for i in make(step).items)
    width, height = SIZE
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width} {height}">{_STYLE}'
        f'<rect width="{width}" height="{height}" fill="#fff"/><g class="{WORDS[step]}">{art}</g></svg>'
    )
