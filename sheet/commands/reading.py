"""Reading the arguments of commands by their types, and saying in plain words what does not fit."""

import re
from typing import Any, Literal, get_args, get_origin, get_type_hints

import msgspec

from sheet.document.errors import SheetError
from sheet.reading.lengths import a

__all__ = ["read_json", "refusal_of"]

_AT = re.compile(r" - at `\$([^`]*)`")
_WANTED = {"float": "a number", "int": "a whole number", "str": "text", "array": "a list", "bool": "yes or no"}


def _place(text: str) -> list[str]:
    """Return the path of names to what does not fit: ["paint", "blend"]."""
    found = _AT.search(text)
    return re.findall(r"\.(\w+)", found.group(1)) if found else []


def _choices(kind: Any, names: list[str]) -> tuple[str, ...]:
    """Return the words a field takes, if it takes only some."""
    waiting = [kind]
    for name in names:
        waiting = [get_type_hints(k).get(name) for k in _structs(waiting)]
    while waiting:
        one = waiting.pop()
        if get_origin(one) is Literal:
            return tuple(str(a) for a in get_args(one))
        waiting += get_args(one)
    return ()


def _structs(hints: list[Any]) -> list[Any]:
    """Return the structs among types, and among their own fields."""
    out = []
    waiting = list(hints)
    while waiting:
        one = waiting.pop()
        if isinstance(one, type) and issubclass(one, msgspec.Struct):
            out.append(one)
        waiting += get_args(one)
    return out


def refusal_of(kind: type, name: str, args: Any, error: Exception) -> SheetError:
    """Return why `args` do not fit command `name`, in words, with the field and the way out."""
    text = str(error)
    names = _place(text)
    field = names[0] if names else ""
    word = (names[-1] if names else "").replace("_", " ")
    value: Any = args if isinstance(args, dict) else {}
    for one in names:
        value = value.get(one) if isinstance(value, dict) else None
    again = "Reload the page and try again."
    if isinstance(error, UnicodeError):
        return SheetError(f"“{name}” has characters that can’t be saved.", "Type it without them.")
    if "Invalid enum value" in text:
        words = ", ".join(c for c in _choices(kind, names) if c)
        return SheetError(f"“{str(value)[:30]}” is not {a(word)}.", f"Use {words}.", field)
    if missing := re.search(r"missing required field `(\w+)`", text):
        return SheetError(f"“{name}” came without its {missing.group(1).replace('_', ' ')}.", again, missing.group(1))
    if unknown := re.search(r"unknown field `(.+?)`", text):
        return SheetError(f"“{name}” takes no “{unknown.group(1)[:30]}”.", again, unknown.group(1)[:30])
    if exact := re.search(r"of length (\d+), got", text):
        return SheetError(f"The {word} must have {exact.group(1)} numbers.", again, field)
    if "of length" in text:
        return SheetError(f"The {word} is too long.", "Shorten it, or choose fewer.", field)
    if "regex" in text:
        if field in ("id", "ids", "into", "other", "base", "to"):
            return SheetError("That isn’t on the sheet.", "Select it again.", field)
        return SheetError(f"The {word} has characters that can’t be saved.", "Type it without them.", field)
    if re.search(r"`(float|int)` [<>]", text):
        return SheetError(f"The {word} is too large or too small, or not a number.", "Use another number.", field)
    if wrong := re.search(r"Expected `([a-z]+)", text):
        wanted = _WANTED.get(wrong.group(1), "something else")
        return SheetError(f"The {word or 'command'} must be {wanted}.", again, field)
    return SheetError(f"“{name}” came with something that does not fit it.", again, field)


def read_json(data: bytes, kind: Any = Any) -> Any:
    """Return JSON `data` decoded. Raises SheetError for NaN, infinities, lone surrogates and endless nesting."""
    try:
        return msgspec.json.decode(data, type=kind)
    except (msgspec.MsgspecError, RecursionError, UnicodeError):
        raise SheetError("That could not be read.", "Reload the page.") from None
