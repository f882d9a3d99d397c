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
    """Raise ValueError where a value is none of a Literal's: a wrong one fails when its module is imported."""
    if value not in get_args(kinds):
        raise ValueError(f"{value!r} is not a {what}: it is one of {', '.join(get_args(kinds))}")


@dataclass(frozen=True, slots=True)
class Field:
    """One number, choice or switch of a shape: its field, what it is called, and how it is typed.

    `low` and `high` are what a person may type (px for lengths; what is typed in per cent is
    kept as a share of 1). A choice is one of `choices`, or what `also` says may be chosen too.
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

    `key` is empty where it has none. `icon` is a drawing in a box of 24 by 18, or the name of
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
    """A kind of piece: the key it is stored and drawn by, its name, the struct of its numbers, what is done with it.

    * `path(shape)`: the outline from the shape's own origin;
    * `value(shape, field)`: what a field shows; `given(shape, field, value)`: the shape with it,
      and the largest value that fits where the one asked for does not, else None;
    * `stretched(shape, sx, sy)`: the shape with a scaling along its own sides taken into its
      sizes, None where it cannot be;
    * `grown(shape, s)`: the shape with radii, teeth and the like `s` times as large;
    * `needless(shape)`: fields that have no effect as the shape is now;
    * `start(width, height)`: the shape as its tool draws it in a box, None where it is not drawn in one;
    * `natural(shape)`: the proportions at which it is regular, as (width, height);
    * `weight(shape)`: about how many nodes it has, without working its outline out;
    * `first()`: a shape to set fields of where it is not drawn in a box;
    * `box(shape)`: the width and height that the shape fills from its own origin, None where
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
    """What is said of one where the name alone would not do; empty for the name in lower case."""

    @property
    def sample(self) -> Callable[[], Any] | None:
        """What makes a shape about 100 px large, shown while it is drawn; None where there is nothing to show."""
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
