"""What the board of a plan says of the bench."""

from __future__ import annotations

from django.urls import reverse

from kentrobar.web.planning.above import Beside
from kentrobar.web.planning.models import Plan


def bench_of_plan(plan: Plan) -> list[Beside]:
    """The way to the bench, where the work is begun or goes on."""
    if not plan.pieces:
        return []
    return [Beside("to the bench", reverse("jobs:plan", args=[plan.pk]), is_action=True)]
