"""The rules of thumb of a shop, by themselves and beside a frame."""

from __future__ import annotations

from collections.abc import Iterable
from itertools import groupby

from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET, require_POST

from kentrobar.core.body.sport import Sport
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.web.frames.queries import frames_with_fittings
from kentrobar.web.kit.requests import page
from kentrobar.web.play.advice import services
from kentrobar.web.play.advice.forms import RuleForm
from kentrobar.web.play.advice.queries import all_rules, held_rules, one_rule
from kentrobar.web.play.advice.view_models import RuleView, rule_on_frame, rule_view
from kentrobar.web.play.impact.asking import HitForm
from kentrobar.web.play.impact.setting import bare_plan, plan_as_read
from kentrobar.web.shops.requests import SignedIn


@require_GET
def of_shop(request: SignedIn) -> HttpResponse:
    """All rules of thumb, each to be edited, the hidden ones too."""
    shown = [rule_view(each, request.user.units) for each in all_rules(request.user)]
    return render(request, "play/advice/list.html", {"topics": _by_topic(shown)})


@require_GET
def of_frame(request: SignedIn, pk: int) -> HttpResponse:
    """The rules of thumb with what they do to one frame."""
    frame = get_object_or_404(frames_with_fittings(request.user), pk=pk)
    units = request.user.units
    try:
        plan = bare_plan(frame)
    except KentrobarError:  # what a rule does to its specs holds all the same
        plan = plan_as_read(frame)
    choice = HitForm({}, sport=plan.outline.sport, units=units, has_plan=True).choice()
    shown = [
        rule_on_frame(each, plan, choice, units) for each in held_rules(request.user, Sport(frame.sport))
    ]
    return render(
        request,
        "play/advice/frame.html",
        {"frame": frame, "topics": _by_topic(shown), "stroke": choice.title},
    )


def _by_topic(shown: Iterable[RuleView]) -> list[tuple[str, list[RuleView]]]:
    return [(topic, list(rules)) for topic, rules in groupby(shown, key=lambda rule: rule.topic)]


def edit(request: SignedIn, key: str = "") -> HttpResponse:
    """Put the shop's words in the place of a rule's, or write a new one."""
    held = one_rule(request.user, key) if key else None
    if key and held is None:
        raise Http404
    form = RuleForm(request.POST or None, held=held, units=request.user.units)
    if request.method == "POST" and form.is_valid():
        services.keep_rule(request.user, key, **form.cleaned_data, is_hidden=False)
        return redirect("play:advice")
    return page(request, "play/advice/edit.html", {"form": form, "held": held})


@require_POST
def hide(request: SignedIn, key: str) -> HttpResponse:
    """Do not show a rule beside frames."""
    held = one_rule(request.user, key)
    if held is None:
        raise Http404
    kept = {"title": held.title, "says": list(held.says), "reason": held.reason, "not_where": held.not_where}
    services.keep_rule(request.user, key, **kept, is_hidden=True)
    return redirect("play:advice")


@require_POST
def drop(request: SignedIn, key: str) -> HttpResponse:
    """Back to what the house says."""
    services.drop_rule(request.user, key)
    return redirect("play:advice")
