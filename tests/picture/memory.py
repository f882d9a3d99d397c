"""How much memory an export takes: `python -m tests.picture.memory FORMAT PX_PER_INCH PHOTO WIDTH HEIGHT`.

FORMAT may be webp-lossless or pdf-inks too. It prints the peak above what was there before (bytes), and the
bytes of the raw pixels.
A process of its own, since a peak is never taken back.
"""

import resource
import sys
from pathlib import Path

from picture.photos.decode import open_upright
from picture.photos.print_profiles import read_profile, use_profiles
from picture.write.formats import FORMATS
from sheet.export.order import Order, ordered

from ..made_profile import made_profile
from ..sheet.helpers import Table


def exported(key: str, size: str, photo: Path, width: int, height: int) -> int:
    """Export a frame with the photo in it, of the photo's own size at 300 px per inch; return its raw bytes."""
    table = Table(str(width), str(height), "px", "300")
    frame = table.ellipse(0, 0, width, height)
    table.do("put_in", ids=[frame, table.photo(width, height)])
    key, _, way = key.partition("-")
    press = read_profile(made_profile(), "press.icc")
    use_profiles({press.digest: press.data}.get)
    printed = {"standard": "print", "profile": f"{press.digest}:press", "inks": True} if way == "inks" else {}
    order = Order(what=frame, format=key, size=size, lossless=way == "lossless", **printed)
    (what,) = ordered(table.sheet, order)
    FORMATS[key].write(table.sheet, what, lambda p, share: open_upright(photo, "photo", share), order)
    return 4 * what.width * what.height


def peak() -> int:
    """Return the largest memory that this process had (bytes)."""
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss * 1024


if __name__ == "__main__":
    asked, per_inch, file, across, down = sys.argv[1:]
    # what the libraries take by themselves
    exported(asked, "3", Path(file), 200, 200)
    before = peak()
    raw = exported(asked, per_inch, Path(file), int(across), int(down))
    print(peak() - before, raw)
