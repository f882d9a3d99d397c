"""What a silhouette's preview costs, as multiples of decoding the same small copy of the photo in the same run."""

import io
import tempfile
from pathlib import Path

from PIL import Image

from picture.draw.silhouette import trace
from picture.photos.decode import preview
from picture.photos.probe import inspect
from sheet.document.kinds import Tracing
from studio.demo.scenes import make
from studio.library.tracing import quickly

from .timing import median

__all__ = ["run"]

LIMIT = 5.0
BOX = ((700, 300), (5300, 300), (5300, 3700), (700, 3700))
WAYS = {
    "by brightness": Tracing(level=0.42, smallest=60, deviation=3),
    "by a tone": Tracing(way="tone", at=(3000, 3200), tolerance=0.2, smallest=60, deviation=3),
    "of a subject": Tracing(way="subject", loop=BOX, smallest=60, deviation=3),
}


def run() -> list[tuple[str, float, str]]:
    """Return (what, ratio, limit) rows, for a photo of 24 megapixels."""
    size = (6000, 4000)
    data = make("skerry-light", *size)
    small, _ = preview(io.BytesIO(data), "light.jpg", inspect(io.BytesIO(data), "light.jpg", len(data)))
    decoding = median(lambda: Image.open(io.BytesIO(small)).load(), 40)
    print(f"  the photo's small copy is decoded in {decoding * 1e3:.0f} ms")
    rows = []
    with tempfile.TemporaryDirectory() as folder:
        file = Path(folder) / "small.jpg"
        file.write_bytes(small)
        for name, how in WAYS.items():
            took = median(lambda how=how: quickly(file, "light.jpg", size, how), 20)
            print(f"  {name}: {took * 1e3:.0f} ms")
            rows.append((f"a silhouette previewed {name} ÷ decoding", took / decoding, f"≤ {LIMIT:g}"))
        whole = Image.open(io.BytesIO(data)).resize((2400, 1600), Image.Resampling.BOX)
        for name, how in WAYS.items():
            took = median(lambda how=how: trace(lambda side: whole, size, how), 5)
            print(f"  {name}, for good, once the file is read: {took * 1e3:.0f} ms")
    return rows
