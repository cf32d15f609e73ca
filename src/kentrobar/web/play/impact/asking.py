"""How a person looks at a hit: which stroke, how fast face and ball come, and what the map tells."""

from __future__ import annotations

from typing import NamedTuple

from django import forms

from kentrobar.core.body.sport import Sport
from kentrobar.core.play.impact import Ball
from kentrobar.core.play.maps import MEASURES, Measure
from kentrobar.core.play.strokes import STROKES, ball_of, strokes_of
from kentrobar.core.quantities.errors import UnitError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.quantities.units import LENGTH, SPEED, parse_quantity
from kentrobar.web.kit.numbers import Units
from kentrobar.web.kit.quantities import style_fields
from kentrobar.web.kit.requests import Sent

FASTEST_MS = 90.0  # no face and no ball is faster
FARTHEST_CM, NEAREST_CM = -150.0, 15.0  # where a swing may turn: from the feet to the hand
SHOWN = (("after", "with the plan"), ("before", "without it"), ("change", "what it changes"))


class HitChoice(NamedTuple):
    """One way to look at a hit: the speed of the middle of the face, and about which axis it swings."""

    title: str
    face_ms: float
    axis_cm: Estimate
    ball: Ball
    measure: Measure
    shown: str


class HitForm(forms.Form):
    """What stands above a map; what is left empty or cannot be read is as the stroke has it."""

    stroke = forms.CharField(label="Stroke", max_length=20, required=False)
    face = forms.CharField(label="Middle of the face", max_length=20, required=False)
    ball = forms.CharField(label="Ball comes with", max_length=20, required=False)
    axis = forms.CharField(label="Swing turns at, from the butt", max_length=20, required=False)
    measure = forms.ChoiceField(label="Map of", choices=[*MEASURES.items()], required=False)
    shown = forms.ChoiceField(label="Shown", choices=SHOWN, required=False)

    def __init__(self, data: Sent, *, sport: Sport, units: Units, has_plan: bool = True) -> None:
        super().__init__(data)
        self.sport, self.units = sport, units
        strokes = strokes_of(sport)
        self.fields["stroke"].widget = forms.Select(
            choices=[(key, each.title) for key, each in strokes.items()]
        )
        # Plans of both sports may stand under one form: a stroke of the other sport is no slip.
        key = (data or {}).get("stroke", "")
        self.stroke_key = key if key in strokes else next(iter(strokes))
        usual = strokes[self.stroke_key]
        for name, usual_ms in (("face", usual.face_ms), ("ball", usual.ball_ms)):
            self.fields[name].widget.attrs |= {
                "placeholder": f"{units.speed_text(usual_ms)} {units.speed}",
                "autocomplete": "off",
                "inputmode": "decimal",
            }
        self.fields["axis"].widget.attrs |= {
            "placeholder": units.axis_text(usual.axis_cm.value).replace("-", "−"),
            "autocomplete": "off",
        }
        if not has_plan:
            del self.fields["shown"]
        style_fields(self)

    def _speed(self, name: str, usual_ms: float, least_ms: float) -> float:
        text = self.cleaned_data.get(name, "")
        if not text:
            return usual_ms
        try:
            speed = SPEED.to_base(*parse_quantity(text, SPEED, self.units.speed))
        except UnitError as error:
            self.add_error(name, error.message)
            return usual_ms
        if not least_ms <= speed <= FASTEST_MS:
            low, high = (self.units.speed_text(end) for end in (least_ms, FASTEST_MS))
            self.add_error(name, f"Give {low} to {high} {self.units.speed}.")
            return usual_ms
        return speed

    def _axis(self, usual: Estimate) -> Estimate:
        """Where the swing turns: as typed, which is then taken as known, or as of the stroke."""
        text = self.cleaned_data.get("axis", "")
        if not text:
            return usual
        try:
            axis_cm = LENGTH.to_base(*parse_quantity(text, LENGTH, self.units.length))
        except UnitError as error:
            self.add_error("axis", error.message)
            return usual
        if not FARTHEST_CM <= axis_cm <= NEAREST_CM:
            low, high = (self.units.length_text(end) for end in (FARTHEST_CM, NEAREST_CM))
            self.add_error("axis", f"Give {low} to {high} {self.units.length}; below 0 is behind the butt.")
            return usual
        return Estimate(axis_cm)

    def choice(self) -> HitChoice:
        """What to look at; a slip leaves an error at its field and the usual in its place."""
        self.is_valid()
        usual = STROKES[self.stroke_key]
        ball = ball_of(self.sport, self._speed("ball", usual.ball_ms, 0.0))
        measure = self.cleaned_data.get("measure") or Measure.BALL_SPEED
        return HitChoice(
            usual.title,
            self._speed("face", usual.face_ms, 0.5),
            self._axis(usual.axis_cm),
            ball,
            Measure(measure),
            self.cleaned_data.get("shown") or "after",
        )
