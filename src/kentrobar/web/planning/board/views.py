"""What the board's page asks while a hand works: a preview, a change, the parts as they are now."""

from __future__ import annotations

from django.http import Http404, JsonResponse
from django.shortcuts import get_object_or_404
from django.template.loader import render_to_string
from django.views.decorators.http import require_GET, require_POST

from kentrobar.core.editing.violation_handling import ViolationError
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.web.kit.records import ChangedError
from kentrobar.web.kit.requests import context_of, read_count
from kentrobar.web.planning import services
from kentrobar.web.planning.board import view_models
from kentrobar.web.planning.board.actions import act
from kentrobar.web.planning.board.context import board_view
from kentrobar.web.planning.board.requests import action_request
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.queries import plan_in_hand, plans_in_full
from kentrobar.web.planning.stored import plan_state
from kentrobar.web.shops.requests import SignedIn

FRAGMENTS = ("start", "placed", "pieces", "specs", "compared", "cautions", "hold", "steps", "warned")


@require_POST
def preview(request: SignedIn, pk: int) -> JsonResponse:
    """What an action would make of the plan: numbers and shapes, nothing saved."""
    held = plan_in_hand(request.user, pk)
    if held is None:
        raise Http404
    try:
        shown = act(request.POST.get("action", ""), action_request(request, held)).plan
    except KentrobarError as error:
        return _refusal(error)
    units = request.user.units.of_sport(shown.outline.sport)
    if request.POST.get("action") == "add":
        return JsonResponse(view_models.ghost(shown, units))
    moved = read_count(request.POST.get("piece", ""))
    texts = view_models.numbers(shown, units, moved)
    return JsonResponse({"numbers": texts, **view_models.shapes(shown, moved)})


@require_POST
def change(request: SignedIn, pk: int) -> JsonResponse:
    """Carry out an action, undo or redo, save it and answer with the changed parts of the page."""
    plan = get_object_or_404(plans_in_full(request.user), pk=pk)
    mark = request.POST.get("mark", "")[:40]
    try:
        if not _is_made(plan, mark):
            _change(request, plan, mark)
    except ChangedError as error:
        plan = plans_in_full(request.user).get(pk=pk)
        if not _is_made(plan, mark):  # nor by the same request, sent twice at once
            return _conflict(plan, error)
    except KentrobarError as error:
        return _refusal(error)
    answer = _parts(request, plan)
    if request.POST.get("action") == "add":
        answer["placed"] = plan.pieces[-1]["id"]
    return JsonResponse(answer)


def _is_made(plan: Plan, mark: str) -> bool:
    """Whether the plan's last change is the one of this mark: its answer was lost on the way."""
    return bool(mark) and mark == plan.last_change


def _change(request: SignedIn, plan: Plan, mark: str) -> None:
    base, name = read_count(request.POST.get("base", "")), request.POST.get("action", "")
    if base != plan.version:
        raise ChangedError(plan)
    walk = {"undo": services.undo, "redo": services.redo}.get(name)
    if walk:
        walk(plan, base, mark)
        return
    done = act(name, action_request(request, plan_state(plan)))
    services.save_plan(plan, done, base, request.user, mark)


@require_GET
def parts(request: SignedIn, pk: int) -> JsonResponse:
    """The changing parts of the page as they are now, for a page that fell behind."""
    plan = get_object_or_404(plans_in_full(request.user), pk=pk)
    if request.GET.get("version") == str(plan.version):
        return JsonResponse({"version": plan.version})
    return JsonResponse(_parts(request, plan))


def _parts(request: SignedIn, plan: Plan) -> dict[str, object]:
    board = board_view(plan, request.user)
    context = context_of(board, is_screen=True)
    return {
        "version": plan.version,
        "revision": plan.at,
        "name": plan.name,
        "undo": plan.undo_to is not None,
        "redo": bool(plan.redo),
        "axis": board.axis.text,
        "said": view_models.said_text(plan),
        "spoken": view_models.spoken_text(board.cards),
        "fulcrum": board.fulcrum_after,
        "html": {name: render_to_string(f"planning/_{name}.html", context, request) for name in FRAGMENTS},
    }


def _refusal(error: KentrobarError) -> JsonResponse:
    answer: dict[str, object] = {"message": error.message, "field": error.field}
    if isinstance(error, ViolationError):
        answer |= {"code": error.code, "fixes": error.fixes}
    return JsonResponse(answer, status=422)


def _conflict(plan: Plan, error: ChangedError) -> JsonResponse:
    latest = plan.revisions.select_related("made_by").latest("number")
    who = latest.made_by.username if latest.made_by else "somebody"
    answer = {"message": error.message, "theirs": f"{who} {latest.summary}", "version": plan.version}
    return JsonResponse(answer, status=409)
