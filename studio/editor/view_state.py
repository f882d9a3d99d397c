"""The state of a page's view: the station, the selection, the base for cutting, the item being edited inside."""

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
OwnRows = tuple[tuple[str, str, str], ...]
"""Files of a person's own: key, name and kind of each."""


class ViewState(msgspec.Struct, frozen=True):
    """The state of a page's view. `keep`, `neighbours` and `parts` are the choices of Divide, `margins` is what
    margins are measured from; `export` is the order of the Export station, and `project` the project's name.
    The server adds `newest`, the newest version and the name of each shelf item, by "KEY VARIANT", and
    `fonts` and `profiles`, key, name and kind of the person's own."""

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
    fonts: OwnRows = ()
    profiles: OwnRows = ()

    @classmethod
    def read(
        cls,
        data: Any,
        newest: dict[str, tuple[int, str]] | None = None,
        fonts: OwnRows = (),
        profiles: OwnRows = (),
    ) -> "ViewState":
        """Read it from decoded JSON; if any of it does not fit, return the initial state of a page."""
        try:
            state = msgspec.convert(data, cls)
        except msgspec.ValidationError:
            state = cls()
        return msgspec.structs.replace(state, newest={} if newest is None else newest, fonts=fonts, profiles=profiles)

    def newer(self, item: Item) -> int:
        """Return the shelf's version that is newer than an item's; 0 if there is none."""
        mark = None if isinstance(item, Photo) else item.shelf_link
        number, _ = self.newest.get(f"{mark.item} {mark.variant}", (0, "")) if mark else (0, "")
        return number if mark and number > mark.version else 0
