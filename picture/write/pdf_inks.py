"""A drawing's RGB as the inks of a press, by its profile (ICC.1, through LittleCMS).

Paints, gradients and photos become DeviceCMYK (ISO 32000-1, 8.6.4.4), and are blended in it. Black is black ink
alone, so that type stays sharp where inks are not in register (common practice).
"""

import io
import zlib
from collections.abc import Callable, Iterable
from typing import Final

import pikepdf
from pikepdf import Array, Dictionary, Name
from PIL import Image, ImageCms

from picture.photos.print_profiles import PrintProfile

__all__ = ["printed_photo", "to_inks", "turn_of"]

QUALITY: Final = 92
_OPERATORS: Final = {"rg": "k", "RG": "K"}
Inks = tuple[float, ...]
Convert = Callable[[Iterable[float]], Inks]
BLACK: Final[Inks] = (0.0, 0.0, 0.0, 1.0)


def turn_of(press: PrintProfile) -> ImageCms.ImageCmsTransform:
    """Return the conversion from sRGB to the inks of a press: relative colorimetric, black to its darkest."""
    return ImageCms.buildTransform(
        ImageCms.createProfile("sRGB"),
        ImageCms.ImageCmsProfile(io.BytesIO(press.data)),
        "RGB",
        "CMYK",
        ImageCms.Intent.RELATIVE_COLORIMETRIC,
        ImageCms.Flags.BLACKPOINTCOMPENSATION,
    )


def printed_photo(picture: Image.Image, turn: ImageCms.ImageCmsTransform) -> bytes:
    """Return an RGB picture as a JPEG in inks, whose numbers Pillow writes upside down, as is the custom."""
    out = io.BytesIO()
    made = ImageCms.applyTransform(picture, turn)
    assert made is not None
    made.save(out, "JPEG", quality=QUALITY, subsampling=0)
    return out.getvalue()


def to_inks(pdf: pikepdf.Pdf, press: PrintProfile) -> None:
    """Convert all of a PDF that Skia drew to the inks of a CMYK press."""
    turn = turn_of(press)
    known: dict[tuple[float, ...], Inks] = {}

    def inks(rgb: Iterable[float]) -> Inks:
        key = tuple(round(float(v), 4) for v in rgb)
        if key not in known:
            dot = Image.new("RGB", (1, 1), tuple(round(255 * v) for v in key))
            found = ImageCms.applyTransform(dot, turn).getpixel((0, 0))  # type: ignore[union-attr]
            known[key] = BLACK if not any(key) else tuple(round(v / 255, 4) for v in found)  # type: ignore[union-attr]
        return known[key]

    masks = _masks(pdf)
    for page in pdf.pages:
        page.contents_coalesce()
        page.Contents = pdf.make_stream(_painted(page, inks))
        page.Group = Dictionary(Type=Name.Group, S=Name.Transparency, CS=Name.DeviceCMYK)
    for one in list(pdf.objects):
        if isinstance(one, pikepdf.Stream) and one.objgen not in masks:
            if one.get("/Subtype") == Name.Form or one.get("/PatternType") == 1:
                one.write(_painted(one, inks))
            elif one.get("/Subtype") == Name.Image and _is_rgb(one.get("/ColorSpace")):
                _print(one, turn)
        if isinstance(one, Dictionary | pikepdf.Stream) and "/Shading" in one:
            shading = one["/Shading"]
            if "/ShadingType" in shading and _is_simple(shading["/Function"]):
                _mix(shading["/Function"], inks)
                shading["/ColorSpace"] = Name.DeviceCMYK


def _is_rgb(space: pikepdf.Object | None) -> bool:
    """Return whether a colour space is a device's RGB, or one by a profile: photos come as sRGB."""
    return space == Name.DeviceRGB or (isinstance(space, Array) and space[0] == Name.ICCBased and int(space[1].N) == 3)


def _masks(pdf: pikepdf.Pdf) -> set[tuple[int, int]]:
    """Return what soft masks draw (11.5): their colours are brightness, and never printed."""
    found: set[tuple[int, int]] = set()
    waiting = [o.SMask.G for o in pdf.objects if isinstance(o, Dictionary) and isinstance(o.get("/SMask"), Dictionary)]
    while waiting:
        one = waiting.pop()
        if one.objgen in found:
            continue
        found.add(one.objgen)
        resources = one.get("/Resources", Dictionary())
        waiting += [o for kind in ("/XObject", "/Pattern") for o in resources.get(kind, Dictionary()).values()]  # type: ignore[attr-defined]
    return found


def _painted(drawn: pikepdf.Page | pikepdf.Stream, inks: Convert) -> bytes:
    """Return a content stream with its colours in inks."""
    out: list[pikepdf.ContentStreamInstruction | pikepdf.ContentStreamInlineImage] = []
    for step in pikepdf.parse_content_stream(drawn):
        operator = _OPERATORS.get(str(step.operator))
        if operator is not None:
            colour = [_number(v) for v in inks(float(v) for v in step.operands)]
            step = pikepdf.ContentStreamInstruction(colour, pikepdf.Operator(operator))
        out.append(step)
    return pikepdf.unparse_content_stream(out)


def _print(image: pikepdf.Stream, turn: ImageCms.ImageCmsTransform) -> None:
    """Convert a picture; one that was a JPEG is one again."""
    photo = str(image.get("/Filter", "")) == "/DCTDecode"
    picture = pikepdf.PdfImage(image).as_pil_image().convert("RGB")
    image["/ColorSpace"] = Name.DeviceCMYK
    if photo:
        image.write(printed_photo(picture, turn), filter=Name.DCTDecode)
        image["/Decode"] = Array([1, 0] * 4)
        return
    made = ImageCms.applyTransform(picture, turn)
    assert made is not None
    image.write(zlib.compress(made.tobytes()), filter=Name.FlateDecode)
    image["/BitsPerComponent"] = 8


def _is_simple(function: pikepdf.Object) -> bool:
    """Return whether a gradient's colours are numbers, and not worked out by a program (7.10)."""
    kind = int(function["/FunctionType"])
    return kind == 2 or (kind == 3 and all(_is_simple(f) for f in function["/Functions"]))  # type: ignore[attr-defined]


def _mix(function: pikepdf.Object, inks: Convert) -> None:
    if int(function["/FunctionType"]) == 3:
        for one in function["/Functions"]:  # type: ignore[attr-defined]
            _mix(one, inks)
        return
    for end, of in (("/C0", (0.0, 0.0, 0.0)), ("/C1", (1.0, 1.0, 1.0))):
        colour = [float(v) for v in function.get(end, Array(list(of)))]  # type: ignore[attr-defined]
        # a function that several gradients share is converted once
        if len(colour) == 3:
            function[end] = Array([_number(v) for v in inks(colour)])


def _number(value: float) -> float | int:
    return int(value) if value == int(value) else value
