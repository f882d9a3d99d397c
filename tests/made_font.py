"""A font made for tests: two letters, a kern between them, and an axis of weight where one asks for it."""

import io

from fontTools.fontBuilder import FontBuilder
from fontTools.pens.ttGlyphPen import TTGlyphPen

__all__ = ["made_font"]

UPEM = 1000


def _bar(width: int, height: int = 700):
    pen = TTGlyphPen(None)
    pen.moveTo((100, 0))
    for point in ((100, height), (100 + width, height), (100 + width, 0)):
        pen.lineTo(point)
    pen.closePath()
    return pen.glyph()


def made_font(name: str = "Marram Sans", variable: bool = False, woff2: bool = False) -> bytes:
    """Return a font in which A is a bar 300 wide, B one of 400, both 700 high, and B stands 50 nearer after A.

    With `variable` the axis wght goes from 100 to 900, where A is 300 wider.
    """
    font = FontBuilder(UPEM, isTTF=True)
    font.setupGlyphOrder([".notdef", "A", "B"])
    font.setupCharacterMap({65: "A", 66: "B"})
    font.setupGlyf({".notdef": _bar(200), "A": _bar(300), "B": _bar(400)})
    font.setupHorizontalMetrics({".notdef": (400, 100), "A": (500, 100), "B": (600, 100)})
    font.setupHorizontalHeader(ascent=800, descent=-200)
    font.setupNameTable({"familyName": name, "styleName": "Regular", "fullName": f"{name} Regular"})
    font.setupOS2()
    font.setupPost()
    if variable:
        font.setupFvar([("wght", 100, 100, 900, "Weight")], [])
        wider = [(0, 0), (0, 0), (300, 0), (300, 0), (0, 0), (300, 0), (0, 0), (0, 0)]
        from fontTools.ttLib.tables.TupleVariation import TupleVariation

        font.setupGvar({".notdef": [], "A": [TupleVariation({"wght": (0, 1, 1)}, wider)], "B": []})
    font.addOpenTypeFeatures("feature kern { pos A B -50; } kern;")
    font.font.flavor = "woff2" if woff2 else None
    out = io.BytesIO()
    font.save(out)
    return out.getvalue()
