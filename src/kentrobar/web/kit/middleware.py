"""What is refused before any page sees it: bodies too large to read, text that no database holds."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Any, Final

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils.datastructures import MultiValueDict

from kentrobar.web.kit.requests import read_count

LARGEST_BODY: Final = 3_200_000  # bytes: the largest document, with what a form adds to it
LARGEST_OF_A_STRANGER: Final = 64_000  # a sign-in is a few hundred

Answer = Callable[[HttpRequest], HttpResponse]


class BoundedBody:
    """Refuses a body by its stated length, before any of it is read."""

    def __init__(self, get_response: Answer) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        is_known = settings.SESSION_COOKIE_NAME in request.COOKIES
        largest = LARGEST_BODY if is_known else LARGEST_OF_A_STRANGER
        stated = read_count(request.META.get("CONTENT_LENGTH") or "0", without=LARGEST_BODY + 1)
        if stated <= largest:
            return self.get_response(request)
        why = f"A file has at most {LARGEST_BODY / 1e6:.0f} MB here; check that it is the right one."
        return HttpResponse(why, status=413, content_type="text/plain")


class OrdinaryText:
    """Refuses what was sent with a NUL in it: no keyboard types one, no database holds one."""

    def __init__(self, get_response: Answer) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        return self.get_response(request)

    def process_view(self, request: HttpRequest, *_view: Any) -> HttpResponse | None:
        sent = _texts(request.GET, request.POST, request.FILES)
        if "\x00" in request.path or any("\x00" in text for text in sent):
            return render(request, "400.html", status=400)
        return None


def _texts(*sent: MultiValueDict[str, Any]) -> Iterable[str]:
    for each in sent:
        for name, values in each.lists():
            yield name
            yield from map(str, values)
