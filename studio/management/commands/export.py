"""Export a project's file from a shell."""

import argparse
import tempfile
from pathlib import Path
from typing import Any

from django.core.management.base import CommandError

from outline import OutlineError
from picture import PictureError, format_of
from sheet import SheetError
from sheet.document.limits import clean_name
from sheet.export.filenames import file_names
from sheet.export.order import EXTENTS, Order, ordered
from studio.library.archive import unpack_sheet
from studio.library.photos import beside
from studio.management.base import ExampleCommand, add_order
from studio.storage import refuse_if_full


class Command(ExampleCommand):
    """Write the contents of a project's file as pictures or drawings."""

    help = "Export a project’s file (.gouge) as pictures or drawings."
    example = 'gouge export "Booklet cover.gouge" --format png --size 300 --out pictures'

    def add_arguments(self, parser: argparse.ArgumentParser) -> None:
        """Add the options."""
        parser.add_argument("file", help="a project’s file, saved as .gouge")
        parser.add_argument("--out", default=".", help="the folder that the files are written to (default: here)")
        parser.add_argument("--each", action="store_true", help="each frame and pane as a file of its own")
        extents = [word for word, _ in EXTENTS]
        words = "how much of the sheet (default: all of it with a backdrop, else what shows)"
        parser.add_argument("--extent", choices=extents, default="", help=words)
        add_order(parser, "png", "{project} {name}", "{project}, {name}")
        parser.add_argument("--margin", default="", help="room around it, as 3mm")

    def handle(self, *args: Any, **options: Any) -> None:
        """Run it, with a line for each file."""
        given = {k: options[k] for k in ("extent", "format", "size", "by", "margin", "quality", "pattern")}
        order = Order(what="each" if options["each"] else "sheet", **given)
        out = Path(options["out"])
        try:
            with tempfile.TemporaryDirectory() as folder, refuse_if_full():
                with Path(options["file"]).open("rb") as source:
                    manifest, sheet, photos = unpack_sheet(source, Path(folder))
                form = format_of(order.format)
                ending, _ = form.filed(order)
                files = ordered(sheet, order)
                title = clean_name(manifest.name) or Path(options["file"]).stem
                out.mkdir(parents=True, exist_ok=True)
                for what, name in zip(files, file_names(order.pattern, title, files), strict=True):
                    made = out / f"{name}.{ending}"
                    made.write_bytes(form.write(sheet, what, beside(photos), order))
                    self.stdout.write(f"{made}  {what.width} × {what.height} px")
        except (SheetError, PictureError, OutlineError) as error:
            raise CommandError(str(error)) from error
        except OSError as error:
            raise CommandError(f"“{error.filename or options['file']}”: {error.strerror or error}") from error
