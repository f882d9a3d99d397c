"""The help for each station: three sentences, and a picture of the guide."""

from dataclasses import dataclass
from typing import Final, NamedTuple

from django.utils.safestring import SafeString

from .jobs import marked
from .pictures import PICTURES

__all__ = ["STATIONS_FOR", "station_help"]


@dataclass(frozen=True, slots=True)
class Help:
    """Help for a station: three sentences, and a picture of the guide by its job and number."""

    words: str
    picture: tuple[str, int]


STATIONS_FOR: Final[dict[str, Help]] = {
    "draw": Help(
        "Draw pieces over your photos; you see the photo through each. Press a tool’s key twice to draw several. "
        "*Shapes* has more outlines, and those of your shelf.",
        ("shape", 0),
    ),
    "cut": Help(
        "Select two pieces or more: each card shows what they would become. What you cut stays editable in the cut "
        "list. *Part by part* joins, takes away and lifts out single parts.",
        ("margins", 1),
    ),
    "fit": Help(
        "Put a photo in the outline with [P], then move either one inside the other. The tray has every photo of the "
        "project. *Split into panes* makes several frames of one photo.",
        ("shape", 1),
    ),
    "finish": Help(
        "Set the fill, the border and the backdrop. Click a row, then a swatch, to colour it. *Sample from the sheet* "
        "takes a colour from a photo.",
        ("parts", 1),
    ),
    "export": Help(
        "Export the selection, the artwork or the whole sheet. Choose a size and a format; hidden parts of a photo "
        "never count. Earlier exports are at the end of the list.",
        ("hundred", 1),
    ),
}
"""What each station is for."""


class StationRow(NamedTuple):
    """The data for the page: the station, its text as HTML, the picture, and its description."""

    station: str
    words: SafeString
    job: str
    number: int
    shows: str


def station_help() -> list[StationRow]:
    """Return the help of each station."""
    return [
        StationRow(name, marked(one.words), *one.picture, PICTURES[one.picture[0]][1][one.picture[1]])
        for name, one in STATIONS_FOR.items()
    ]
