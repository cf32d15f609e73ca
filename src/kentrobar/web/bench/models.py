"""The work of a plan at the bench, event by event, and what it taught of rolls, materials and places."""

from __future__ import annotations

from django.db import models
from django.db.models import Q

from kentrobar.core.bench.stages import Stage
from kentrobar.web.kit.fields import TargetField
from kentrobar.web.kit.records import ChangeCounting


class BenchWork(ChangeCounting):
    """A plan being laid on its frame, in rounds.

    ``pieces`` are those of the plan when the work began, as plans store them: the plan may be changed since,
    the work is not. What was read in between does not
    replace the frame's specs. ``stage`` and ``told`` are where it stands after its ``events_seen`` events and
    what was then told to do next: worked out once, when the event was noted.
    """

    changed_text = "Somebody changed this meanwhile, in another tab or at another device. Look again."

    class StageChoice(models.TextChoices):
        FIT = Stage.FIT.value, "fit"
        READ = Stage.READ.value, "read"
        TRIM = Stage.TRIM.value, "trim"
        PERMANENT = Stage.PERMANENT.value, "make permanent"
        PLAN = Stage.PLAN.value, "plan anew"
        MEASURE = Stage.MEASURE.value, "measure"
        VERIFY = Stage.VERIFY.value, "verify"

    plan = models.ForeignKey("planning.Plan", on_delete=models.PROTECT, related_name="works")
    pieces = models.JSONField()
    specs = models.ForeignKey("frames.SpecSheet", null=True, on_delete=models.PROTECT, related_name="+")
    target = TargetField()
    started_at = models.DateTimeField(auto_now_add=True)
    started_by = models.ForeignKey("shops.User", null=True, on_delete=models.PROTECT, related_name="+")
    ended_at = models.DateTimeField(null=True)
    stage = models.CharField(max_length=9, choices=StageChoice, blank=True)
    events_seen = models.PositiveIntegerField(default=0)
    next_step = models.JSONField(default=dict)

    class Meta:
        ordering = ["-started_at", "-pk"]
        constraints = [
            models.UniqueConstraint(
                fields=["plan"], condition=models.Q(ended_at=None), name="one_work_a_plan_at_a_time"
            )
        ]

    def __str__(self) -> str:
        return f"{self.plan_id} at the bench"

    @property
    def change_count(self) -> int:
        return self.events.count()


class BenchEvent(models.Model):
    """One thing that was done or read at the bench; never changed.

    ``piece`` is the number of a piece in the plan, or, for one that was added, a number of its own. ``data`` is
    for a trim, a move or an added piece the piece as it then lies;
    for a reading ``{"specs": {key: {"value", "u", "shared_u"}}, "readings": [...]}``, ``shared_u`` the part
    of ``u`` that the instrument's other readings have too, each reading as a sheet of readings keeps it,
    with the key of its ``"instrument"``, and, for a swing that was timed, how far what
    it came to follows from other specs (``"slopes"``); for a reading that is believed all the same the
    number of its event; for what is laid ``"place"``: by how much it was expected to lie off, value and ±;
    for what is made permanent ``"shifts"``: what was expected then, by material, value and ±.
    """

    class EventKind(models.TextChoices):
        LAID = "laid", "laid"
        LEFT_OUT = "left_out", "left out"
        TRIMMED = "trimmed", "trimmed"
        MOVED = "moved", "moved"
        ADDED = "added", "applied besides"
        TAKEN_OFF = "taken_off", "taken off"
        PERMANENT = "permanent", "made permanent"
        READ = "read", "read"
        BELIEVED = "believed", "believed all the same"

    work = models.ForeignKey(BenchWork, on_delete=models.CASCADE, related_name="events")
    number = models.PositiveIntegerField()
    kind = models.CharField(max_length=10, choices=EventKind)
    piece = models.PositiveIntegerField(null=True)
    data = models.JSONField(default=dict)
    made_at = models.DateTimeField(auto_now_add=True)
    made_by = models.ForeignKey("shops.User", null=True, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["work", "number"]
        constraints = [models.UniqueConstraint(fields=["work", "number"], name="event_once_a_work")]

    def __str__(self) -> str:
        return f"{self.work_id}/{self.number}: {self.kind}"


class RollFinding(models.Model):
    """What a work knew in the end of the density of a roll that it laid of; never changed.

    ``g_per_cm`` is what the roll was taken for, ``u_before`` how surely, relative; ``factor`` by what its
    true density differs, with its ±.
    """

    work = models.ForeignKey(BenchWork, on_delete=models.CASCADE, related_name="findings")
    material = models.ForeignKey("materials.Material", on_delete=models.CASCADE, related_name="findings")
    g_per_cm = models.FloatField()
    u_before = models.FloatField()
    factor = models.FloatField()
    factor_u = models.FloatField()
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["made_at", "pk"]
        constraints = [
            models.UniqueConstraint(fields=["work", "material"], name="finding_once_a_work_and_roll")
        ]

    def __str__(self) -> str:
        return f"{self.material_id}: {self.factor:.3f} ± {self.factor_u:.3f}"


class ShiftFinding(models.Model):
    """What a work knew in the end of how a material shifted when it was made permanent; never changed.

    ``shift`` is the part of its weight that came on top, with its ±; ``before`` and ``u_before`` what was
    expected.
    """

    work = models.ForeignKey(BenchWork, on_delete=models.CASCADE, related_name="shift_findings")
    material = models.ForeignKey(
        "materials.Material", on_delete=models.CASCADE, related_name="shift_findings"
    )
    before = models.FloatField()
    u_before = models.FloatField()
    shift = models.FloatField()
    shift_u = models.FloatField()
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["made_at", "pk"]
        constraints = [
            models.UniqueConstraint(fields=["work", "material"], name="shift_once_a_work_and_material")
        ]

    def __str__(self) -> str:
        return f"{self.material_id}: {self.shift:+.4f} ± {self.shift_u:.4f}"


class PlaceFinding(models.Model):
    """What a work knew in the end of how far off its place a piece lay; never changed.

    ``site`` is the key of the named place nearest to it; ``offset_cm`` is toward the tip, ``before_cm`` and
    ``u_before_cm`` what was expected before anything was read.
    """

    work = models.ForeignKey(BenchWork, on_delete=models.CASCADE, related_name="place_findings")
    piece = models.PositiveIntegerField()
    site = models.CharField(max_length=24)
    offset_cm = models.FloatField()
    offset_u_cm = models.FloatField()
    before_cm = models.FloatField(default=0.0)
    u_before_cm = models.FloatField()
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["made_at", "pk"]
        constraints = [models.UniqueConstraint(fields=["work", "piece"], name="place_once_a_work_and_piece")]

    def __str__(self) -> str:
        return f"{self.site}: {self.offset_cm:+.2f} ± {self.offset_u_cm:.2f} cm"


class PlaceCorrection(models.Model):
    """By how much pieces at a named place are expected to lie off, taken over from the bench's evidence.

    Works that go on keep what they were laid with; taken back, the next piece is expected where it is meant.
    """

    shop = models.ForeignKey("shops.Shop", on_delete=models.CASCADE, related_name="place_corrections")
    site = models.CharField(max_length=24)
    offset_cm = models.FloatField()
    u_cm = models.FloatField()
    pieces = models.PositiveIntegerField()
    made_at = models.DateTimeField(auto_now_add=True)
    made_by = models.ForeignKey("shops.User", null=True, on_delete=models.PROTECT, related_name="+")
    taken_back_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-made_at", "-pk"]
        constraints = [
            models.UniqueConstraint(
                fields=["shop", "site"],
                condition=Q(taken_back_at=None),
                name="place_corrected_once_at_a_time",
            )
        ]

    def __str__(self) -> str:
        return f"{self.site}: {self.offset_cm:+.2f} ± {self.u_cm:.2f} cm"


class DensityCorrection(models.Model):
    """A density that was taken over from the bench's evidence, and what it was before; can be taken back."""

    material = models.ForeignKey("materials.Material", on_delete=models.CASCADE, related_name="corrections")
    before_g_per_cm = models.FloatField()
    before_u = models.FloatField()
    g_per_cm = models.FloatField()
    u = models.FloatField()
    jobs = models.PositiveIntegerField()
    made_at = models.DateTimeField(auto_now_add=True)
    made_by = models.ForeignKey("shops.User", null=True, on_delete=models.PROTECT, related_name="+")
    taken_back_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-made_at", "-pk"]

    def __str__(self) -> str:
        return f"{self.material_id}: {self.before_g_per_cm} → {self.g_per_cm}"
