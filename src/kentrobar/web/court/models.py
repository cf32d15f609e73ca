"""What was found out on court: where players hit."""

from __future__ import annotations

from django.db import models

from kentrobar.core.court.hits import Hit
from kentrobar.core.court.strokes import STROKES


class HitMap(models.Model):
    """Where a player hit on a frame with one stroke: ``[x_cm, y_cm]`` of each hit, in the order of marking.

    A photo that helps to mark them never leaves the browser.
    """

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
    created_by = models.ForeignKey(
        "shops.User", null=True, on_delete=models.PROTECT, related_name="+"
    )
    changed_at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["-created_at", "-pk"]
        indexes = [models.Index(fields=["shop", "frame"], name="hit_map_by_frame")]

    def __str__(self) -> str:
        return f"{self.get_stroke_display()} of {self.frame_id}"

    @property
    def marked(self) -> list[Hit]:
        """The hits in the order in which they were marked."""
        return [Hit(*hit) for hit in self.hits]
