"""The home page with its week, and the calendar to subscribe to."""

from __future__ import annotations

from datetime import date

from django.contrib.auth.decorators import login_not_required
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_GET, require_POST

from kentrobar.web.frames.queries import frames_of
from kentrobar.web.kit.records import write
from kentrobar.web.kit.requests import read_count, read_day
from kentrobar.web.materials.queries import shelf_of, shelf_of_shop
from kentrobar.web.orders.job_state import job_states
from kentrobar.web.orders.jobs.services import put_on
from kentrobar.web.orders.queries import (
    follow_ups,
    jobs_of,
    open_jobs,
    open_jobs_in,
    to_follow_up_in,
    works_without_job,
)
from kentrobar.web.orders.today.calendar import calendar_of
from kentrobar.web.orders.today.hooks import first_form
from kentrobar.web.orders.today.view_models import today_view, until
from kentrobar.web.orders.today.week import week_view
from kentrobar.web.shops.models import Shop, secret_address
from kentrobar.web.shops.requests import SignedIn

FIRST_YEAR, LAST_YEAR = 2000, 2200  # of weeks that are shown


@require_GET
def today(request: SignedIn) -> HttpResponse:
    """Next up, and the week."""
    user, day = request.user, timezone.localdate()
    found = job_states(open_jobs(user))
    to_follow_up = list(follow_ups(user, until(day)))
    home = today_view(found, to_follow_up, list(works_without_job(user)), day)
    week = week_view(found, shelf_of(user), user.own_shop.hours, _week_of(request), day)
    is_new = home.is_empty and not frames_of(user).exists()
    context = {"home": home, "week": week, "first": first_form(user) if is_new else None}
    return render(request, "orders/today/today.html", context)


@require_POST
def put(request: SignedIn, pk: int) -> HttpResponse:
    """Put a job on a day, at a place among the others; answers the week as it then is."""
    job = get_object_or_404(jobs_of(request.user), pk=pk)
    put_on(job, read_day(request.POST.get("day", "")), read_count(request.POST.get("place", ""), 999))
    day = timezone.localdate()
    week = week_view(
        job_states(open_jobs(request.user)),
        shelf_of(request.user),
        request.user.own_shop.hours,
        _week_of(request),
        day,
    )
    return render(request, "orders/today/_week.html", {"week": week})


@login_not_required
@require_GET
def calendar(request: HttpRequest, secret: str) -> HttpResponse:
    """The calendar of whoever knows its secret address."""
    shop = get_object_or_404(Shop, calendar_secret=secret)
    ical = calendar_of(shop, job_states(open_jobs_in(shop)), list(to_follow_up_in(shop)), shelf_of_shop(shop))
    return HttpResponse(ical, content_type="text/calendar; charset=utf-8")


def calendar_address(request: SignedIn) -> HttpResponse:
    """The secret address; made anew, the old one leads nowhere."""
    if request.method == "POST":
        write(request.user.own_shop, calendar_secret=secret_address())
        return redirect("orders:calendar_address")
    address = request.build_absolute_uri(f"/calendar/{request.user.own_shop.calendar_secret}.ics")
    return render(request, "orders/today/calendar.html", {"address": address})


def _week_of(request: SignedIn) -> date:
    day = read_day(request.GET.get("week") or request.POST.get("week", "")) or timezone.localdate()
    if not FIRST_YEAR <= day.year <= LAST_YEAR:
        raise Http404
    return day
