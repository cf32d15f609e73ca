"""The sample before sign-in, for the page that shows it."""

from django import template
from django.http import HttpRequest

from kentrobar.web.welcome.sample import SampleView, asked_for, sample_view

register = template.Library()


@register.simple_tag(takes_context=True)
def sample_board(context: template.Context) -> SampleView:
    """The sample with what the address has put on it."""
    request: HttpRequest = context["request"]
    return sample_view(*asked_for(request.GET.get("sport", ""), request.GET.getlist("on")))


@register.simple_tag(takes_context=True)
def kept_sample(context: template.Context) -> list[tuple[str, str]]:
    """What is kept of a sample while an account is made, as fields of its form; none where none is kept."""
    request: HttpRequest = context["request"]
    sent = request.POST or request.GET
    if "sport" not in sent:
        return []
    sport, on = asked_for(sent.get("sport", ""), sent.getlist("on"))
    return [("sport", sport.value), *(("on", key) for key in on)]
