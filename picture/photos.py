"""Reading photos: upright by EXIF, in sRGB, at the size that is needed.

EXIF 2.32 (tag 0x0112) tells how to turn a picture; ICC.1 profiles are honoured by
LittleCMS through Pillow, relative colorimetric with black point compensation.
"""

import io
import math
import warnings
from contextlib import nullcontext
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path as FilePath
from typing import Any, BinaryIO, Final

import pillow_heif
import pyvips
from PIL import Image, ImageCms, ImageOps, UnidentifiedImageError

from .errors import PictureError
from .shrinking import LARGE, shrunk, webp_scale

__all__ = [
    "FORMATS",
    "MAX_PIXELS",
    "MAX_BYTES",
    "PREVIEW_SIDE",
    "PhotoInfo",
    "WORDS",
    "inspect",
    "memory_of",
    "open_upright",
    "plain_jpeg",
    "preview",
    "profile_of",
]

FORMATS: Final = ("JPEG", "PNG", "WEBP", "TIFF", "AVIF", "HEIF")
WORDS: Final = "JPEG, PNG, WebP, TIFF, AVIF or HEIC"
MAX_PIXELS: Final = 200_000_000
MAX_BYTES: Final = 100_000_000
PREVIEW_SIDE: Final = 2048

pillow_heif.register_heif_opener()
# our own limit comes with a message that says what to do
Image.MAX_IMAGE_PIXELS = None

_TURNED = (5, 6, 7, 8)


@dataclass(frozen=True, slots=True)
class PhotoInfo:
    """What a photo's file says: size in px once upright, format, px per inch or None, and transparency."""

    width: int
    height: int
    format: str
    resolution: float | None
    has_alpha: bool


def _open(source: FilePath | BinaryIO, name: str) -> Image.Image:
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            image: Image.Image = Image.open(source, formats=FORMATS)
    except UnidentifiedImageError:
        raise PictureError(f"“{name}” is not a picture that can be read.", f"Use a {WORDS} file.") from None
    except (OSError, ValueError, SyntaxError, TypeError, MemoryError):
        raise PictureError(f"“{name}” is damaged.", f"Export it again as {WORDS}.") from None
    width, height = image.size
    if width * height > MAX_PIXELS:
        raise PictureError(
            f"“{name}” has {width * height / 1e6:,.0f} megapixels; {MAX_PIXELS / 1e6:.0f} is the most.",
            "Make it smaller and bring it in again.",
        )
    return image


def _late_exif(file: Any) -> bytes | None:
    """Return the EXIF block of a PNG that stands behind its pixels (PNG 3, 11.3.3.4), from the heads of its chunks."""
    file.seek(8)
    while len(head := file.read(8)) == 8:
        size, kind = int.from_bytes(head[:4]), head[4:]
        if kind == b"eXIf":
            return bytes(file.read(size))
        file.seek(size + 4, io.SEEK_CUR)
    return None


def _orientation(image: Image.Image) -> int:
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
    except Exception:  # a broken EXIF block is no reason to refuse a picture
        return 1


def _resolution(image: Image.Image) -> float | None:
    try:
        value = float(image.info.get("dpi", (0, 0))[0])
    except (TypeError, ValueError, IndexError, ZeroDivisionError):
        return None
    return value if 1 < value < 100_000 else None


def inspect(source: FilePath | BinaryIO, name: str, size: int) -> PhotoInfo:
    """Return what the file of `size` bytes says, from its head alone. Raises PictureError."""
    if size == 0:
        raise PictureError(f"“{name}” is empty.", "Choose another file.")
    if size > MAX_BYTES:
        raise PictureError(
            f"“{name}” has {size / 1e6:,.0f} MB; {MAX_BYTES / 1e6:.0f} MB is the most.",
            "Save it with more compression and bring it in again.",
        )
    image = _open(source, name)
    width, height = image.size
    if _orientation(image) in _TURNED:
        width, height = height, width
    has_alpha = "A" in image.getbands() or "transparency" in image.info
    return PhotoInfo(width, height, str(image.format), _resolution(image), has_alpha)


@lru_cache(maxsize=1)
def _srgb() -> Any:
    return ImageCms.createProfile("sRGB")


def _coefficients(image: Image.Image) -> int:
    """Return the bytes that a progressive JPEG keeps until its last scan: two for each coefficient (ITU-T T.81, G)."""
    if not image.info.get("progressive"):
        return 0
    layers = [(h, v) for _, h, v, _ in image.layer]  # type: ignore[attr-defined]
    most = max(h for h, _ in layers) * max(v for _, v in layers)
    return int(2 * image.width * image.height * sum(h * v for h, v in layers) / most)


def _is_lossless(source: FilePath | BinaryIO) -> bool:
    """Tell whether a WebP is a lossless one, by its chunks (RFC 9649)."""
    with source.open("rb") if isinstance(source, FilePath) else nullcontext(source) as file:
        file.seek(12)
        while len(head := file.read(8)) == 8:
            if head[:4] in (b"VP8L", b"VP8 "):
                return head[:4] == b"VP8L"
            size = int.from_bytes(head[4:], "little")
            file.seek(size + size % 2, io.SEEK_CUR)
    return True


ROWS: Final = 40_000_000
"""Bytes of rows on their way, in libvips and in the decoders."""


def memory_of(source: FilePath | BinaryIO, name: str, at_least: float = 1.0) -> int:
    """Return about how many bytes decoding a photo to a share of its size takes. Raises PictureError.

    A JPEG is reduced by halves while it is read, a large PNG or TIFF row by row, a lossy
    WebP by its decoder; the others, and interlaced ones, are decoded whole.
    """
    image = _open(source, name)
    px = image.width * image.height
    share = min(1.0, max(at_least, 1e-3))
    kind = str(image.format)
    if kind in ("JPEG", "MPO"):
        by = next((n for n in (8, 4, 2) if share <= 1 / n), 1)
        return 4 * px // by**2 + _coefficients(image)
    by = math.floor(1 / share + 1e-9)
    if by >= 2 and px >= LARGE:
        made = 4 * px // by**2 + ROWS
        if kind in ("PNG", "TIFF"):
            return made + (4 * px if image.info.get("interlace") else 128 * image.width)
        if kind == "WEBP":
            whole = 4 * px if _is_lossless(source) else px * ("A" in image.getbands())
            return made + whole + int(4 * px * webp_scale(by) ** 2)
    return (8 if kind in ("WEBP", "AVIF", "HEIF") else 4) * px


def _to_srgb(image: Image.Image) -> Image.Image:
    """Return the image in sRGB as RGB or RGBA."""
    icc = image.info.get("icc_profile")
    alpha = None
    if image.mode == "P":
        image = image.convert("RGBA" if "transparency" in image.info else "RGB")
    elif "transparency" in image.info:
        image = image.convert("RGBA")
    if image.mode in ("I", "F") or image.mode.startswith("I;16"):
        # 16 bits of grey: keep the upper eight
        top = 65535 if image.mode != "F" else 1
        image = image.convert("F").point(lambda v: v * (255.0 / top)).convert("L")
    if image.mode in ("RGBA", "LA", "PA", "La", "RGBa"):
        image = image.convert("LA" if image.mode in ("LA", "La") else "RGBA")
        alpha = image.getchannel("A")
        image = image.convert("L" if image.mode == "LA" else "RGB")
    if icc:
        try:
            profile = ImageCms.ImageCmsProfile(io.BytesIO(icc))
            described = ImageCms.getProfileDescription(profile)
            if "sRGB" not in described or image.mode != "RGB":
                image = (
                    ImageCms.profileToProfile(
                        image,
                        profile,
                        _srgb(),
                        renderingIntent=ImageCms.Intent.RELATIVE_COLORIMETRIC,
                        outputMode="RGB",
                        flags=ImageCms.Flags.BLACKPOINTCOMPENSATION,
                    )
                    or image
                )
        except (ImageCms.PyCMSError, OSError, ValueError):
            pass  # a profile that does not fit its picture is left out, as browsers do
    if image.mode != "RGB":
        image = image.convert("RGB")
    if alpha is not None:
        image.putalpha(alpha)
    return image


def open_upright(
    source: FilePath | BinaryIO, name: str, at_least: float = 1.0, unconverted: bool = False
) -> Image.Image:
    """Return the decoded photo, upright and in sRGB (or, `unconverted`, in its own colours), as RGB or RGBA.

    `at_least` is the share of the full size that is needed: a JPEG may then be decoded
    at an eighth, a quarter or a half of it, a large PNG, TIFF or WebP at any whole part.
    Raises PictureError where the file is damaged or cut short.
    """
    image = _open(source, name)
    orientation = _orientation(image)
    if at_least <= 0.5 and image.format in ("JPEG", "MPO"):
        share = max(at_least, 1 / 8)
        image.draft(None, (max(1, int(image.width * share)), max(1, int(image.height * share))))
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            small = shrunk(source, image, at_least)
            if small is None:
                image.load()
    except (OSError, ValueError, SyntaxError, MemoryError, EOFError):
        raise PictureError(f"“{name}” is cut short or damaged.", "Copy or export it again.") from None
    upright = image if small is None else small
    if orientation != 1:
        upright.getexif()[0x0112] = orientation
        upright = ImageOps.exif_transpose(upright)
    return upright if unconverted else _to_srgb(upright)


def profile_of(source: FilePath, name: str) -> bytes | None:
    """Return the ICC profile in a photo's file, None where there is none. Raises PictureError."""
    return _open(source, name).info.get("icc_profile") or None


def plain_jpeg(source: FilePath, name: str) -> bytes | None:
    """Return the bytes of a JPEG that stands as it is: upright, RGB, and in sRGB or without a profile; else None.

    Raises PictureError where it cannot be read.
    """
    image = _open(source, name)
    if image.format != "JPEG" or image.mode != "RGB" or _orientation(image) != 1:
        return None
    icc = image.info.get("icc_profile")
    if icc:
        try:
            described = ImageCms.getProfileDescription(ImageCms.ImageCmsProfile(io.BytesIO(icc)))
        except (ImageCms.PyCMSError, OSError):
            return None
        if "sRGB" not in described:
            return None
    return source.read_bytes()


def _check_rows(source: FilePath | BinaryIO, image: Image.Image) -> None:
    """Raise OSError where a file holds fewer rows than its head tells, which decoders fill with grey or nothing."""
    kind = str(image.format)
    if kind == "TIFF":
        tags = image.tag_v2  # type: ignore[attr-defined]
        across, down = tags.get(322), tags.get(323)
        # TIFF 6.0: tiles of a size, or strips of so many rows
        if across and down:
            needed, there = math.ceil(image.width / across) * math.ceil(image.height / down), tags.get(324, ())
        else:
            needed, there = math.ceil(image.height / min(tags.get(278, image.height), image.height)), tags.get(273, ())
        if (len(there) if isinstance(there, tuple) else 1) < needed:
            raise OSError("too few strips")
        return
    options: dict[str, Any] = {"access": "sequential", "fail_on": "truncated"}
    if kind in ("JPEG", "MPO"):
        options["fail_on"] = "warning"
    elif kind != "PNG":
        return
    loader = "pngload" if kind == "PNG" else "jpegload"
    try:
        if isinstance(source, FilePath):
            getattr(pyvips.Image, loader)(str(source), **options).avg()
        else:
            source.seek(0)
            getattr(pyvips.Image, f"{loader}_buffer")(source.read(), **options).avg()
    except pyvips.Error as error:
        # libjpeg warns of much that harms nothing
        if kind == "PNG" or "premature end" in str(error).lower():
            raise OSError(str(error)[:200]) from None


def preview(source: FilePath | BinaryIO, name: str, info: PhotoInfo) -> tuple[bytes, tuple[int, int, int, int] | None]:
    """Return a small sRGB JPEG of the photo (WebP where it is transparent), longest side 2048 px at most.

    With it comes the box (px of the whole photo) outside of which it is wholly
    transparent, None where that is all of it or where it is wholly transparent.

    Raises PictureError where the file is damaged or cut short.
    """
    share = min(1.0, PREVIEW_SIDE / max(info.width, info.height))
    try:
        _check_rows(source, _open(source, name))
    except (OSError, ValueError, TypeError) as error:
        raise PictureError(f"“{name}” is cut short or damaged.", "Copy or export it again.") from error
    image = open_upright(source, name, share)
    shown = image.getchannel("A").getbbox() if image.mode == "RGBA" else None
    if shown == (0, 0, info.width, info.height):
        shown = None
    if max(image.size) > PREVIEW_SIDE:
        size = (max(1, round(info.width * share)), max(1, round(info.height * share)))
        image = image.resize(size, Image.Resampling.LANCZOS, reducing_gap=2.0)
    out = io.BytesIO()
    if info.has_alpha:
        image.save(out, "WEBP", quality=88)
    else:
        image.convert("RGB").save(out, "JPEG", quality=86)
    return out.getvalue(), shown
