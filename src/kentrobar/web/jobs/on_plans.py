"""What the board of a plan says of the bench."""

from __future__ import annotations

from django.urls import reverse

from kentrobar.web.planning.above import Beside
from kentrobar.web.planning.models import Plan


def bench_of_plan(plan: Plan) -> list[Beside]:
    """The work that is begun, or the way to begin it."""
    if not plan.pieces:
        return []
    begun = plan.works.filter(ended_at=None).exists()
    text = "on the bench" if begun else "take it to the bench"
    return [Beside(text, reverse("jobs:plan", args=[plan.pk]), is_action=True)]
