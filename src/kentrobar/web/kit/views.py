"""Pages that belong to no stage of the work, and the card of a search."""

from __future__ import annotations

import sys
from typing import Any

from django.contrib.auth.decorators import login_not_required
from django.db import Error, InterfaceError, OperationalError, connection
from django.db.models import QuerySet
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.template.loader import get_template
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.http import require_GET, require_POST

from kentrobar.web.kit import searches
from kentrobar.web.kit.models import Search
from kentrobar.web.kit.requests import read_count


@login_not_required
def health(request: HttpRequest) -> HttpResponse:
    """Answers when web server and database are up; 503 while the database is not."""
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT 1")
    except Error:
        return HttpResponse("The database does not answer.", status=503, content_type="text/plain")
    return HttpResponse("ok", content_type="text/plain")


@login_not_required
def not_found(request: HttpRequest, exception: Exception) -> HttpResponse:
    return render(request, "404.html", status=404)


def broken(request: HttpRequest) -> HttpResponse:
    """What is answered where a page broke; it asks no database, which may be what is away."""
    is_away = isinstance(sys.exc_info()[1], OperationalError | InterfaceError)
    template, status = ("503.html", 503) if is_away else ("500.html", 500)
    answer = HttpResponse(get_template(template).render(), status=status)
    if is_away:
        answer["Retry-After"] = "10"
    return answer


@require_GET
def search(request: HttpRequest, pk: int) -> HttpResponse:
    """One search as its card, however far it has come; htmx asks again until it is over."""
    cards = searches.cards_of([get_object_or_404(_mine(request), pk=pk)], request.user)
    answer = render(request, "kit/_search.html", {"c": cards[0] if cards else None})
    if cards and cards[0].leads_to:
        answer["HX-Redirect"] = cards[0].leads_to
    return answer


@require_POST
def stop_searches(request: HttpRequest) -> HttpResponse:
    """End searches with what they have, and go back to their page."""
    keys = [read_count(pk) for pk in request.POST.getlist("search")]
    for each in _mine(request).filter(pk__in=keys):
        searches.stop(each)
    back = request.POST.get("back", "")
    is_ours = url_has_allowed_host_and_scheme(back, allowed_hosts={request.get_host()})
    return redirect(back if is_ours else "/")


def _mine(request: HttpRequest) -> QuerySet[Search]:
    user: Any = request.user
    return Search.objects.filter(shop=user.shop_id)
