"""Frames as people build them: a set drawn by hand commands, and ones generated from seeds at any size."""

import random
from collections.abc import Callable

import outline
from sheet.commands.cut.cells import faces_of
from sheet.geometry.geometry import box_of, outline_of

from .helpers import Table

FONT = next(iter(outline.FONTS))
PROPORTIONS = ((1, 1), (2, 3), (16, 9), (3, 1), (1, 3))


def ready(t: Table, key: str, width: float, height: float) -> str:
    return t.do("draw", kind="ready", ready=key, x=100, y=100, width=width, height=height)[0]


def rounded(t: Table, x, y, width, height, radius) -> str:
    return t.do("draw", kind="rectangle", x=x, y=y, width=width, height=height, details={"radius": str(radius)})[0]


def text(t: Table, words: str, size: float, x: float, y: float) -> str:
    return t.do("draw_lettering", text=words, font=FONT, size=size, x=x, y=y)[0]


def cut(t: Table, first: str, *steps: tuple[str, str]) -> str:
    for operation, other in steps:
        first = t.do("combine", ids=[first, other], operation=operation)[0]
    return first


def scalloped_half(t):
    """Return a card trimmed to its left half, a rectangle in place of the other, with a hole and lettering."""
    i = cut(t, ready(t, "scallop-card", 960, 665), ("subtract", t.rectangle(580, 50, 600, 800)))
    i = cut(t, i, ("union", t.rectangle(580, 150, 680, 560)), ("subtract", t.ellipse(1100, 200, 80, 80)))
    return cut(t, i, ("subtract", text(t, "FERRY", 90, 700, 480)))


def ticket_with_a_word(t):
    return cut(t, ready(t, "ticket-stub", 900, 400), ("subtract", text(t, "PIER", 60, 180, 320)))


def two_windows(t):
    i = t.rectangle(100, 100, 600, 400)
    return cut(t, i, *(("subtract", t.rectangle(x, 130, 260, 340)) for x in (130, 410)))


def three_plates(t):
    i = t.rectangle(100, 100, 200, 400)
    return cut(t, i, ("union", t.rectangle(300, 150, 200, 300)), ("union", t.rectangle(500, 100, 200, 400)))


def notched(t):
    i = rounded(t, 100, 100, 600, 400, 40)
    i = cut(t, i, ("subtract", t.rectangle(350, 60, 100, 80)), ("subtract", t.rectangle(650, 240, 100, 120)))
    return cut(t, i, ("union", t.ellipse(80, 250, 100, 100)))


def trimmed_stamp(t):
    i = cut(t, ready(t, "postage", 800, 600), ("intersect", t.rectangle(100, 100, 800, 420)))
    return cut(t, i, ("exclude", t.rectangle(200, 200, 500, 200)))


def crossed(t):
    return cut(t, t.rectangle(100, 250, 800, 200), ("union", t.rectangle(400, 50, 200, 600)))


def pinked_corner(t):
    i = cut(t, ready(t, "pinked", 700, 500), ("subtract", t.rectangle(600, -100, 400, 400)))
    return cut(t, i, ("subtract", text(t, "PIER 4", 60, 150, 520)))


def window_and_star(t):
    i = t.rectangle(100, 100, 700, 450)
    star = t.do("draw", kind="star", x=650, y=150, width=100, height=100)[0]
    i = cut(t, i, ("subtract", star), ("subtract", t.rectangle(140, 140, 420, 370)))
    t.do("add_finish", id=i, kind="round", value="14")
    return i


def angle(t):
    i = cut(t, t.rectangle(100, 100, 600, 400), ("subtract", t.rectangle(380, 40, 400, 260)))
    return cut(t, i, ("subtract", t.ellipse(150, 350, 100, 100)))


def widened(t):
    i = cut(t, ready(t, "scallop-card", 600, 400), ("union", t.rectangle(500, 200, 400, 200)))
    t.do("add_finish", id=i, kind="offset", value="12")
    return i


def waved_window(t):
    return cut(t, ready(t, "wave-card", 700, 480), ("subtract", rounded(t, 180, 180, 540, 320, 30)))


def perforated_tab(t):
    i = cut(t, ready(t, "ticket-coupon", 700, 400), ("union", rounded(t, 780, 200, 120, 200, 20)))
    return cut(t, i, ("subtract", t.ellipse(820, 270, 50, 50)))


def bitten(t):
    i = t.rectangle(100, 100, 600, 400)
    return cut(t, i, *(("subtract", t.ellipse(x, y, 120, 120)) for x in (40, 640) for y in (40, 440)))


def titled(t):
    i = cut(t, rounded(t, 100, 100, 640, 420, 24), ("subtract", t.rectangle(130, 130, 580, 280)))
    return cut(t, i, ("subtract", text(t, "MARRAM", 50, 150, 490)))


def stepped(t):
    i = t.rectangle(100, 100, 640, 420)
    return cut(t, i, *(("subtract", t.rectangle(x, y, 60, 60)) for x in (90, 690) for y in (90, 470)))


def plate_on_stamp(t):
    return cut(t, ready(t, "pinked", 600, 420), ("union", rounded(t, 250, 420, 300, 200, 20)))


def flag(t):
    i = cut(t, t.rectangle(100, 100, 40, 700), ("union", t.rectangle(140, 120, 460, 300)))
    return cut(t, i, ("subtract", t.ellipse(320, 220, 100, 100)))


def grouped(t):
    i = t.rectangle(100, 100, 600, 400)
    hole = t.do("group", ids=[t.ellipse(560, 140, 60, 60), t.ellipse(560, 220, 60, 60)])[0]
    return t.do("combine", ids=[i, hole], operation="subtract")[0]


def nested(t):
    i = rounded(t, 100, 100, 600, 400, 40)
    inner = cut(t, rounded(t, 200, 180, 400, 240, 20), ("subtract", t.rectangle(240, 220, 320, 160)))
    return cut(t, i, ("subtract", inner))


def part_by_part(t):
    """Return a card with a window, chosen part by part from a plate, a window and a tab."""
    plate, tab, window = (
        t.rectangle(100, 100, 600, 400),
        t.rectangle(620, 220, 140, 160),
        t.rectangle(140, 140, 440, 320),
    )
    faces = faces_of(t.sheet, [plate, tab, window])
    joined = [k for k, f in enumerate(faces) if not f.path.contains((300, 300))]
    made = t.do("by_cell", ids=[plate, tab, window], joined=[joined])
    return next(i for i in made if not outline_of(t.item(i)).contains((300, 300)))


def traced(t):
    """Return a silhouette on a plate with a hole."""
    photo = t.photo(600, 400, 400, 300)
    (subject,) = t.do("silhouette", id=photo)
    x0, y0, x1, y1 = box_of(t.item(subject))
    t.do("transform", ids=[subject], matrix=[1, 0, 0, 1, 400 - (x0 + x1) / 2, 160 - y0])
    plate = t.rectangle(100, 260, 600, 300)
    i = t.do("combine", ids=[subject, plate], operation="union")[0]
    return cut(t, i, ("subtract", t.ellipse(600, 300, 60, 60)))


BUILT: tuple[Callable[[Table], str], ...] = (
    scalloped_half, ticket_with_a_word, two_windows, three_plates, notched, trimmed_stamp, crossed, pinked_corner,
    window_and_star, angle, widened, waved_window, perforated_tab, bitten, titled, stepped, plate_on_stamp, flag,
    grouped, nested, part_by_part, traced,
)  # fmt: skip


def generated(t: Table, seed: int, width: float, height: float) -> str:
    """Build a frame of two to eight steps with its parts where that size puts them, and return its id.

    One seed makes the same parts at every size: each at its distance from a side, in the
    middle, or from one side to the other.
    """
    rng = random.Random(seed)
    x, y = 100.0, 100.0
    margin = rng.choice((20, 30, 45))
    base = rounded(t, x, y, width, height, rng.choice((0, 12, 25)))
    steps = []
    if rng.random() < 0.7:
        # a window with even margins, or one that leaves a broad foot
        foot = rng.choice((margin, 120))
        steps.append(("subtract", t.rectangle(x + margin, y + margin, width - 2 * margin, height - margin - foot)))
        if foot == 120:
            steps.append(("subtract", t.ellipse(x + margin + 10, y + height - 80, 40, 40)))
            steps.append(("subtract", t.ellipse(x + width - margin - 70, y + height - 80, 60, 40)))
    else:
        for side in rng.sample(("left", "right"), rng.randint(1, 2)):
            at = x + margin if side == "left" else x + width - margin - 50
            steps.append(("subtract", t.ellipse(at, y + margin, 50, 50)))
        steps.append(("subtract", t.rectangle(x + width / 2 - 40, y + height / 2 - 30, 80, 60)))
    # notches and tabs on the middle of a side, bites and cuts at corners
    for what in rng.sample(("top", "left", "tab", "corner"), rng.randint(0, 3)):
        if what == "top":
            steps.append(("subtract", t.rectangle(x + width / 2 - 30, y - 20, 60, 20 + margin / 2)))
        elif what == "left":
            steps.append(("subtract", t.ellipse(x - 9, y + height / 2 - 9, 18, 18)))
        elif what == "tab":
            steps.append(("union", t.rectangle(x + width - 5, y + height / 2 - 40, 35, 80)))
        else:
            steps.append(("subtract", t.rectangle(x + width - margin / 2, y - 10, margin, 10 + margin / 2)))
    return cut(t, base, *steps)
