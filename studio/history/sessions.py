"""Steps gathered by session: nothing was done for a while between one and the next."""

from collections.abc import Iterable
from datetime import timedelta
from typing import Any, Final

__all__ = ["sessions"]

PAUSE: Final = timedelta(minutes=30)


def sessions(steps: Iterable[dict[str, Any]]) -> list[list[dict[str, Any]]]:
    """Return steps, which come newest first and tell when they were `made`, parted into sessions."""
    out: list[list[dict[str, Any]]] = []
    for one in steps:
        if out and out[-1][-1]["made"] - one["made"] <= PAUSE:
            out[-1].append(one)
        else:
            out.append([one])
    return out
