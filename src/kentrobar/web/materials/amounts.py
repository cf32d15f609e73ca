"""A material as the shelf shows it, in a person's units."""

from __future__ import annotations

from kentrobar.core.quantities.units import LENGTH, LINE_DENSITY, MASS
from kentrobar.core.weight.materials import Form
from kentrobar.web.kit.numbers import Units
from kentrobar.web.materials.models import Material


def weight_text(material: Material, units: Units) -> str:
    """What it weighs: per length of a tape, per volume of a putty, one of the rest."""
    match material.form:
        case Form.TAPE:
            unit = units.line_density
            value, u = (
                LINE_DENSITY.from_base(each, unit) for each in (material.density.value, material.density.u)
            )
            return f"{value:.3g} ±{u:.2g} {unit}"
        case Form.PUTTY:
            return f"{material.density_g_cm3:.3g} g/cm³"
        case _:
            return f"{MASS.from_base(material.each_g or 0.0, units.mass):.3g} {units.mass}"


def amount_text(material: Material, amount: float, units: Units) -> str:
    """So much of it: a length of tape, a weight of putty, a count of the rest."""
    match material.form:
        case Form.TAPE:
            return f"{_plain(LENGTH.from_base(amount, units.tape))} {units.tape}"
        case Form.PUTTY:
            return f"{units.mass_text(amount)} {units.mass}"
        case _:
            return f"{amount:g} piece{'' if amount == 1 else 's'}"


def _plain(value: float) -> str:
    return f"{value:.1f}".removesuffix(".0")
