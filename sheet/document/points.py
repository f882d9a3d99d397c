"""The points of a freehand stroke: many numbers, in few bytes and without an object for each."""

from collections.abc import Iterable, Iterator
from typing import Annotated, Any, Final, TypeAlias

import msgspec
import numpy as np
from msgspec import Meta

from .limits import MAX_POINTS, Place

__all__ = ["LISTED", "Points", "described", "listed", "read", "stored"]

LISTED: TypeAlias = Annotated[tuple[tuple[Place, Place], ...], Meta(max_length=MAX_POINTS)]
"""The points in JSON."""
_FINE: Final = 1000
"""Points of a pointer are whole thousandths of a unit (`commands.drawing`), which take half the bytes."""
_WHOLE: Final = b"i"
_FLOATS: Final = b"d"


class Points:
    """Points (x, y) in order (units of their own), immutable.

    >>> hand = Points([(0, 0), (1.5, 2.25), (3, 0)])
    >>> len(hand), list(hand)[1]
    (3, (1.5, 2.25))
    >>> hand == Points.of_bytes(hand.as_bytes()), len(hand.as_bytes())
    (True, 25)
    """

    __slots__ = ("_data",)
    _data: bytes

    def __init__(self, places: Iterable[tuple[float, float]] = ()) -> None:
        xy = np.array(list(places), np.float64).reshape(-1, 2).T + 0.0
        with np.errstate(invalid="ignore"):
            fine = np.rint(xy * _FINE)
            # also False if one of them is NaN
            whole = bool((np.abs(fine) < 2**31).all()) and bool((fine / _FINE == xy).all())
        # all x, then all y: similar numbers together compress better
        self._data = _WHOLE + fine.astype("<i4").tobytes() if whole else _FLOATS + xy.astype("<f8").tobytes()

    @classmethod
    def of_bytes(cls, data: bytes) -> "Points":
        """Return the points that `as_bytes` stored. Raises ValueError for anything else."""
        kind, size = data[:1], len(data) - 1
        made = cls.__new__(cls)
        made._data = data
        if kind == _WHOLE and size % 8 == 0 and size <= 8 * MAX_POINTS:
            return made
        if size % 16 or kind != _FLOATS:
            raise ValueError("the places of a hand are damaged, or more than a sheet holds")
        if len(made) > MAX_POINTS or not (np.abs(made.array()) <= 1e8).all():
            raise ValueError("the places of a hand are beyond what a sheet holds")
        return made

    def as_bytes(self) -> bytes:
        """Return the stored form: `i` and thousandths (32-bit integers), or `d` and doubles; all x, then all y."""
        return self._data

    def array(self) -> np.ndarray:
        """Return the points as an array (n, 2)."""
        if self._data[:1] == _WHOLE:
            return np.frombuffer(self._data, "<i4", offset=1).reshape(2, -1).T / _FINE
        return np.frombuffer(self._data, "<f8", offset=1).reshape(2, -1).T

    def __len__(self) -> int:
        return (len(self._data) - 1) // (8 if self._data[:1] == _WHOLE else 16)

    def __iter__(self) -> Iterator[tuple[float, float]]:
        return iter([(x, y) for x, y in self.array().tolist()])

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Points) and self._data == other._data

    def __hash__(self) -> int:
        return hash(self._data)

    def __repr__(self) -> str:
        return f"Points({list(self)!r})"


def listed(value: Any) -> Any:
    """Return points for JSON (an `enc_hook` of msgspec)."""
    if isinstance(value, Points):
        return value.array().tolist()
    raise NotImplementedError(type(value).__name__)


def stored(value: Any) -> Any:
    """Return points for the stored form (an `enc_hook`)."""
    if isinstance(value, Points):
        return value.as_bytes()
    raise NotImplementedError(type(value).__name__)


def read(kind: type, value: Any) -> Any:
    """Return points from a list or their stored form (a `dec_hook`). Raises ValueError."""
    if kind is not Points:
        raise NotImplementedError(kind.__name__)
    if type(value) is bytes:
        return Points.of_bytes(value)
    return Points(msgspec.convert(value, LISTED))


def described(kind: type) -> dict[str, Any]:
    """Return the JSON Schema of points (a `schema_hook`)."""
    if kind is not Points:
        raise NotImplementedError(kind.__name__)
    return msgspec.json.schema(LISTED)
