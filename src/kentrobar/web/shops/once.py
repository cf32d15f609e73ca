"""A form is taken once, however often it is sent: a double click, a reload, a press of Back.

Each page that is made carries a token of its own (Django's against forgery, masked anew each time). The
same page sending the same words to the same address again is the same submission. Another page, or other
words, is another.
"""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from datetime import timedelta
from functools import partial
from typing import Any

from django.contrib import messages
from django.db import IntegrityError, transaction
from django.http import HttpRequest, HttpResponse, HttpResponseBase
from django.shortcuts import redirect
from django.utils import timezone

from kentrobar.web.shops.models import Submission, User

KEPT = timedelta(days=7)
_TOKEN = "csrfmiddlewaretoken"  # noqa: S105 - the name of a field

View = Callable[..., HttpResponseBase]


class IdempotentForm:
    """Middleware: calls the view of a form once; later answers lead where the first one led."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        return self.get_response(request)

    def process_view(
        self, request: HttpRequest, view: View, args: list[Any], kwargs: dict[str, Any]
    ) -> HttpResponseBase | None:
        # What scripts send bears the token in a header; the board marks its changes itself.
        is_form = _TOKEN in request.POST and "X-CSRFToken" not in request.headers
        if request.method != "POST" or not is_form or not isinstance(request.user, User):
            return None
        answer = partial(view, request, *args, **kwargs)
        try:
            return _once(request, request.user, answer)
        except IntegrityError:  # somebody gave the same name at the same time: now the form sees theirs
            for _, files in request.FILES.lists():
                for file in files:
                    file.seek(0)
            return _once(request, request.user, answer)


@transaction.atomic
def _once(request: HttpRequest, user: User, answer: Callable[[], HttpResponseBase]) -> HttpResponseBase:
    # A second one that comes at the same time waits here until the first is done.
    taken, is_new = Submission.objects.get_or_create(user=user, mark=_mark(request))
    if not is_new:
        messages.info(request, "This was taken already; nothing was done twice.")
        return redirect(taken.led_to)
    response = answer()
    if response.status_code == 302:
        Submission.objects.filter(pk=taken.pk).update(led_to=response.headers["Location"])
    else:
        taken.delete()  # it could not be taken, and may be fixed and sent again
    return response


def _mark(request: HttpRequest) -> str:
    sent = [request.path, *(f"{name}={values}" for name, values in sorted(request.POST.lists()))]
    for name, files in sorted(request.FILES.lists()):
        sent += [f"{name}={file.name} {file.size}" for file in files]
    return hashlib.sha256("\n".join(sent).encode()).hexdigest()


def forget_old_submissions() -> None:
    """Nobody sends a page of last week again."""
    Submission.objects.filter(taken_at__lt=timezone.now() - KEPT).delete()
