"""Icons and other small marks of the pages."""

from functools import cache
from pathlib import Path

from django import template
from django.utils.safestring import SafeString, mark_safe

register = template.Library()
_ICONS = Path(__file__).resolve().parents[2] / "static" / "vendor" / "icons"


@register.simple_tag
@cache
def icon(name: str) -> SafeString:
    """The icon ``name`` as inline SVG; it only decorates, so readers skip it."""
    svg = (_ICONS / f"{name}.svg").read_text()
    marked = svg.replace("<svg ", '<svg aria-hidden="true" focusable="false" ', 1)
    return mark_safe(marked)  # noqa: S308 - a file of our own
