"""Moving a 24-megapixel photo inside its frame, against moving an empty box: a bare piece, in the same browser."""

from typing import Any

from .app import running
from .chromium import enter, frames, opened
from .sheets import begun

__all__ = ["run"]

SETUP = (
    begun(6000, 4000)
    + """
rng = np.random.default_rng(1)
small = Image.fromarray((rng.random((400, 600, 3)) * 255).astype(np.uint8))
photos, done = place([small.resize((6000, 4000), Image.Resampling.BICUBIC)])
photo = done.sheet.items[0].id
for x, name in ((500, "Frame"), (3500, "Box")):
    args = {"kind": "ellipse", "x": x, "y": 1000, "width": 2000, "height": 2000}
    done = changes.run(user, project.pk, "", "draw", args, done.project.head.number)
    (piece,) = done.chosen
    done = changes.run(user, project.pk, "", "rename", {"id": piece, "name": name}, done.project.head.number)
    if name == "Frame":
        args = {"ids": [piece, photo]}
        done = changes.run(user, project.pk, "", "put_in", args, done.project.head.number)
print("KEY", project.pk, session)
"""
)


def _drag(page: Any, x: float, y: float) -> None:
    page.mouse.move(x, y)
    page.mouse.down()
    for k in range(240):
        a = k % 40 if k // 40 % 2 else 40 - k % 40
        page.mouse.move(x + a, y + a / 2)
    page.keyboard.press("Escape")
    page.mouse.up()


def run() -> list[tuple[str, float, str]]:
    """Return (what, difference in the share of long frames, limit) rows."""
    with running(SETUP) as (port, (pk, session)), opened() as page:
        enter(page, port, pk, session)

        def middle(name: str) -> tuple[float, float]:
            box = page.locator(f"#art > g[data-name={name}] .shape, #art > g[data-name={name}] [clip-path]").first
            where = box.bounding_box()
            return where["x"] + where["width"] / 2, where["y"] + where["height"] / 2

        page.locator(".row-item", has_text="Box").click()
        bare, bare_mean = frames(page, lambda: _drag(page, *middle("Box")))
        page.locator(".row-item", has_text="Frame").click()
        page.locator("#desk").focus()
        page.keyboard.press("3")
        x, y = middle("Frame")
        page.keyboard.press("Enter")
        page.wait_for_selector("#art .stepped")
        full, full_mean = frames(page, lambda: _drag(page, x, y))
    print(f"  long frames: {bare:.1%} of a bare piece (mean {bare_mean:.1f} ms), {full:.1%} here ({full_mean:.1f} ms)")
    return [("moving a 24-megapixel photo in its frame: more long frames (share)", full - bare, "≤ 0.01")]
