"""Icons and other small marks of the pages."""

from functools import cache
from pathlib import Path

from django import template
from django.forms.boundfield import BoundField
from django.utils.safestring import SafeString, mark_safe

from kentrobar.web.kit.numbers import Units
from kentrobar.web.kit.quantities import look_of

register = template.Library()
_STATIC = Path(__file__).resolve().parents[2] / "static"
_ICONS = (_STATIC / "icons", _STATIC / "vendor" / "icons")  # our own, and those of a package


@register.simple_tag
@cache
def icon(name: str) -> SafeString:
    """The icon ``name`` as inline SVG; it only decorates, so readers skip it."""
    svg = next(file for folder in _ICONS if (file := folder / f"{name}.svg").exists()).read_text()
    marked = svg.replace("<svg ", '<svg aria-hidden="true" focusable="false" ', 1)
    return mark_safe(marked)  # noqa: S308 - a file of our own


@register.filter
def styled(field: BoundField) -> SafeString:
    """A field with the look of the house, of a form that another package makes."""
    return field.as_widget(attrs={"class": look_of(field.field.widget)})


@register.filter
def as_length(cm: float, units: Units) -> str:
    """A length in a person's unit, without the unit."""
    return units.length_text(cm)


@register.filter
def as_typed_axis(cm: float, units: Units) -> str:
    """A swing axis as it stands in a field."""
    return " ".join(units.axis_typed(cm))


@register.filter
def as_axis(cm: float, units: Units) -> str:
    """A swing axis with its unit."""
    return units.axis_text(cm)


@register.filter
def as_inertia(kgcm2: float, units: Units) -> str:
    """Swing, twist or recoil weight with its unit."""
    return units.inertia_text(kgcm2)


@register.filter
def as_fine_inertia(kgcm2: float, units: Units) -> str:
    """The same with a digit more, for twist weight and for ±."""
    return units.inertia_text(kgcm2, 2)


@register.filter
def as_mass(grams: float, units: Units) -> str:
    """The weight of a frame or of what is fitted on it, with its unit."""
    return f"{units.mass_text(grams)} {units.mass}"


@register.filter
def cut_length(cm: float, units: Units) -> str:
    """A length as it is read off a ruler, without the unit."""
    return units.ruler_text(cm)
