"""Colours by formula: OKLab, and the contrast of two colours."""

import numpy as np

__all__ = ["contrast", "from_oklab", "hex_of", "rgb_of", "to_oklab"]

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
    """Return OKLab (n, 3) as sRGB (n, 3) from 0 to 255, held within what sRGB has."""
    lms = (lab @ np.linalg.inv(_TO_LAB).T) ** 3
    light = np.clip(lms @ np.linalg.inv(_TO_LMS).T, 0, 1)
    rgb: np.ndarray = np.where(light <= 0.0031308, 12.92 * light, 1.055 * light ** (1 / 2.4) - 0.055) * 255
    return rgb


def contrast(one: str, other: str) -> float:
    """Return the contrast ratio of two colours, 1 to 21 (WCAG 2.2, "contrast ratio" and "relative luminance").

    >>> contrast("#000000", "#ffffff")
    21.0
    """
    weights = np.array([0.2126, 0.7152, 0.0722])
    a, b = (float(_linear(np.array(rgb_of(c)) / 255) @ weights) + 0.05 for c in (one, other))
    return max(a, b) / min(a, b)
