"""A sheet with one photo, on which a new person does the main job once, step by step."""

from typing import Any, Final

from sheet import apply, new_sheet
from studio.history import changes
from studio.library.lookup import Owned
from studio.library.photos import take_in_path
from studio.models import Project

from .photos import photo_file

__all__ = ["TITLE", "begin"]

TITLE: Final = "A photo in a circle"
PHOTO: Final = "lamp-lens.jpg"


def begin(owner: Any) -> Project:
    """Make the project for a person. Raises PictureError and SheetError if there is no room for its photo."""
    photo = take_in_path(owner, photo_file(PHOTO), PHOTO)
    outcome = apply(new_sheet(1500, 1000, "px", 150), "place", {"files": [photo.sha256]}, Owned(owner))
    return changes.start(owner, TITLE, outcome.sheet)
