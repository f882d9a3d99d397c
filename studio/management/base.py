"""The base of the commands: a help that ends with an example, without the options of every Django command."""

import argparse
from typing import Any, ClassVar

from django.core.management.base import BaseCommand, CommandParser

from sheet.export.order import SIZES

__all__ = ["ExampleCommand", "add_order"]


class ExampleCommand(BaseCommand):
    """A command whose help shows a call of it, in `example`."""

    example = ""
    # Django's checks read every view, a sixth of the start of a command that needs none; the tests run them
    requires_system_checks: ClassVar[list[str]] = []
    suppressed_base_arguments = frozenset(
        f"--{word}"
        for word in (
            "version", "verbosity", "traceback", "settings", "pythonpath", "no-color", "force-color", "skip-checks",
        )
    )  # fmt: skip

    def create_parser(self, prog_name: str, subcommand: str, **kwargs: Any) -> CommandParser:
        """Return the parser, with the example below the options."""
        return super().create_parser(prog_name, subcommand, epilog=f"For example: {self.example}", **kwargs)


def add_order(parser: argparse.ArgumentParser, form: str, pattern: str, words: str) -> None:
    """Add the options for output files: format, size and names; `words` can be in braces in names."""
    parser.add_argument("--format", default=form, help="png, jpg, webp, avif, tif, pdf or svg")
    parser.add_argument("--size", default="", help="px per inch, or by what --by says")
    parser.add_argument("--by", choices=[word for word, _ in SIZES], default="resolution")
    parser.add_argument("--quality", default="90")
    parser.add_argument("--pattern", default=pattern, help=f"of the files’ names: {words} …")
