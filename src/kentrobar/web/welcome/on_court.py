"""What the invented club found out on court: where players hit."""

from __future__ import annotations

from typing import Final, NamedTuple

import numpy as np

from kentrobar.core.court.hits import Hit, is_on_face
from kentrobar.core.court.sweet_zone import hitting_face
from kentrobar.web.court.hits.services import mark_hits, start_hit_map
from kentrobar.web.frames.models import Frame
from kentrobar.web.shops.models import User

SEED: Final = 20260411


class _Played(NamedTuple):
    """Hits of one stroke: how many, their middle and how they scatter, across and along, cm."""

    frame: str
    stroke: str
    about: str
    number: int
    middle: tuple[float, float]
    spread: tuple[float, float]


PLAYED: Final = [
    _Played("Sedge 98 Tour", "volley", "Ink on the strings, at the net", 46, (-0.9, 51.0), (3.6, 3.4)),
    _Played("Mudlark 16", "punch", "Chalk on the face, one game", 22, (0.4, 30.2), (3.0, 2.6)),
]  # fmt: skip


def load_court(technician: User) -> None:
    """Mark the hits of the demo."""
    rng = np.random.default_rng(SEED)
    for played in PLAYED:
        frame = Frame.objects.get(shop=technician.shop_id, label=played.frame)
        hit_map = start_hit_map(frame, technician, stroke=played.stroke, about=played.about)
        mark_hits(hit_map, _hits(played, frame, rng), 0)


def _hits(played: _Played, frame: Frame, rng: np.random.Generator) -> list[Hit]:
    face = hitting_face(frame.outline)
    found: list[Hit] = []
    while len(found) < played.number:
        hit = Hit(*rng.normal(played.middle, played.spread).tolist())
        if is_on_face(hit, face):
            found.append(hit)
    return found
