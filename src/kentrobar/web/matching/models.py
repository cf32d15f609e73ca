"""Sets of frames that are to be alike, what they are to become, and the plans laid for them."""

from __future__ import annotations

from django.db import models

from kentrobar.core.bench.steps import DEFAULT_ORDER
from kentrobar.core.body.target import Alike
from kentrobar.core.solving.allowed import Allowed
from kentrobar.core.weight.builds import Build
from kentrobar.web.frames.models import SpecSheet
from kentrobar.web.kit.archive import Archivable
from kentrobar.web.kit.fields import AllowedField, TargetField
from kentrobar.web.kit.records import ChangeCounting


class FrameSet(Archivable, ChangeCounting):
    """Frames that are to be alike, in one build and about one axis, and the target they share.

    ``target`` is about the centres of a written target, free for every other ``kind``: those are worked out
    of the frames. ``version`` counts every change of what is asked.
    """

    changed_text = "Somebody changed this set meanwhile. Look again."

    class TargetKind(models.TextChoices):
        LEAST = "least", "least weight for all"
        FEWEST = "fewest", "no work on the most frames"
        FRAME = "frame", "one of the frames"
        HEAVIEST = "heaviest", "the heaviest"
        WRITTEN = "written", "a written spec"
        OTHER = "other", "another set"

    class AlikeChoice(models.TextChoices):
        TARGET = Alike.TO_TARGET.value, "each within it of the target"
        EACH_OTHER = Alike.TO_EACH_OTHER.value, "all within it of each other"

    class BuildChoice(models.TextChoices):
        BARE = Build.BARE.value, SpecSheet.SheetBuild.BARE.label
        STRUNG = Build.STRUNG.value, SpecSheet.SheetBuild.STRUNG.label
        PLAYING = Build.PLAYING.value, SpecSheet.SheetBuild.PLAYING.label

    shop = models.ForeignKey("shops.Shop", on_delete=models.PROTECT, related_name="sets")
    name = models.CharField(max_length=80)
    frames = models.ManyToManyField("frames.Frame", through="SetMember", related_name="sets")
    kind = models.CharField("target", max_length=8, choices=TargetKind, default=TargetKind.LEAST)
    favourite = models.ForeignKey(
        "frames.Frame", null=True, blank=True, on_delete=models.PROTECT, related_name="+"
    )
    other = models.ForeignKey("self", null=True, blank=True, on_delete=models.SET_NULL, related_name="+")
    target = TargetField()
    tape = models.ForeignKey(
        "materials.Material", null=True, blank=True, on_delete=models.SET_NULL, related_name="+"
    )
    putty = models.ForeignKey(
        "materials.Material", null=True, blank=True, on_delete=models.SET_NULL, related_name="+"
    )
    step_cm = models.FloatField(default=0.5)
    layers = models.PositiveSmallIntegerField(default=1)
    allowed = AllowedField("places that may be used")
    order_of_work = models.CharField(max_length=14, default=DEFAULT_ORDER.value)
    typed = models.JSONField("as typed", default=dict)
    version = models.PositiveIntegerField(default=1)
    created_at = models.DateTimeField(auto_now_add=True)
    changed_at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["-changed_at", "-pk"]

    def __str__(self) -> str:
        return self.name

    @property
    def change_count(self) -> int:
        return self.version

    @property
    def setup_text(self) -> str:
        """The setup that its frames are compared in, in words."""
        return str(self.BuildChoice(self.target.setup).label)


class SetMember(models.Model):
    """A frame of a set; ``is_out`` leaves it out of what is planned.

    ``allowed`` are the only places that may be used on it; everywhere: those of the set.
    """

    set = models.ForeignKey(FrameSet, on_delete=models.CASCADE, related_name="members")
    frame = models.ForeignKey("frames.Frame", on_delete=models.PROTECT, related_name="+")
    is_out = models.BooleanField("left out", default=False)
    allowed = AllowedField("places that may be used")

    class Meta:
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["set", "frame"], name="frame_once_a_set")]

    def __str__(self) -> str:
        return f"{self.frame_id} in {self.set_id}"

    def allowed_in(self, of: FrameSet) -> Allowed:
        """Where weight may lie on it: where its frame lets it, at its own places or else those of the set."""
        own = of.allowed if self.allowed.is_anywhere else self.allowed
        return self.frame.allowed.only(own.sites)


class SetLaying(models.Model):
    """Plans laid for a set in one go: in which way, to which target; never changed.

    ``target`` is about the centres that were planned to; ``plans`` are those of the frames.
    """

    set = models.ForeignKey(FrameSet, on_delete=models.CASCADE, related_name="layings")
    way = models.CharField(max_length=12)
    target = TargetField()
    plans = models.ManyToManyField("planning.Plan", related_name="set_layings")
    made_at = models.DateTimeField(auto_now_add=True)
    made_by = models.ForeignKey("shops.User", null=True, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["-made_at", "-pk"]

    def __str__(self) -> str:
        return f"{self.way} for {self.set_id}"
