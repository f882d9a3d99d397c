"""The kinds of pieces: one record each.

To add one, write its module beside these and name it below, in `KINDS` and in `OwnShape`.
"""

from typing import Any, Final, TypeAlias

from .base import Field, Kind, Tool
from .edge import EDGE, EdgeRun
from .ellipse import ELLIPSE, Ellipse
from .freehand import FREEHAND, Freehand
from .lettering import LETTERING, Lettering, lettered, missing_words
from .plain import CURVE, READY, Plain, plain_of
from .polygon import POLYGON, Polygon
from .rectangle import RECTANGLE, Rectangle, largest_radii
from .silhouette import SILHOUETTE, WAYS, BrushMark, Silhouette, Tracing
from .star import STAR, Star

__all__ = [
    "EdgeRun",
    "Ellipse",
    "Field",
    "Freehand",
    "KINDS",
    "Kind",
    "Lettering",
    "BrushMark",
    "OwnShape",
    "Plain",
    "Polygon",
    "Rectangle",
    "Silhouette",
    "Star",
    "Tool",
    "Tracing",
    "WAYS",
    "kind_of",
    "largest_radii",
    "lettered",
    "missing_words",
    "plain_of",
]

KINDS: Final = {
    kind.key: kind for kind in (RECTANGLE, ELLIPSE, POLYGON, STAR, CURVE, FREEHAND, LETTERING, EDGE, READY, SILHOUETTE)
}
"""By key, in the order of the drawer."""

OwnShape: TypeAlias = Rectangle | Ellipse | Polygon | Star | Plain | Freehand | Lettering | EdgeRun | Silhouette
"""Every shape but a cut list."""

_BY_SHAPE: Final = {kind.shape: kind for kind in reversed(KINDS.values())}


def kind_of(shape: Any) -> Kind:
    """Return the record of a shape's kind. Raises KeyError for a cut list, which is made of pieces."""
    return _BY_SHAPE[type(shape)]
