"""Every write of what the bench has learnt."""

from __future__ import annotations

from django.db import transaction
from django.utils import timezone

from kentrobar.core.quantities.estimates import Estimate
from kentrobar.web.bench.models import DensityCorrection, PlaceCorrection
from kentrobar.web.kit.records import locked, write
from kentrobar.web.materials.models import Material
from kentrobar.web.shops.models import Shop, User


@transaction.atomic
def take_over(material: Material, found: Estimate, jobs: int, by: User) -> DensityCorrection:
    """Take a tape for what the bench found it to weigh; plans that are laid keep what they were laid with."""
    kept = locked(material)
    made = DensityCorrection.objects.create(
        material=kept,
        before_g_per_cm=kept.g_per_cm or 0.0,
        before_u=kept.g_per_cm_u or 0.0,
        g_per_cm=found.value,
        u=found.u,
        jobs=jobs,
        made_by=by,
    )
    _take_for(kept, found.value, found.u)
    return made


@transaction.atomic
def take_back(correction: DensityCorrection) -> None:
    """Take a tape for what it was taken for before, unless its weight was changed since."""
    kept = locked(correction)
    material = locked(kept.material)
    if kept.taken_back_at is None and material.g_per_cm == kept.g_per_cm:
        write(kept, taken_back_at=timezone.now())
        _take_for(material, kept.before_g_per_cm, kept.before_u)


def _take_for(material: Material, g_per_cm: float, u: float) -> None:
    write(material, g_per_cm=g_per_cm, g_per_cm_u=u, typed_density={}, cuts=[])


@transaction.atomic
def expect_off(shop: Shop, site: str, offset_cm: Estimate, pieces: int, by: User) -> PlaceCorrection:
    """Expect pieces at a place to lie off by what was found; what lies keeps what it was laid with."""
    locked(shop)
    now = timezone.now()
    PlaceCorrection.objects.filter(shop=shop, site=site, taken_back_at=None).update(taken_back_at=now)
    return PlaceCorrection.objects.create(
        shop=shop, site=site, offset_cm=offset_cm.value, u_cm=offset_cm.u, pieces=pieces, made_by=by
    )


@transaction.atomic
def expect_as_meant(correction: PlaceCorrection) -> None:
    """Take back what was expected of a place."""
    kept = locked(correction)
    if kept.taken_back_at is None:
        write(kept, taken_back_at=timezone.now())
