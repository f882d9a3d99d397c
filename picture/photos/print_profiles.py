"""Print profiles: the ICC profiles by which print shops describe their presses (ICC.1:2022, 7.2 and 8.3)."""

import hashlib
import io
from collections.abc import Callable
from typing import Final, NamedTuple

from PIL import ImageCms

from picture.errors import PictureError

__all__ = ["MOST_BYTES", "PrintProfile", "find_profile", "read_profile", "use_profiles"]

MOST_BYTES: Final = 12_000_000
_HEADER: Final = 128
_SPACES: Final = {b"CMYK": "CMYK", b"RGB ": "RGB", b"GRAY": "grey"}

Find = Callable[[str], bytes | None]
_find: Find = lambda digest: None  # noqa: E731


class PrintProfile(NamedTuple):
    """A print profile: its name, its colour space ("CMYK", "RGB" or "grey"), and its file."""

    name: str
    space: str
    data: bytes

    @property
    def digest(self) -> str:
        """Its identity: 32 hexadecimal digits of the file's SHA-256."""
        return hashlib.sha256(self.data).hexdigest()[:32]

    @property
    def channels(self) -> int:
        """How many colorants a colour has."""
        return {"CMYK": 4, "RGB": 3, "grey": 1}[self.space]


def read_profile(data: bytes, file_name: str) -> PrintProfile:
    """Return the print profile in an ICC file. Raises PictureError for anything else, and for damaged ones."""
    if len(data) > MOST_BYTES:
        raise PictureError(f"“{file_name}” is larger than {MOST_BYTES // 1_000_000} MB.", "Ask for a smaller profile.")
    # ICC.1, 7.2: the size at 0, the device class at 12, the colour space at 16, the signature at 36
    if len(data) < _HEADER or data[36:40] != b"acsp":
        raise PictureError(f"“{file_name}” isn’t an ICC profile.", "Bring in a file that ends in .icc or .icm.")
    if int.from_bytes(data[:4]) != len(data):
        raise PictureError(f"“{file_name}” is damaged.", "Download the profile again.")
    if data[12:16] != b"prtr" or data[16:20] not in _SPACES:
        raise PictureError(
            f"“{file_name}” doesn’t describe a press or printer.", "Ask your print shop for its output profile."
        )
    try:
        profile = ImageCms.ImageCmsProfile(io.BytesIO(data))
        name = ImageCms.getProfileDescription(profile).strip()
        mode = {"CMYK": "CMYK", "RGB": "RGB", "grey": "L"}[_SPACES[data[16:20]]]
        # X-4 needs both ways: to print, and to show on a screen what will be printed
        for there, back, a, b in ((_srgb(), profile, "RGB", mode), (profile, _srgb(), mode, "RGB")):
            ImageCms.buildTransform(there, back, a, b)
    except (ImageCms.PyCMSError, OSError, ValueError):
        raise PictureError(f"“{file_name}” is damaged.", "Download the profile again.") from None
    return PrintProfile(name, _SPACES[data[16:20]], data)


def _srgb() -> ImageCms.ImageCmsProfile:
    return ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB"))


def use_profiles(find: Find) -> Find:
    """Set `find` to look up profiles: it returns a file's bytes by its digest, or None; return the previous one."""
    global _find
    before, _find = _find, find
    return before


def find_profile(key: str) -> PrintProfile | None:
    """Return the profile of a key, "DIGEST:NAME"; None if it is missing. Raises PictureError if it is damaged."""
    digest, _, name = key.partition(":")
    data = _find(digest) if digest else None
    return None if data is None else read_profile(data, name)
