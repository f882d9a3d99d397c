"""What goes wrong in `outline`, each error carrying what offended."""

__all__ = ["OutlineError", "PathError", "MapError"]


class OutlineError(Exception):
    """Base of every error that `outline` raises."""


class PathError(OutlineError):
    """The input is no usable path.

    `position` is the index in the text where reading stopped, or None when the
    input was not text.
    """

    def __init__(self, message: str, position: int | None = None):
        super().__init__(message if position is None else f"{message} (at character {position})")
        self.position = position


class MapError(OutlineError):
    """The planar map stayed inconsistent at every tolerance that was tried."""

    def __init__(self, message: str, certificates: tuple[int, ...] = ()):
        super().__init__(message)
        self.certificates = certificates
