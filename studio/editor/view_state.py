"""What the page says of itself: the station, what is selected, the base for cutting, what is stepped into."""

from typing import Any, Final, Literal, get_args

import msgspec

from sheet.document.limits import Ids, MaybeId, Typed
from sheet.document.model import Item, Photo
from sheet.export.order import Order
from sheet.geometry.combination import As, Keep, Neighbours
from sheet.geometry.holes import Of

__all__ = ["STATIONS", "ViewState"]

Station = Literal["draw", "cut", "fit", "finish", "export"]
STATIONS: Final[tuple[Station, ...]] = get_args(Station)


class ViewState(msgspec.Struct, frozen=True):
    """What the page shows. `keep`, `neighbours` and `parts` are the choices of cutting apart, `margins` is what
    margins are counted from; `export` is what is asked of the Export station, and `project` the project's name.
    Told by the server are `newest`, the newest version of what is on the shelf, and its name, by "KEY VARIANT", and
    `fonts`, key, name and kind of the person's own."""

    station: Station = "draw"
    chosen: Ids = []
    base: MaybeId = ""
    inside: MaybeId = ""
    nodes: bool = False
    cells: bool = False
    keep: Keep = "every"
    neighbours: Neighbours = "apart"
    parts: As = "areas"
    export: Order = Order()
    project: Typed = ""
    margins: Of = "border"
    newest: dict[str, tuple[int, str]] = {}
    fonts: tuple[tuple[str, str, str], ...] = ()

    @classmethod
    def read(
        cls,
        data: Any,
        newest: dict[str, tuple[int, str]] | None = None,
        fonts: tuple[tuple[str, str, str], ...] = (),
    ) -> "ViewState":
        """Read it from decoded JSON; where any of it does not fit, what a page shows at first."""
        try:
            state = msgspec.convert(data, cls)
        except msgspec.ValidationError:
            state = cls()
        return msgspec.structs.replace(state, newest=newest or {}, fonts=fonts)

    def newer(self, item: Item) -> int:
        """Return the version of the shelf that is newer than an item came from; 0 where there is none."""
        mark = None if isinstance(item, Photo) else item.shelf_link
        number, _ = self.newest.get(f"{mark.item} {mark.variant}", (0, "")) if mark else (0, "")
        return number if mark and number > mark.version else 0
