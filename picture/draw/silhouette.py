"""Silhouettes: the outline of the dark parts, of a tone, or of a subject in a photo.

A field over the px of the photo is greater than 0 inside; contourpy finds
its zero line, between the px, and `outline.fit` puts curves through that. Subjects
are found by GrabCut (Rother, Kolmogorov and Blake, SIGGRAPH 2004) at a small size, and
their edge by a guided filter (He, Sun and Tang, ECCV 2010) at a larger one.
"""

import math
from collections.abc import Callable
from itertools import pairwise
from typing import Final

import cv2
import numpy as np
from contourpy import contour_generator
from PIL import Image

import outline
from outline import OutlineError, Path
from picture.errors import PictureError
from sheet.caching import cached
from sheet.document.kinds import BrushMark, Tracing

__all__ = ["FINE", "MOST_NODES", "QUICK", "field_of", "trace"]

FINE: Final = 2400
"""The longest side (px) of the picture for tracing; larger photos are reduced to it."""
QUICK: Final = 720
"""The same while settings are being changed."""
MOST_NODES: Final = 20_000
MOST_PARTS: Final = 3000
SPECK: Final = 2.0
"""The side (px of the reduced picture) of the smallest part or hole."""
_LOOKS: Final = {QUICK: (112,), FINE: (112, 640)}
"""The longest sides of the pictures given to GrabCut, in turn."""
BAND: Final = 2.5
"""How far (px of the smaller picture) an edge may be off when it is looked for in the larger one."""

Reader = Callable[[int], Image.Image]
"""Returns the photo, upright and in sRGB, reduced to a longest side of so many px."""


def trace(read: Reader, size: tuple[int, int], tracing: Tracing, *, quick: bool = False) -> Path:
    """Return the silhouette of a photo of `size` px, in its px.

    `quick` works on a smaller picture. Raises PictureError if nothing is found, if it is
    all of the picture, or if it has too many parts, with the way out.
    """
    _check(size, tracing)
    side = QUICK if quick else FINE
    image = read(side)
    scale = image.width / size[0], image.height / size[1]
    rgb, alpha = _channels(image)
    field = field_of(rgb, tracing, scale, side)
    if alpha is not None:
        # transparent px are outside; the edge is at half opacity
        field = np.minimum(field, alpha - 0.5)
    one = math.sqrt(scale[0] * scale[1])
    _paint(field, tracing.marks, scale)
    if tracing.smooth > 0:
        blurred = cv2.GaussianBlur(
            _cover(field), (0, 0), max(0.3, tracing.smooth * one), borderType=cv2.BORDER_REPLICATE
        )
        field = np.asarray(blurred, np.float32) - np.float32(0.5)
    rings = _chosen_rings(_contours(field), tracing, scale)
    if not rings:
        raise PictureError(*_nothing(tracing))
    # for a quick look, nothing finer than its px
    deviation = max(tracing.deviation, 0.6 / one) if quick else tracing.deviation
    path = _fitted(rings, deviation, max(tracing.smallest, SPECK / one))
    whole = size[0] * size[1]
    if path.bounds and (min(path.bounds[:2]) < 0 or path.bounds[2] > size[0] or path.bounds[3] > size[1]):
        # curves may be off by the deviation, but the photo must cover the result
        path = outline.intersect([path, outline.rectangle(*size)])
    if tracing.grow and not path.is_empty:
        path = outline.offset(path, tracing.grow, join="round")
    if path.is_empty or abs(path.area) < 1e-9 * whole:
        raise PictureError("Nothing is left of the silhouette.", "Shrink it less.", "grow")
    if path.node_count <= 8 and abs(path.area) > 0.999 * whole and tracing.grow <= 0:
        raise PictureError(*_all(tracing))
    if path.node_count > MOST_NODES:
        raise PictureError(*_much(f"{path.node_count:,} nodes"))
    return path


def _check(size: tuple[int, int], tracing: Tracing) -> None:
    if tracing.way == "tone":
        if tracing.at is None:
            raise PictureError("No tone is selected yet.", "Click somewhere in the photo.", "at")
        if not (0 <= tracing.at[0] < size[0] and 0 <= tracing.at[1] < size[1]):
            raise PictureError("That click was outside the photo.", "Click somewhere in the photo.", "at")
    if tracing.way == "subject" and len(tracing.loop) < 3:
        raise PictureError("No subject is marked yet.", "Drag a box or a loop around it.", "loop")


def _nothing(tracing: Tracing) -> tuple[str, str, str]:
    if tracing.way == "subject":
        return "No subject stands out in the box.", "Draw it closer around the subject, or add strokes on it.", "loop"
    if tracing.way == "tone":
        return (
            "Nothing that large has that tone.",
            "Raise the tolerance, lower the smallest part, or click elsewhere.",
            "tolerance",
        )
    word = "brighter" if tracing.light else "darker"
    return f"Nothing that large is {word} than that.", "Change the brightness, or lower the smallest part.", "level"


def _all(tracing: Tracing) -> tuple[str, str, str]:
    if tracing.way == "subject":
        return "That selects the whole picture.", "Leave some of what is around the subject outside the box.", "loop"
    if tracing.way == "tone":
        return "That tone selects the whole picture.", "Lower the tolerance, or click elsewhere.", "tolerance"
    return "That selects the whole picture.", "Change the brightness.", "level"


def _much(what: str) -> tuple[str, str, str]:
    return f"That would have {what}.", "Smooth it, or raise the smallest part.", "smallest"


def _channels(image: Image.Image) -> tuple[np.ndarray, np.ndarray | None]:
    """Return RGB (h, w, 3) uint8, and the opacity (h, w), 0 to 1, or None."""
    alpha = None
    if image.mode == "RGBA":
        alpha = np.asarray(image.getchannel("A"), np.float32) / 255
    return np.ascontiguousarray(image.convert("RGB")), alpha


# -- the field, greater than 0 inside


def field_of(rgb: np.ndarray, tracing: Tracing, scale: tuple[float, float], side: int = FINE) -> np.ndarray:
    """Return the field of a picture (h, w, 3) by one of the methods; `scale` takes px of the photo to its own."""
    if tracing.way == "subject":
        return _subject(rgb, tracing, scale, _LOOKS[side])
    if tracing.way == "tone":
        assert tracing.at is not None
        lab = cv2.cvtColor(rgb.astype(np.float32) / 255, cv2.COLOR_RGB2Lab)
        x, y = int(tracing.at[0] * scale[0]), int(tracing.at[1] * scale[1])
        near = lab[max(0, y - 1) : y + 2, max(0, x - 1) : x + 2].reshape(-1, 3)
        # CIE 1976 L*a*b*: the difference of black and white is 100
        lab -= np.median(near, axis=0)
        apart: np.ndarray = np.sqrt(np.einsum("ijk,ijk->ij", lab, lab)) / 100
        return np.float32(tracing.tolerance) - apart.astype(np.float32)
    grey = cv2.cvtColor(rgb, cv2.COLOR_RGB2GRAY)
    if tracing.level is None:
        # between the two classes that differ most (Otsu 1979), halfway to the next grey level in use
        level = (cv2.threshold(grey, 0, 255, cv2.THRESH_BINARY | cv2.THRESH_OTSU)[0] + 0.5) / 255
        if grey.min() == 0 and grey.max() == 255 and len(np.unique(grey)) == 2:
            level = 0.5
    else:
        level = tracing.level
    bright = grey.astype(np.float32) / 255
    return bright - np.float32(level) if tracing.light else np.float32(level) - bright


def _subject(rgb: np.ndarray, tracing: Tracing, scale: tuple[float, float], sides: tuple[int, ...]) -> np.ndarray:
    """Return the field of a subject: found small, then at larger sizes in a band around its edge.

    The first pass is the same for quick and fine, so that nothing jumps.
    """
    height, width = rgb.shape[:2]
    inside = known = picture = None
    for side in sides:
        share = min(1.0, side / max(height, width))
        size = (max(2, round(width * share)), max(2, round(height * share)))
        picture = cv2.resize(rgb, size, interpolation=cv2.INTER_AREA)
        said = _said(tracing, size, (scale[0] * size[0] / width, scale[1] * size[1] / height))
        known = np.isin(said, (cv2.GC_BGD, cv2.GC_FGD))
        inside = _cut(picture, said if inside is None else _banded(said, inside, size))
        if not inside.any():
            raise PictureError(*_nothing(tracing))
    assert inside is not None and known is not None and picture is not None
    # marks made by hand are final
    fixed = cv2.resize(known.astype(np.float32), (width, height), interpolation=cv2.INTER_LINEAR)
    rough = cv2.resize(inside, (width, height), interpolation=cv2.INTER_LINEAR)
    field: np.ndarray = np.where(fixed > 0.5, rough, _guided(rgb, inside, picture)) - 0.5
    return field.astype(np.float32)


def _said(tracing: Tracing, size: tuple[int, int], scale: tuple[float, float]) -> np.ndarray:
    """Return GrabCut's class for each px by the loop and the marks. Raises PictureError."""
    said = np.full(size[::-1], cv2.GC_BGD, np.uint8)
    reach = 4 * max(size)
    loop = np.clip(np.array(tracing.loop) * scale - 0.5, -reach, reach)
    cv2.fillPoly(said, [np.round(loop).astype(np.int32)], cv2.GC_PR_FGD)
    for mark in tracing.marks:
        part, over = _stroke(said.shape, mark, scale)
        said[part][over > 0] = cv2.GC_FGD if mark.adds else cv2.GC_BGD
    if not (said == cv2.GC_BGD).any():
        raise PictureError(*_all(tracing))
    if (said == cv2.GC_BGD).all():
        raise PictureError(*_nothing(tracing))
    return said


def _banded(said: np.ndarray, inside: np.ndarray, size: tuple[int, int]) -> np.ndarray:
    """Return GrabCut's classes with a band around the smaller result's edge left open, the rest fixed."""
    found = cv2.resize(inside, size, interpolation=cv2.INTER_LINEAR)
    reach = 2 * math.ceil(BAND * size[0] / inside.shape[1]) + 1
    brush = np.ones((reach, reach), np.uint8)
    mask = (found > 0.5).astype(np.uint8)
    out = np.where(mask == 1, cv2.GC_PR_FGD, cv2.GC_PR_BGD).astype(np.uint8)
    out[cv2.erode(mask, brush, borderType=cv2.BORDER_REPLICATE) == 1] = cv2.GC_FGD
    out[cv2.dilate(mask, brush) == 0] = cv2.GC_BGD
    spoken = (said == cv2.GC_BGD) | (said == cv2.GC_FGD)
    out[spoken] = said[spoken]
    return out


def _cut(picture: np.ndarray, state: np.ndarray) -> np.ndarray:
    """Return 1 where GrabCut finds the subject, 0 elsewhere."""
    if not np.isin(state, (cv2.GC_FGD, cv2.GC_PR_FGD)).any() or not np.isin(state, (cv2.GC_BGD, cv2.GC_PR_BGD)).any():
        all_of_it: np.ndarray = (state != cv2.GC_BGD).astype(np.float32)
        return all_of_it
    cv2.setRNGSeed(0)
    state = state.copy()
    colours = np.ascontiguousarray(picture[..., ::-1])
    # one iteration: more may run away from the marks
    models = np.zeros((1, 65)), np.zeros((1, 65))
    state = np.asarray(cv2.grabCut(colours, state, (0, 0, 1, 1), *models, 1, cv2.GC_INIT_WITH_MASK)[0])
    inside: np.ndarray = np.isin(state, (cv2.GC_FGD, cv2.GC_PR_FGD)).astype(np.float32)
    return inside


def _guided(rgb: np.ndarray, inside: np.ndarray, picture: np.ndarray) -> np.ndarray:
    """Return a small mask at the size of `rgb`, its edge following the picture's: a guided filter with small sums."""
    guide = picture.astype(np.float32) / 255
    window = (5, 5)

    def mean(a: np.ndarray) -> np.ndarray:
        return cv2.blur(a, window)

    about, mask = mean(guide), mean(inside)
    with_mask = mean(guide * inside[..., None]) - about * mask[..., None]
    pairs = [(0, 0), (0, 1), (0, 2), (1, 1), (1, 2), (2, 2)]
    spread = np.empty((*inside.shape, 3, 3), np.float32)
    for i, j in pairs:
        spread[..., i, j] = spread[..., j, i] = mean(guide[..., i] * guide[..., j]) - about[..., i] * about[..., j]
    spread += 1e-3 * np.eye(3, dtype=np.float32)
    slope = np.linalg.solve(spread, with_mask[..., None])[..., 0]
    base = mask - np.einsum("ijk,ijk->ij", slope, about)
    size = (rgb.shape[1], rgb.shape[0])
    slope, base = (cv2.resize(mean(a), size, interpolation=cv2.INTER_LINEAR) for a in (slope, base))
    sharp: np.ndarray = np.einsum("ijk,ijk->ij", slope, rgb.astype(np.float32)) / 255 + base
    return sharp


def _stroke(
    shape: tuple[int, ...], mark: BrushMark, scale: tuple[float, float]
) -> tuple[tuple[slice, slice], np.ndarray]:
    """Return the part of a picture that a mark may reach, and how far inside the mark each of its px is (px)."""
    height, width = shape[:2]
    radius = max(0.7, mark.radius * math.sqrt(scale[0] * scale[1]))
    points = np.array(mark.points) * scale - 0.5
    reach = radius + 2
    x0, y0 = np.clip(np.floor(points.min(axis=0) - reach), 0, (width, height)).astype(int)
    x1, y1 = np.clip(np.ceil(points.max(axis=0) + reach) + 1, 0, (width, height)).astype(int)
    part = (slice(y0, y1), slice(x0, x1))
    inside = np.full((y1 - y0, x1 - x0), -np.inf, np.float32)
    if not inside.size:
        return part, inside
    x, y = np.arange(x0, x1, dtype=np.float32), np.arange(y0, y1, dtype=np.float32)[:, None]
    for a, b in pairwise(points if len(points) > 1 else (points[0], points[0])):
        # only the px around this segment
        low, high = np.minimum(a, b) - reach, np.maximum(a, b) + reach
        u0, u1 = np.searchsorted(x, (low[0], high[0]))
        v0, v1 = np.searchsorted(y[:, 0], (low[1], high[1]))
        px, py = x[u0:u1] - a[0], y[v0:v1] - a[1]
        way = b - a
        t = np.clip((px * way[0] + py * way[1]) / max(float(way @ way), 1e-12), 0, 1)
        near = inside[v0:v1, u0:u1]
        np.maximum(near, radius - np.hypot(px - t * way[0], py - t * way[1]), out=near)
    return part, inside


def _paint(field: np.ndarray, marks: tuple[BrushMark, ...], scale: tuple[float, float]) -> None:
    """Add and remove what the marks go over, in turn."""
    for mark in marks:
        part, inside = _stroke(field.shape, mark, scale)
        inside = np.clip(inside, -0.5, 0.5)
        field[part] = np.maximum(field[part], inside) if mark.adds else np.minimum(field[part], -inside)


def _cover(field: np.ndarray) -> np.ndarray:
    """Return how much of each px is inside, 0 to 1: by its distance to 0 along the slope."""
    dx, dy = cv2.Sobel(field, -1, 1, 0, scale=1 / 8), cv2.Sobel(field, -1, 0, 1, scale=1 / 8)
    slope = np.hypot(dx, dy)
    cover: np.ndarray = np.clip(0.5 + field / np.maximum(slope, 1e-6), 0, 1).astype(np.float32)
    return cover


# -- from the field to curves


@cached(entries=4)
def _mesh(width: int, height: int) -> tuple[np.ndarray, np.ndarray]:
    """Return px coordinates whose first px is centred half a px before 0."""
    x, y = np.meshgrid(np.arange(width) - 0.5, np.arange(height) - 0.5)
    return x, y


def _contours(field: np.ndarray) -> list[list[np.ndarray]]:
    """Return the regions where the field is above 0: the outer ring and the holes of each, in px."""
    h, w = field.shape
    # one more px on each side, as far below 0 as the outermost is above it: rings close at the picture's edge
    padded = np.full((h + 2, w + 2), -1, np.float64)
    padded[1:-1, 1:-1] = field
    padded[0, 1:-1], padded[-1, 1:-1] = -np.abs(field[0]), -np.abs(field[-1])
    padded[1:-1, 0], padded[1:-1, -1] = -np.abs(field[:, 0]), -np.abs(field[:, -1])
    x, y = _mesh(w + 2, h + 2)
    made = contour_generator(x, y, padded, name="serial", fill_type="OuterOffset").filled(0, np.inf)
    regions = []
    for points, offsets in zip(*made, strict=True):
        rings = [np.clip(points[a:b], 0, (w, h)) for a, b in pairwise(offsets)]
        regions.append(rings)
    return regions


def _area(ring: np.ndarray) -> float:
    x, y = ring[:, 0], ring[:, 1]
    return abs(float(x[:-1] @ y[1:] - x[1:] @ y[:-1])) / 2


def _contains(ring: np.ndarray, point: tuple[float, float]) -> bool:
    return cv2.pointPolygonTest(ring.astype(np.float32).reshape(-1, 1, 2), point, False) >= 0


def _chosen_rings(regions: list[list[np.ndarray]], tracing: Tracing, scale: tuple[float, float]) -> list[np.ndarray]:
    """Return the rings that are large enough, in px of the photo, region by region."""
    least = max((tracing.smallest**2) * scale[0] * scale[1], SPECK**2)
    wanted = None
    if tracing.way == "tone" and tracing.touching and tracing.at is not None:
        first = [m.points[0] for m in tracing.marks if m.adds]
        wanted = [(x * scale[0], y * scale[1]) for x, y in (tracing.at, *first)]
    out: list[np.ndarray] = []
    for outer, *holes in regions:
        if _area(outer) < least:
            continue
        if wanted is not None and not any(
            _contains(outer, p) and not any(_contains(h, p) for h in holes) for p in wanted
        ):
            continue
        out.append(outer / scale)
        if tracing.holes:
            out += [h / scale for h in holes if _area(h) >= least]
    if len(out) > MOST_PARTS:
        raise PictureError(*_much(f"{len(out):,} parts and holes"))
    return out


def _fitted(rings: list[np.ndarray], deviation: float, least: float) -> Path:
    """Return curves through the rings, within the deviation, as a region that does not cross itself.

    Its parts and holes are larger than a square of side `least`.
    """
    loops = []
    for ring in rings:
        try:
            loops.append(outline.fit(ring, deviation, closed=True))
        except OutlineError:
            continue  # all of its points coincide
    drawn = Path.gather(loops, fill_rule="evenodd")
    if drawn.node_count > MOST_NODES:
        raise PictureError(*_much(f"{drawn.node_count:,} nodes"))
    # curves that cross within their deviation would leave slivers
    return outline.cleaned(drawn, least)
