"""The shelf, one material of it, and what fittings weigh."""

from typing import Any

from django.contrib import messages
from django.db import transaction
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET, require_POST

from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.weight.materials import KINDS, Form, MaterialKind
from kentrobar.web.kit.archive import archive_or_restore, in_use_or_archived, shows_archive
from kentrobar.web.kit.merging import row_to_edit
from kentrobar.web.kit.requests import Sent, page
from kentrobar.web.materials import services
from kentrobar.web.materials.amounts import amount_text, weight_text
from kentrobar.web.materials.forms import CutsForm, MaterialForm, NewAccessoryForm, StockForm, WeighForm
from kentrobar.web.materials.models import Accessory, Material
from kentrobar.web.materials.queries import accessories_of, materials_of
from kentrobar.web.materials.together import together
from kentrobar.web.shops.requests import SignedIn


@require_GET
def shelf(request: SignedIn) -> HttpResponse:
    """All materials of the shop: what they weigh, how they behave, what is left; or those put away."""
    is_archive = shows_archive(request)
    context = {
        "materials": in_use_or_archived(materials_of(request.user), is_archive=is_archive),
        "kinds": KINDS.items(),
        "is_archive": is_archive,
    }
    return render(request, "materials/shelf.html", context)


@require_POST
def archive(request: SignedIn, pk: int) -> HttpResponse:
    """Put a material out of sight, or back."""
    chosen = _mine(request, pk)
    archive_or_restore(request, chosen, chosen.name, "plans that use it keep it")
    return redirect("materials:material", pk=pk)


@require_POST
def archive_fitting(request: SignedIn, pk: int) -> HttpResponse:
    """Put a kind of fitting out of sight, or back."""
    accessory = _accessory(request, pk)
    archive_or_restore(request, accessory, accessory.name, "frames that have it keep it")
    return redirect("materials:fittings")


def _mine(request: SignedIn, pk: int) -> Material:
    return get_object_or_404(Material, pk=pk, shop=request.user.shop_id)


def add(request: SignedIn) -> HttpResponse:
    """Another material of a kind."""
    try:
        kind = MaterialKind(request.GET.get("kind", ""))
    except ValueError:
        messages.error(request, "Choose the kind of the new material first.")
        return redirect("materials:shelf")
    form = MaterialForm(request.POST or None, shop=request.user.own_shop, kind=kind)
    if form.is_valid():
        about, typed = form.about(), form.cleaned_data["weight"]
        order = Material.objects.filter(shop=request.user.shop_id).count()
        material = services.add_material(
            request.user.own_shop, kind, about.pop("name"), typed.base, order=order, **about
        )
        services.change_weight(material, typed)
        messages.success(request, f"{material.name} is in your stock.")
        return redirect("materials:material", pk=material.pk)
    context = {"form": form, "kind": KINDS[kind]}
    return page(request, "materials/add.html", context)


@transaction.atomic
def material(request: SignedIn, pk: int) -> HttpResponse:
    """One material: its figures, cuts that were weighed, what is left of it."""
    chosen = row_to_edit(request, materials_of(request.user), pk)
    form = MaterialForm(
        request.POST or None, shop=request.user.own_shop, kind=MaterialKind(chosen.kind), material=chosen
    )
    if form.is_valid():
        services.change_about(chosen, form.about())
        if form.sets_weight:
            services.change_weight(chosen, form.cleaned_data["weight"])
        messages.success(request, f"{chosen.name}: saved. New pieces use it; plans offer it.")
        return redirect("materials:material", pk=pk)
    return _material_page(request, chosen, form=form)


def _material_page(request: SignedIn, chosen: Material, **forms: Any) -> HttpResponse:
    """The page with those of its forms that were typed in."""
    kind = MaterialKind(chosen.kind)
    context = {
        "material": chosen,
        "changes": chosen.stock_changes.select_related("made_by")[:20],
        "form": MaterialForm(None, shop=request.user.own_shop, kind=kind, material=chosen),
        "stock": StockForm(None, chosen, request.user.units),
        "cuts": _cuts_form(request, chosen) if chosen.form is Form.TAPE else None,
    } | forms
    refused = any(form.is_bound for form in forms.values())
    return render(request, "materials/material.html", context, status=422 if refused else 200)


def _cuts_form(request: SignedIn, chosen: Material, data: Sent = None) -> CutsForm:
    return CutsForm(data, request.user.units, chosen.stock.sold)


@require_POST
def weigh_cuts(request: SignedIn, pk: int) -> HttpResponse:
    """Take weighed cuts of a tape: its weight per length with ±."""
    chosen = _mine(request, pk)
    form = _cuts_form(request, chosen, request.POST)
    if form.is_valid():
        try:
            services.weigh_cuts(chosen, form.cleaned_data["cuts"])
        except KentrobarError as error:
            form.add_error("cuts", error.message)
        else:
            messages.success(
                request,
                f"{chosen.name}: {weight_text(chosen, request.user.units)} from now on. "
                "Plans with it offer the new weight.",
            )
            return redirect("materials:material", pk=pk)
    return _material_page(request, chosen, cuts=form)


@require_POST
def change_stock(request: SignedIn, pk: int) -> HttpResponse:
    """Count, buy or use some of a material."""
    chosen = _mine(request, pk)
    form = StockForm(request.POST, chosen, request.user.units)
    if form.is_valid():
        cleaned = form.cleaned_data
        try:
            services.change_stock(
                chosen, cleaned["why"], cleaned["amount"].base, request.user, cleaned["note"]
            )
        except KentrobarError as error:
            form.add_error("amount", error.message)
        else:
            left = amount_text(chosen, chosen.left_amount or 0.0, request.user.units)
            messages.success(request, f"{left} of {chosen.name} left.")
            return redirect("materials:material", pk=pk)
    return _material_page(request, chosen, stock=form)


def fittings(request: SignedIn) -> HttpResponse:
    """What strings, grips, caps and tapes weigh in this shop; another sort of one of them."""
    form = NewAccessoryForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        name = form.cleaned_data["name"]
        if Accessory.objects.filter(shop=request.user.shop_id, name=name).exists():
            form.add_error("name", "This name is taken; choose another.")
        else:
            services.add_accessory(request.user.own_shop, form.cleaned_data["kind"], name)
            messages.success(request, f"{name} is in your stock. Weigh it when you can.")
            return redirect("materials:fittings")
    return _render_fittings(request, {}, form, 422 if request.method == "POST" else 200)


@require_POST
@transaction.atomic
def weigh(request: SignedIn, pk: int) -> HttpResponse:
    """Take the shop's own weighings of one kind of fitting."""
    units = request.user.units
    form = WeighForm(row_to_edit(request, accessories_of(request.user), pk), units, request.POST)
    if not form.is_valid():
        return _render_fittings(request, {pk: form}, NewAccessoryForm(), 422)
    accessory, (texts, values) = form.accessory, form.cleaned_data["weighings"]
    if "thickness" in form.changed_data:
        services.set_thickness(accessory, form.cleaned_data["thickness"])
        messages.success(request, f"{accessory.name}: thickness saved.")
    if "note" in form.changed_data:
        services.set_note(accessory, form.cleaned_data["note"])
        messages.success(request, f"{accessory.name}: note saved.")
    if values and "weighings" in form.changed_data:
        services.weigh_accessory(accessory, texts, values)
        weight = f"{units.piece_mass_text(accessory.mass_g)} {units.mass}"
        messages.success(request, f"{accessory.name} weighs {weight} from now on.")
    return redirect("materials:fittings")


def _accessory(request: SignedIn, pk: int) -> Accessory:
    return get_object_or_404(Accessory, pk=pk, shop=request.user.shop_id)


def _render_fittings(
    request: SignedIn, forms: dict[int, WeighForm], new: NewAccessoryForm, status: int
) -> HttpResponse:
    accessories = accessories_of(request.user)
    units = request.user.units
    rows = [forms.get(accessory.pk) or WeighForm(accessory, units) for accessory in accessories]
    context = {
        "forms": [row for row in rows if not row.accessory.is_archived],
        "archived": [row.accessory for row in rows if row.accessory.is_archived],
        "new": new,
        "together": together(accessories, units),
    }
    return render(request, "materials/fittings.html", context, status=status)
