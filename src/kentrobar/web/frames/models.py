"""Rackets and paddles, and what was measured of them."""

from __future__ import annotations

from typing import Any

from django.db import models
from django.db.models import Q
from simple_history.models import HistoricalRecords

from kentrobar.core.errors import SpecError
from kentrobar.core.estimates import NOT_MEASURED, Estimate, Quantity
from kentrobar.core.outline import (
    Dimensions,
    Outline,
    PaddleDimensions,
    RacketDimensions,
    Sport,
    outline_of,
)
from kentrobar.core.specs import MeasuredSpecs


class Frame(models.Model):
    """One racket or paddle: whose it is, how to tell it, its dimensions.

    ``specs`` points at the readings that count now; older ones stay as they were.
    """

    class SportChoice(models.TextChoices):
        TENNIS = Sport.TENNIS.value, "racket"
        PICKLEBALL = Sport.PICKLEBALL.value, "paddle"

    shop = models.ForeignKey("shops.Shop", on_delete=models.PROTECT, related_name="frames")
    sport = models.CharField(max_length=10, choices=SportChoice)
    label = models.CharField(max_length=80)
    player = models.CharField(max_length=80, blank=True)
    mark = models.CharField("own mark or last digits", max_length=40, blank=True)
    notes = models.TextField(max_length=2000, blank=True)

    length_cm = models.FloatField()
    handle_length_cm = models.FloatField()
    head_length_cm = models.FloatField(null=True, blank=True)
    head_width_cm = models.FloatField(null=True, blank=True)
    head_size_cm2 = models.FloatField(null=True, blank=True)
    beam_mm = models.FloatField(null=True, blank=True)
    width_cm = models.FloatField(null=True, blank=True)
    corner_radius_cm = models.FloatField(null=True, blank=True)
    shoulder_cm = models.FloatField(null=True, blank=True)
    thickness_mm = models.FloatField(null=True, blank=True)
    typed = models.JSONField("dimensions as typed", default=dict)

    specs = models.ForeignKey(
        "SpecSheet", null=True, blank=True, on_delete=models.PROTECT, related_name="+"
    )
    created_at = models.DateTimeField(auto_now_add=True)
    changed_at = models.DateTimeField(auto_now=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["label", "pk"]
        constraints = [
            models.CheckConstraint(
                name="frame_has_its_sports_dimensions",
                condition=Q(
                    sport="tennis",
                    head_length_cm__gt=0,
                    head_width_cm__gt=0,
                    beam_mm__gt=0,
                )
                | Q(
                    sport="pickleball",
                    width_cm__gt=0,
                    corner_radius_cm__gt=0,
                    shoulder_cm__gt=0,
                    thickness_mm__gt=0,
                ),
            ),
        ]

    def __str__(self) -> str:
        return self.label

    @property
    def is_racket(self) -> bool:
        return self.sport == self.SportChoice.TENNIS

    @property
    def dimensions(self) -> Dimensions:
        kind = RacketDimensions if self.is_racket else PaddleDimensions
        return kind(**{name: getattr(self, name) for name in kind.__dataclass_fields__})

    @property
    def outline(self) -> Outline:
        return outline_of(self.dimensions)

    @property
    def measured(self) -> MeasuredSpecs:
        return self.specs.measured if self.specs else MeasuredSpecs()


class SpecSheet(models.Model):
    """Readings of one frame in one build. Never changed: a correction is a new sheet."""

    class Build(models.TextChoices):
        BARE = "bare", "bare frame"
        STRUNG = "strung", "strung, no overgrip"
        PLAYING = "playing", "playing form"

    frame = models.ForeignKey(Frame, on_delete=models.PROTECT, related_name="spec_sheets")
    build = models.CharField(max_length=7, choices=Build, default=Build.PLAYING)
    mass_g = models.FloatField(null=True)
    mass_u_g = models.FloatField(null=True)
    balance_cm = models.FloatField(null=True)
    balance_u_cm = models.FloatField(null=True)
    swingweight_kgcm2 = models.FloatField(null=True)
    swingweight_u_kgcm2 = models.FloatField(null=True)
    axis_cm = models.FloatField(default=10.0)
    twistweight_kgcm2 = models.FloatField(null=True)
    twistweight_u_kgcm2 = models.FloatField(null=True)
    typed = models.JSONField("readings as typed", default=dict)
    replaces = models.OneToOneField("self", null=True, on_delete=models.PROTECT)
    taken_at = models.DateTimeField(auto_now_add=True)
    taken_by = models.ForeignKey("shops.User", null=True, on_delete=models.PROTECT)

    class Meta:
        ordering = ["-taken_at"]
        constraints = [
            models.CheckConstraint(
                name=f"spec_sheet_{name}_with_spread",
                condition=Q(**{f"{name}_{unit}": None, f"{name}_u_{unit}": None})
                | Q(**{f"{name}_{unit}__gt": 0, f"{name}_u_{unit}__gte": 0}),
            )
            for name, unit in (
                ("mass", "g"),
                ("balance", "cm"),
                ("swingweight", "kgcm2"),
                ("twistweight", "kgcm2"),
            )
        ]

    def __str__(self) -> str:
        return f"{self.frame_id} on {self.taken_at:%Y-%m-%d}"

    def save(self, *args: Any, **kwargs: Any) -> None:
        if self.pk:
            raise SpecError("Readings are never overwritten; record new ones.", code="read_only")
        super().save(*args, **kwargs)

    @property
    def measured(self) -> MeasuredSpecs:
        return MeasuredSpecs(
            mass_g=_quantity(self.mass_g, self.mass_u_g),
            balance_cm=_quantity(self.balance_cm, self.balance_u_cm),
            swingweight_kgcm2=_quantity(self.swingweight_kgcm2, self.swingweight_u_kgcm2),
            axis_cm=self.axis_cm,
            twistweight_kgcm2=_quantity(self.twistweight_kgcm2, self.twistweight_u_kgcm2),
        )

    def as_typed(self) -> list[str]:
        """The four readings as they were typed, a dash where nothing was read."""
        texts = []
        for field in ("mass", "balance", "swingweight", "twistweight"):
            typed = self.typed.get(field)
            text = _with_unit(typed) if typed else "–"
            if typed and field == "swingweight" and "axis" in self.typed:
                text += f" at {_with_unit(self.typed['axis'])}"
            texts.append(text)
        return texts


def _with_unit(typed: dict[str, str]) -> str:
    """The text with its unit, which a person may have typed already."""
    text, unit = typed["text"], typed["unit"]
    return text if any(sign.isalpha() for sign in text) else f"{text} {unit}"


def _quantity(value: float | None, u: float | None) -> Quantity:
    return NOT_MEASURED if value is None else Estimate(value, u or 0.0)
