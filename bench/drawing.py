"""Dragging a piece on a sheet of 300 pieces and 5 photos, against dragging a box on an empty page.

Both run in the same browser, one after the other; the recorded frames tell how it kept up.
"""

from typing import Any

from .app import running
from .chromium import enter, frames, opened
from .sheets import filled

__all__ = ["run"]

SETUP = filled(300) + 'print("KEY", project.pk, session, pieces[-1])'
BOX = """<body style="margin:0"><div id="box" style="position:absolute;width:90px;height:90px;background:#2b7a72"></div>
<script>const box = document.getElementById("box"); let down = false;
addEventListener("pointerdown", () => (down = true)); addEventListener("pointerup", () => (down = false));
addEventListener("pointermove", (e) => { if (down)
box.style.transform = `translate(${e.clientX}px, ${e.clientY}px)`; });
</script>"""


def _drag(page: Any, x: float, y: float) -> None:
    page.mouse.move(x, y)
    page.mouse.down()
    for k in range(240):
        step = 80 - k % 80 if k // 80 % 2 else k % 80
        page.mouse.move(x + 2 * step, y + step)
    page.mouse.up()


def run() -> list[tuple[str, float, str]]:
    """Return (what, difference in the share of long frames, limit) rows."""
    with running(SETUP) as (port, words), opened() as page:
        page.set_content(BOX)
        empty, empty_mean = frames(page, lambda: _drag(page, 400, 300))
        enter(page, port, words[0], words[1])
        piece = page.locator(f'#art [data-id="{words[2]}"]')
        box = piece.bounding_box()
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.click(x, y)
        page.wait_for_load_state("networkidle")
        start = piece.bounding_box()
        full, full_mean = frames(page, lambda: _drag(page, x, y))
        moved = "([id, x]) => document.querySelector(`#art [data-id=${id}]`).getBoundingClientRect().x > x"
        page.wait_for_function(moved, arg=[words[2], start["x"] + 100])
    print(
        f"  long frames: {empty:.1%} on the empty page (mean {empty_mean:.1f} ms), {full:.1%} here ({full_mean:.1f} ms)"
    )
    return [("dragging among 300 pieces and 5 photos: more long frames (share)", full - empty, "≤ 0.01")]
