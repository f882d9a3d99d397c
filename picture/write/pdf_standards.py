"""PDF/X-4 for print shops (ISO 15930-7) and PDF/A-2b for archives (ISO 19005-2): intents, colours, metadata.

Both want every colour to be defined. In PDF/A-2b the output intent is sRGB, which is what the drawing is in. In
PDF/X-4 the output intent is the press, so that the drawing's RGB is defined as sRGB in each resource dictionary
(ISO 32000-1, 8.6.5.6), and transparency is blended in it (11.4.7). Clauses are named from memory.
"""

from datetime import UTC, datetime
from typing import Final

import pikepdf
from pikepdf import Array, Dictionary, Name, String

from picture.photos.print_profiles import PrintProfile, find_profile
from sheet.document.errors import SheetError
from sheet.document.limits import clean_name
from sheet.export.order import Order

from .pdf_inks import to_inks
from .profiles import srgb

__all__ = ["describe", "finish", "press_of", "titled"]

SRGB: Final = "sRGB IEC61966-2.1"


def press_of(order: Order) -> PrintProfile | None:
    """Return the print profile that an order for PDF/X-4 names, None for others. Raises SheetError if it is missing."""
    if order.standard != "print":
        return None
    if not order.profile:
        raise SheetError(
            "PDF/X-4 needs the profile of the press.",
            "Ask your print shop for its ICC profile, and bring it in.",
            "profile",
            ("Bring a profile in", "page:bring-file", {"use": "profile", "into": "d-profile"}),
        )
    found = find_profile(order.profile)
    if found is None:
        name = order.profile.partition(":")[2]
        raise SheetError(f"The profile “{name}” is missing.", "Bring it in again, or select another one.", "profile")
    if order.inks and found.space != "CMYK":
        raise SheetError(f"“{found.name}” isn’t a CMYK profile.", "Select another one, or export in RGB.", "profile")
    return found


def finish(pdf: pikepdf.Pdf, press: PrintProfile | None, inks: bool) -> None:
    """Add the output intent: of a press, else sRGB. For a press, convert to `inks`, and define RGB as sRGB."""
    profile, channels, name, kind = srgb(), 3, SRGB, Name.GTS_PDFA1
    if press is not None:
        profile, channels, name, kind = press.data, press.channels, press.name, Name.GTS_PDFX
        if inks:
            to_inks(pdf, press)
        _define_rgb(pdf)
    intent = Dictionary(
        Type=Name.OutputIntent,
        S=kind,
        OutputConditionIdentifier=String(name if press is None else "Custom"),
        Info=String(name),
        DestOutputProfile=pdf.make_stream(profile, N=channels),
    )
    pdf.Root.OutputIntents = Array([pdf.make_indirect(intent)])


def rgb_space(pdf: pikepdf.Pdf) -> pikepdf.Object:
    """Return sRGB as a colour space of the file."""
    return pdf.make_indirect(Array([Name.ICCBased, pdf.make_stream(srgb(), N=3, Alternate=Name.DeviceRGB)]))


def _define_rgb(pdf: pikepdf.Pdf) -> None:
    space = rgb_space(pdf)
    for page in pdf.pages:
        # without a group of its own a page is blended in the colours of the press
        if "/CS" not in page.get("/Group", Dictionary()):
            page.Group = Dictionary(Type=Name.Group, S=Name.Transparency, CS=space)
    for one in list(pdf.objects):
        if not isinstance(one, Dictionary | pikepdf.Stream):
            continue
        if "/Resources" in one:
            resources = one["/Resources"]
            if "/ColorSpace" not in resources:
                resources["/ColorSpace"] = Dictionary()
            resources["/ColorSpace"]["/DefaultRGB"] = space
        group = one.get("/Group")
        if group is not None and group.get("/CS") == Name.DeviceRGB:
            group["/CS"] = space


def titled(order: Order, name: str) -> str:
    """Return the title of a file: the project's name, else that of its item."""
    return clean_name(order.title) or name or "Sheet"


def describe(pdf: pikepdf.Pdf, name: str, identifier: str, order: Order) -> None:
    """Write the metadata; `name` is that of the item, `identifier` is 32 hex digits.

    PDF/X-4 wants dates (6.7): only there is one and the same export not always the same file.
    """
    with pdf.open_metadata(set_pikepdf_as_editor=False) as metadata:
        metadata["dc:title"] = titled(order, name)
        if clean_name(order.author):
            metadata["dc:creator"] = [clean_name(order.author)]
        metadata["xmp:CreatorTool"] = "Gouge"
        metadata["pdf:Producer"] = "Gouge"
        if order.standard == "archive":
            metadata["pdfaid:part"], metadata["pdfaid:conformance"] = "2", "B"
        if order.standard != "print":
            return
        now = datetime.now(UTC).replace(microsecond=0)
        for key in ("CreateDate", "ModifyDate", "MetadataDate"):
            metadata[f"xmp:{key}"] = now.isoformat()
        metadata["pdf:Trapped"] = "False"
        metadata["pdfxid:GTS_PDFXVersion"] = "PDF/X-4"
        metadata["xmpMM:DocumentID"] = f"uuid:{identifier}"
        metadata["xmpMM:VersionID"], metadata["xmpMM:RenditionClass"] = "1", "default"
    info = pdf.docinfo
    info["/Trapped"] = Name("/False")
    info["/GTS_PDFXVersion"] = String("PDF/X-4")
    for key in ("/CreationDate", "/ModDate"):
        info[key] = String(now.strftime("D:%Y%m%d%H%M%SZ"))
