"""Every write of hit maps."""

from __future__ import annotations

from collections.abc import Sequence

from django.db import transaction

from kentrobar.core.play.hits import MOST_HITS, Hit, is_on_face
from kentrobar.core.play.sweet_zone import hitting_face
from kentrobar.core.quantities.errors import SpecError
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.records import locked_as_seen, write
from kentrobar.web.play.models import HitMap
from kentrobar.web.shops.models import User

DECIMALS = 2  # of a place on the face, cm: a tap is no finer


@transaction.atomic
def start_hit_map(frame: Frame, by: User, *, stroke: str, about: str) -> HitMap:
    """Start an empty map of one stroke."""
    return HitMap.objects.create(
        shop_id=frame.shop_id, frame=frame, stroke=stroke, about=about, created_by=by
    )


@transaction.atomic
def mark_hits(hit_map: HitMap, hits: Sequence[Hit], seen: int) -> None:
    """Mark hits on top of the ``seen`` first ones.

    Raises:
        ChangedError: hits were marked on another page meanwhile.
        SpecError: a hit beside the face, or too many.
    """
    kept = locked_as_seen(hit_map, seen)
    face = hitting_face(hit_map.frame.outline)
    if not all(is_on_face(hit, face) for hit in hits):
        raise SpecError("That is beside the face. Tap the ball's mark on it.", code="beside", field="hits")
    if len(kept.hits) + len(hits) > MOST_HITS:
        raise SpecError(f"A map holds {MOST_HITS} hits; begin another one.", code="too_many", field="hits")
    places = [[round(hit.x_cm, DECIMALS), round(hit.y_cm, DECIMALS)] for hit in hits]
    write(hit_map, hits=[*kept.hits, *places])


@transaction.atomic
def take_back(hit_map: HitMap, seen: int, number: int) -> None:
    """Take one hit back, the first being number 0. Raises as :func:`mark_hits`."""
    kept = locked_as_seen(hit_map, seen)
    if not 0 <= number < seen:
        raise SpecError("This impact is not on the map.", code="no_such_hit", field="hits")
    write(hit_map, hits=[hit for i, hit in enumerate(kept.hits) if i != number])
