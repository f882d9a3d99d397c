"""Arguments of commands read by their types, and plain words for what does not fit."""

import re
from typing import Any, Literal, get_args, get_origin, get_type_hints

import msgspec

from ..errors import SheetError
from ..lengths import a

__all__ = ["read_json", "refusal_of"]

_AT = re.compile(r" - at `\$\.(\w+)")
_WANTED = {"float": "a number", "int": "a whole number", "str": "text", "array": "a list", "bool": "yes or no"}


def _choices(kind: type, field: str) -> tuple[str, ...]:
    """Return the words a field takes, where it takes only some."""
    waiting = [get_type_hints(kind).get(field)]
    while waiting:
        one = waiting.pop()
        if get_origin(one) is Literal:
            return tuple(str(a) for a in get_args(one))
        waiting += get_args(one)
    return ()


def refusal_of(kind: type, name: str, args: Any, error: Exception) -> SheetError:
    """Return why `args` are none for command `name`, in words, with the field and the way out."""
    text = str(error)
    found = _AT.search(text)
    field = found.group(1) if found else ""
    word = field.replace("_", " ")
    value = args.get(field) if isinstance(args, dict) else None
    again = "Reload the page and try again."
    if "Invalid enum value" in text:
        words = ", ".join(c for c in _choices(kind, field) if c)
        return SheetError(f"“{str(value)[:30]}” is not {a(word)}.", f"Use {words}.", field)
    if missing := re.search(r"missing required field `(\w+)`", text):
        return SheetError(f"“{name}” came without its {missing.group(1).replace('_', ' ')}.", again, missing.group(1))
    if unknown := re.search(r"unknown field `(.+?)`", text):
        return SheetError(f"“{name}” takes no “{unknown.group(1)[:30]}”.", again, unknown.group(1)[:30])
    if "of length" in text:
        return SheetError(f"The {word} is too long.", "Shorten it, or choose fewer.", field)
    if "regex" in text:
        if field in ("id", "ids", "into", "other", "base", "to"):
            return SheetError("That is nothing on the sheet.", "Choose it again.", field)
        return SheetError(f"The {word} has characters that cannot be kept.", "Type it without them.", field)
    if re.search(r"`(float|int)` [<>]", text):
        return SheetError(f"The {word} is too large or too small, or no number at all.", "Use another number.", field)
    if wrong := re.search(r"Expected `([a-z]+)", text):
        wanted = _WANTED.get(wrong.group(1), "something else")
        return SheetError(f"The {word or 'command'} must be {wanted}.", again, field)
    return SheetError(f"“{name}” came with something that does not fit it.", again, field)


def read_json(data: bytes, kind: Any = Any) -> Any:
    """Return what JSON `data` says. Raises SheetError for NaN, infinities, lone surrogates and depth without end."""
    try:
        return msgspec.json.decode(data, type=kind)
    except (msgspec.MsgspecError, RecursionError, UnicodeError):
        raise SheetError("That could not be read.", "Reload the page.") from None
