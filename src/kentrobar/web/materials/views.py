"""The shelf."""

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from kentrobar.web.materials import services
from kentrobar.web.materials.forms import MaterialWeightForm
from kentrobar.web.materials.models import Material


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


def _render_shelf(
    request: HttpRequest, forms: dict[int, MaterialWeightForm], status: int = 200
) -> HttpResponse:
    materials = Material.objects.filter(shop=request.user.shop_id)
    rows = [forms.get(material.pk) or MaterialWeightForm(material) for material in materials]
    return render(request, "materials/shelf.html", {"forms": rows}, status=status)
