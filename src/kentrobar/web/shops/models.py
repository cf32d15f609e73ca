"""People and their shop. Every record of the application belongs to a shop."""

from __future__ import annotations

import secrets
from datetime import date
from typing import ClassVar

from django.contrib.auth.models import AbstractUser, UserManager
from django.contrib.postgres.fields import ArrayField
from django.db import models

from kentrobar.core.bench.cautions import Strain
from kentrobar.core.bench.rules_of_play import RulesSeen
from kentrobar.core.bench.week import Hours
from kentrobar.core.body.sport import Sport
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.quantities.units import POINTS_UNIT
from kentrobar.core.reading.comparing import FeltRule
from kentrobar.core.reading.pendulum import gravity_at
from kentrobar.web.kit.numbers import Units


def usual_days() -> list[int]:
    """The days of the week on which a bench is usually worked at."""
    return sorted(Hours().days)


def secret_address() -> str:
    """A part of an address that nobody guesses."""
    return secrets.token_urlsafe(32)


class Shop(models.Model):
    """A bench with its own frames, materials and plans: a shop, a club or one person's table."""

    name = models.CharField(max_length=100)
    latitude_deg = models.FloatField("latitude, degrees", null=True, blank=True)
    altitude_m = models.FloatField("height above the sea, m", null=True, blank=True)
    felt_mass_g = models.FloatField("static weight, g", default=FeltRule.mass_g)
    felt_balance_cm = models.FloatField("balance, cm", default=FeltRule.balance_cm)
    felt_swingweight_kgcm2 = models.FloatField("swing weight, kg·cm²", default=FeltRule.swingweight_kgcm2)
    felt_twistweight_kgcm2 = models.FloatField("twist weight, kg·cm²", default=FeltRule.twistweight_kgcm2)
    currency = models.CharField(max_length=4, default="€")
    price_of_an_hour = models.DecimalField(
        "price of an hour at the bench", max_digits=7, decimal_places=2, null=True, blank=True
    )
    opens_at = models.TimeField("the bench opens at", default=Hours().opens)
    closes_at = models.TimeField("and closes at", default=Hours().closes)
    work_days = ArrayField(
        models.PositiveSmallIntegerField(), verbose_name="worked at on", default=usual_days
    )
    follow_up_after_days = models.PositiveSmallIntegerField("ask how it plays after, days", default=14)
    shares_frame_pages = models.BooleanField("whoever scans a frame's label may read its page", default=False)
    usual_ranges = models.JSONField(
        "usual ranges of specs by sport, where the shop has its own", default=dict, blank=True
    )
    rules_of_play = models.JSONField(
        "when its rules were last looked at, and what was noted, by sport", default=dict, blank=True
    )
    calendar_secret = models.CharField(max_length=43, default=secret_address, unique=True)
    created_at = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return self.name

    @property
    def hours(self) -> Hours:
        """When its bench is worked at."""
        return Hours(self.opens_at, self.closes_at, frozenset(self.work_days))

    @property
    def felt_rule(self) -> FeltRule:
        return FeltRule(
            self.felt_mass_g, self.felt_balance_cm, self.felt_swingweight_kgcm2, self.felt_twistweight_kgcm2
        )

    def rules_seen(self, sport: Sport) -> RulesSeen:
        """When somebody here looked at the rules of a sport last, and what they noted."""
        kept = self.rules_of_play.get(sport.value, {})
        seen_on = kept.get("seen_on")
        return RulesSeen(date.fromisoformat(seen_on) if seen_on else None, kept.get("note", ""))

    @property
    def gravity_cms2(self) -> Estimate:
        """Gravity at its bench; with a wide ± where nobody said where that stands."""
        return gravity_at(self.latitude_deg, self.altitude_m)


class Client(models.Model):
    """A player whose frames the shop looks after."""

    class StrainChoice(models.TextChoices):
        ARM = Strain.ARM.value, "arm"
        ELBOW = Strain.ELBOW.value, "elbow"
        SHOULDER = Strain.SHOULDER.value, "shoulder"
        WRIST = Strain.WRIST.value, "wrist"

    class ReadsIn(models.TextChoices):
        METRIC = "metric", "grams and centimetres"
        INCHES = "inches", "ounces and inches"

    shop = models.ForeignKey(Shop, on_delete=models.PROTECT, related_name="clients")
    name = models.CharField(max_length=80)
    notes = models.TextField(max_length=2000, blank=True)
    reads_in = models.CharField("reads numbers in", max_length=6, choices=ReadsIn, blank=True)
    strain = ArrayField(
        models.CharField(max_length=8, choices=StrainChoice.choices),
        verbose_name="strain that they told of",
        default=list,
        blank=True,
    )
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["shop", "name"], name="client_name_once_a_shop")]

    def __str__(self) -> str:
        return self.name

    @property
    def strain_text(self) -> str:
        """Where the player told of strain, in words."""
        return ", ".join(self.StrainChoice(each).label for each in self.strain)

    @property
    def units(self) -> Units | None:
        """The units of what is printed for them; None where nobody said."""
        if not self.reads_in:
            return None
        return Units("oz", "in", "in") if self.reads_in == self.ReadsIn.INCHES else Units()


class PeopleManager(UserManager["User"]):
    """Every page names the person's shop: it is fetched with the person."""

    use_in_migrations = False

    def get_queryset(self) -> models.QuerySet[User]:
        return super().get_queryset().select_related("shop")


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
        POINT = POINTS_UNIT, "points"

    class InertiaUnit(models.TextChoices):
        KGCM2 = "kg·cm²", "kg·cm²"
        OZIN2 = "oz·in²", "oz·in²"

    class Theme(models.TextChoices):
        AUTO = "auto", "as the device"
        LIGHT = "light", "light"
        DARK = "dark", "dark"

    shop = models.ForeignKey(Shop, on_delete=models.PROTECT, related_name="people", null=True)
    mass_unit = models.CharField("weight", max_length=2, choices=MassUnit, default=MassUnit.GRAM)
    length_unit = models.CharField("lengths", max_length=2, choices=LengthUnit, default=LengthUnit.CENTIMETRE)
    balance_unit = models.CharField(
        "balance", max_length=2, choices=BalanceUnit, default=BalanceUnit.MILLIMETRE
    )
    inertia_unit = models.CharField(
        "swing and twist weight", max_length=6, choices=InertiaUnit, default=InertiaUnit.KGCM2
    )
    wants_percent = models.BooleanField(
        "show changes of swing and twist weight in percent for rackets too", default=False
    )
    wants_further_specs = models.BooleanField("show spin weight and MgR/I too", default=False)
    theme = models.CharField(max_length=5, choices=Theme, default=Theme.AUTO)

    objects: ClassVar[PeopleManager] = PeopleManager()

    @property
    def own_shop(self) -> Shop:
        """The shop of somebody who works in one, as all do who may see its pages."""
        if self.shop is None:
            raise Shop.DoesNotExist
        return self.shop

    @property
    def units(self) -> Units:
        return Units(
            self.mass_unit,
            self.length_unit,
            self.balance_unit,
            self.wants_further_specs,
            self.inertia_unit,
            self.wants_percent,
        )


class Submission(models.Model):
    """A form that was taken: sent once more, it leads where it led then."""

    user = models.ForeignKey(User, on_delete=models.CASCADE, related_name="+")
    mark = models.CharField(max_length=64)
    led_to = models.TextField()
    taken_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["user", "mark"], name="submission_taken_once")]

    def __str__(self) -> str:
        return f"{self.mark[:8]} to {self.led_to}"
