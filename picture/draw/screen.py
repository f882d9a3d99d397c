"""A sheet on the screen: one SVG group for each item, with the data that gestures need."""

from html import escape
from typing import Final

from msgspec.structs import replace

from sheet.caching import Results
from sheet.document.kinds import largest_radii
from sheet.document.model import CutList, Gradient, Group, Item, Photo, Piece, Rectangle
from sheet.document.tree import members
from sheet.geometry import geometry
from sheet.geometry.covering import bare
from sheet.geometry.geometry import covers, window

from .drawn import Href, body, image, opacity, painted, text_of

__all__ = ["fragment", "moved_by"]

DIGITS = 3
"""Decimals of a sheet unit on the screen: a thousandth of a px."""


def _frame_data(item: Item) -> str:
    width, height, m = geometry.local_frame(item)
    x0, y0, x1, y1 = geometry.box_of(item)
    frame = " ".join(text_of(v) for v in (width, height, *m.numbers()))
    box = " ".join(text_of(v) for v in (x0, y0, x1, y1))
    return f' data-frame="{frame}" data-box="{box}"'


def _tool_data(piece: Piece) -> str:
    """Return what tools on one piece need: its paint, for selecting the same, and a rectangle's corner radii."""
    paint = piece.paint
    fill, stroke = (painted(v)[0] for v in (paint.fill, paint.stroke))
    text = f' data-paint="{fill} {stroke} {text_of(paint.stroke_width)} {text_of(paint.opacity)}"'
    if isinstance(piece.shape, Rectangle):
        text += f' data-radii="{" ".join(text_of(r) for r in piece.shape.radii)}"'
        text += f' data-radii-most="{" ".join(text_of(r) for r in largest_radii(piece.shape))}"'
    return text


def _head(item: Item, kind: str) -> str:
    marks = (" data-locked" if item.locked else "") + (" data-hidden" if item.hidden else "")
    return f'data-id="{item.id}" data-kind="{kind}" data-name="{escape(item.name)}"{marks}{_frame_data(item)}'


def _limits_data(frame: Piece, photo: Photo) -> str:
    """Return the outline's bounds in px of a photo that must cover it: the page clamps the photo to them."""
    box = None if frame.gaps or not covers(frame, photo) else window(frame, photo)
    return f' data-limits="{" ".join(text_of(v) for v in box)}"' if box else ""


def _bare(frame: Piece) -> str:
    """Return the empty part of a frame, hatched at the Fit station."""
    rest = bare(frame)
    return "" if rest.is_empty else f'<path class="bare-area" d="{rest.to_svg(DIGITS)}"/>'


def _members(cuts: CutList) -> str:
    """Return the lines of a cut list's pieces, each with its operation; nested outlines are included."""
    lines = []
    steps = ["divide" if cuts.choice is not None else s.operation for s in cuts.steps]
    for m, does in zip(members(cuts), ("base", *steps), strict=True):
        inner = f"<g>{_members(m.shape)}</g>" if isinstance(m.shape, CutList) else ""
        d = geometry.outline_of(m).to_svg(DIGITS)
        lines.append(f'<g {_head(m, m.kind)} data-does="{does}"><path d="{d}"/>{inner}</g>')
    return f'<g class="members">{"".join(lines)}</g>'


def _blend(mode: str) -> str:
    """Return a class, because the page's security policy allows no style attribute."""
    return f' class="blend-{mode}"' if mode != "normal" else ""


_ITEM: Final = 1500
"""About how many bytes an item takes in the cache of drawings."""
_fragments: Results[tuple[Item, Href], str] = Results(16_000_000, lambda svg: len(svg) + _ITEM)
"""The cache of drawings: most of a sheet does not change, and a project is opened as it was closed."""


def fragment(item: Item, href: Href, inside: bool = True) -> str:
    """Return the group that shows `item` on the screen; `href` must return the same address for the same photo.

    It has the data for gestures: data-id, data-kind, data-frame (width, height and
    matrix of its box) and data-box. A frame also contains its whole photos ("ghost"),
    and an outline its pieces ("members"), for editing inside; without `inside`, for a
    short-lived picture, it has none and is not cached.
    """
    if not inside:
        return _fragment(item, href, inside=False)
    return _fragments.get((item, href), lambda: _fragment(item, href))


def _fragment(item: Item, href: Href, inside: bool = True) -> str:
    if isinstance(item, Photo):
        return f"<g {_head(item, 'photo')}{_blend(item.blend)}>{image(item, href(item))}</g>"
    if isinstance(item, Group):
        inner = "".join(fragment(i, href, inside) for i in item.items)
        kids = f'<g class="kids"{opacity(item.opacity)}>{inner}</g>'
        return f"<g {_head(item, 'group')}{_blend(item.blend)}>{kids}</g>"
    path = geometry.outline_of(item)
    d = path.to_svg(DIGITS)
    images = "".join(f'<g data-photo="{p.id}"{_blend(p.blend)}>{image(p, href(p))}</g>' for p in item.photos)
    # without a border, a hairline shows its edge, on the screen only
    bare = item.paint.stroke is None or item.paint.stroke_width == 0
    inner = body(item, d, path, images, f"clip-{item.id}", ' class="shape bare"' if bare else ' class="shape"')
    if images:
        ghosts = "".join(f"<g {_head(p, 'photo')}{_limits_data(item, p)}>{image(p, href(p))}</g>" for p in item.photos)
        inner = f'<g class="ghost">{ghosts}</g>{inner}{_bare(item)}'
    if inside and isinstance(item.shape, CutList):
        inner += _members(item.shape)
    return (
        f'<g {_head(item, item.kind)}{_blend(item.paint.blend)} data-outline="{d}"{_tool_data(item)}>'
        f"<g{opacity(item.paint.opacity)}>{inner}</g></g>"
    )


def moved_by(old: Item | None, new: Item) -> tuple[float, float] | None:
    """Return how far (px) a plain piece moved, if nothing else of it changed: its old fragment with all numbers shifted
    is then its new one. None for anything else."""
    if not isinstance(old, Piece) or not isinstance(new, Piece) or new.photos or isinstance(new.shape, CutList):
        return None
    if isinstance(new.paint.fill, Gradient) or isinstance(new.paint.stroke, Gradient):
        return None
    if old.matrix[:4] != new.matrix[:4] or replace(old, matrix=new.matrix) != new:
        return None
    return round(new.matrix[4] - old.matrix[4], 9), round(new.matrix[5] - old.matrix[5], 9)
