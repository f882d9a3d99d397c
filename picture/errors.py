"""The error for what cannot be read or drawn."""

__all__ = ["PictureError"]


class PictureError(Exception):
    """A picture that cannot be read or made: `message` says why, `remedy` what to do, `field` what it is about."""

    def __init__(self, message: str, remedy: str = "", field: str = ""):
        super().__init__(f"{message} {remedy}".strip())
        self.message = message
        self.remedy = remedy
        self.field = field
