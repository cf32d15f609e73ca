"""What is done at the bench for a plan, event by event."""

from __future__ import annotations

from django.db import models


class BenchWork(models.Model):
    """A plan being laid on its frame, in rounds.

    ``pieces`` are those of the plan when the work began, as plans store them: the plan may be changed since,
    the work is not. ``target`` and ``tolerances`` are by the keys of specs. What was read in between does not
    replace the frame's specs.
    """

    plan = models.ForeignKey("planning.Plan", on_delete=models.PROTECT, related_name="works")
    pieces = models.JSONField()
    specs = models.ForeignKey(
        "frames.SpecSheet", null=True, on_delete=models.PROTECT, related_name="+"
    )
    axis_cm = models.FloatField()
    target = models.JSONField()
    tolerances = models.JSONField()
    chance = models.FloatField(default=0.95)
    started_at = models.DateTimeField(auto_now_add=True)
    started_by = models.ForeignKey(
        "shops.User", null=True, on_delete=models.PROTECT, related_name="+"
    )
    ended_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-started_at", "-pk"]
        constraints = [
            models.UniqueConstraint(
                fields=["plan"], condition=models.Q(ended_at=None), name="one_work_a_plan_at_a_time"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.plan_id} at the bench"


class BenchEvent(models.Model):
    """One thing that was done or read at the bench; never changed.

    ``piece`` is the number of a piece in the plan. ``data`` is for a trim the piece as it then lies, for a
    reading ``{"specs": {key: {"value", "u"}}, "typed": {field: {"text", "unit"}}, "times"}``, for a reading
    that is believed all the same the number of its event.
    """

    class Kind(models.TextChoices):
        LAID = "laid", "laid"
        LEFT_OUT = "left_out", "left out"
        TRIMMED = "trimmed", "trimmed"
        TAKEN_OFF = "taken_off", "taken off"
        PERMANENT = "permanent", "made permanent"
        READ = "read", "read"
        BELIEVED = "believed", "believed all the same"

    work = models.ForeignKey(BenchWork, on_delete=models.CASCADE, related_name="events")
    number = models.PositiveIntegerField()
    kind = models.CharField(max_length=10, choices=Kind)
    piece = models.PositiveIntegerField(null=True)
    data = models.JSONField(default=dict)
    made_at = models.DateTimeField(auto_now_add=True)
    made_by = models.ForeignKey("shops.User", null=True, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["work", "number"]
        constraints = [
            models.UniqueConstraint(fields=["work", "number"], name="event_once_a_work"),
        ]

    def __str__(self) -> str:
        return f"{self.work_id}/{self.number}: {self.kind}"


class RollFinding(models.Model):
    """What a work knew in the end of the density of a roll that it laid of; never changed.

    ``g_per_cm`` is what the roll was taken for, ``u_before`` how surely, relative; ``factor`` by what its
    true density differs, with its ±.
    """

    work = models.ForeignKey(BenchWork, on_delete=models.CASCADE, related_name="findings")
    material = models.ForeignKey(
        "materials.Material", on_delete=models.CASCADE, related_name="findings"
    )
    g_per_cm = models.FloatField()
    u_before = models.FloatField()
    factor = models.FloatField()
    factor_u = models.FloatField()
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["made_at", "pk"]
        constraints = [
            models.UniqueConstraint(
                fields=["work", "material"], name="finding_once_a_work_and_roll"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.material_id}: {self.factor:.3f} ± {self.factor_u:.3f}"


class Correction(models.Model):
    """A density that was taken over from the bench's evidence, and what it was before; can be taken back."""

    material = models.ForeignKey(
        "materials.Material", on_delete=models.CASCADE, related_name="corrections"
    )
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
