"""Steps grouped by session: a pause separates one from the next."""

from collections.abc import Iterable
from datetime import timedelta
from typing import Any, Final

__all__ = ["sessions"]

PAUSE: Final = timedelta(minutes=30)


def sessions(steps: Iterable[dict[str, Any]]) -> list[list[dict[str, Any]]]:
    """Return steps, newest first and each with the time it was `made`, grouped into sessions."""
    out: list[list[dict[str, Any]]] = []
    for one in steps:
        if out and out[-1][-1]["made"] - one["made"] <= PAUSE:
            out[-1].append(one)
        else:
            out.append([one])
    return out
