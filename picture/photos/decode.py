"""Decoding photos: upright by EXIF, in sRGB, at the needed size.

EXIF 2.32 (tag 0x0112) says how to turn a picture; ICC.1 profiles are honoured by
LittleCMS through Pillow, relative colorimetric with black point compensation.
"""

import io
import math
import warnings
from pathlib import Path as FilePath
from typing import Any, BinaryIO, Final

import numpy as np
import pyvips
from PIL import Image, ImageCms, ImageOps

from picture import mapped_pixels
from picture.errors import PictureError
from sheet.caching import cached

from .probe import TURNED, PhotoInfo, opened, orientation_of, stored_size
from .scaled import STREAMED, shrunk, strips

__all__ = [
    "PREVIEW_SIDE",
    "STRIP",
    "is_mapped",
    "open_upright",
    "plain_jpeg",
    "is_srgb",
    "preview",
    "profile_of",
]

PREVIEW_SIDE: Final = 2048
"""The longest side in px of the screen's small copy."""


@cached(entries=1)
def _srgb() -> Any:
    return ImageCms.createProfile("sRGB")


_PROBES: Final = np.stack(np.meshgrid(*[np.linspace(0, 255, 9).astype(np.uint8)] * 3), axis=-1).reshape(27, 27, 3)


@cached(entries=64)
def is_srgb(icc: bytes) -> bool:
    """Return whether a profile's colours are those of sRGB, to 2 of 255: by its content, not its name.

    Raises PyCMSError and OSError for anything but a profile of RGB.
    """
    probes = Image.fromarray(_PROBES)
    seen = ImageCms.profileToProfile(probes, ImageCms.ImageCmsProfile(io.BytesIO(icc)), _srgb())
    return bool(np.abs(np.asarray(seen).astype(int) - _PROBES).max() <= 2)


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
            if image.mode != "RGB" or not is_srgb(icc):
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
            pass  # a profile that does not fit its picture is ignored, as browsers do
    if image.mode != "RGB":
        image = image.convert("RGB")
    if alpha is not None:
        image.putalpha(alpha)
    return image


def _upright_view(pixels: np.ndarray, orientation: int) -> np.ndarray:
    """Return the file's pixels, turned upright as EXIF 2.32 (tag 0x0112) says."""
    seen = pixels.transpose(1, 0, 2) if orientation in TURNED else pixels
    if orientation in (3, 4, 6, 7):
        seen = seen[::-1]
    return seen[:, ::-1] if orientation in (2, 3, 7, 8) else seen


_STREAMED_MODES: Final = ("1", "L", "LA", "P", "PA", "RGB", "RGBA", "I", "I;16", "I;16B")


def is_mapped(image: Image.Image) -> bool:
    """Return whether an opened photo, decoded whole, goes into a file instead of memory."""
    return (
        4 * image.width * image.height > mapped_pixels.MAPPED_FROM
        and image.format in STREAMED
        and image.mode in _STREAMED_MODES
    )


STRIP: Final = 4_000_000
"""Bytes of a mapped photo decoded at a time; several times as many if it is turned on its side."""


def _laid(
    source: FilePath | BinaryIO, image: Image.Image, at_least: float, orientation: int, unconverted: bool
) -> Image.Image | None:
    """Return a large photo at exactly the needed share, strip by strip; None if Pillow must do it."""
    turned = orientation in TURNED
    share = min(1.0, at_least)
    width, height = (max(1, round(share * n)) for n in stored_size(image))
    pixels, opaque = mapped_pixels.zeros((width, height, 4) if turned else (height, width, 4)), True
    seen = _upright_view(pixels, orientation)
    rows = max(1, (8 if turned else 1) * STRIP // (4 * width))
    at = 0
    try:
        for top, strip in strips(source, image, (width, height), rows):
            done = strip if unconverted else _to_srgb(strip)
            opaque = opaque and "A" not in done.getbands()
            at = top + strip.height
            seen[top:at] = np.asarray(done.convert("RGBA"))
            mapped_pixels.let_go(pixels)
    except OSError:
        return None
    return mapped_pixels.image_of(pixels, opaque) if at == height else None


def open_upright(
    source: FilePath | BinaryIO, name: str, at_least: float = 1.0, unconverted: bool = False
) -> Image.Image:
    """Return the decoded photo, upright and in sRGB (or, `unconverted`, in its own colours), as RGB or RGBA.

    `at_least` is the needed share of the full size: a JPEG may then be decoded
    at an eighth, a quarter or a half of it, a large PNG, TIFF or WebP at any whole fraction.
    A photo of more than `mapped_pixels.LARGE` bytes is decoded at exactly that share, and is in a file
    (`mapped_pixels.pixels_of`) if it is still that large then.
    Raises PictureError if the file is damaged or cut short, OSError if the disk has no room.
    """
    image = opened(source, name)
    orientation = orientation_of(image)
    if at_least > 0.5 and is_mapped(image):
        laid = _laid(source, image, at_least, orientation, unconverted)
        if laid is not None:
            return laid
        # unchanged, for Pillow to read or to refuse
        image = opened(source, name)
    if at_least <= 0.5 and image.format in ("JPEG", "MPO"):
        share = max(at_least, 1 / 8)
        image.draft(None, (max(1, int(image.width * share)), max(1, int(image.height * share))))
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            small = shrunk(source, image, at_least)
            if small is None:
                image.load()
                if image.format == "TIFF" and orientation != 1 and 0x0112 not in image.getexif():
                    # Pillow turns these itself on loading, and removes the tag
                    orientation = 1
    except PictureError:
        raise
    # readers raise anything for a damaged file; the system's own errors are about the disk
    except Exception as error:
        if getattr(error, "errno", None):
            raise
        raise PictureError(f"“{name}” is cut short or damaged.", "Copy or export it again.") from None
    upright = image if small is None else small
    if orientation != 1:
        upright.getexif()[0x0112] = orientation
        upright = ImageOps.exif_transpose(upright)
    return upright if unconverted else _to_srgb(upright)


def profile_of(source: FilePath, name: str) -> bytes | None:
    """Return the ICC profile in a photo's file, None if there is none. Raises PictureError."""
    return opened(source, name).info.get("icc_profile") or None


def plain_jpeg(source: FilePath, name: str) -> bytes | None:
    """Return the bytes of a JPEG that can be used unchanged: upright, RGB, and in sRGB or without a profile; else None.

    Raises PictureError if it cannot be read.
    """
    image = opened(source, name)
    if image.format != "JPEG" or image.mode != "RGB" or orientation_of(image) != 1:
        return None
    icc = image.info.get("icc_profile")
    if icc:
        try:
            if not is_srgb(icc):
                return None
        except (ImageCms.PyCMSError, OSError):
            return None
    return source.read_bytes()


def _check_rows(source: FilePath | BinaryIO, image: Image.Image) -> None:
    """Raise OSError if a file has fewer rows than its header says: decoders fill these with grey or nothing."""
    kind = str(image.format)
    if kind == "TIFF":
        tags = image.tag_v2  # type: ignore[attr-defined]
        across, down = tags.get(322), tags.get(323)
        width, height = stored_size(image)
        # TIFF 6.0: tiles of a size, or strips of so many rows
        if across and down:
            needed, there = math.ceil(width / across) * math.ceil(height / down), tags.get(324, ())
        else:
            needed, there = math.ceil(height / min(tags.get(278, height), height)), tags.get(273, ())
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
        # libjpeg warns of much that is harmless
        if kind == "PNG" or "premature end" in str(error).lower():
            raise OSError(str(error)[:200]) from None


def preview(source: FilePath | BinaryIO, name: str, info: PhotoInfo) -> tuple[bytes, tuple[int, int, int, int] | None]:
    """Return a small sRGB JPEG of the photo (WebP if it has transparent px), longest side at most 2048 px.

    It comes with the box (px of the whole photo) of what is not wholly
    transparent, None if that is all of the photo or nothing.

    Raises PictureError if the file is damaged or cut short.
    """
    share = min(1.0, PREVIEW_SIDE / max(info.width, info.height))
    try:
        _check_rows(source, opened(source, name))
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
