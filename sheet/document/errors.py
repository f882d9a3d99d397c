"""What a command answers when it cannot be done: why, and the way out."""

from collections.abc import Iterator
from contextlib import contextmanager

from outline import OutlineError

__all__ = ["SheetError", "refusals", "sentence"]


class SheetError(Exception):
    """A command that cannot be done on this sheet.

    `message` says why, `remedy` what to do or choose, `field` names the number or
    word that is wrong, where one is.
    """

    def __init__(self, message: str, remedy: str = "", field: str = ""):
        super().__init__(f"{message} {remedy}".strip())
        self.message = message
        self.remedy = remedy
        self.field = field


def sentence(error: OutlineError) -> str:
    """Return what the engine says as a sentence."""
    text = str(error)
    return f"{text[:1].upper()}{text[1:]}."


@contextmanager
def refusals() -> Iterator[None]:
    """Raise SheetError for what the engine cannot do, and for numbers far from anything on a sheet."""
    try:
        yield
    except OutlineError as error:
        raise SheetError(sentence(error), "", getattr(error, "field", "")) from error
    except (OverflowError, RecursionError, ZeroDivisionError, FloatingPointError) as error:
        raise SheetError("That is too much for these numbers.", "Use numbers nearer to the sheet's size.") from error
