"""What weight is made of, as one shop has it on its shelf."""

from __future__ import annotations

from django.db import models
from django.db.models import Q
from simple_history.models import HistoricalRecords

from kentrobar.core.builds import USUAL_FITTINGS


class Material(models.Model):
    """A tape, a putty or a sleeve. What is typed beside the canonical value is kept."""

    class Form(models.TextChoices):
        TAPE = "tape", "tape"
        PUTTY = "putty", "putty"
        SLEEVE = "sleeve", "grip sleeve"

    shop = models.ForeignKey("shops.Shop", on_delete=models.PROTECT, related_name="materials")
    name = models.CharField(max_length=60)
    form = models.CharField(max_length=6, choices=Form)
    g_per_cm = models.FloatField("weight per length, g/cm", null=True, blank=True)
    g_per_cm_u = models.FloatField("± of weight per length, g/cm", null=True, blank=True)
    typed_density = models.JSONField(default=dict, blank=True)
    width_mm = models.FloatField("width, mm", null=True, blank=True)
    density_g_cm3 = models.FloatField("density, g/cm³", null=True, blank=True)
    sleeve_mass_g = models.FloatField("weight of one, g", null=True, blank=True)
    is_lead = models.BooleanField("lead", default=False)
    is_metal = models.BooleanField("metal edges", default=False)
    order = models.PositiveSmallIntegerField(default=0)
    history = HistoricalRecords()

    class Meta:
        ordering = ["order", "name"]
        constraints = [
            models.UniqueConstraint(fields=["shop", "name"], name="material_name_once_a_shop"),
            models.CheckConstraint(
                name="material_has_its_weight",
                condition=models.Q(form="tape", g_per_cm__gt=0, g_per_cm_u__gte=0)
                | models.Q(form="putty", density_g_cm3__gt=0)
                | models.Q(form="sleeve", sleeve_mass_g__gt=0),
            ),
        ]

    def __str__(self) -> str:
        return self.name


FittingKinds = models.TextChoices(
    "FittingKinds",
    {kind.name: (kind.value, usual.label) for kind, usual in USUAL_FITTINGS.items()},
)


class Accessory(models.Model):
    """What one kind of strings, grip, cap or tape weighs in this shop.

    It starts at the usual weight of its kind; ``weighings_g`` are the shop's own and win.
    """

    shop = models.ForeignKey("shops.Shop", on_delete=models.PROTECT, related_name="accessories")
    kind = models.CharField(max_length=14, choices=FittingKinds)
    name = models.CharField(max_length=60)
    mass_g = models.FloatField("weight, g")
    mass_u_g = models.FloatField("± of weight, g")
    weighings_g = models.JSONField("own weighings, g", default=list)
    typed = models.JSONField("as typed", default=dict)
    history = HistoricalRecords()

    class Meta:
        ordering = ["kind", "pk"]
        verbose_name_plural = "accessories"
        constraints = [
            models.UniqueConstraint(fields=["shop", "name"], name="accessory_name_once_a_shop"),
            models.CheckConstraint(
                name="accessory_weighs_something", condition=Q(mass_g__gt=0, mass_u_g__gte=0)
            ),
        ]

    def __str__(self) -> str:
        return self.name
