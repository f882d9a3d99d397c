"""Small drawings of outlines, for rows and cards."""

from outline import Path
from sheet.geometry.geometry import join_boxes

from .drawn import rule

__all__ = ["outline_thumb"]


def outline_thumb(paths: list[tuple[Path, str, str | None]], width: int, height: int, pad: float = 3) -> str:
    """Return a small drawing of (path, class, fill) that fits `width` by `height` px."""
    boxes = [p.bounds for p, _, _ in paths if p.bounds]
    if not boxes:
        return f'<svg viewBox="0 0 {width} {height}" aria-hidden="true"></svg>'
    x0, y0, x1, y1 = join_boxes(boxes)
    scale = min((width - 2 * pad) / max(x1 - x0, 1e-9), (height - 2 * pad) / max(y1 - y0, 1e-9))
    dx = (width - scale * (x1 - x0)) / 2 - scale * x0
    dy = (height - scale * (y1 - y0)) / 2 - scale * y0
    drawn = "".join(
        f'<path class="{kind}" d="{p.transform((scale, 0, 0, scale, dx, dy)).to_svg(2)}"'
        f"{rule(p, 'fill-rule')}{f' fill={chr(34)}{fill}{chr(34)}' if fill else ''}/>"
        for p, kind, fill in paths
        if not p.is_empty
    )
    return f'<svg viewBox="0 0 {width} {height}" aria-hidden="true">{drawn}</svg>'
