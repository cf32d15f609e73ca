"""What the board of a plan and the page of a frame say of their sets."""

from __future__ import annotations

from django.db.models import QuerySet
from django.urls import reverse

from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.archive import IN_USE
from kentrobar.web.matching.models import FrameSet
from kentrobar.web.planning.hooks import PlanNote
from kentrobar.web.planning.models import Plan
from kentrobar.web.shops.models import User


def set_of_plan(plan: Plan) -> list[PlanNote]:
    """The sets that a plan was laid for."""
    sets = FrameSet.objects.filter(layings__plans=plan).distinct()
    return [PlanNote(f"of the set “{each.name}”", reverse("matching:set", args=[each.pk])) for each in sets]


def sets_panel(frame: Frame, _user: User) -> QuerySet[FrameSet]:
    """The sets that a frame is of."""
    return frame.sets.filter(IN_USE)
