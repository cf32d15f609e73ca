"""The one table of specs: what each is called, told in, typed in, and how surely it is usually read.

Nobody else keeps such a table; what holds of one spec is asked of it by its key or its field.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType
from typing import Final, NamedTuple

from kentrobar.core.quantities.estimates import Quantity
from kentrobar.core.quantities.units import INERTIA, LENGTH, MASS, Dimension


class Specs(NamedTuple):
    """The specs of a body, or their change. ``axis_cm`` is the axis of the swing weight."""

    mass_g: Quantity
    balance_cm: Quantity
    points_headlight: Quantity
    swingweight_kgcm2: Quantity
    twistweight_kgcm2: Quantity
    recoil_kgcm2: Quantity
    gyration_cm: Quantity
    axis_cm: float

    def of(self, spec: Spec) -> Quantity:
        """The value of one spec, in its base unit."""
        quantity: Quantity = getattr(self, spec.key)
        return quantity


@dataclass(frozen=True, eq=False)  # each is one of a kind
class Spec:
    """One spec of a body.

    ``key`` names it with its base unit, as columns, files and ``Specs`` do; ``field`` without, as forms
    do. ``decimals`` are those of a whole frame's value in its base ``unit``.
    """

    key: str
    field: str
    noun: str
    unit: str
    decimals: int

    @property
    def title(self) -> str:
        """Its noun as a heading."""
        return self.noun[:1].upper() + self.noun[1:]


@dataclass(frozen=True, eq=False)  # each is one of a kind
class AimedSpec(Spec):
    """A spec that frames are brought to and made alike in, typed in its base unit or another.

    ``tolerance`` is what a good match keeps within, ``felt`` the gap that most serious players feel (a rule
    of thumb).
    """

    dimension: Dimension
    typed_units: tuple[str, ...]
    tolerance: float
    felt: float


@dataclass(frozen=True, eq=False)  # each is one of a kind
class ReadSpec(AimedSpec):
    """A spec that is read off an instrument.

    ``usual_u`` is the standard uncertainty of *one reading by an instrument that nobody has described*: a
    pocket scale, a ruler or board, a machine, a twist cradle, with step, scatter and calibration together.
    ``step`` is such an instrument's smallest step.
    """

    usual_u: float
    step: float


_INERTIA_UNITS: Final = ("kg·cm²", "oz·in²")

STATIC_WEIGHT: Final = ReadSpec(
    "mass_g",
    "mass",
    "static weight",
    "g",
    1,
    MASS,
    ("g", "oz"),
    usual_u=0.1,
    step=0.1,
    tolerance=1.0,
    felt=5.0,
)
BALANCE: Final = ReadSpec(
    "balance_cm",
    "balance",
    "balance",
    "cm",
    2,
    LENGTH,
    ("mm", "cm", "in", "pt"),
    usual_u=0.1,
    step=0.05,
    tolerance=0.1,
    felt=0.5,
)
SWING_WEIGHT: Final = ReadSpec(
    "swingweight_kgcm2",
    "swingweight",
    "swing weight",
    "kg·cm²",
    1,
    INERTIA,
    _INERTIA_UNITS,
    usual_u=1.0,
    step=0.5,
    tolerance=1.0,
    felt=10.0,
)
TWIST_WEIGHT: Final = ReadSpec(
    "twistweight_kgcm2",
    "twistweight",
    "twist weight",
    "kg·cm²",
    2,
    INERTIA,
    _INERTIA_UNITS,
    usual_u=0.2,
    step=0.05,
    tolerance=0.2,
    felt=1.0,
)
POINTS: Final = Spec("points_headlight", "points", "balance", "pt HL", 1)
RECOIL_WEIGHT: Final = AimedSpec(
    "recoil_kgcm2", "recoil", "recoil weight", "kg·cm²", 1, INERTIA, _INERTIA_UNITS, tolerance=1.0, felt=10.0
)
GYRATION: Final = Spec("gyration_cm", "gyration", "spread of the mass", "cm", 2)
SPIN_WEIGHT: Final = Spec("spinweight_kgcm2", "spinweight", "spin weight", "kg·cm²", 1)
MGR_PER_I: Final = Spec("mgr_per_i", "mgr_per_i", "MgR/I", "s⁻²", 2)

READ: Final = (STATIC_WEIGHT, BALANCE, SWING_WEIGHT, TWIST_WEIGHT)  # in the order of measuring
AIMED: Final[tuple[AimedSpec, ...]] = (*READ, RECOIL_WEIGHT)
FURTHER: Final = (SPIN_WEIGHT, MGR_PER_I)  # for those who want them

READ_BY_KEY: Final[Mapping[str, ReadSpec]] = MappingProxyType({spec.key: spec for spec in READ})
READ_BY_FIELD: Final[Mapping[str, ReadSpec]] = MappingProxyType({spec.field: spec for spec in READ})
AIMED_BY_KEY: Final[Mapping[str, AimedSpec]] = MappingProxyType({spec.key: spec for spec in AIMED})
