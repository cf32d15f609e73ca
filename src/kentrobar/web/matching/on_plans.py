"""What the board of a plan says of the set that it was laid for."""

from __future__ import annotations

from django.urls import reverse

from kentrobar.web.matching.models import FrameSet
from kentrobar.web.planning.above import Beside
from kentrobar.web.planning.models import Plan


def set_of_plan(plan: Plan) -> list[Beside]:
    """The sets that a plan was laid for."""
    sets = FrameSet.objects.filter(layings__plans=plan).distinct()
    return [
        Beside(f"of the set “{each.name}”", reverse("matching:set", args=[each.pk]))
        for each in sets
    ]
