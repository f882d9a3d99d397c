"""What the commands share: a help that ends with an example, without what every Django command offers."""

from typing import Any

from django.core.management.base import BaseCommand, CommandParser

__all__ = ["ExampleCommand"]


class ExampleCommand(BaseCommand):
    """A command whose help shows one call of it, in `example`."""

    example = ""
    suppressed_base_arguments = frozenset(
        f"--{word}"
        for word in (
            "version", "verbosity", "traceback", "settings", "pythonpath", "no-color", "force-color", "skip-checks",
        )
    )  # fmt: skip

    def create_parser(self, prog_name: str, subcommand: str, **kwargs: Any) -> CommandParser:
        """Return the parser, with the example below the options."""
        return super().create_parser(prog_name, subcommand, epilog=f"For example: {self.example}", **kwargs)
