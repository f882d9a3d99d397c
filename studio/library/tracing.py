"""Reading files for commands: silhouettes from photos (the small copy while settings change), and drawings."""

from pathlib import Path as FilePath

from PIL import Image

from outline import OutlineError, Path
from picture.draw.silhouette import trace
from picture.errors import PictureError
from picture.photos.decode import open_upright
from picture.svg_in.read import Drawing, read_svg
from sheet import SheetError
from sheet.caching import cached
from sheet.document.errors import sentence
from sheet.document.kinds import Tracing

__all__ = ["drawn", "quickly", "traced"]


@cached(entries=4)
def _looked_at(file: FilePath, name: str, side: int) -> Image.Image:
    """Return a photo reduced to a longest side of so many px; the last few are cached."""
    if not file.exists():
        raise PictureError(f"The file of “{name}” is missing.", "Bring the photo in again.", "id")
    with Image.open(file) as head:
        longest = max(head.size)
    image = open_upright(file, name, min(1.0, side / longest))
    if max(image.size) > side:
        share = side / max(image.size)
        size = (max(1, round(image.width * share)), max(1, round(image.height * share)))
        image = image.resize(size, Image.Resampling.BOX, reducing_gap=2.0)
    return image


def _of(file: FilePath, name: str, size: tuple[int, int], tracing: Tracing, quick: bool) -> Path:
    try:
        return trace(lambda side: _looked_at(file, name, side), size, tracing, quick=quick)
    except PictureError as error:
        raise SheetError(error.message, error.remedy, error.field) from error
    except OutlineError as error:
        raise SheetError(sentence(error), "Smooth it, or raise the smallest part.", "smallest") from error


def traced(original: FilePath, name: str, size: tuple[int, int], tracing: Tracing) -> Path:
    """Return the silhouette of the photo of `size` px in file `original`, in its px. Raises SheetError."""
    return _of(original, name, size, tracing, False)


def drawn(file: FilePath, name: str, scale: float, fonts: dict[str, str]) -> Drawing:
    """Return the contents of an SVG file, `scale` sheet px for each px, with fonts by name. Raises SheetError."""
    try:
        return read_svg(file.read_bytes(), name, scale, fonts)
    except PictureError as error:
        raise SheetError(error.message, error.remedy, "file") from error


def quickly(preview: FilePath, name: str, size: tuple[int, int], tracing: Tracing) -> Path:
    """Return nearly the same from the screen's small copy. Raises SheetError."""
    return _of(preview, name, size, tracing, True)
