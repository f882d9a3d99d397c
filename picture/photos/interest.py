"""The point of interest of a photo, as libvips finds it: by edges, skin tones and saturated colours."""

from pathlib import Path as FilePath

import pyvips

__all__ = ["interest_of"]


def interest_of(source: FilePath) -> tuple[float, float]:
    """Return the point of interest in shares of the photo's sides; its middle if there is none."""
    try:
        image = pyvips.Image.thumbnail(str(source), 512)
        _, found = image.smartcrop(
            max(1, image.width // 2), max(1, image.height // 2), interesting="attention", attention_x=True,
            attention_y=True,
        )  # fmt: skip
    except pyvips.Error:
        return 0.5, 0.5
    x, y = found["attention_x"] / image.width, found["attention_y"] / image.height
    return min(1.0, max(0.0, x)), min(1.0, max(0.0, y))
