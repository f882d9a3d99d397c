"""The reference: one page on everything, written in Markdown."""

import re
from functools import lru_cache
from pathlib import Path
from typing import Final

import markdown
from django.utils.safestring import SafeString, mark_safe

__all__ = ["TEXT", "reference"]

TEXT: Final = (Path(__file__).parent / "reference.md").read_text()
"""The page as Markdown, with keys in [brackets] as in the jobs."""


@lru_cache(maxsize=1)
def reference() -> SafeString:
    """Return the page as HTML. Headings have ids for links."""
    keys = re.sub(r"\[([^\]]+)\](?!\()", r"<kbd>\1</kbd>", TEXT)
    return mark_safe(markdown.markdown(keys, extensions=["tables", "toc"]))
