"""Jobs and their frames, what was signed off, what players said of it."""

from __future__ import annotations

from datetime import date

from django.db import models
from django.db.models import Q
from simple_history.models import HistoricalRecords

from kentrobar.web.kit.fields import TargetField
from kentrobar.web.kit.records import WrittenOnce

# What a player is asked of a frame after some play, and how it may be answered.
QUALITIES = ("stability", "power", "quickness", "comfort")


class Job(models.Model):
    """What a client wants done, to which frames, by when.

    Where it stands is told by what was done, see ``core.bench.stages``; nothing of it is kept here.
    ``bench_on`` is the day on which it is to be worked at, ``bench_order`` its place among others of that
    day, ``minutes`` what a person says it takes; empty: what its plans take.
    """

    shop = models.ForeignKey("shops.Shop", on_delete=models.PROTECT, related_name="jobs")
    number = models.PositiveIntegerField()
    client = models.ForeignKey(
        "shops.Client", null=True, blank=True, on_delete=models.PROTECT, related_name="jobs"
    )
    set = models.ForeignKey(
        "matching.FrameSet", null=True, blank=True, on_delete=models.SET_NULL, related_name="jobs"
    )
    brief = models.CharField("what is to be done", max_length=200)
    notes = models.TextField(max_length=4000, blank=True)
    promised_on = models.DateField("promised for", null=True, blank=True)
    bench_on = models.DateField("at the bench on", null=True, blank=True)
    bench_order = models.PositiveSmallIntegerField(default=0)
    minutes = models.PositiveSmallIntegerField("minutes at the bench", null=True, blank=True)
    waiting_for = models.CharField(max_length=120, blank=True)
    price_material = models.DecimalField(max_digits=9, decimal_places=2, null=True, blank=True)
    price_time = models.DecimalField(max_digits=9, decimal_places=2, null=True, blank=True)
    notified_at = models.DateTimeField("client told that it is ready", null=True)
    handed_over_at = models.DateTimeField(null=True)
    handed_over_by = models.ForeignKey("shops.User", null=True, on_delete=models.PROTECT, related_name="+")
    follow_up_on = models.DateField("ask how it plays on", null=True, blank=True)
    followed_up_at = models.DateTimeField(null=True)
    called_off_at = models.DateTimeField(null=True)
    created_at = models.DateTimeField(auto_now_add=True)
    created_by = models.ForeignKey("shops.User", null=True, on_delete=models.PROTECT, related_name="+")
    changed_at = models.DateTimeField(auto_now=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["-number"]
        constraints = [models.UniqueConstraint(fields=["shop", "number"], name="job_number_once_a_shop")]
        indexes = [
            models.Index(
                fields=["shop", "promised_on"],
                name="job_open",
                condition=Q(called_off_at=None, handed_over_at=None),
            ),
            models.Index(
                fields=["shop", "follow_up_on"],
                name="job_to_follow_up",
                condition=Q(called_off_at=None, followed_up_at=None),
            ),
        ]

    def __str__(self) -> str:
        return f"Job {self.number}"

    def is_overdue(self, today: date) -> bool:
        """Whether it was promised for a day that is over."""
        is_open = self.handed_over_at is None and self.called_off_at is None
        return is_open and self.promised_on is not None and self.promised_on < today


class JobFrame(models.Model):
    """A frame of a job; ``plan`` is the one chosen for it, none: the latest that was laid for it."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="members")
    frame = models.ForeignKey("frames.Frame", on_delete=models.PROTECT, related_name="job_members")
    plan = models.ForeignKey(
        "planning.Plan", null=True, blank=True, on_delete=models.SET_NULL, related_name="+"
    )

    class Meta:
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["job", "frame"], name="frame_once_a_job")]

    def __str__(self) -> str:
        return f"{self.frame_id} in {self.job_id}"


class SignOff(WrittenOnce):
    """A frame of a job found as it is to be, by whom, on which readings; never changed.

    ``before`` and ``sheet`` are the readings that it started from and ended with, ``target`` wants nothing
    where there was no plan. ``laid`` is what is on it, as plans store pieces. ``chance``: that all specs lie
    within.
    """

    member = models.ForeignKey(JobFrame, on_delete=models.PROTECT, related_name="sign_offs")
    work = models.ForeignKey("bench.BenchWork", null=True, on_delete=models.PROTECT, related_name="sign_offs")
    before = models.ForeignKey("frames.SpecSheet", null=True, on_delete=models.PROTECT, related_name="+")
    sheet = models.ForeignKey("frames.SpecSheet", null=True, on_delete=models.PROTECT, related_name="+")
    target = TargetField()
    chance = models.FloatField(null=True)
    applied = models.JSONField(default=list)
    remark = models.CharField(max_length=200, blank=True)
    signed_as = models.CharField(max_length=80)
    made_at = models.DateTimeField(auto_now_add=True)
    made_by = models.ForeignKey("shops.User", null=True, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["-made_at", "-pk"]

    def __str__(self) -> str:
        return f"{self.member_id} signed off by {self.signed_as}"


class FramePage(models.Model):
    """The address that a frame's label leads to: unguessable, made once, made anew where it got out."""

    frame = models.OneToOneField("frames.Frame", on_delete=models.CASCADE, related_name="label_page")
    token = models.CharField(max_length=43, unique=True)
    made_at = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return f"page of {self.frame_id}"


class JobPhoto(WrittenOnce):
    """A photo of a job, encoded anew: small, and without where it was taken."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="photos")
    image = models.BinaryField()
    width = models.PositiveSmallIntegerField()
    height = models.PositiveSmallIntegerField()
    caption = models.CharField(max_length=120, blank=True)
    made_at = models.DateTimeField(auto_now_add=True)
    made_by = models.ForeignKey("shops.User", null=True, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return f"photo of {self.job_id}"


class PlayTest(WrittenOnce):
    """What a player said of a frame after playing with it; never changed.

    ``ratings`` are by quality from -2 (much worse) to 2 (much better). ``alike``: whether it felt the same as
    ``other``, or as before where there is no other. ``sheet`` and ``before`` are the readings it was played
    with and those before the work, ``other_sheet`` those of the other. ``is_blind``: the player was not told
    which frame was changed.
    """

    class AlikeAnswer(models.TextChoices):
        SAME = "same", "the same"
        DIFFERENT = "different", "different"

    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="play_tests")
    frame = models.ForeignKey("frames.Frame", on_delete=models.PROTECT, related_name="play_tests")
    other = models.ForeignKey("frames.Frame", null=True, on_delete=models.PROTECT, related_name="+")
    sheet = models.ForeignKey("frames.SpecSheet", null=True, on_delete=models.PROTECT, related_name="+")
    before = models.ForeignKey("frames.SpecSheet", null=True, on_delete=models.PROTECT, related_name="+")
    other_sheet = models.ForeignKey("frames.SpecSheet", null=True, on_delete=models.PROTECT, related_name="+")
    words = models.TextField(max_length=2000, blank=True)
    ratings = models.JSONField(default=dict)
    alike = models.CharField(max_length=9, choices=AlikeAnswer, blank=True)
    is_blind = models.BooleanField(default=False)
    made_at = models.DateTimeField(auto_now_add=True)
    made_by = models.ForeignKey("shops.User", null=True, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["-made_at", "-pk"]

    def __str__(self) -> str:
        return f"{self.frame_id} played"
