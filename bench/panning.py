"""Panning a sheet with ten 24-megapixel photos, against moving a box on an empty page in the same browser."""

from typing import Any

from .app import running
from .chromium import enter, frames, opened
from .sheets import begun

__all__ = ["run"]

SETUP = (
    begun(8000, 6000)
    + """
rng = np.random.default_rng(1)
small = [Image.fromarray((rng.random((400, 600, 3)) * 255).astype(np.uint8)) for _ in range(10)]
place(image.resize((6000, 4000), Image.Resampling.BICUBIC) for image in small)
print("KEY", project.pk, session)
"""
)
BOX = """<body style="margin:0"><div id="box" style="position:absolute;width:90px;height:90px;background:#2b7a72"></div>
<script>let x = 0, y = 0; addEventListener("wheel", (e) => { x -= e.deltaX; y -= e.deltaY;
document.getElementById("box").style.transform = `translate(${x}px, ${y}px)`; });</script>"""


def _pan(page: Any) -> None:
    for k in range(240):
        page.mouse.wheel(*((7, 5) if k // 40 % 2 else (-7, -5)))


def run() -> list[tuple[str, float, str]]:
    """Return (what, difference in the share of long frames, limit) rows."""
    with running(SETUP) as (port, (pk, session)), opened() as page:
        page.set_content(BOX)
        page.mouse.move(640, 400)
        empty, empty_mean = frames(page, lambda: _pan(page))
        enter(page, port, pk, session)
        page.mouse.move(640, 400)
        full, full_mean = frames(page, lambda: _pan(page))
    print(
        f"  long frames: {empty:.1%} on the empty page (mean {empty_mean:.1f} ms), {full:.1%} here ({full_mean:.1f} ms)"
    )
    return [("panning with ten 24-megapixel photos: more long frames (share)", full - empty, "≤ 0.01")]
