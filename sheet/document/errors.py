"""The error of commands: why something cannot be done, and the way out."""

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any, Final, TypeAlias

from outline import OutlineError

__all__ = ["BRING_IN", "OPEN_TRAY", "STEP_OUT", "Offer", "SheetError", "refusals", "sentence"]


Offer: TypeAlias = tuple[str, str, dict[str, Any]]
"""A button: its label, and its command or page action ("page:…") with arguments."""
STEP_OUT: Final[Offer] = ("Step out", "page:step-out", {})
OPEN_TRAY: Final[Offer] = ("Open the tray", "page:open-tray", {})
BRING_IN: Final[Offer] = ("Bring photos in", "page:bring-in", {})


class SheetError(Exception):
    """A command that cannot be done on this sheet.

    `message` says why, `remedy` what to do or select, `field` names the number or
    word that is wrong, if one is. `offer` is the way out, if one press does it.
    """

    def __init__(self, message: str, remedy: str = "", field: str = "", offer: Offer | None = None):
        super().__init__(f"{message} {remedy}".strip())
        self.message = message
        self.remedy = remedy
        self.field = field
        self.offer = offer


def sentence(error: OutlineError) -> str:
    """Return the engine's message as a sentence."""
    text = str(error)
    return f"{text[:1].upper()}{text[1:]}."


@contextmanager
def refusals() -> Iterator[None]:
    """Turn the engine's errors, and numbers far beyond any sheet, into SheetError."""
    try:
        yield
    except OutlineError as error:
        raise SheetError(sentence(error), "", getattr(error, "field", "")) from error
    except (OverflowError, RecursionError, ZeroDivisionError, FloatingPointError) as error:
        raise SheetError(
            "Those numbers are too large to work with.", "Use numbers nearer to the sheet's size."
        ) from error
