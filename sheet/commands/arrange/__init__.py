"""Commands that place, copy, line up and refit."""

from . import arranging, copying, guides, refitting

__all__ = ["arranging", "copying", "guides", "refitting"]
