"""What a board's page sends, as an action reads it."""

from __future__ import annotations

from kentrobar.core.editing.plan import PlanState
from kentrobar.web.materials.queries import accessories_of, fittings_by_key, shelf_of
from kentrobar.web.planning.board.parameters import ActionRequest
from kentrobar.web.shops.requests import SignedIn


def action_request(request: SignedIn, plan: PlanState) -> ActionRequest:
    """The values of a request about a plan; shelf and accessories are read where an action needs them."""
    user = request.user
    return ActionRequest(
        plan,
        request.POST.dict(),
        user.units.of_sport(plan.outline.sport),
        lambda: shelf_of(user),
        lambda: fittings_by_key(accessories_of(user)),
    )
