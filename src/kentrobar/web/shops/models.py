"""People and their shop. Every record of the application belongs to a shop."""

from __future__ import annotations

from django.contrib.auth.models import AbstractUser
from django.db import models

from kentrobar.web.kit.numbers import Units


class Shop(models.Model):
    """A bench with its own frames, materials and plans: a shop, a club or one person's table."""

    name = models.CharField(max_length=100)
    created_at = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return self.name


class User(AbstractUser):
    """A person, the shop they work in and how they like to read numbers."""

    class MassUnit(models.TextChoices):
        GRAM = "g", "grams"
        OUNCE = "oz", "ounces"

    class LengthUnit(models.TextChoices):
        CENTIMETRE = "cm", "cm"
        MILLIMETRE = "mm", "mm"
        INCH = "in", "inches"

    class BalanceUnit(models.TextChoices):
        MILLIMETRE = "mm", "mm"
        CENTIMETRE = "cm", "cm"
        INCH = "in", "inches"
        POINT = "pt", "points"

    class Theme(models.TextChoices):
        AUTO = "auto", "as the device"
        LIGHT = "light", "light"
        DARK = "dark", "dark"

    shop = models.ForeignKey(Shop, on_delete=models.PROTECT, related_name="people", null=True)
    mass_unit = models.CharField("weight", max_length=2, choices=MassUnit, default=MassUnit.GRAM)
    length_unit = models.CharField(
        "lengths", max_length=2, choices=LengthUnit, default=LengthUnit.CENTIMETRE
    )
    balance_unit = models.CharField(
        "balance", max_length=2, choices=BalanceUnit, default=BalanceUnit.MILLIMETRE
    )
    theme = models.CharField(max_length=5, choices=Theme, default=Theme.AUTO)

    @property
    def units(self) -> Units:
        return Units(self.mass_unit, self.length_unit, self.balance_unit)
