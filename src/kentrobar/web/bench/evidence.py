"""Insights of its rolls: from which jobs, how surely, and what is proposed."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from typing import Final, NamedTuple

from django.db.models import Prefetch, QuerySet

from kentrobar.core.frame.outline import Outline
from kentrobar.core.frame.sites import sites_of
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.rounds.estimation import PERMANENT
from kentrobar.core.rounds.evidence import (
    FEWEST_JOBS,
    SIGMAS_OF_95,
    Evidence,
    Finding,
    Usual,
    together,
    usually,
)
from kentrobar.core.solving.chance import matrix_of
from kentrobar.core.weight.pieces import PLACE_U_CM, Piece, Source, effect_of
from kentrobar.web.bench.models import (
    BenchEvent,
    DensityCorrection,
    PlaceCorrection,
    PlaceFinding,
    RollFinding,
    ShiftFinding,
)
from kentrobar.web.bench.rounds import WorkState
from kentrobar.web.materials.models import Material
from kentrobar.web.shops.models import User

TELLS: Final = 0.8  # of the ± that was there before: more than that is left where nothing was learnt
LEAST_PLACE_U_CM: Final = 0.02  # less is no place along the frame
SHIFT_SCATTER: Final = 0.005  # by which part jobs differ in what shifts, until they tell it


class Roll(NamedTuple):
    """One material with its evidence: the findings of jobs that took it for what it is taken for now."""

    material: Material
    findings: Sequence[RollFinding]
    evidence: Evidence
    correction: DensityCorrection | None

    @property
    def proposed(self) -> Estimate:
        """Its weight per length by the evidence, g/cm."""
        g_per_cm, factor = self.material.g_per_cm or 0.0, self.evidence.factor
        return Estimate(g_per_cm * factor.value, g_per_cm * factor.u)


def rolls_of(user: User) -> list[Roll]:
    """Every tape that anything was found of, or corrected."""
    materials = Material.objects.filter(shop=user.shop_id, g_per_cm__isnull=False).prefetch_related(
        "findings__work__plan__frame", "corrections"
    )
    return [roll_of(each) for each in materials if each.findings.all() or each.corrections.all()]


def roll_of(material: Material) -> Roll:
    """A tape with its evidence: of the jobs that took it for what it is taken for now."""
    g_per_cm, u = material.g_per_cm or 0.0, material.g_per_cm_u or 0.0
    found = [f for f in material.findings.all() if abs(f.g_per_cm - g_per_cm) < 1e-9]
    learnt = [Finding(Estimate(f.factor, f.factor_u), f.u_before) for f in found]
    last = next((c for c in material.corrections.all() if c.taken_back_at is None), None)
    is_last = last is not None and abs(last.g_per_cm - g_per_cm) < 1e-9
    return Roll(material, found, together(learnt, u / g_per_cm), last if is_last else None)


class MaterialShift(NamedTuple):
    """One material with what jobs told of how it shifts when it is made permanent."""

    material: Material
    findings: Sequence[ShiftFinding]
    usual: Usual


def shifts_of(user: User) -> list[MaterialShift]:
    """Every material of which any job told how it shifts."""
    learnt = ShiftFinding.objects.select_related("work__plan__frame")
    materials = Material.objects.filter(shop=user.shop_id, shift_findings__isnull=False).distinct()
    return [_shift(m) for m in materials.prefetch_related(Prefetch("shift_findings", learnt))]


def _shift(material: Material) -> MaterialShift:
    findings = list(material.shift_findings.all())
    learnt = [Finding(Estimate(f.shift, f.shift_u), f.u_before, f.before) for f in findings]
    return MaterialShift(material, findings, usually(learnt, PERMANENT, SHIFT_SCATTER))


def expected_shifts(user: User) -> dict[str, tuple[float, float]]:
    """What to expect of each material that is made permanent, by its key, as an event keeps it."""
    learnt = {str(each.material.pk): each.usual.next_one for each in shifts_of(user)}
    return {key: (shift.value, shift.u) for key, shift in learnt.items()}


def shift_findings_of(state: WorkState) -> Iterator[ShiftFinding]:
    """What a work that was read after it was made permanent knows of each material of the shelf."""
    if not state.is_read_for_good:
        return
    permanent = [e for e in state.work.events.all() if e.kind == BenchEvent.EventKind.PERMANENT]
    expected = permanent[-1].data.get("shifts", {}) if permanent else {}
    for shared, shift in state.belief.permanent_shifts().items():
        if isinstance(shared, Source) and shared.stock:
            before = Estimate(*expected.get(str(shared.stock), PERMANENT))
            yield ShiftFinding(
                work=state.work,
                material_id=shared.stock,
                before=before.value,
                u_before=before.u,
                shift=shift.value,
                shift_u=shift.u,
            )


class PlaceLearnt(NamedTuple):
    """One named place with what jobs told of how far off it pieces lie there, cm toward the tip."""

    site: str
    usual: Usual
    correction: PlaceCorrection | None

    @property
    def is_off(self) -> bool:
        """Whether the 95 % interval of the mean leaves out what is expected there."""
        expected = self.correction.offset_cm if self.correction else 0.0
        off = abs(self.usual.mean.value - expected)
        return self.usual.jobs >= FEWEST_JOBS and off > SIGMAS_OF_95 * self.usual.mean.u


def places_of(user: User) -> list[PlaceLearnt]:
    """Every named place of which jobs told something that was not known before."""
    by_site: dict[str, list[Finding]] = {}
    for each in PlaceFinding.objects.filter(work__plan__shop=user.shop_id):
        learnt = Finding(Estimate(each.offset_cm, each.offset_u_cm), each.u_before_cm, each.before_cm)
        by_site.setdefault(each.site, []).append(learnt)
    rule = Estimate(0.0, PLACE_U_CM)
    corrected = {each.site: each for each in corrections_of_places(user)}
    found = [
        PlaceLearnt(site, usually(learnt, rule, PLACE_U_CM), corrected.get(site))
        for site, learnt in by_site.items()
    ]
    return [each for each in found if each.usual.mean.u < TELLS * rule.u or each.correction]


def corrections_of_places(user: User) -> QuerySet[PlaceCorrection]:
    """What is taken over of places, and not taken back."""
    return PlaceCorrection.objects.filter(shop=user.shop_id, taken_back_at=None)


def expected_offset(user: User, piece: Piece, outline: Outline) -> Estimate | None:
    """By how much a piece is expected to lie off, where that was taken over; cm toward the tip."""
    site = nearest_site(piece, outline)
    found = corrections_of_places(user).filter(site=site).first()
    return Estimate(found.offset_cm, found.u_cm) if found else None


def nearest_site(piece: Piece, outline: Outline) -> str:
    """The key of the named place nearest to a piece."""
    at = piece.anchor(outline)
    near = min(sites_of(outline), key=lambda site: (abs(site.y_cm - at.y), abs(abs(site.x_cm) - abs(at.x))))
    return near.key


def place_findings_of(state: WorkState) -> Iterator[PlaceFinding]:
    """What a work that was read knows of where its pieces truly lie."""
    outline = state.plan.outline
    expected = {
        event.piece: Estimate(*event.data["place"])
        for event in state.work.events.all()
        if event.data.get("place")
    }
    for number, piece in state.applied_pieces():
        effect = effect_of(piece.sure_but_for_place(), outline)
        usual_u = math.sqrt(matrix_of(effect.covariance)[1, 1]) / abs(effect.moments.mass)
        if usual_u < LEAST_PLACE_U_CM:  # along the rim at 12 it moves across the frame alone
            continue
        offset = state.belief.place_offset(str(number))
        before = expected.get(number, Estimate(0.0, usual_u))
        yield PlaceFinding(
            work=state.work,
            piece=number,
            site=nearest_site(piece, outline),
            offset_cm=offset.value,
            offset_u_cm=offset.u,
            before_cm=before.value,
            u_before_cm=before.u,
        )


def all_findings_of(state: WorkState) -> list[RollFinding | ShiftFinding | PlaceFinding]:
    """All that a work that was read tells of rolls, of making permanent, of places."""
    if all(each.questioned for each in state.rounds):
        return []
    return [*findings_of(state), *shift_findings_of(state), *place_findings_of(state)]


def findings_of(state: WorkState) -> Iterator[RollFinding]:
    """What a work that was read knows of each roll of the shelf that it laid of."""
    for piece in state.plan.pieces:
        density, roll = piece.density, piece.shared_key
        is_stock = isinstance(roll, Source) and roll.stock and roll in state.belief.rolls()
        if is_stock and density and density.u > 0:
            assert isinstance(roll, Source)  # noqa: S101 - told above
            factor = state.belief.density_factor(roll)
            yield RollFinding(
                work=state.work,
                material_id=roll.stock,
                g_per_cm=density.value,
                u_before=density.u / density.value,
                factor=factor.value,
                factor_u=factor.u,
            )
