"""What the page says of itself: the station, what is chosen, the base for cutting, what is stepped into."""

from typing import Any, Final, Literal, get_args

import msgspec

from sheet.combination import As, Keep, Neighbours
from sheet.delivery import Order
from sheet.holes import Of
from sheet.limits import Ids, MaybeId, Typed

__all__ = ["STATIONS", "Look"]

Station = Literal["draw", "cut", "fit", "finish", "deliver"]
STATIONS: Final[tuple[Station, ...]] = get_args(Station)


class Look(msgspec.Struct, frozen=True):
    """What the page shows. `keep`, `neighbours` and `parts` are the choices of cutting apart, `margins` is what
    margins are counted from; `delivery` is what is asked of the Deliver station, and `project` the project's name."""

    station: Station = "draw"
    chosen: Ids = []
    base: MaybeId = ""
    inside: MaybeId = ""
    nodes: bool = False
    cells: bool = False
    keep: Keep = "every"
    neighbours: Neighbours = "apart"
    parts: As = "areas"
    delivery: Order = Order()
    project: Typed = ""
    margins: Of = "border"

    @classmethod
    def read(cls, data: Any) -> "Look":
        """Read it from decoded JSON; where any of it does not fit, what a page shows at first."""
        try:
            return msgspec.convert(data, cls)
        except msgspec.ValidationError:
            return cls()
