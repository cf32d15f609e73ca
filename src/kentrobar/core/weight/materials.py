"""What weight is made of: how it is measured out, how it behaves, what to mind, and what a cut tells.

The figures of ``STARTING_SHELF`` are the project's own rule of thumb; a shop weighs its own.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from types import MappingProxyType
from typing import Final, NamedTuple

from kentrobar.core.quantities.errors import PieceError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.quantities.units import CM_PER_IN
from kentrobar.core.weight.builds import FittingKind
from kentrobar.core.weight.pieces import CUT_LENGTH_U_CM, DENSITY_U_RELATIVE, WEIGHED_U_G

MOST_G_PER_CM: Final = 5.0  # of a tape: an inch wide and a millimetre thick, all tungsten
MOST_G_PER_CM3: Final = 19.3  # tungsten itself
MOST_EACH_G: Final = 100.0  # of what is fitted whole


class Form(StrEnum):
    """How a material is measured out, hence what its weight is told by."""

    TAPE = "tape"  # by length: g/cm
    PUTTY = "putty"  # by weight, its bulk by density: g/cm³
    SLEEVE = "sleeve"  # one, round the handle: g
    ITEM = "item"  # one, compact: g


class Hardness(StrEnum):
    """How readily it follows a curve or a channel."""

    SOFT = "soft"
    BENDS = "bends"
    STIFF = "stiff"


class Undo(StrEnum):
    """What is left when it comes off again."""

    CLEAN = "clean"
    LASTING = "lasting"
    TRIAL = "trial"


class MaterialKind(StrEnum):
    LEAD_TAPE = "lead_tape"
    TUNGSTEN_TAPE = "tungsten_tape"
    COPPER_TAPE = "copper_tape"
    EDGE_TAPE = "edge_tape"
    TUNGSTEN_PUTTY = "tungsten_putty"
    REMOVABLE_PUTTY = "removable_putty"
    SILICONE = "silicone"
    BUTT_CAP = "butt_cap"
    MODULE = "module"
    COTTON = "cotton"
    DAMPENER = "dampener"
    LEATHER = "leather"
    GRIP = "grip"
    OVERGRIP = "overgrip"


class KindFacts(NamedTuple):
    """What holds of every material of a kind.

    ``is_seen`` is whether it shows where it is usually laid, ``at_skin`` whether the hand touches
    it there, ``fitting`` the kind of fitting it is when it is on a frame.
    """

    label: str
    form: Form
    hardness: Hardness
    undo: Undo
    is_seen: bool
    caution: str
    at_skin: bool = False
    is_lead: bool = False
    is_metal: bool = False
    fitting: FittingKind | None = None


_SOFT, _BENDS, _STIFF = Hardness
_CLEAN, _LASTING, _TRIAL = Undo

KINDS: Final = MappingProxyType(
    {
        MaterialKind.LEAD_TAPE: KindFacts(
            "lead tape",
            Form.TAPE,
            _SOFT,
            _CLEAN,
            True,
            "Lead: gloves, wash hands after, not under a grip.",
            is_lead=True,
            is_metal=True,
        ),
        MaterialKind.TUNGSTEN_TAPE: KindFacts(
            "tungsten tape",
            Form.TAPE,
            _STIFF,
            _CLEAN,
            True,
            "Its cut edges are sharp; stiff strips lift where the rim bends.",
            is_metal=True,
        ),
        MaterialKind.COPPER_TAPE: KindFacts(
            "copper tape",
            Form.TAPE,
            _BENDS,
            _CLEAN,
            True,
            "Its edges cut: several shallow passes with a sharp blade, away from your body.",
            is_metal=True,
        ),
        MaterialKind.EDGE_TAPE: KindFacts(
            "protective edge tape",
            Form.TAPE,
            _SOFT,
            _CLEAN,
            True,
            "It holds and hides what lies under it; stretch it little.",
            fitting=FittingKind.EDGE_TAPE,
        ),
        MaterialKind.TUNGSTEN_PUTTY: KindFacts(
            "tungsten putty",
            Form.PUTTY,
            _SOFT,
            _CLEAN,
            False,
            "Press it on clean, dry ground; it creeps in a hot car.",
        ),
        MaterialKind.REMOVABLE_PUTTY: KindFacts(
            "removable putty",
            Form.PUTTY,
            _SOFT,
            _CLEAN,
            False,
            "Stop it with cotton, or it works loose in the cavity.",
        ),
        MaterialKind.SILICONE: KindFacts(
            "silicone",
            Form.PUTTY,
            _SOFT,
            _LASTING,
            False,
            "It stays for good and cures for a day; air the room. Try the weight with putty first.",
        ),
        MaterialKind.BUTT_CAP: KindFacts(
            "heavier butt cap",
            Form.ITEM,
            _STIFF,
            _CLEAN,
            False,
            "Staples and blades: pull staples away from your hand.",
        ),
        MaterialKind.MODULE: KindFacts(
            "trial weight, clip-on or on paper",
            Form.ITEM,
            _STIFF,
            _TRIAL,
            True,
            "For trials only: it slides and catches the air.",
        ),
        MaterialKind.COTTON: KindFacts(
            "cotton plug", Form.ITEM, _SOFT, _CLEAN, False, "It stops what is in the cavity."
        ),
        MaterialKind.DAMPENER: KindFacts(
            "dampener", Form.ITEM, _SOFT, _CLEAN, True, "", fitting=FittingKind.DAMPENER
        ),
        MaterialKind.LEATHER: KindFacts(
            "leather grip",
            Form.SLEEVE,
            _BENDS,
            _CLEAN,
            True,
            "It is thinner and firmer in the hand.",
            at_skin=True,
            fitting=FittingKind.LEATHER,
        ),
        MaterialKind.GRIP: KindFacts(
            "grip", Form.SLEEVE, _SOFT, _CLEAN, True, "", at_skin=True, fitting=FittingKind.GRIP
        ),
        MaterialKind.OVERGRIP: KindFacts(
            "overgrip",
            Form.SLEEVE,
            _SOFT,
            _CLEAN,
            True,
            "One more makes the grip larger; the plan tells by how much.",
            at_skin=True,
            fitting=FittingKind.OVERGRIP,
        ),
    }
)


@dataclass(frozen=True, kw_only=True)
class StartingMaterial:
    """What a new shop finds on its shelf; ``sold`` is cm of tape, g of putty or pieces in a package."""

    name: str
    kind: MaterialKind
    weight: float  # g/cm, g/cm³ or g, by the kind's form
    sold: float = 1.0
    width_mm: float | None = None


STARTING_SHELF: Final = tuple(
    StartingMaterial(name=name, kind=kind, weight=weight, sold=sold, width_mm=width)
    for name, kind, weight, sold, width in (
        ("Lead tape, quarter inch", MaterialKind.LEAD_TAPE, 0.10, 1000.0, 6.35),
        ("Lead tape, three-eighths inch", MaterialKind.LEAD_TAPE, 0.15, 1000.0, 9.5),
        ("Lead tape, half inch", MaterialKind.LEAD_TAPE, 0.20, 8 * CM_PER_IN, 12.7),
        ("Tungsten tape", MaterialKind.TUNGSTEN_TAPE, 0.26, 3 * CM_PER_IN, 7.0),
        ("Copper tape", MaterialKind.COPPER_TAPE, 0.06, 500.0, 10.0),
        ("Protective edge tape", MaterialKind.EDGE_TAPE, 0.035, 500.0, 25.0),
        ("Tungsten putty", MaterialKind.TUNGSTEN_PUTTY, 8.0, 25.0, None),
        ("Removable putty", MaterialKind.REMOVABLE_PUTTY, 1.9, 60.0, None),
        ("Silicone", MaterialKind.SILICONE, 1.05, 80.0, None),
        ("Heavier butt cap, what it adds", MaterialKind.BUTT_CAP, 6.0, 1.0, None),
        ("Clip-on module", MaterialKind.MODULE, 3.0, 2.0, None),
        ("Trial weight taped on paper", MaterialKind.MODULE, 1.0, 4.0, None),
        ("Cotton plug", MaterialKind.COTTON, 0.4, 50.0, None),
        ("Dampener", MaterialKind.DAMPENER, 2.0, 1.0, None),
        ("Leather grip", MaterialKind.LEATHER, 24.0, 1.0, None),
        ("Grip sleeve", MaterialKind.GRIP, 16.0, 1.0, None),
        ("Overgrip", MaterialKind.OVERGRIP, 5.5, 3.0, None),
    )
)


class Cut(NamedTuple):
    """One cut of tape that was laid on the scale."""

    length_cm: float
    mass_g: float


def density_of_cuts(
    cuts: Sequence[Cut], *, length_u_cm: float = CUT_LENGTH_U_CM, mass_u_g: float = WEIGHED_U_G
) -> Estimate:
    """Grams per cm of a tape from cuts of it, with the ± of the next cut's density.

    Weighted least squares through the origin, m = λ·l. A cut's density is uncertain by its scale and
    its ruler: var(λᵢ) = (u_m² + λ²u_l²)/l². With several cuts the scatter among them counts where it
    is larger than that; with one alone, the usual unevenness of a roll is added.

    Raises:
        PieceError: no cut, or one without length or weight.
    """
    if not cuts or any(not (cut.length_cm > 0 and cut.mass_g > 0) for cut in cuts):
        raise PieceError(
            "Enter the length and the weight of one cut or several, each above 0.",
            code="no_cut",
            field="cuts",
        )
    rough = sum(c.mass_g for c in cuts) / sum(c.length_cm for c in cuts)
    own = mass_u_g**2 + (rough * length_u_cm) ** 2
    weight = sum(c.length_cm**2 for c in cuts) / own
    density = sum(c.length_cm * c.mass_g for c in cuts) / own / weight
    if len(cuts) == 1:
        return Estimate(density, math.hypot(1 / math.sqrt(weight), DENSITY_U_RELATIVE * density / 2))
    chi2 = sum((c.mass_g - density * c.length_cm) ** 2 for c in cuts) / own
    spread = max(1.0, chi2 / (len(cuts) - 1))
    return Estimate(density, math.sqrt(spread / weight))
