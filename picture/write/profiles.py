"""Export in a photo's own colour profile: everything else is converted to it (ICC.1, through LittleCMS)."""

import io
from collections.abc import Iterable
from dataclasses import replace as with_
from typing import Final, Protocol, runtime_checkable

from msgspec.structs import replace
from PIL import Image, ImageCms

from picture.draw.raster import Loader
from picture.photos.decode import is_srgb
from sheet import SheetError
from sheet.caching import cached
from sheet.document.model import Fill, Gradient, Group, Item, Photo, Sheet
from sheet.document.tree import photos_of
from sheet.export.sizes import Exported
from sheet.reading.colours import hex_of, rgb_of

__all__ = ["Files", "OriginalsLoader", "in_own_colours", "srgb"]


@runtime_checkable
class Files(Protocol):
    """A loader that also returns the files themselves."""

    def encoded(self, photo: Photo) -> bytes | None:
        """Return the photo's file if it is a JPEG that a PDF can contain unchanged: upright and in sRGB."""
        ...


@runtime_checkable
class OriginalsLoader(Protocol):
    """A loader that also returns the photos in their own colours."""

    def profile(self, photo: Photo) -> bytes | None:
        """Return the profile in the photo's file, None if there is none."""
        ...

    def unconverted(self, photo: Photo, at_least: float) -> Image.Image:
        """Return the photo upright, its numbers unconverted."""
        ...


@cached(entries=1)
def srgb() -> bytes:
    """Return the sRGB profile (ICC.1) for files, always the same bytes: 7.2.8 is its creation date."""
    made = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
    return made[:24] + b"".join(v.to_bytes(2) for v in (2026, 1, 1, 0, 0, 0)) + made[36:]


_NONE: Final = b""


def _name_of(profile: bytes) -> str:
    """Return a profile's name; for sRGB under any name, sRGB."""
    if profile == _NONE:
        return "sRGB"
    if is_srgb(profile):
        return "sRGB"
    return ImageCms.getProfileDescription(ImageCms.ImageCmsProfile(io.BytesIO(profile))).strip()


def _own_profile(items: Iterable[Item], load: Loader) -> bytes | None:
    """Return the only profile of the photos, None for sRGB. Raises SheetError if there are several."""
    if not isinstance(load, OriginalsLoader):
        return None
    try:
        found = {_name_of(p): p for p in {load.profile(photo) or _NONE for photo in photos_of(items, hidden=False)}}
        if len(found) > 1:
            raise SheetError(
                f"The photos have several profiles: {', '.join(sorted(found))}; a file can have only one.",
                "Export in sRGB, or each frame by itself.",
                "own_profile",
            )
        name, profile = next(iter(found.items()), ("sRGB", _NONE))
        if name == "sRGB":
            return None
        if ImageCms.ImageCmsProfile(io.BytesIO(profile)).profile.xcolor_space.strip() != "RGB":
            raise SheetError(f"“{name}” isn’t an RGB profile.", "Export in sRGB.", "own_profile")
    except (ImageCms.PyCMSError, OSError):
        raise SheetError("The photo's profile cannot be read.", "Export in sRGB.", "own_profile") from None
    return profile


def in_own_colours(sheet: Sheet, what: Exported, load: Loader) -> tuple[Sheet, Exported, Loader, bytes]:
    """Return an export in the photos' own profile, and that profile; sRGB if it is that.

    Raises SheetError if the photos have several.
    """
    profile = _own_profile(what.items or sheet.items, load)
    if profile is None or not isinstance(load, OriginalsLoader):
        return sheet, what, load, srgb()
    turn = ImageCms.buildTransform(
        ImageCms.createProfile("sRGB"),
        ImageCms.ImageCmsProfile(io.BytesIO(profile)),
        "RGB",
        "RGB",
        ImageCms.Intent.RELATIVE_COLORIMETRIC,
        ImageCms.Flags.BLACKPOINTCOMPENSATION,
    )

    def colour(text: str | None) -> str | None:
        if text is None:
            return None
        dot = ImageCms.applyTransform(Image.new("RGB", (1, 1), rgb_of(text)), turn)
        return hex_of(dot.getpixel((0, 0)))  # type: ignore[union-attr, arg-type]

    def fill(one: Fill | None) -> Fill | None:
        if not isinstance(one, Gradient):
            return colour(one)
        return replace(one, stops=tuple(replace(s, color=colour(s.color)) for s in one.stops))

    def item(one: Item) -> Item:
        if isinstance(one, Photo):
            return one
        if isinstance(one, Group):
            return replace(one, items=tuple(item(i) for i in one.items))
        return replace(one, paint=replace(one.paint, fill=fill(one.paint.fill), stroke=fill(one.paint.stroke)))

    coloured = replace(sheet, backdrop=colour(sheet.backdrop), items=tuple(item(i) for i in sheet.items))
    return coloured, with_(what, items=tuple(item(i) for i in what.items)), load.unconverted, profile
