"""The Cut station: the cards of 100 pieces, and members dragged inside an outline with the result following.

The cards are asked of gunicorn and given as a multiple of an empty Django view in the same run. The redraws are counted
in the browser: a redraw is a new outline of the result on the page while the hand moves.
"""

from itertools import count
from typing import Any

from .app import asker, running
from .chromium import enter, opened
from .sheets import filled
from .timing import median

__all__ = ["run"]

SETUP = (
    filled(100)
    + """
def do(pk, name, **args):
    global done
    done = changes.run(user, pk, "", name, args, done.project.head.number)
    return done.chosen


def begin(name):
    global done
    made = changes.start(user, name, new_sheet(2000, 1500))
    done = changes.Done(made, {})
    return made.pk


ring = begin("Ring")
members = []
for k in range(12):
    x, y = 1000 + 420 * math.cos(math.tau * k / 12), 750 + 420 * math.sin(math.tau * k / 12)
    members += do(ring, "draw", kind="ellipse", x=x - 150, y=y - 150, width=300, height=300)
(circles,) = do(ring, "combine", ids=members, operation="union")

word = begin("Word")
(plate,) = do(word, "draw", kind="rectangle", x=100, y=200, width=1800, height=1000)
(letters,) = do(word, "draw_lettering", text="MARRAM COAST", font="alfa-slab-one", size="180", x="200", y="800")
(frame,) = do(word, "combine", ids=[plate, letters], operation="subtract")
(photo,) = do(word, "place", files=[photos[0]["file"]])
do(word, "put_in", ids=[frame, photo])
label = begin("Label")
(card,) = do(label, "draw", kind="ready", ready="scallop-card", x=100, y=100, width=1400, height=900)
for k in range(12):
    kind, x, y = ("ellipse", "rectangle")[k % 2], 220 + 190 * (k % 6), 260 + 400 * (k // 6)
    (hole,) = do(label, "draw", kind=kind, x=x, y=y, width=80, height=80)
    (card,) = do(label, "combine", ids=[card, hole], operation="subtract")
print("KEY", project.pk, session, ring, circles, members[3], word, frame, letters, label, card, *pieces)
"""
)
COUNT = """(id) => {
  window.redraws_ = [];
  const inner = `#art [data-id="${id}"] > g >`;
  const path = document.querySelector(`${inner} path, ${inner} clipPath > path`);
  new MutationObserver(() => window.redraws_.push(performance.now())).observe(path, { attributeFilter: ["d"] });
}"""
HAND = """([x, y]) => new Promise((done) => {
  window.redraws_.length = 0;
  const start = performance.now();
  let k = 0;
  const move = () => {
    const place = { clientX: x + (k % 120 < 60 ? k % 60 : 60 - (k % 60)), clientY: y + (k % 30) };
    k++;
    document.elementFromPoint(x, y).dispatchEvent(
      new PointerEvent("pointermove", { ...place, pointerId: 1, pointerType: "mouse", buttons: 1, bubbles: true }),
    );
    const taken = performance.now() - start;
    if (taken < 3000) requestAnimationFrame(move);
    else done([window.redraws_.length, taken, k]);
  };
  requestAnimationFrame(move);
})"""
"""A hand that moves with every frame: the browser's own way takes one event in two frames from a driver."""


def _redraws(page: Any, outline: str, member: str, at_centre: bool = True) -> float:
    """Step inside, drag a member about for three seconds; return the redraws of the result per second."""
    page.locator(f"#row-{outline}").first.click()
    page.locator("#desk").focus()
    page.keyboard.press("Enter")
    page.wait_for_selector("#art g.stepped .members")
    box = page.locator(f'#art .members [data-id="{member}"]').bounding_box()
    # a spot within the circle, and on the first letter's stem
    x, y = box["x"] + box["width"] * (0.5 if at_centre else 0.03), box["y"] + box["height"] / 2
    page.mouse.click(x, y)
    page.wait_for_load_state("networkidle")
    page.evaluate(COUNT, outline)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 3, y + 3)
    count, taken, frames = page.evaluate(HAND, [x, y])
    page.mouse.up()
    page.wait_for_load_state("networkidle")
    print(f"  {1000 * frames / taken:.1f} frames a second, {count / frames:.2f} redraws a frame")
    return 1000 * count / taken


def run() -> list[tuple[str, float, str]]:
    """Return (what, ratio or redraws per second, limit) rows."""
    with running(SETUP, workers=2) as (port, words):
        pk, session, ring, circles, circle, word, frame, letters, label, card, *pieces = words
        ask = asker(port, session)

        def cards() -> None:
            text = ask("POST", f"/p/{pk}/panels", {"station": "cut", "chosen": pieces})
            assert b"card-union" in text

        def redraw(project: str, outline: str, member: str, revision: int) -> None:
            args = {"ids": [member], "matrix": [1, 0, 0, 1, 9, 4], "part": "both"}
            ask("POST", f"/p/{project}/preview", {"name": outline, "args": args, "revision": revision})

        sizes = count()

        def refit() -> None:
            size = {"width": 1600 + next(sizes), "height": 950}
            text = ask("POST", f"/p/{label}/refit", {"args": {"id": card, **size}, "revision": 26})
            assert b'"art"' in text, text

        empty = median(lambda: ask("GET", "/bench/empty"), 400)
        shown = median(cards, 40)
        # 12 pieces and a union; a plate, lettering, a subtract, a photo placed and put in: revisions after the first
        circle_drawn = median(lambda: redraw(ring, circles, circle, 14))
        word_drawn = median(lambda: redraw(word, frame, letters, 6))
        refitted = median(refit, 40)
        with opened() as page:
            enter(page, port, ring, session)
            circle_redraws = _redraws(page, circles, circle)
            enter(page, port, word, session)
            word_redraws = _redraws(page, frame, letters, at_centre=False)
    print(f"  an empty view {empty * 1e3:.2f} ms, the Cut station for 100 pieces {shown * 1e3:.1f} ms")
    print(
        f"  the server's part of a redraw: {circle_drawn * 1e3:.1f} ms (12 circles), {word_drawn * 1e3:.1f} ms (a word)"
    )
    print(f"  the server's part of a refit, 12 steps: {refitted * 1e3:.1f} ms")
    return [
        ("a frame of 12 steps refitted while a hand drags ÷ an empty view", refitted / empty, "≤ 40"),
        ("the cards of 100 chosen pieces ÷ an empty view", shown / empty, "≤ 300"),
        ("a member of 12 circles dragged: redraws per second", circle_redraws, "≥ 20"),
        ("a word of 12 letters dragged in a frame: redraws per second", word_redraws, "≥ 20"),
    ]
