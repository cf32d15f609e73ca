"""Plans: pieces on a frame, with every state they went through."""

from __future__ import annotations

from django.db import models

from kentrobar.core.bench.steps import DEFAULT_ORDER
from kentrobar.web.kit.archive import Archivable
from kentrobar.web.kit.fields import TargetField
from kentrobar.web.kit.records import ChangeCounting


class Plan(Archivable, ChangeCounting):
    """Pieces laid on one frame.

    ``pieces`` is a list of ``{"id", "material", "piece", "overruled"}``, each piece a kentrobar/1
    document, ``overruled`` the rules of laying that the person set aside for it.
    ``version`` counts every change, so that two pages never overwrite each other silently. ``at``
    is the revision that is shown, ``undo_to`` the one before it and ``redo`` those undone, last
    one last. ``last_change`` is the page's own mark of the change that was taken last: a page that
    lost the answer may send that change again, and it is not taken twice. ``order_of_work`` is the
    school by which its steps are told; an archived plan is kept out of sight. ``cut_revision``
    is the state whose material was last taken off the shelf.

    ``target`` is what it was made to bring the frame within. ``specs`` are the readings that it starts from,
    none where the frame had none. A plan stays on them: a newer reading is offered as a new start, and taking
    it is a change like any other.
    """

    changed_text = "This plan was changed in another tab or by another person in the meantime."

    shop = models.ForeignKey("shops.Shop", on_delete=models.PROTECT, related_name="plans")
    frame = models.ForeignKey("frames.Frame", on_delete=models.PROTECT, related_name="plans")
    specs = models.ForeignKey("frames.SpecSheet", null=True, on_delete=models.PROTECT, related_name="plans")
    name = models.CharField(max_length=80)
    axis_cm = models.FloatField()
    pieces = models.JSONField(default=list)
    target = TargetField()
    version = models.PositiveIntegerField(default=1)
    at = models.PositiveIntegerField(default=1)
    undo_to = models.PositiveIntegerField(null=True)
    redo = models.JSONField(default=list)
    last_change = models.CharField(max_length=40, blank=True)
    order_of_work = models.CharField(max_length=14, default=DEFAULT_ORDER.value)
    cut_revision = models.PositiveIntegerField(null=True)
    created_at = models.DateTimeField(auto_now_add=True)
    changed_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-changed_at", "-pk"]

    def __str__(self) -> str:
        return self.name

    @property
    def change_count(self) -> int:
        return self.version


class PlanRevision(models.Model):
    """One state of a plan; never changed. ``parent`` is the state it was made from."""

    plan = models.ForeignKey(Plan, on_delete=models.CASCADE, related_name="revisions")
    number = models.PositiveIntegerField()
    parent = models.PositiveIntegerField(null=True)
    specs = models.ForeignKey("frames.SpecSheet", null=True, on_delete=models.PROTECT, related_name="+")
    name = models.CharField(max_length=80)
    axis_cm = models.FloatField()
    pieces = models.JSONField()
    summary = models.CharField(max_length=200)
    made_at = models.DateTimeField(auto_now_add=True)
    made_by = models.ForeignKey("shops.User", null=True, on_delete=models.PROTECT)

    class Meta:
        ordering = ["plan", "number"]
        constraints = [models.UniqueConstraint(fields=["plan", "number"], name="revision_once_a_plan")]

    def __str__(self) -> str:
        return f"{self.plan_id}/{self.number}"
