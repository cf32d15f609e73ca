"""Pages that belong to no stage of the work."""

from django.contrib.auth.decorators import login_not_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render


@login_not_required
def health(request: HttpRequest) -> HttpResponse:
    """Answers when the web server is up; asks nothing of the database."""
    return HttpResponse("ok", content_type="text/plain")


@login_not_required
def not_found(request: HttpRequest, exception: Exception) -> HttpResponse:
    return render(request, "404.html", status=404)
