"""Colours in a drawing: of one point of the sheet, and the main ones of a photo."""

import math
from dataclasses import dataclass

import cv2
import numpy as np
from PIL import Image

from sheet import Photo, Piece, Sheet
from sheet.document.model import Group, Item
from sheet.geometry import geometry
from sheet.reading.colours import from_oklab, hex_of, to_oklab

from .raster import Loader, render

__all__ = ["SIZES", "Sample", "mean_of", "sample", "swatches_of"]

SIZES = (1, 5, 15, 51)
"""Sides of the squares (px) over which a sample may be averaged."""
LOUPE = 17
FINEST = 16.0
"""The most px per sheet unit for a sample."""


@dataclass(frozen=True, slots=True)
class Sample:
    """A colour, or None if nothing is there, and the px around it (LOUPE, LOUPE, 4)."""

    color: str | None
    pixels: np.ndarray


def _photos_at(items: tuple[Item, ...], x: float, y: float) -> list[Photo]:
    found: list[Photo] = []
    for item in items:
        if item.hidden:
            continue
        if isinstance(item, Group):
            found += _photos_at(item.items, x, y)
        elif isinstance(item, Photo):
            found += [item] if geometry.photo_quad(item).contains((x, y)) else []
        elif isinstance(item, Piece) and item.photos and geometry.outline_of(item).contains((x, y)):
            found += [p for p in item.photos if geometry.photo_quad(p).contains((x, y))]
    return found


def sample(sheet: Sheet, x: float, y: float, size: int, load: Loader) -> Sample:
    """Return the colour at a point of the sheet (px), averaged over a square of `size` px around it.

    Px are those of the finest photo there, or of the sheet. The mean is taken over the sRGB
    numbers, weighted by opacity.
    """
    finest = [1 / p.placing.scale for p in _photos_at(sheet.items, x, y) if p.placing.scale > 0]
    scale = min(FINEST, max([1.0, *finest]))
    side = max(size, LOUPE)
    # whole px of the grid that starts in the sheet's corner
    px, py = math.floor(x * scale) - side // 2, math.floor(y * scale) - side // 2
    box = (px / scale, py / scale, (px + side) / scale, (py + side) / scale)
    near = tuple(i for i in sheet.items if _meets(i, box))
    pixels = render(near, box, scale, load, sheet.backdrop)[:side, :side]
    middle = side // 2
    part = pixels[middle - size // 2 : middle + size // 2 + 1, middle - size // 2 : middle + size // 2 + 1]
    weight = part[..., 3].astype(float)
    total = weight.sum()
    color = hex_of((part[..., :3] * weight[..., None]).sum(axis=(0, 1)) / total) if total else None
    edge = (side - LOUPE) // 2
    return Sample(color, pixels[edge : edge + LOUPE, edge : edge + LOUPE])


def _meets(item: Item, box: geometry.Box) -> bool:
    """Return whether an item may show in the box; others need not be read."""
    x0, y0, x1, y1 = geometry.box_of(item)
    grown = geometry.border_box(item) if isinstance(item, Piece) else None
    if grown:
        x0, y0, x1, y1 = geometry.join_boxes([(x0, y0, x1, y1), grown])
    return x0 < box[2] and box[0] < x1 and y0 < box[3] and box[1] < y1


def _opaque(image: Image.Image, side: int) -> np.ndarray:
    small = image.convert("RGBA")
    small.thumbnail((side, side), Image.Resampling.BOX)
    pixels = np.asarray(small).reshape(-1, 4)
    kept: np.ndarray = pixels[pixels[:, 3] > 127][:, :3].astype(float)
    return kept


def mean_of(image: Image.Image) -> str | None:
    """Return the mean colour of the opaque part of a picture."""
    pixels = _opaque(image, 64)
    return hex_of(pixels.mean(axis=0)) if len(pixels) else None


def swatches_of(image: Image.Image, count: int = 6) -> list[str]:
    """Return the main colours of a picture, the largest areas first: k-means in OKLab.

    The result is deterministic: the means start at the furthest from all before.
    """
    rgb = _opaque(image, 96)
    if not len(rgb):
        return []
    lab = to_oklab(rgb)
    means = [lab.mean(axis=0)]
    while len(means) < count + 1:
        far = np.min([((lab - m) ** 2).sum(axis=1) for m in means], axis=0)
        if far.max() < 1e-5:
            break
        means.append(lab[far.argmax()])
    centres = np.array(means[1:] or means)
    nearest = ((lab[:, None] - centres[None]) ** 2).sum(axis=2).argmin(axis=1)
    ends = (cv2.TERM_CRITERIA_COUNT + cv2.TERM_CRITERIA_EPS, 30, 1e-5)
    _, labels, centres = cv2.kmeans(
        lab.astype(np.float32), len(centres), nearest.astype(np.int32), ends, 1, cv2.KMEANS_USE_INITIAL_LABELS
    )
    nearest = labels.ravel()
    share = np.bincount(nearest, minlength=len(centres))
    colors = [hex_of(c) for c in from_oklab(centres)]
    return list(dict.fromkeys(colors[k] for k in np.argsort(-share, kind="stable") if share[k]))
