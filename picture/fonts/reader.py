"""Run as a process: read a font from standard input; write its description as one line of JSON, and the cleaned font.

It imports none of our modules, so that it starts at once and its memory is the font's alone.
"""

import io
import json
import resource
import sys
from typing import Any, Final

MEMORY: Final = 1 << 30
SECONDS: Final = 20
NEEDED: Final = {"cmap", "head", "hhea", "hmtx", "maxp", "name"}
OUTLINES: Final = {"glyf", "CFF ", "CFF2"}
KEPT: Final = NEEDED | OUTLINES | {
    "loca", "OS/2", "post", "kern", "GSUB", "GPOS", "GDEF", "BASE",
    "fvar", "gvar", "avar", "HVAR", "MVAR", "VVAR", "STAT", "VORG",
}  # fmt: skip
"""Tables needed to shape and draw letters (OpenType 1.9); hints, bitmaps, colours and signatures are left out."""


class Refused(Exception):
    """Why a file cannot be used, and what to do."""


def cleaned(data: bytes) -> tuple[str, str, bytes]:
    """Return a font's name and kind, and its file with the needed tables. Raises Refused, and whatever
    fontTools raises for damaged files."""
    from fontTools.ttLib import TTFont

    if data[:4] == b"ttcf":
        raise Refused("has several fonts in one file.", "Save one of them as a file of its own.")
    if data[:4] not in (b"\0\1\0\0", b"true", b"OTTO", b"wOF2", b"wOFF"):
        raise Refused("isn’t a font that can be read.", "Bring in TTF, OTF or WOFF2.")
    font: Any = TTFont(io.BytesIO(data), lazy=False, recalcTimestamp=False)
    tables = set(font.keys())
    if not tables >= NEEDED or not tables & OUTLINES:
        raise Refused("has no outlines to draw letters by.", "Bring in TTF, OTF or WOFF2 with outlines.")
    for tag in tables - KEPT - {"GlyphOrder"}:
        del font[tag]
    for tag in list(font.keys()):
        font[tag]  # a damaged file fails here
    for table in ("glyf", "CFF "):
        if table in font:
            glyphs = font.getGlyphSet()
            for name in font.getGlyphOrder():
                glyphs[name]
    if not font.getBestCmap():
        raise Refused("has no letters.", "Bring in another font.")
    names = font["name"]
    variable = "fvar" in font
    name = (names.getBestFamilyName() if variable else names.getBestFullName()) or names.getBestFamilyName()
    kind = "variable" if variable else (names.getBestSubFamilyName() or "")
    font.flavor = None
    out = io.BytesIO()
    font.save(out)
    return str(name or ""), str(kind).lower(), out.getvalue()


def main() -> None:
    """Read the font, and write the result."""
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_CPU, (SECONDS, SECONDS))
    font = b""
    try:
        name, kind, font = cleaned(sys.stdin.buffer.read())
        said = {"name": name, "kind": kind}
    except Refused as refused:
        said = dict(zip(("why", "remedy"), refused.args, strict=True))
    except Exception:  # fontTools may raise anything
        said = {"why": "is damaged.", "remedy": "Download the font again."}
    sys.stdout.buffer.write(json.dumps(said).encode() + b"\n" + font)


if __name__ == "__main__":
    main()
