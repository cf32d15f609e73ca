"""What the board of a plan says of the bench."""

from __future__ import annotations

from django.urls import reverse

from kentrobar.web.planning.hooks import PlanNote
from kentrobar.web.planning.models import Plan


def bench_of_plan(plan: Plan) -> list[PlanNote]:
    """The way to the bench, where the work is begun or goes on."""
    if not plan.pieces:
        return []
    return [PlanNote("Apply", reverse("bench:plan", args=[plan.pk]), is_action=True)]
