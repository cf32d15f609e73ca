"""What a material weighs and how much of it there is, on a page."""

from __future__ import annotations

from typing import Any

from django import template

from kentrobar.web.materials.models import Material
from kentrobar.web.materials.presenting import amount_text, weight_text

register = template.Library()


@register.simple_tag(takes_context=True)
def weighs(context: dict[str, Any], material: Material) -> str:
    return weight_text(material, context["user"].units)


@register.simple_tag(takes_context=True)
def amount(context: dict[str, Any], material: Material, value: float) -> str:
    return amount_text(material, value, context["user"].units)
