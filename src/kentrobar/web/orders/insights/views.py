"""Insights, and what is taken over of it."""

from __future__ import annotations

from django.db import transaction
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET, require_POST

from kentrobar.web.bench.evidence import places_of, roll_of, rolls_of, shifts_of
from kentrobar.web.bench.models import DensityCorrection, PlaceCorrection
from kentrobar.web.frames.model_figures import models_seen
from kentrobar.web.kit.merging import row_to_edit
from kentrobar.web.kit.records import locked
from kentrobar.web.materials.queries import materials_of
from kentrobar.web.measuring.comparing.instruments import compared, persons_compared
from kentrobar.web.measuring.queries import instruments_of
from kentrobar.web.measuring.services import correct_by, correct_no_more
from kentrobar.web.orders.insights import services
from kentrobar.web.orders.insights.view_models import (
    comparison_view,
    lengths_for_points,
    model_view,
    place_view,
    roll_view,
    shift_view,
)
from kentrobar.web.shops.requests import SignedIn


@require_GET
def insights(request: SignedIn) -> HttpResponse:
    """Insights of rolls, making permanent, instruments and models, with the evidence."""
    user = request.user
    context = {
        "rolls": [roll_view(each, user.units) for each in rolls_of(user)],
        "shifts": [shift_view(each) for each in shifts_of(user)],
        "places": [place_view(each, user.units) for each in places_of(user)],
        "instruments": [comparison_view(each, user.units) for each in compared(user)],
        "corrected": [each for each in instruments_of(user) if each.compared_with],
        "persons": [comparison_view(each, user.units) for each in persons_compared(user)],
        "specs": lengths_for_points(user.units),
        "models": [model_view(each, user.units) for each in models_seen(user)],
    }
    return render(request, "orders/insights/insights.html", context)


@require_POST
@transaction.atomic
def take_over(request: SignedIn, material_pk: int) -> HttpResponse:
    """Take a tape for what was found, as the page told it: once, however often it is sent."""
    roll = roll_of(row_to_edit(request, materials_of(request.user), material_pk))
    if roll.evidence.is_off and request.POST.get("jobs") == str(roll.evidence.jobs):
        services.take_over(roll.material, roll.proposed, roll.evidence.jobs, request.user)
    return redirect("orders:insights")


@require_POST
def take_back(request: SignedIn, correction_pk: int) -> HttpResponse:
    """Take a tape for what it was taken for before."""
    mine = DensityCorrection.objects.filter(material__shop=request.user.shop_id)
    services.take_back(get_object_or_404(mine, pk=correction_pk))
    return redirect("orders:insights")


@require_POST
@transaction.atomic
def correct_instrument(request: SignedIn, instrument_pk: int) -> HttpResponse:
    """Let an instrument read as the one it was compared with, by what the page told: once."""
    instrument = row_to_edit(request, instruments_of(request.user), instrument_pk)
    for each in compared(request.user):
        is_as_shown = request.POST.get("difference") == comparison_view(each, request.user.units).difference
        if each.instrument == instrument.pk and each.found.is_real and is_as_shown:
            correct_by(instrument, each.one, each.found.difference, request.user)
            break
    return redirect("orders:insights")


@require_POST
def instrument_as_before(request: SignedIn, instrument_pk: int) -> HttpResponse:
    """Take a correction back that came from a comparison."""
    correct_no_more(get_object_or_404(instruments_of(request.user), pk=instrument_pk), request.user)
    return redirect("orders:insights")


@require_POST
@transaction.atomic
def expect_off(request: SignedIn, site: str) -> HttpResponse:
    """Expect pieces at a place to lie off as the page told it: once, however often it is sent."""
    shop = locked(request.user.own_shop)
    for each in places_of(request.user):
        if each.site == site and each.is_off and request.POST.get("jobs") == str(each.usual.jobs):
            services.expect_off(shop, site, each.usual.next_one, each.usual.jobs, request.user)
    return redirect("orders:insights")


@require_POST
def expect_as_meant(request: SignedIn, correction_pk: int) -> HttpResponse:
    """Take back what was expected of a place."""
    mine = PlaceCorrection.objects.filter(shop=request.user.shop_id)
    services.expect_as_meant(get_object_or_404(mine, pk=correction_pk))
    return redirect("orders:insights")
