"""What a material weighs and how much of it there is, on a page."""

from __future__ import annotations

from typing import Any

from django import template

from kentrobar.core.quantities.units import MM_PER_CM
from kentrobar.web.materials.amounts import amount_text, weight_text
from kentrobar.web.materials.models import Material

register = template.Library()


@register.simple_tag(takes_context=True)
def weighs(context: dict[str, Any], material: Material) -> str:
    return weight_text(material, context["user"].units)


@register.simple_tag(takes_context=True)
def width(context: dict[str, Any], mm: float) -> str:
    """A width of tape: millimetres, or inches for whom cuts in them."""
    units = context["user"].units
    return units.bench_lengths.text(mm / MM_PER_CM) if units.ruler == "in" else f"{mm:g} mm"


@register.simple_tag(takes_context=True)
def piece_mass(context: dict[str, Any], grams: float) -> str:
    """The weight of something small, with its unit."""
    units = context["user"].units
    return f"{units.piece_mass_text(grams)} {units.mass}"


@register.simple_tag(takes_context=True)
def amount(context: dict[str, Any], material: Material, value: float) -> str:
    return amount_text(material, value, context["user"].units)
