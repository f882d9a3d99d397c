"""Files of a 24-megapixel photo in an outline, as multiples of the same libraries alone; a large SVG read."""

import io
import os
import shutil
import tempfile
from pathlib import Path
from typing import Any
from xml.etree import ElementTree

import numpy as np
import skia
from PIL import Image

import outline
from picture.draw.skiapath import to_skia
from picture.photos.decode import open_upright, plain_jpeg
from picture.svg_in.read import read_svg
from picture.write.formats import format_of
from sheet import apply, new_sheet, perform
from sheet.commands.photo.importing import PlacedPhotos
from sheet.document.library import PhotoFacts
from sheet.export.order import Order, ordered

from .timing import best

__all__ = ["run"]


def _photo() -> bytes:
    rng = np.random.default_rng(5)
    small = rng.random((400, 600, 3))
    image = Image.fromarray((small * 255).astype(np.uint8)).resize((6000, 4000), Image.Resampling.BICUBIC)
    out = io.BytesIO()
    image.save(out, "JPEG", quality=90)
    return out.getvalue()


def run() -> list[tuple[str, float, str]]:
    """Return (what, ratio, limit) rows."""
    data = _photo()
    sheet = new_sheet(6000, 4000, "px", 300)

    def do(name: str, **args: Any) -> tuple[str, ...]:
        nonlocal sheet
        outcome = apply(sheet, name, args)
        sheet = outcome.sheet
        return outcome.chosen

    (a,) = do("draw", kind="rectangle", x=0, y=0, width=5000, height=4000)
    (b,) = do("draw", kind="ellipse", x=3000, y=500, width=3000, height=3000)
    (frame,) = do("combine", ids=[a, b], operation="union")
    sheet = perform(sheet, PlacedPhotos((PhotoFacts("0" * 64, "p", 6000, 4000),))).sheet
    photo = sheet.items[0].id
    do("put_in", ids=[frame, photo])
    do("paint", ids=[frame], field="stroke", value="none")

    def gouge(key: str, load: Any = None, **more: Any) -> bytes:
        order = Order(format=key, what=frame, **more)
        (what,) = ordered(sheet, order)
        return format_of(key).write(
            sheet, what, load or (lambda p, s: open_upright(io.BytesIO(data), p.name, s)), order
        )

    clip = to_skia(outline.union([outline.rectangle(5000, 4000), outline.ellipse(1500, 1500, 4500, 2000)]))

    def drawn() -> np.ndarray:
        image = Image.open(io.BytesIO(data)).convert("RGBA")
        surface = skia.Surface.MakeRasterN32Premul(6000, 4000)
        canvas = surface.getCanvas()
        canvas.clear(skia.ColorTRANSPARENT)
        canvas.clipPath(clip, skia.ClipOp.kIntersect, True)
        canvas.drawImage(skia.Image.fromarray(np.asarray(image), skia.ColorType.kRGBA_8888_ColorType), 0, 0)
        pixels = np.zeros((4000, 6000, 4), np.uint8)
        info = skia.ImageInfo.Make(6000, 4000, skia.ColorType.kRGBA_8888_ColorType, skia.AlphaType.kUnpremul_AlphaType)
        surface.readPixels(info, pixels, 24000, 0, 0)
        return pixels

    def png() -> bytes:
        out = io.BytesIO()
        Image.fromarray(drawn(), "RGBA").save(out, "PNG", compress_level=3)
        return out.getvalue()

    def jpeg() -> bytes:
        image = Image.fromarray(drawn(), "RGBA")
        under = Image.new("RGBA", image.size, "white")
        under.alpha_composite(image)
        out = io.BytesIO()
        under.convert("RGB").save(out, "JPEG", quality=90, subsampling=0, optimize=True)
        return out.getvalue()

    def pdf(source: bytes) -> bytes:
        stream = skia.DynamicMemoryWStream()
        document = skia.PDF.MakeDocument(stream, skia.PDF.Metadata())
        canvas = document.beginPage(6000, 4000)
        canvas.clipPath(clip, skia.ClipOp.kIntersect, True)
        image = skia.Image.MakeFromEncoded(skia.Data.MakeWithCopy(source))
        canvas.drawImageRect(image, skia.Rect.MakeWH(6000, 4000))
        document.endPage()
        document.close()
        return bytes(stream.detachAsData())

    def resampled() -> bytes:
        small = open_upright(io.BytesIO(data), "p", 0.8).resize(
            (4800, 3200), Image.Resampling.LANCZOS, reducing_gap=2.0
        )
        out = io.BytesIO()
        small.save(out, "JPEG", quality=92, subsampling=0)
        return pdf(out.getvalue())

    rows = []
    for name, ours, theirs in (
        ("PNG", lambda: gouge("png"), png),
        ("JPEG", lambda: gouge("jpg"), jpeg),
        ("PDF, resampled", lambda: gouge("pdf", size="240"), resampled),
    ):
        took, alone = best(ours, 5, 20), best(theirs, 5, 20)
        print(f"  {name}: with Gouge {took:.2f} s, decoding, drawing and encoding alone {alone:.2f} s")
        rows.append((f"{name} of a 24-megapixel photo in an outline ÷ the libraries alone", took / alone, "≤ 1.3"))
    with tempfile.TemporaryDirectory() as folder:
        source, copy = Path(folder) / "photo.jpg", Path(folder) / "copy.jpg"
        source.write_bytes(data)

        class Originals:
            """The file itself, as the app gives it."""

            def __call__(self, p: Any, share: float) -> Image.Image:
                return open_upright(source, p.name, share)

            def encoded(self, p: Any) -> bytes | None:
                return plain_jpeg(source, p.name)

        def copied() -> None:
            # to the disk, as what is exported goes there
            with source.open("rb") as one, copy.open("wb") as other:
                shutil.copyfileobj(one, other)
                other.flush()
                os.fsync(other.fileno())

        def passed() -> None:
            with copy.open("wb") as other:
                other.write(gouge("pdf", Originals()))
                other.flush()
                os.fsync(other.fileno())

        took, alone = best(passed, 20, 10), best(copied, 20, 10)
        print(f"  PDF passed through: {took * 1e3:.1f} ms, copying the file {alone * 1e3:.1f} ms")
        rows.append(("PDF of the same, passed through ÷ copying the file", took / alone, "≤ 2"))
    many = "".join(
        f'<path d="M{k % 100} {k // 100}l3 1 2 4C{k % 90} 5 8 {k // 200} 1 1z" fill="#{k % 4096:03x}"/>'
        for k in range(10_000)
    )
    svg = f'<svg xmlns="http://www.w3.org/2000/svg" width="200" height="200">{many}</svg>'.encode()
    took, alone = best(lambda: read_svg(svg, "many", 1.0), 5, 20), best(lambda: ElementTree.fromstring(svg), 20, 5)
    print(f"  10,000 paths read in {took:.2f} s, their XML parsed in {alone * 1e3:.0f} ms")
    rows.append(("an SVG of 10,000 paths read ÷ parsing its XML", took / alone, "≤ 50"))
    return rows
