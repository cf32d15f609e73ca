"""What every template may need."""

from django.conf import settings
from django.http import HttpRequest


def house(request: HttpRequest) -> dict[str, object]:
    return {"demo": settings.DEMO}
