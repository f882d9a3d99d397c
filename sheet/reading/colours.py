"""Colours: read as CSS writes them, in OKLab, and the contrast of two of them."""

import math

import numpy as np
from tinycss2.color4 import Color, parse_color

from sheet.caching import cached_if_short

__all__ = ["CURRENT", "encoded", "contrast", "from_oklab", "hex_of", "read_css", "rgb_of", "to_oklab"]

# Björn Ottosson, "A perceptual color space for image processing" (2020), the matrices given there for linear sRGB
_TO_LMS = np.array(
    [
        [0.4122214708, 0.5363325363, 0.0514459929],
        [0.2119034982, 0.6806995451, 0.1073969566],
        [0.0883024619, 0.2817188376, 0.6299787005],
    ]
)
_TO_LAB = np.array(
    [
        [0.2104542553, 0.7936177850, -0.0040720468],
        [1.9779984951, -2.4285922050, 0.4505937099],
        [0.0259040371, 0.7827717662, -0.8086757660],
    ]
)


# CSS Color 4, 18: XYZ of D65 from linear display-p3, and linear sRGB from that; XYZ of D65 from that of D50 (Bradford)
_P3 = np.array(
    [
        [608311 / 1250200, 189793 / 714400, 198249 / 1000160],
        [35783 / 156275, 247089 / 357200, 198249 / 2500400],
        [0, 32229 / 714400, 5220557 / 5000800],
    ]
)
_FROM_XYZ = np.array(
    [
        [12831 / 3959, -329 / 214, -1974 / 3959],
        [-851781 / 878810, 1648619 / 878810, 36519 / 878810],
        [705 / 12673, -2585 / 12673, 705 / 667],
    ]
)
_D50_TO_D65 = np.array(
    [
        [0.955473421488075, -0.02309845494876471, 0.06325924320057072],
        [-0.0283697093338637, 1.0099953980813041, 0.021041441191917323],
        [0.012314014864481998, -0.020507649298898964, 1.330365926242124],
    ]
)
_D50 = np.array([0.3457 / 0.3585, 1.0, (1 - 0.3457 - 0.3585) / 0.3585])
CURRENT = "currentcolor"
"""The value of `read_css` for the colour of the surrounding text."""


def encoded(light: np.ndarray) -> np.ndarray:
    """Return linear light as sRGB from 0 to 1 (IEC 61966-2-1), clipped to sRGB."""
    light = np.clip(light, 0, 1)
    rgb: np.ndarray = np.where(light <= 0.0031308, 12.92 * light, 1.055 * light ** (1 / 2.4) - 0.055)
    return rgb


def _of_lab(lab: np.ndarray) -> np.ndarray:
    """Return CIE Lab of D50 as linear sRGB (CSS Color 4, 18)."""
    fy = (lab[0] + 16) / 116
    f = np.array([fy + lab[1] / 500, fy, fy - lab[2] / 200])
    cubes = f**3
    xyz = np.where(cubes > 216 / 24389, cubes, (116 * f - 16) / (24389 / 27))
    return np.asarray(_FROM_XYZ @ _D50_TO_D65 @ (xyz * _D50))


def _srgb(colour: Color) -> np.ndarray:
    """Return a parsed colour as sRGB from 0 to 1. Raises NotImplementedError for unknown spaces."""
    a, b, c = numbers = np.array([v or 0.0 for v in colour.coordinates])
    if colour.space in ("lch", "oklch"):
        numbers = np.array([a, b * math.cos(math.radians(c)), b * math.sin(math.radians(c))])
    match colour.space:
        case "lab" | "lch":
            return encoded(_of_lab(numbers))
        case "oklab" | "oklch":
            return np.asarray(from_oklab(numbers[None])[0] / 255)
        case "srgb-linear":
            return encoded(numbers)
        case "display-p3":
            return encoded(_FROM_XYZ @ _P3 @ _linear(numbers))
        case "xyz" | "xyz-d65":
            return encoded(_FROM_XYZ @ numbers)
        case "xyz-d50":
            return encoded(_FROM_XYZ @ _D50_TO_D65 @ numbers)
    return np.array(colour.to("srgb").coordinates)


@cached_if_short(entries=4096, longest=200)
def read_css(text: str) -> tuple[str, float] | None:
    """Return a colour of CSS Color 4 as (#rrggbb, opacity from 0 to 1); None if it is not one.

    `currentcolor`, in any case, is (CURRENT, 1.0).

    >>> read_css("rgb(200 50 50 / 50%)"), read_css("hsl(120deg 50% 50%)"), read_css("oklch(0 0 0)")
    (('#c83232', 0.5), ('#40bf40', 1.0), ('#000000', 1.0))
    """
    try:
        colour = parse_color(text)
        if colour is None or isinstance(colour, str):
            return (CURRENT, 1.0) if colour == CURRENT else None
        return hex_of(255 * _srgb(colour)), float(colour.alpha)
    except (NotImplementedError, ValueError, OverflowError):
        return None


def rgb_of(text: str) -> tuple[int, int, int]:
    """Return #rrggbb as three numbers from 0 to 255."""
    return int(text[1:3], 16), int(text[3:5], 16), int(text[5:7], 16)


def hex_of(rgb: np.ndarray | tuple[float, ...]) -> str:
    """Return three numbers from 0 to 255 as #rrggbb."""
    return "#" + "".join(f"{min(255, max(0, round(float(v)))):02x}" for v in rgb)


def _linear(rgb: np.ndarray) -> np.ndarray:
    """Return sRGB from 0 to 1 as linear light (IEC 61966-2-1)."""
    light: np.ndarray = np.where(rgb <= 0.04045, rgb / 12.92, ((rgb + 0.055) / 1.055) ** 2.4)
    return light


def to_oklab(rgb: np.ndarray) -> np.ndarray:
    """Return sRGB (n, 3) from 0 to 255 as OKLab (n, 3)."""
    lms = np.cbrt(_linear(np.asarray(rgb, float) / 255) @ _TO_LMS.T)
    lab: np.ndarray = lms @ _TO_LAB.T
    return lab


def from_oklab(lab: np.ndarray) -> np.ndarray:
    """Return OKLab (n, 3) as sRGB (n, 3) from 0 to 255, clipped to sRGB."""
    lms = (lab @ np.linalg.inv(_TO_LAB).T) ** 3
    rgb: np.ndarray = encoded(lms @ np.linalg.inv(_TO_LMS).T) * 255
    return rgb


def contrast(one: str, other: str) -> float:
    """Return the contrast ratio of two colours, 1 to 21 (WCAG 2.2, "contrast ratio" and "relative luminance").

    >>> contrast("#000000", "#ffffff")
    21.0
    """
    weights = np.array([0.2126, 0.7152, 0.0722])
    a, b = (float(_linear(np.array(rgb_of(c)) / 255) @ weights) + 0.05 for c in (one, other))
    return max(a, b) / min(a, b)
