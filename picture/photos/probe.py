"""The metadata of a photo's file, read before anything is decoded."""

import io
import mmap
import warnings
from dataclasses import dataclass
from pathlib import Path as FilePath
from typing import IO, Any, Final

import pillow_heif
from PIL import Image, UnidentifiedImageError

from picture.errors import PictureError

from .signalled import signalled_profile

__all__ = [
    "PHOTO_FORMATS",
    "MAX_BYTES",
    "MAX_PIXELS",
    "TURNED",
    "WORDS",
    "PhotoInfo",
    "completed",
    "has_several",
    "inspect",
    "opened",
    "orientation_of",
    "stored_size",
    "was_completed",
]

PHOTO_FORMATS: Final = ("JPEG", "PNG", "WEBP", "TIFF", "AVIF", "HEIF", "GIF", "BMP")
WORDS: Final = "JPEG, PNG, WebP, TIFF, AVIF, HEIC, GIF or BMP"
RAW: Final = frozenset(
    [
        "3fr",
        "arw",
        "cr2",
        "cr3",
        "crw",
        "dng",
        "erf",
        "iiq",
        "kdc",
        "mef",
        "mos",
        "mrw",
        "nef",
        "nrw",
        "orf",
        "pef",
        "raf",
        "raw",
        "rw2",
        "rwl",
        "sr2",
        "srf",
        "srw",
        "x3f",
    ]
)
"""File endings of cameras' raw files: some are TIFFs, whose first picture is only a small copy."""
_FONT: Final = ("a font", "Choose Lettering, and bring it in beside the list of fonts.")
_DOCUMENT: Final = ("a document", "Save it as SVG, or as a picture.")
OTHERS: Final = {
    **dict.fromkeys((".ttf", ".otf", ".ttc", ".woff", ".woff2"), _FONT),
    **dict.fromkeys((".pdf", ".eps", ".ps"), _DOCUMENT),
}
"""What else people bring in, by the ending of its name, and the way to it."""
MAX_PIXELS: Final = 200_000_000
MAX_BYTES: Final = 100_000_000

pillow_heif.register_heif_opener()
# our own limit has a message that says what to do
Image.MAX_IMAGE_PIXELS = None

TURNED: Final = (5, 6, 7, 8)
"""The orientations that turn a photo by a quarter."""


@dataclass(frozen=True, slots=True)
class PhotoInfo:
    """A photo's metadata: size in px once upright, format, px per inch or None, and whether it has an alpha channel."""

    width: int
    height: int
    format: str
    resolution: float | None
    has_alpha: bool


def opened(source: FilePath | IO[bytes], name: str) -> Image.Image:
    """Return a photo opened by Pillow, not decoded yet. Raises PictureError."""
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            image: Image.Image = Image.open(source, formats=PHOTO_FORMATS)
    except UnidentifiedImageError:
        why, way = OTHERS.get(FilePath(name).suffix.lower(), ("not a picture that can be read", f"Use a {WORDS} file."))
        raise PictureError(f"“{name}” is {why}.", way) from None
    # readers raise anything for a damaged file
    except Exception:
        raise PictureError(f"“{name}” is damaged.", f"Export it again as {WORDS}.") from None
    profile = signalled_profile(image, source)
    # PNG 3, 4.3: cICP takes precedence over a profile; elsewhere a profile says more
    if profile and (image.format == "PNG" or not image.info.get("icc_profile")):
        image.info["icc_profile"] = profile
    width, height = image.size
    if width * height > MAX_PIXELS:
        raise PictureError(
            f"“{name}” has {width * height / 1e6:,.0f} megapixels; {MAX_PIXELS / 1e6:.0f} is the most.",
            "Make it smaller and bring it in again.",
        )
    return image


def _late_exif(file: Any) -> bytes | None:
    """Return a PNG's EXIF block if it follows the pixels (PNG 3, 11.3.3.4), by its chunk headers."""
    file.seek(8)
    while len(head := file.read(8)) == 8:
        size, kind = int.from_bytes(head[:4]), head[4:]
        if kind == b"eXIf":
            return bytes(file.read(size))
        file.seek(size + 4, io.SEEK_CUR)
    return None


def has_several(source: FilePath | IO[bytes]) -> bool:
    """Return whether a photo's file has several pictures; the first is used."""
    try:
        with Image.open(source, formats=PHOTO_FORMATS) as image:
            return bool(getattr(image, "is_animated", False))
    except Exception:  # errors in the others are not reported here
        return False


_SCAN: Final = b"\xff\xda"
_END: Final = b"\xff\xd9"
_ADDED: Final = b"\xff\xfe\x00\x14end mark was added" + _END
"""A comment and the end of the image (ITU-T T.81, B.2.1 and B.2.4.5)."""


def completed(path: FilePath) -> None:
    """Return a JPEG that lacks only its end mark with one, and a comment that says so; others unchanged."""
    with path.open("rb") as file:
        if file.read(3) != b"\xff\xd8\xff":
            return
        with mmap.mmap(file.fileno(), 0, access=mmap.ACCESS_READ) as data:
            # neither occurs in a scan, and in a thumbnail the end comes last
            if data.rfind(_END) > data.rfind(_SCAN):
                return
    with path.open("ab") as file:
        file.write(_ADDED)


def was_completed(file: IO[bytes]) -> bool:
    """Return whether a photo's file was given its end mark on import."""
    file.seek(0, io.SEEK_END)
    if file.tell() < len(_ADDED):
        return False
    file.seek(-len(_ADDED), io.SEEK_END)
    return file.read() == _ADDED


def orientation_of(image: Image.Image) -> int:
    """Return the orientation of an opened photo (EXIF 2.32, tag 0x0112); 1 if it is upright."""
    try:
        exif = Image.Exif()
        if image.format != "PNG":
            exif = image.getexif()
        elif "exif" in image.info:
            exif.load(image.info["exif"])
        else:
            # Pillow decodes a whole PNG to find it
            file: Any = image.fp  # type: ignore[attr-defined]
            place = file.tell()
            exif.load(_late_exif(file) or b"")
            file.seek(place)
        return int(exif.get(0x0112, 1))
    except Exception:  # a broken EXIF block does not make a picture unusable
        return 1


def stored_size(image: Image.Image) -> tuple[int, int]:
    """Return the stored width and height (px) of an opened photo; Pillow returns those of a TIFF turned upright."""
    if image.format != "TIFF":
        return image.size
    tags = image.tag_v2  # type: ignore[attr-defined]
    return int(tags.get(256, image.width)), int(tags.get(257, image.height))


def _resolution(image: Image.Image) -> float | None:
    try:
        value = float(image.info.get("dpi", (0, 0))[0])
    except (TypeError, ValueError, IndexError, ZeroDivisionError):
        return None
    return value if 1 < value < 100_000 else None


def inspect(source: FilePath | IO[bytes], name: str, size: int) -> PhotoInfo:
    """Return the metadata of a file of `size` bytes, from its header alone. Raises PictureError."""
    if size == 0:
        raise PictureError(f"“{name}” is empty.", "Choose another file.")
    if size > MAX_BYTES:
        raise PictureError(
            f"“{name}” has {size / 1e6:,.0f} MB; {MAX_BYTES / 1e6:.0f} MB is the most.",
            "Save it with more compression and bring it in again.",
        )
    if FilePath(name).suffix.lower().lstrip(".") in RAW:
        raise PictureError(
            f"“{name}” is a camera’s raw file.",
            "Develop it first, and save it as TIFF or JPEG.",
        )
    image = opened(source, name)
    width, height = stored_size(image)
    if orientation_of(image) in TURNED:
        width, height = height, width
    has_alpha = "A" in image.getbands() or "transparency" in image.info
    return PhotoInfo(width, height, str(image.format), _resolution(image), has_alpha)
