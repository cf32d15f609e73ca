"""What the bench has learnt of its rolls: from which jobs, how surely, and what is proposed."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.rounds.evidence import Evidence, Finding, together
from kentrobar.core.weight.pieces import Source
from kentrobar.web.jobs.models import Correction, RollFinding
from kentrobar.web.jobs.rounds import Stand
from kentrobar.web.materials.models import Material
from kentrobar.web.shops.models import User


class Roll(NamedTuple):
    """One material with its evidence: the findings of jobs that took it for what it is taken for now."""

    material: Material
    findings: Sequence[RollFinding]
    evidence: Evidence
    correction: Correction | None

    @property
    def proposed(self) -> Estimate:
        """Its weight per length by the evidence, g/cm."""
        g_per_cm, factor = self.material.g_per_cm or 0.0, self.evidence.factor
        return Estimate(g_per_cm * factor.value, g_per_cm * factor.u)


def rolls_of(user: User) -> list[Roll]:
    """Every tape that anything was found of, or corrected."""
    materials = (
        Material.objects.filter(shop=user.shop_id, g_per_cm__isnull=False)
        .prefetch_related("findings__work__plan__frame", "corrections")
    )  # fmt: skip
    return [roll_of(each) for each in materials if each.findings.all() or each.corrections.all()]


def roll_of(material: Material) -> Roll:
    """A tape with its evidence: of the jobs that took it for what it is taken for now."""
    g_per_cm, u = material.g_per_cm or 0.0, material.g_per_cm_u or 0.0
    found = [f for f in material.findings.all() if abs(f.g_per_cm - g_per_cm) < 1e-9]
    told = [Finding(Estimate(f.factor, f.factor_u), f.u_before) for f in found]
    last = next((c for c in material.corrections.all() if c.taken_back_at is None), None)
    is_last = last is not None and abs(last.g_per_cm - g_per_cm) < 1e-9
    return Roll(material, found, together(told, u / g_per_cm), last if is_last else None)


def findings_of(stand: Stand) -> Iterator[RollFinding]:
    """What a work that was read knows of each roll of the shelf that it laid of."""
    if all(each.is_questioned for each in stand.rounds):
        return
    for piece in stand.plan.pieces:
        density, roll = piece.density, piece.shared_key
        is_stock = isinstance(roll, Source) and roll.stock and roll in stand.belief.rolls()
        if is_stock and isinstance(density, Estimate) and density.u > 0:
            assert isinstance(roll, Source)  # noqa: S101 - told above
            factor = stand.belief.density_factor(roll)
            yield RollFinding(
                work=stand.work, material_id=roll.stock, g_per_cm=density.value,
                u_before=density.u / density.value, factor=factor.value, factor_u=factor.u,
            )  # fmt: skip
