"""Searches: what workers solve so that no web process has to."""

from __future__ import annotations

from django.conf import settings
from django.db import models


class Search(models.Model):
    """One thing that is searched for by a worker, once for one state of what goes into it.

    ``kind`` names who solves it (``kit.searches``), ``subject`` the key of what it is about, ``part`` which
    of several searches about it: a way, a school, a frame. ``fingerprint`` is that of all that goes in, and
    ``request`` what a worker needs to put it together again. ``best_g`` and ``bound_g`` are how far it has
    come. ``attempt`` counts who took it, so that one who was given up writes no more; ``job_id`` is its place
    in the queue.
    """

    class State(models.TextChoices):
        WAITING = "waiting", "waiting for a worker"
        RUNNING = "running", "searching"
        DONE = "done", "done"
        STOPPED = "stopped", "stopped before it began"
        FAILED = "failed", "failed"

    shop = models.ForeignKey("shops.Shop", on_delete=models.CASCADE, related_name="searches")
    kind = models.CharField(max_length=12)
    subject = models.PositiveBigIntegerField()
    part = models.CharField(max_length=24, blank=True)
    fingerprint = models.CharField(max_length=64)
    request = models.JSONField(default=dict)
    state = models.CharField(max_length=7, choices=State, default=State.WAITING)
    attempt = models.PositiveIntegerField(default=0)
    job_id = models.BigIntegerField(null=True)
    is_stopped = models.BooleanField(default=False)
    best_g = models.FloatField(null=True)
    bound_g = models.FloatField(null=True)
    result = models.JSONField(null=True)
    problem = models.CharField(max_length=300, blank=True)
    problem_field = models.CharField(max_length=40, blank=True)  # of the form it was asked by
    asked_at = models.DateTimeField(auto_now_add=True)
    asked_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    started_at = models.DateTimeField(null=True)
    ended_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["pk"]
        constraints = [
            models.UniqueConstraint(
                fields=["kind", "subject", "part", "fingerprint"], name="searched_once_a_state"
            )
        ]

    def __str__(self) -> str:
        return f"{self.kind} {self.subject} {self.part}: {self.state}"

    @property
    def is_over(self) -> bool:
        """Whether no worker is at it or will be."""
        return self.state not in (self.State.WAITING, self.State.RUNNING)

    @property
    def is_in_vain(self) -> bool:
        """Whether it ended without an answer, so that it is worth asking again."""
        is_undecided = self.is_stopped and (self.result or {}).get("status") in (None, "undecided")
        return self.state in (self.State.FAILED, self.State.STOPPED) or (self.is_over and is_undecided)
