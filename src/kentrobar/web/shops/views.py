"""What a person sets for themselves."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils.http import url_has_allowed_host_and_scheme

from kentrobar.web.shops.forms import PreferencesForm


def preferences(request: HttpRequest) -> HttpResponse:
    """Units and theme; goes back to where the person came from."""
    back = request.POST.get("next") or request.GET.get("next") or ""
    if not url_has_allowed_host_and_scheme(back, allowed_hosts={request.get_host()}):
        back = ""
    form = PreferencesForm(request.POST or None, instance=request.user)
    if request.method == "POST" and form.is_valid():
        form.save()
        return redirect(back or "frames:list")
    return render(request, "shops/preferences.html", {"form": form, "next": back})
