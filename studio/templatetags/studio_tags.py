"""Icons as inline SVG, so that they take the colour of the text around them."""

from functools import lru_cache
from pathlib import Path

from django import template
from django.utils.safestring import SafeString, mark_safe

register = template.Library()
ICONS = Path(__file__).resolve().parent.parent / "static" / "vendor" / "icons"


@register.simple_tag
@lru_cache(maxsize=128)
def icon(name: str) -> SafeString:
    """Return the icon `name`; it says nothing to a screen reader."""
    text = (ICONS / f"{name}.svg").read_text().strip()
    return mark_safe(text.replace("<svg ", '<svg aria-hidden="true" focusable="false" ', 1))


@register.filter
def safe_svg(text: str) -> SafeString:
    """Mark markup as safe that `picture.svg` made and escaped."""
    return mark_safe(text)
