"""The demo's photos, prepared in `photos/`; `python -m studio.demo.photos` makes them again."""

import sys
from multiprocessing import Pool
from pathlib import Path
from typing import Final

from .scenes import SCENES, make

__all__ = ["BATCH", "PHOTOS", "photo_file"]

FOLDER: Final = Path(__file__).parent / "photos"

PHOTOS: Final = {f"{scene}.jpg": (scene, 3000, 2000, 0) for scene in SCENES}
"""Photos of the projects: file names, and the scene, width and height (px) and take of each."""

_TAKES = (
    ("dusk-sea", 1500, 1000), ("headlands", 1500, 1000), ("harbour-lights", 1000, 1500), ("pebbles", 1200, 1200),
    ("dune-ripples", 1500, 1000), ("headlands", 1000, 1500), ("dusk-sea", 1200, 1200), ("harbour-lights", 1500, 1000),
    ("dune-ripples", 1000, 1500), ("pebbles", 1500, 1000), ("headlands", 1200, 1200), ("dusk-sea", 1000, 1500),
)  # fmt: skip

BATCH: Final = {f"coast-{number:02}.jpg": (*take, number) for number, take in enumerate(_TAKES, 1)}
"""Photos of the batch, likewise."""


def photo_file(name: str) -> Path:
    """Return the file of a demo photo."""
    return FOLDER / name


def _write(photo: tuple[str, tuple[str, int, int, int]]) -> str:
    name, (scene, width, height, take) = photo
    photo_file(name).write_bytes(make(scene, width, height, take))
    return name


def main() -> None:
    """Make every photo, in as many processes as there are cores."""
    FOLDER.mkdir(exist_ok=True)
    with Pool() as pool:
        for name in pool.imap_unordered(_write, {**PHOTOS, **BATCH}.items()):
            sys.stdout.write(f"{name}\n")


if __name__ == "__main__":
    main()
