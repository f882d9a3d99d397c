"""Icons as inline SVG, and the attribute that ties a button or a field to its action."""

import json
from datetime import datetime
from pathlib import Path
from typing import Any

from django import template
from django.utils.dateformat import format as date_format
from django.utils.html import escape, format_html
from django.utils.safestring import SafeString, mark_safe

from outline.path.kernel import warming as percent_warm
from picture.write.estimate import in_words
from sheet.caching import cached
from sheet.reading.colours import rgb_of

register = template.Library()
ICONS = Path(__file__).resolve().parent.parent / "static" / "vendor" / "icons"


@register.simple_tag
@cached(entries=128)
def icon(name: str) -> SafeString:
    """Return the icon `name`, hidden from screen readers."""
    text = (ICONS / f"{name}.svg").read_text().strip()
    return mark_safe(text.replace("<svg ", '<svg aria-hidden="true" focusable="false" ', 1))


@register.simple_tag
def icons(*names: str) -> SafeString:
    """Return icons once, hidden, for `icon_again`."""
    text = "".join(f'<g id="icon-{name}">{_inner((ICONS / f"{name}.svg").read_text())}</g>' for name in names)
    return mark_safe(f'<svg class="d-none" aria-hidden="true"><defs>{text}</defs></svg>')


def _inner(svg: str) -> str:
    return svg[svg.index(">") + 1 : svg.rindex("</svg>")].strip()


@register.simple_tag
def icon_again(name: str) -> SafeString:
    """Return a reference to one of the page's `icons`, for icons that repeat."""
    return mark_safe(
        f'<svg viewBox="0 0 16 16" fill="currentColor" aria-hidden="true"><use href="#icon-{name}"/></svg>'
    )


@register.inclusion_tag("studio/warming.html")
def warming() -> dict[str, int | None]:
    """Return the progress of the engine's compilation, while it lasts."""
    return {"percent": percent_warm()}


_TIMES = {"time": "H:i", "day": "j F", "date": "l, j F Y", "both": "j M, H:i"}


@register.simple_tag
def at(moment: datetime, form: str) -> SafeString:
    """Return a time as text in the server's time zone; the page shows the person's own (times.js)."""
    return format_html(
        '<time datetime="{}" data-as="{}">{}</time>', moment.isoformat(), form, date_format(moment, _TIMES[form])
    )


@register.simple_tag
def act(does: str, /, **args: Any) -> SafeString:
    """Return the attribute for an action: a command, or an action of the page ("page:zoom").

    Words with $ are replaced on the page when the action runs ($chosen, $value, …; see act.js).
    """
    return _attribute(does, tuple(args.items()))


@register.simple_tag
def mend(offer: tuple[str, str, dict[str, Any]]) -> SafeString:
    """Return the attribute of a button for an offer: words, command, arguments."""
    return _attribute(offer[1], tuple((k, tuple(v) if isinstance(v, list) else v) for k, v in offer[2].items()))


@register.simple_tag
def number(field: str, value: Any, does: str, /, *, says: str = "value", **args: Any) -> SafeString:
    """Return a field with an action whose argument `says` is its text; `field` is its id."""
    attribute = _attribute(does, (*args.items(), (says, "$value")))
    return format_html(
        '<input class="number" id="{}" {} value="{}" autocomplete="off">',
        field,
        attribute,
        "" if value is None else value,
    )


@cached(entries=2048)
def _attribute(does: str, args: tuple[tuple[str, Any], ...]) -> SafeString:
    arguments = {name: list(value) if isinstance(value, tuple) else value for name, value in args}
    return mark_safe(f'data-act="{escape(json.dumps([does, arguments], ensure_ascii=False))}"')


@register.simple_tag
def tool_picture(picture: str) -> SafeString:
    """Return the picture of a tool: a drawing in a box of 24 by 18, or the icon of that name."""
    if picture.startswith("<"):
        return mark_safe(f'<svg viewBox="0 0 24 18" aria-hidden="true">{picture}</svg>')
    return icon(picture)


@register.filter
def safe_svg(text: str) -> SafeString:
    """Mark markup as safe that `picture` made and escaped."""
    return mark_safe(text)


@register.filter
def as_rgb(color: str) -> str:
    """Return #rrggbb as `rgb()`: in an action's attribute a # names a field."""
    return f"rgb({', '.join(str(v) for v in rgb_of(color))})"


@register.filter(name="bytes")
def in_bytes(size: int) -> str:
    """Return a file's size as people write it."""
    return in_words(size)
