"""What a person sets for themselves."""

from django.contrib import messages
from django.db import transaction
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.utils.http import url_has_allowed_host_and_scheme

from kentrobar.web.kit.merging import row_to_edit
from kentrobar.web.kit.records import save_form, write
from kentrobar.web.kit.requests import page
from kentrobar.web.shops.forms import PreferencesForm, RangesForm, RulesForm, ShopForm
from kentrobar.web.shops.models import Shop, User
from kentrobar.web.shops.requests import SignedIn


@transaction.atomic
def preferences(request: SignedIn) -> HttpResponse:
    """Units and theme; goes back to where the person came from."""
    back = _back(request)
    own = row_to_edit(request, User.objects.all(), request.user.pk)
    form = PreferencesForm(request.POST or None, instance=own)
    if request.method == "POST" and form.is_valid():
        save_form(form)
        return redirect(back or "frames:list")
    return render(request, "shops/preferences.html", {"form": form, "next": back})


def _back(request: SignedIn) -> str:
    """Where the person came from, "" where that is not a page of ours."""
    back = request.POST.get("next") or request.GET.get("next") or ""
    is_ours = back.startswith("/") and url_has_allowed_host_and_scheme(back, {request.get_host()})
    return back if is_ours else ""


@transaction.atomic
def shop(request: SignedIn) -> HttpResponse:
    """The shop's name, place, rule of what is felt, and what it sees as usual."""
    own, units = row_to_edit(request, Shop.objects.all(), request.user.own_shop.pk), request.user.units
    form = ShopForm(request.POST or None, instance=own)
    ranges = RangesForm(request.POST or None, shop=own, units=units)
    rules = RulesForm(request.POST or None, shop=own)
    are_sound = [each.is_valid() for each in (form, ranges, rules)]
    if request.method == "POST" and all(are_sound):
        save_form(form)
        write(own, usual_ranges=ranges.ranges, rules_of_play=rules.rules)
        messages.success(request, "Settings saved.")
        return redirect("shops:shop")
    context = {"form": form, "ranges": ranges, "rules": rules}
    return page(request, "shops/shop.html", context)
