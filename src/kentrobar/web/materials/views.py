"""The shelf."""

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from kentrobar.web.materials import services
from kentrobar.web.materials.forms import MaterialWeightForm, NewAccessoryForm, WeighForm
from kentrobar.web.materials.models import Accessory, Material


def shelf(request: HttpRequest) -> HttpResponse:
    """All materials of the shop with what they weigh."""
    return _render_shelf(request, {})


@require_POST
def change(request: HttpRequest, pk: int) -> HttpResponse:
    """Take a new weight of one material; a mistake is shown at its field."""
    material = get_object_or_404(Material, pk=pk, shop=request.user.shop_id)
    form = MaterialWeightForm(material, request.POST)
    if not form.is_valid():
        return _render_shelf(request, {pk: form}, status=422)
    services.change_weight(material, form.cleaned_data["weight"])
    messages.success(request, f"{material.name}: saved. New pieces use it; plans offer it.")
    return redirect("materials:shelf")


def fittings(request: HttpRequest) -> HttpResponse:
    """What strings, grips, caps and tapes weigh in this shop; another sort of one of them."""
    form = NewAccessoryForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        name = form.cleaned_data["name"]
        if Accessory.objects.filter(shop=request.user.shop_id, name=name).exists():
            form.add_error("name", "This name is taken; choose another.")
        else:
            services.add_accessory(request.user.shop, form.cleaned_data["kind"], name)
            messages.success(request, f"{name} is on the shelf; weigh it when you can.")
            return redirect("materials:fittings")
    return _render_fittings(request, {}, form, 422 if request.method == "POST" else 200)


@require_POST
def weigh(request: HttpRequest, pk: int) -> HttpResponse:
    """Take the shop's own weighings of one kind of fitting."""
    accessory = get_object_or_404(Accessory, pk=pk, shop=request.user.shop_id)
    form = WeighForm(accessory, request.POST)
    if not form.is_valid():
        return _render_fittings(request, {pk: form}, NewAccessoryForm(), 422)
    services.weigh_accessory(accessory, *form.cleaned_data["weighings"])
    messages.success(request, f"{accessory.name} weighs {accessory.mass_g:.2f} g from now on.")
    return redirect("materials:fittings")


def _render_fittings(
    request: HttpRequest, forms: dict[int, WeighForm], new: NewAccessoryForm, status: int
) -> HttpResponse:
    accessories = Accessory.objects.filter(shop=request.user.shop_id)
    rows = [forms.get(accessory.pk) or WeighForm(accessory) for accessory in accessories]
    return render(request, "materials/fittings.html", {"forms": rows, "new": new}, status=status)


def _render_shelf(
    request: HttpRequest, forms: dict[int, MaterialWeightForm], status: int = 200
) -> HttpResponse:
    materials = Material.objects.filter(shop=request.user.shop_id)
    rows = [forms.get(material.pk) or MaterialWeightForm(material) for material in materials]
    return render(request, "materials/shelf.html", {"forms": rows}, status=status)
