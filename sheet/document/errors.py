"""What a command answers when it cannot be done: why, and the way out."""

__all__ = ["SheetError"]


class SheetError(Exception):
    """A command that cannot be done on this sheet.

    `message` says why, `remedy` what to do or choose, `field` names the number or
    word that is wrong, where one is.
    """

    def __init__(self, message: str, remedy: str = "", field: str = ""):
        super().__init__(f"{message} {remedy}".strip())
        self.message = message
        self.remedy = remedy
        self.field = field
