"""Pages that belong to no stage of the work."""

from django.contrib.auth.decorators import login_not_required
from django.db import Error, connection
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render


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
