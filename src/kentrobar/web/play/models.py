"""What was found out on court: where players hit, what suits them best, a shop's own rules of thumb."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Final

from django.db import models
from django.utils import timezone

from kentrobar.core.play.hits import Hit
from kentrobar.core.play.strokes import STROKES
from kentrobar.core.play.trial_design import Purpose
from kentrobar.core.play.trials import Preference
from kentrobar.web.kit.records import ChangeCounting
from kentrobar.web.shops.models import secret_address

ADDRESS_DAYS: Final = 30  # for which a player's address leads to their questions


def address_end() -> datetime:
    """When an address that is handed out now leads nowhere any more."""
    return timezone.now() + timedelta(days=ADDRESS_DAYS)


class HitMap(ChangeCounting):
    """Where a player hit on a frame with one stroke: ``[x_cm, y_cm]`` of each hit, in the order of marking.

    A photo that helps to mark them never leaves the browser.
    """

    changed_text = "Impacts were added on another page meanwhile. They are all here; add yours again."

    class StrokeChoice(models.TextChoices):
        GROUND = "ground", STROKES["ground"].title
        SERVE = "serve", STROKES["serve"].title
        VOLLEY = "volley", STROKES["volley"].title
        DRIVE = "drive", STROKES["drive"].title
        PUNCH = "punch", STROKES["punch"].title
        DINK = "dink", STROKES["dink"].title

    shop = models.ForeignKey("shops.Shop", on_delete=models.PROTECT, related_name="hit_maps")
    frame = models.ForeignKey("frames.Frame", on_delete=models.PROTECT, related_name="hit_maps")
    stroke = models.CharField(max_length=10, choices=StrokeChoice)
    about = models.CharField("when and how it was played", max_length=120, blank=True)
    hits = models.JSONField(default=list)
    created_at = models.DateTimeField(auto_now_add=True)
    created_by = models.ForeignKey("shops.User", null=True, on_delete=models.PROTECT, related_name="+")
    changed_at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["-created_at", "-pk"]
        indexes = [models.Index(fields=["shop", "frame"], name="hit_map_by_frame")]

    def __str__(self) -> str:
        return f"{self.get_stroke_display()} of {self.frame_id}"

    @property
    def change_count(self) -> int:
        return len(self.hits)

    @property
    def marked(self) -> list[Hit]:
        """The hits in the order in which they were marked."""
        return [Hit(*hit) for hit in self.hits]


class Trial(models.Model):
    """A search on court for the specs that suit a player best.

    ``sought`` and ``held`` are keys of specs, values of swing weight about ``axis_cm``. Setups start from
    the readings ``specs``. With a ``twin`` the second of two setups is laid on that. ``is_blind``: somebody
    else fits the weights and the player is not told which; ``secret`` leads a player's phone to the page
    where they answer, until ``address_until``. ``seed`` draws the order of two setups.
    """

    class Way(models.TextChoices):
        COMPARE = "compare", "which of two suits better"
        RATE = "rate", "each by itself, 1 to 7"

    shop = models.ForeignKey("shops.Shop", on_delete=models.PROTECT, related_name="trials")
    frame = models.ForeignKey("frames.Frame", on_delete=models.PROTECT, related_name="trials")
    twin = models.ForeignKey(
        "frames.Frame", null=True, blank=True, on_delete=models.PROTECT, related_name="+"
    )
    specs = models.ForeignKey("frames.SpecSheet", on_delete=models.PROTECT, related_name="+")
    sought = models.JSONField()
    held = models.JSONField(default=list)
    axis_cm = models.FloatField()
    way = models.CharField(max_length=7, choices=Way, default=Way.COMPARE)
    is_blind = models.BooleanField(default=True)
    secret = models.CharField(max_length=43, default=secret_address, unique=True)
    address_until = models.DateTimeField(default=address_end)
    seed = models.PositiveIntegerField()
    missed = models.JSONField("values that could not be reached", default=list)
    created_at = models.DateTimeField(auto_now_add=True)
    created_by = models.ForeignKey("shops.User", null=True, on_delete=models.PROTECT, related_name="+")
    ended_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-created_at", "-pk"]
        indexes = [models.Index(fields=["shop", "frame"], name="trial_by_frame")]

    def __str__(self) -> str:
        return f"trial {self.pk} on {self.frame_id}"

    @property
    def has_expired(self) -> bool:
        """Whether the player's address leads nowhere any more."""
        return self.address_until < timezone.now()

    @property
    def rates(self) -> bool:
        """Whether setups are rated one by one."""
        return self.way == self.Way.RATE


class TrialSetup(models.Model):
    """One setup of a trial; never changed. ``values`` are those of what is sought, in its order.

    ``pieces`` and ``twin_pieces`` are as plans store them, none for the frame as it is. ``plan`` is what
    was made of it on the board, if anybody asked for that.
    """

    trial = models.ForeignKey(Trial, on_delete=models.CASCADE, related_name="setups")
    number = models.PositiveSmallIntegerField()
    values = models.JSONField()
    pieces = models.JSONField(default=list)
    twin_pieces = models.JSONField(default=list)
    plan = models.ForeignKey("planning.Plan", null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        ordering = ["trial", "number"]
        constraints = [models.UniqueConstraint(fields=["trial", "number"], name="setup_once_a_trial")]

    def __str__(self) -> str:
        return f"{self.trial_id}/{self.number}"


class TrialAsk(models.Model):
    """One thing asked on court: two setups by their numbers (of a rating twice the same), and the answer.

    What is withdrawn is kept and asked again in a row of its own with the same number.
    """

    class PurposeChoice(models.TextChoices):
        BEST = Purpose.BEST.value, "for the best"
        CHECK = Purpose.CHECK.value, "asked again"
        BLANK = Purpose.BLANK.value, "the same twice"

    class SaidChoice(models.TextChoices):
        FIRST = Preference.FIRST.value, "the first"
        SECOND = Preference.SECOND.value, "the second"
        SAME = Preference.SAME.value, "no difference"

    trial = models.ForeignKey(Trial, on_delete=models.CASCADE, related_name="asks")
    number = models.PositiveSmallIntegerField()
    purpose = models.CharField(max_length=5, choices=PurposeChoice)
    first = models.PositiveSmallIntegerField()
    second = models.PositiveSmallIntegerField()
    said = models.CharField(max_length=4, choices=SaidChoice, blank=True)
    rated = models.PositiveSmallIntegerField(null=True)
    answered_at = models.DateTimeField(null=True)
    withdrawn_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["trial", "number"]
        constraints = [
            models.UniqueConstraint(
                fields=["trial", "number"], condition=models.Q(withdrawn_at=None), name="asked_once_a_trial"
            ),
            models.CheckConstraint(
                name="rated_1_to_7", condition=models.Q(rated=None) | models.Q(rated__range=(1, 7))
            ),
        ]

    def __str__(self) -> str:
        return f"{self.trial_id}: ask {self.number}"

    @property
    def is_answered(self) -> bool:
        return self.answered_at is not None


class ShopRule(models.Model):
    """What a shop puts in the place of a rule of thumb, or a rule of its own, which has a title.

    ``says`` holds what each school says, ``is_hidden``: the shop does not hold with it at all.
    """

    shop = models.ForeignKey("shops.Shop", on_delete=models.CASCADE, related_name="rules")
    key = models.CharField(max_length=40)
    title = models.CharField(max_length=80, blank=True)
    says = models.JSONField(default=list)
    reason = models.TextField(max_length=1000, blank=True)
    not_where = models.TextField("where it does not hold", max_length=1000, blank=True)
    is_hidden = models.BooleanField(default=False)
    changed_at = models.DateTimeField(auto_now=True)
    changed_by = models.ForeignKey("shops.User", null=True, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["shop", "key"], name="rule_once_a_shop")]

    def __str__(self) -> str:
        return self.key
