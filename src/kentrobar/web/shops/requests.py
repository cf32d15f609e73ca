"""The request of somebody who is signed in: who they are, and whether htmx asks."""

from __future__ import annotations

from django.http import HttpRequest
from django_htmx.middleware import HtmxDetails

from kentrobar.web.shops.models import User


class SignedIn(HttpRequest):
    """What every view but the open ones is given; only a type, the middleware makes it so."""

    user: User
    htmx: HtmxDetails
