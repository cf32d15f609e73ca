"""Exercises that somebody did at the practice bench."""

from __future__ import annotations

from django.db import models

from kentrobar.core.bench.practice.hidden import LEVELS
from kentrobar.core.body.sport import Sport
from kentrobar.web.kit.records import ChangeCounting


class PracticeRun(ChangeCounting):
    """One exercise of one person, told by its seed; ``moves`` are what was done in it, in order.

    ``answer`` is what was stated in the end, ``parts`` and ``points`` what that was worth; empty until then.
    """

    changed_text = "Something was done on another page meanwhile; go on from here."

    class Task(models.TextChoices):
        READ = "read", "Measure well"
        SLIP = "slip", "Find the slip"
        PREDICT = "predict", "Predict before you see"
        MATCH = "match", "Match two"
        FINISH = "finish", "Finish in few rounds"

    class PracticeSport(models.TextChoices):
        TENNIS = Sport.TENNIS.value, "rackets"
        PICKLEBALL = Sport.PICKLEBALL.value, "paddles"

    shop = models.ForeignKey("shops.Shop", on_delete=models.CASCADE, related_name="practice_runs")
    user = models.ForeignKey("shops.User", on_delete=models.CASCADE, related_name="practice_runs")
    task = models.CharField(max_length=7, choices=Task)
    level = models.PositiveSmallIntegerField(choices=[(level, str(level)) for level in LEVELS])
    sport = models.CharField(max_length=10, choices=PracticeSport)
    seed = models.PositiveIntegerField()
    moves = models.JSONField(default=list)
    answer = models.JSONField(default=dict)
    parts = models.JSONField(default=list)
    points = models.PositiveSmallIntegerField(null=True)
    started_at = models.DateTimeField(auto_now_add=True)
    finished_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-started_at", "-pk"]
        indexes = [models.Index(fields=["user", "task"], name="practice_by_person_and_task")]
        constraints = [
            models.CheckConstraint(
                name="scored_when_finished",
                condition=models.Q(finished_at=None, points=None)
                | models.Q(finished_at__isnull=False, points__range=(0, 100)),
            )
        ]

    def __str__(self) -> str:
        return f"{self.get_task_display()}, level {self.level}"

    @property
    def change_count(self) -> int:
        return len(self.moves)
