"""Instruments, their calibrations, and every single reading taken with them."""

from __future__ import annotations

from datetime import datetime, timedelta

from django.conf import settings
from django.db import models
from django.db.models import Q
from django.utils import timezone
from simple_history.models import HistoricalRecords

from kentrobar.core.body.specs import READ
from kentrobar.core.reading.calibration import NO_CORRECTION, Correction
from kentrobar.core.reading.pendulum import Holder
from kentrobar.core.reading.series import Precision
from kentrobar.instruments.allowed import require_allowed
from kentrobar.instruments.lines import USUAL_PATTERN
from kentrobar.instruments.taking import Device
from kentrobar.web.kit.records import WrittenOnce


class Instrument(models.Model):
    """Something that reads a spec. Numbers are in the base unit of what it reads: g, cm, kg·cm², s."""

    class InstrumentKind(models.TextChoices):
        SCALE = "scale", "scale"
        BOARD = "board", "balance board"
        EDGE = "edge", "table edge or pencil"
        FINGER = "finger", "finger or dowel"
        MACHINE = "machine", "swing-weight machine"
        TWIST = "twist", "twist machine"
        PENDULUM = "pendulum", "pendulum"
        SIDEWAYS = "sideways", "twist pendulum"
        CORDS = "cords", "two cords"

    shop = models.ForeignKey("shops.Shop", on_delete=models.PROTECT, related_name="instruments")
    kind = models.CharField(max_length=8, choices=InstrumentKind)
    name = models.CharField(max_length=60)
    resolution = models.FloatField("smallest step")
    repeatability = models.FloatField("scatter of one reading")
    offset_cm = models.FloatField("board's stop or edge to the pivot's zero, cm", default=0.0)
    axis_cm = models.FloatField("swing axis from the butt, cm", default=10.0)
    holder_mass_g = models.FloatField("holder's weight, g", default=0.0)
    holder_centre_cm = models.FloatField("holder's centre from the axle, cm", default=0.0)
    holder_inertia_kgcm2 = models.FloatField("holder's inertia about the axle, kg·cm²", default=0.0)
    holder_beside_cm = models.FloatField("axle beside the frame's middle plane, cm", default=0.0)
    hang_cm = models.FloatField("axle or string from the butt, cm", null=True, blank=True)
    drop_cm = models.FloatField("long axis below its line, cm", null=True, blank=True)
    cord_cm = models.FloatField("length of the cords, cm", null=True, blank=True)
    apart_cm = models.FloatField("distance of the cords, cm", null=True, blank=True)
    due_after_days = models.PositiveSmallIntegerField("calibrate every, days", default=180)
    address = models.CharField(max_length=120, blank=True)
    pattern = models.CharField("line pattern", max_length=200, default=USUAL_PATTERN)
    baud = models.PositiveIntegerField("speed, baud", default=9600)
    is_simulated = models.BooleanField(default=False)
    is_put_away = models.BooleanField("put away", default=False)
    history = HistoricalRecords()

    class Meta:
        ordering = ["pk"]
        constraints = [
            models.UniqueConstraint(fields=["shop", "name"], name="instrument_name_once_a_shop"),
            models.CheckConstraint(
                name="instrument_has_its_steps", condition=Q(resolution__gte=0, repeatability__gt=0)
            ),
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def device(self) -> Device:
        """Where to ask it; raises InstrumentError for an address that the operator has not allowed."""
        require_allowed(self.address, settings.DEVICE_ADDRESSES)
        return Device(self.address, self.pattern, self.baud)

    @property
    def holder(self) -> Holder:
        return Holder(
            self.holder_mass_g, self.holder_centre_cm, self.holder_inertia_kgcm2, self.holder_beside_cm
        )

    @property
    def latest(self) -> Calibration | None:
        """The calibration that counts; ``calibrations`` are newest first and fetched before."""
        return next(iter(self.calibrations.all()), None)

    @property
    def compared_with(self) -> str:
        """What it was corrected to read like, where the calibration that counts came from a comparison."""
        known = self.latest.known if self.latest else []
        return str(known[0].get("compared_with", "")) if known else ""

    @property
    def correction(self) -> Correction:
        """Scale and zero of its readings; a board's own offset is its zero until it is calibrated."""
        return self.latest.found if self.latest else self._as_bought

    def correction_at(self, moment: datetime) -> Correction:
        """The correction that counted at a moment."""
        before = (each for each in self.calibrations.all() if each.taken_at <= moment)
        found = next(before, None)
        return found.found if found else self._as_bought

    @property
    def _as_bought(self) -> Correction:
        return Correction(zero=self.offset_cm) if self.offset_cm else NO_CORRECTION

    @property
    def is_corrected(self) -> bool:
        """Whether what it shows is not yet the spec."""
        return self.correction != NO_CORRECTION

    def precision_at(self, reading: float) -> Precision:
        """How surely it reads near ``reading``, after its calibration."""
        return Precision(self.resolution, self.repeatability).after(self.correction, reading)

    @property
    def due_at(self) -> datetime | None:
        latest = self.latest
        return latest.taken_at + timedelta(days=self.due_after_days) if latest else None

    @property
    def is_due(self) -> bool:
        """Whether a calibration is due: one was made, and its time is over."""
        due = self.due_at
        return due is not None and due < timezone.now()


class Stiffness(WrittenOnce):
    """How stiff a frame or its string bed was read to be; weight does not change it.

    Instruments for it tell numbers of their own, so that only those of one ``scale`` are compared.
    """

    class Of(models.TextChoices):
        FRAME = "frame", "frame"
        STRINGS = "strings", "string bed"

    frame = models.ForeignKey("frames.Frame", on_delete=models.PROTECT, related_name="stiffness_readings")
    of = models.CharField(max_length=7, choices=Of, default=Of.FRAME)
    value = models.FloatField()
    scale = models.CharField("read with, and its unit", max_length=40, blank=True)
    taken_at = models.DateTimeField(default=timezone.now)
    taken_by = models.ForeignKey("shops.User", null=True, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["-taken_at", "-pk"]
        constraints = [models.CheckConstraint(name="stiffness_is_above_0", condition=Q(value__gt=0))]

    def __str__(self) -> str:
        return f"{self.value:g} {self.scale}".strip()


class Calibration(WrittenOnce):
    """Scale and zero found on one day from known bodies. Never changed."""

    instrument = models.ForeignKey(Instrument, on_delete=models.PROTECT, related_name="calibrations")
    scale = models.FloatField()
    zero = models.FloatField()
    scale_variance = models.FloatField()
    zero_variance = models.FloatField()
    covariance = models.FloatField()
    known = models.JSONField("known bodies as typed", default=list)
    taken_at = models.DateTimeField(default=timezone.now)
    taken_by = models.ForeignKey("shops.User", null=True, on_delete=models.PROTECT)

    class Meta:
        ordering = ["-taken_at", "-pk"]
        constraints = [models.CheckConstraint(name="calibration_scale_is_sound", condition=Q(scale__gt=0))]

    def __str__(self) -> str:
        return f"{self.instrument_id} on {self.taken_at:%Y-%m-%d}"

    @property
    def found(self) -> Correction:
        return Correction(self.scale, self.zero, self.scale_variance, self.zero_variance, self.covariance)


class Reading(WrittenOnce):
    """One reading as it was typed or sent. Never changed; one that does not count is marked so."""

    sheet = models.ForeignKey("frames.SpecSheet", on_delete=models.PROTECT, related_name="readings")
    spec = models.CharField(max_length=11, choices=[(spec.field, spec.noun) for spec in READ])
    number = models.PositiveSmallIntegerField("which in its row")
    text = models.CharField("as typed or sent", max_length=60)
    unit = models.CharField(max_length=6)
    value = models.FloatField("in the base unit, calibrated")
    left_out = models.BooleanField(default=False)
    instrument = models.ForeignKey(Instrument, null=True, on_delete=models.PROTECT)
    detail = models.JSONField("how it was taken", default=dict)

    class Meta:
        ordering = ["sheet", "spec", "number"]
        constraints = [
            models.UniqueConstraint(fields=["sheet", "spec", "number"], name="reading_number_once_a_row")
        ]

    def __str__(self) -> str:
        return f"{self.text} {self.unit}"
