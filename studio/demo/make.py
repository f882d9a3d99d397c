"""The demo made by the app's own commands: photos, six projects, the shelf."""

from collections.abc import Sequence
from pathlib import Path
from typing import Any, Final

from sheet import Photo, Sheet, new_sheet
from sheet.document.model import Group
from studio.history import changes
from studio.library.photos import take_in_path

from ..models import PhotoFile
from .photos import PHOTOS, photo_file
from .shelf import make_shelf

__all__ = ["make_demo"]


class _Maker:
    """Applies commands in turn and remembers the selection."""

    def __init__(self, owner: Any, name: str, first: Sheet):
        self.project = changes.start(owner, name, first)
        self.sheet = first
        self.chosen: tuple[str, ...] = ()

    def do(self, command: str, **args: Any) -> tuple[str, ...]:
        """Run a command on the head."""
        done = changes.run(self.project.owner, self.project.pk, "", command, args, self.project.head.number)
        self.project, self.sheet, self.chosen = done.project, done.sheet, done.chosen
        return done.chosen

    def draw(self, kind: str, x: str, y: str, width: str, height: str, name: str = "") -> str:
        """Draw a piece by numbers in the sheet's unit, and name it."""
        (new,) = self.do("draw", kind=kind, x=x, y=y, width=width, height=height)
        if name:
            self.do("rename", id=new, name=name)
        return new

    def paint(self, item: str, **values: str) -> None:
        """Set paints of one item."""
        for field, value in values.items():
            self.do("paint", ids=[item], field=field, value=value)

    def photo(self, photo: PhotoFile, x: float | None = None, y: float | None = None) -> str:
        """Place a photo around a point in px."""
        (new,) = self.do("place", files=[photo.sha256], **({} if x is None else {"x": x, "y": y}))
        return new


def _timetable_card(owner: Any, photos: dict[str, PhotoFile]) -> None:
    m = _Maker(owner, "Timetable card", new_sheet("210", "148", "mm", 300, "#fcfaf5"))
    plate = m.draw("rectangle", "12", "14", "112", "120", "Card")
    tab = m.draw("ellipse", "92", "44", "60", "60", "Tab")
    slot = m.draw("ellipse", "104", "56", "36", "36", "Porthole")
    (outline,) = m.do("combine", ids=[plate, tab], operation="union")
    (outline,) = m.do("combine", ids=[outline, slot], operation="subtract")
    m.do("rename", id=outline, name="Plate")
    m.paint(outline, stroke="#b5432a", stroke_width="1.2mm")
    sea = m.photo(photos["dusk-sea"])
    m.do("put_in", ids=[sea, outline])
    m.do("settle", ids=[outline], how="cover")
    for k in range(4):
        line = m.draw("rectangle", "162", f"{30 + 24 * k}", "36", "12", f"Sailing {k + 1}")
        m.paint(line, fill="#e3ece6" if k % 2 else "#f1e2d6", stroke="none")


def _luggage_tag(owner: Any, photos: dict[str, PhotoFile]) -> None:
    m = _Maker(owner, "Luggage tag", new_sheet("10", "15", "cm", 300, None))
    body = m.draw("rectangle", "1", "2.4", "8", "11.6", "Tag")
    head = m.draw("ellipse", "2.4", "0.8", "5.2", "5.2", "Head")
    hole = m.draw("ellipse", "4.3", "1.7", "1.4", "1.4", "Eye")
    m.paint(body, fill="#2b7a72")
    m.paint(head, fill="#c9bda4")
    m.paint(hole, fill="#fcfaf5")
    m.photo(photos["dune-ripples"])


def _window_poster(owner: Any, photos: dict[str, PhotoFile]) -> None:
    m = _Maker(owner, "Window poster", new_sheet("2000", "2000", "px", 150, "#f5f0e6"))
    names = ("headlands", "harbour-lights", "pebbles", "lamp-lens")
    for k, name in enumerate(names):
        x, y = 180 + 860 * (k % 2), 180 + 860 * (k // 2)
        pane = m.draw("rectangle", str(x), str(y), "780", "780", f"Pane {k + 1}")
        arch = m.draw("ellipse", str(x + 90), str(y + 90), "600", "600", f"Round {k + 1}")
        (both,) = m.do("combine", ids=[pane, arch], operation="intersect" if k in (0, 3) else "subtract")
        m.do("rename", id=both, name=f"Window {k + 1}")
        m.paint(both, stroke="#22302f", stroke_width="8")
        photo = m.photo(photos[name], x + 390, y + 390)
        m.do("put_in", ids=[both, photo])
        m.do("settle", ids=[both], how="cover")


def _booklet_cover(owner: Any, photos: dict[str, PhotoFile]) -> None:
    """A frame built of a rectangle, an ornament, a hole and cut-out lettering, with a photo in it."""
    m = _Maker(owner, "Booklet cover", new_sheet("148", "210", "mm", 300, "#fcfaf5"))
    (plate,) = m.do("draw", kind="rectangle", x="14", y="40", width="120", height="156", details={"radius": "5"})
    m.do("rename", id=plate, name="Plate")
    (ornament,) = m.do("draw", kind="ready", ready="rosette", x="44", y="12", width="60", height="60")
    m.do("rename", id=ornament, name="Rosette")
    hole = m.draw("ellipse", "59", "27", "30", "30", "Porthole")
    (word,) = m.do(
        "draw_lettering", text="MARRAM\nCOAST", font="alfa-slab-one", size="19mm", x="22", y="168",
        details={"leading": "1"},
    )  # fmt: skip
    m.do("rename", id=word, name="Marram Coast")
    (outline,) = m.do("combine", ids=[plate, ornament], operation="union")
    m.do("combine", ids=[outline, hole], operation="subtract")
    (outline,) = m.chosen
    m.do("combine", ids=[outline, word], operation="subtract")
    (outline,) = m.chosen
    m.do("rename", id=outline, name="Cover")
    m.paint(outline, stroke="#22302f", stroke_width="0.5mm")
    photo = m.photo(photos["headlands"])
    m.do("put_in", ids=[outline, photo])
    m.do("settle", ids=[outline], how="cover")
    (line,) = m.do("draw_edge", kind="wave", pitch="6mm", x0=260.0, y0=1700.0, x1=1488.0, y1=1700.0)
    m.do("rename", id=line, name="Waves")
    m.paint(line, stroke="#fcfaf5", stroke_width="0.9mm")


def _nine_windows(owner: Any, photos: dict[str, PhotoFile]) -> None:
    m = _Maker(owner, "Nine windows", new_sheet("2000", "2000", "px", 150, "#22302f"))
    photo = m.photo(photos["headlands"])
    m.do("measure", ids=[photo], field="height", value="1800", keep_proportion=True, about=(0.5, 0.5))
    wall = m.draw("rectangle", "100", "100", "1800", "1800", "Wall")
    m.do("put_in", ids=[photo, wall])
    m.do("settle", ids=[wall], how="cover")
    (panes,) = m.do("split", ids=[wall], gap_x="40", gap_y="40")
    m.do("pane_cells", id=panes, cells=[1, 2], action="join")
    lamp = m.photo(photos["lamp-lens"], 1000, 1000)
    group = next(i for i in m.sheet.items if isinstance(i, Group) and i.id == panes)
    middle = next(i.id for i in group.items if i.name == "Pane 2.2")
    m.do("put_in", ids=[lamp, middle])
    m.do("settle", ids=[middle], how="cover")


def _skerry_light(owner: Any, photos: dict[str, PhotoFile]) -> None:
    """A light cut out of its photo by its silhouette, standing out of a round window."""
    m = _Maker(owner, "Skerry light", new_sheet("160", "200", "mm", 300, "#f5f0e6"))
    window = m.draw("ellipse", "20", "52", "120", "120", "Window")
    m.paint(window, stroke="#22302f", stroke_width="1mm")
    sea = m.photo(photos["dusk-sea"])
    m.do("put_in", ids=[sea, window])
    m.do("settle", ids=[window], how="cover")
    light = m.photo(photos["skerry-light"])
    m.do("measure", ids=[light], field="width", value="190mm", keep_proportion=True, about=(0.5, 0.5))
    m.do("measure", ids=[light], field="x", value="-15mm", keep_proportion=True, about=(0, 0))
    m.do("measure", ids=[light], field="y", value="28mm", keep_proportion=True, about=(0, 0))
    placed = next(i for i in m.sheet.items if isinstance(i, Photo) and i.id == light)
    box = [
        placed.placing(placed.width * x, placed.height * y)
        for x, y in ((0.12, 0.08), (0.88, 0.08), (0.88, 0.92), (0.12, 0.92))
    ]
    (made,) = m.do("silhouette", id=light, way="subject", loop=box)
    m.do("rename", id=made, name="Light")
    m.do("put_in", ids=[light, made])
    m.do("restack", ids=[made], to="top")
    (word,) = m.do(
        "draw_lettering",
        text="SKERRY LIGHT",
        font="league-gothic",
        size="17mm",
        x="80",
        y="190",
        details={"align": "centre", "tracking": "60"},
    )
    m.paint(word, fill="#22302f")
    m.do("rename", id=word, name="Skerry Light")


MAKERS: Final = (_skerry_light, _nine_windows, _window_poster, _luggage_tag, _booklet_cover, _timetable_card)


def make_demo(owner: Any, only: Sequence[str] = ()) -> None:
    """Import the photos and make the projects, or those named, and the shelf."""
    photos = {Path(name).stem: take_in_path(owner, photo_file(name), name) for name in PHOTOS}
    for make in MAKERS:
        if not only or make.__name__.strip("_") in only:
            make(owner, photos)
    make_shelf(owner)
