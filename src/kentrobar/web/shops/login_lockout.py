"""Who stands at the door: failed sign-ins are counted by account, however its name is spelled."""

from __future__ import annotations

from typing import Any

from django.db.models import Q
from django.http import HttpRequest

from kentrobar.web.shops.models import User


def account_meant(request: HttpRequest, credentials: dict[str, Any] | None) -> str:
    """The account that a typed name or address means, in one spelling; the name itself where it is none."""
    typed = (credentials or {}).get("login") or (credentials or {}).get("username")
    name = str(typed or request.POST.get("login", "")).strip()
    meant = User.objects.filter(Q(username__iexact=name) | Q(email__iexact=name)).first() if name else None
    return meant.username if meant else name.casefold()
