"""One record for each kind of piece."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Literal, TypeAlias, get_args

from msgspec.structs import replace

from outline import Path

__all__ = ["Field", "Kind", "Tool", "boxed_stretch", "own_size", "path_weight"]


FieldKind: TypeAlias = Literal[
    "length", "count", "percent", "degrees", "thousandths", "ems", "choice", "text", "switch"
]
Gesture: TypeAlias = Literal["box", "curve", "freehand", "lettering", "edge"]


def _one_of(value: str, kinds: Any, what: str) -> None:
    """Raise ValueError if a value is not in a Literal, so that a wrong one fails when its module is imported."""
    if value not in get_args(kinds):
        raise ValueError(f"{value!r} is not a {what}: it is one of {', '.join(get_args(kinds))}")


@dataclass(frozen=True, slots=True)
class Field:
    """One number, choice or switch of a shape: its field, its label, and how it is typed.

    `low` and `high` are the limits of what a person types (px for lengths; per cent are
    stored as a fraction of 1). A choice is one of `choices`, or of what `also` returns.
    """

    field: str
    name: str
    kind: FieldKind
    low: float = 0.0
    high: float = 1e6
    choices: tuple[str, ...] = ()
    short: str = ""
    also: Callable[[str], bool] = lambda text: False

    def __post_init__(self) -> None:
        _one_of(self.kind, FieldKind, "kind of field")


@dataclass(frozen=True, slots=True)
class Tool:
    """How a kind is drawn by pointer: its gesture, key, picture and hint.

    `key` may be empty. `icon` is a drawing in a box of 24 by 18, or the name of
    an icon. `steered` is the count that ↑ and ↓ change while drawing.
    """

    gesture: Gesture
    key: str
    icon: str
    hint: tuple[tuple[str, str], ...] = ()
    steered: str = ""

    def __post_init__(self) -> None:
        _one_of(self.gesture, Gesture, "gesture")


def _own(shape: Any, field: str) -> Any:
    return getattr(shape, field)


def _given(shape: Any, field: str, value: Any) -> tuple[Any, float | None]:
    return replace(shape, **{field: value}), None


@dataclass(frozen=True, slots=True)
class Kind:
    """A kind of piece: the key to store and draw it by, its name, the struct of its numbers, and its functions.

    * `path(shape)`: the outline, with the shape's own origin;
    * `value(shape, field)`: the value of a field; `given(shape, field, value)`: the shape with it set,
      and the largest value that fits if this one does not, else None;
    * `stretched(shape, sx, sy)`: the shape with its sizes scaled along its own
      sides, None if that is impossible;
    * `grown(shape, s)`: the shape with radii, teeth and the like scaled by `s`;
    * `needless(shape)`: fields without effect on the shape as it is;
    * `start(width, height)`: the shape that its tool draws in a box, None if it is not drawn in one;
    * `natural(shape)`: the proportions at which it is regular, as (width, height);
    * `weight(shape)`: about how many nodes it has, without computing its outline;
    * `first()`: a shape to set fields of, for kinds that are not drawn in a box;
    * `box(shape)`: the width and height of the shape from its own origin, None if
      that must be measured.
    """

    key: str
    name: str
    shape: type
    path: Callable[[Any], Path]
    fields: tuple[Field, ...] = ()
    tool: Tool | None = None
    box: Callable[[Any], tuple[float, float] | None] = lambda shape: None
    start: Callable[[float, float], Any] | None = None
    first: Callable[[], Any] | None = None
    value: Callable[[Any, str], Any] = _own
    given: Callable[[Any, str, Any], tuple[Any, float | None]] = _given
    stretched: Callable[[Any, float, float], Any] = lambda shape, sx, sy: None
    grown: Callable[[Any, float], Any] = lambda shape, s: shape
    needless: Callable[[Any], tuple[str, ...]] = lambda shape: ()
    natural: Callable[[Any], tuple[float, float]] = lambda shape: (1.0, 1.0)
    weight: Callable[[Any], int] = lambda shape: 8
    word: str = ""
    """Its name in a sentence, if the name alone would not do; empty for the name in lower case."""

    @property
    def sample(self) -> Callable[[], Any] | None:
        """Makes a shape about 100 px large, shown while drawing; None if there is nothing to show."""
        start = self.start
        return self.first if start is None else lambda: start(100.0, 100.0)

    @property
    def said(self) -> str:
        """The word in a sentence."""
        return self.word or self.name.lower()


def path_weight(shape: Any) -> int:
    """Return about how many nodes a shape of path data has."""
    return 2 + len(shape.d) // 12


def own_size(shape: Any) -> tuple[float, float]:
    """Return the width and height of a shape that has them."""
    return shape.width, shape.height


def boxed_stretch(shape: Any, sx: float, sy: float) -> Any:
    """Return a shape of width and height with both scaled."""
    return replace(shape, width=shape.width * sx, height=shape.height * sy)
