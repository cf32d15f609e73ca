"""What a person types of hits, and of a plan that is to move the sweet spot."""

from __future__ import annotations

from typing import Any

from django import forms

from kentrobar.core.body.sport import Sport
from kentrobar.core.editing.plan import Baseline
from kentrobar.core.play.strokes import strokes_of
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.units import LENGTH
from kentrobar.web.frames.baselines import ready_to_play
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.numbers import Units
from kentrobar.web.kit.quantities import LENGTH_UNITS, QuantityField, offer, style_fields
from kentrobar.web.kit.requests import Sent
from kentrobar.web.planning.targets.forms import TargetForm
from kentrobar.web.play.impact.asking import HitForm
from kentrobar.web.play.models import HitMap


class HitMapForm(forms.ModelForm):
    """A new map: of which stroke, and when and how it is played."""

    class Meta:
        model = HitMap
        fields = ("stroke", "about")
        labels = {"about": "When and how"}
        widgets = {"about": forms.TextInput({"placeholder": "Half an hour with the ball machine"})}

    def __init__(self, data: Sent = None, *, sport: Sport) -> None:
        super().__init__(data)
        offer(self, "stroke", [(key, each.title) for key, each in strokes_of(sport).items()])
        style_fields(self)


class SpeedsForm(HitForm):
    """How fast face and ball come with the stroke of a hit map."""

    def __init__(self, data: Sent, *, hit_map: HitMap, units: Units) -> None:
        sport = Sport(hit_map.frame.sport)
        known = {name: (data or {}).get(name, "") for name in ("face", "ball", "axis")}
        super().__init__(known | {"stroke": hit_map.stroke}, sport=sport, units=units, has_plan=False)
        del self.fields["stroke"], self.fields["measure"]


class ZoneForm(TargetForm):
    """Where the sweet spot is to come to lie, beside what a target may say."""

    needs_target = False

    zone = QuantityField(LENGTH, LENGTH_UNITS, with_spread=True, label="Sweet spot’s middle, from the butt")

    def begin_from(self, frame: Frame) -> Baseline:
        """The frame ready to play, since so a ball meets it; as it was read where that is not known."""
        read = super().begin_from(frame)
        try:
            return ready_to_play(read, frame, frame.specs)
        except KentrobarError:
            return read

    def target_rows(self) -> list[Any]:
        return [self["zone"], *super().target_rows()]
