"""A timed swing of one frame: from taps, a gate or a recording to swing weight or twist weight."""

from __future__ import annotations

import json
from dataclasses import replace
from functools import cached_property
from typing import Any

from django import forms

from kentrobar.core.errors import KentrobarError
from kentrobar.core.estimates import Estimate
from kentrobar.core.outline import Sport
from kentrobar.core.pendulum import (
    GRAVITY_U_CMS2,
    HANG_U_CM,
    PendulumReading,
    SidewaysReading,
    TwoCordsReading,
    pendulum,
    twistweight,
)
from kentrobar.core.recordings import GATE_SCATTER_S, SwingFit, read_recording, swing_in
from kentrobar.core.slips import Entry, TypedNumber, expect_earlier, judge
from kentrobar.core.specs import MeasuredSpecs
from kentrobar.core.timing import TAP_SCATTER_S, Timing, period_of, swings_worth_it
from kentrobar.core.units import LENGTH, parse_number
from kentrobar.web.frames.forms import LENGTH_UNITS
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.quantities import QuantityField, style_fields
from kentrobar.web.measuring.models import Instrument
from kentrobar.web.measuring.services import TakenReading

MOST_PASSES = 400
METHODS = {"pendulum": "Swing weight by pendulum", "sideways": "Twist weight by pendulum",
           "cords": "Twist weight by two cords"}  # fmt: skip
AMPLITUDE_U_DEG = 1.0
_MISCOUNTS = (
    (2.0, "Only half of each swing seems to be timed: choose “at every pass”."),
    (0.5, "Two swings seem to be counted as one, or passes missed: choose “once a swing”."),
)


def _length(label: str, help_text: str = "") -> QuantityField:
    return QuantityField(LENGTH, LENGTH_UNITS, with_spread=True, label=label, help_text=help_text)


class SwingForm(forms.Form):
    """Where the frame hangs and how its swings were timed; the fields depend on the method."""

    hang = _length("Axle or string from the butt")
    amplitude = forms.CharField(
        max_length=20, required=False, initial="5", label="Swings to either side, degrees"
    )
    drop = _length("Long axis below the line it hangs from")
    cord = _length("Length of the cords")
    apart = _length("Distance of the cords")
    axis = QuantityField(LENGTH, LENGTH_UNITS, positive=False, label="Swing axis of the answer")
    passes = forms.TypedChoiceField(
        choices=[(1, "once a swing, always in the same direction"), (2, "at every pass, both ways")],
        coerce=int, initial=1, label="You tap",
    )  # fmt: skip
    times = forms.CharField(required=False, max_length=20_000, widget=forms.HiddenInput)
    timed_by = forms.CharField(required=False, max_length=10, widget=forms.HiddenInput)
    recording = forms.FileField(
        required=False, label="A recording (CSV)",
        help_text="Of a phone's motion sensor, or the times of passes from a light gate or a video.",
        widget=forms.FileInput({"class": "form-control", "accept": ".csv,text/csv,text/plain,.txt"}),
    )  # fmt: skip

    of_method = {
        "pendulum": ("hang", "amplitude", "axis"),
        "sideways": ("drop",),
        "cords": ("cord", "apart"),
    }

    def __init__(self, data: Any, files: Any, method: str, frame: Frame,
                 instrument: Instrument | None) -> None:  # fmt: skip
        super().__init__(data, files)
        for other, names in self.of_method.items():
            if other != method:
                for name in names:
                    self.fields.pop(name, None)
        self.initial["axis"] = (f"{frame.measured.axis_cm:g}", "cm")
        if instrument:
            for name in ("hang", "drop", "cord", "apart"):
                value = getattr(instrument, f"{name}_cm")
                if value is not None:
                    self.initial[name] = (f"{value:g}", "cm", f"{HANG_U_CM:g}")
        style_fields(self)

    def clean_amplitude(self) -> float:
        text = self.cleaned_data["amplitude"].strip()
        try:
            return parse_number(text)[0] if text else 0.0
        except KentrobarError as error:
            raise forms.ValidationError(error.message, error.code) from None

    def clean_times(self) -> list[float]:
        text = self.cleaned_data["times"]
        try:
            times = json.loads(text) if text else []
            return [float(t) for t in times[:MOST_PASSES]]
        except (ValueError, TypeError):
            raise forms.ValidationError("The taps could not be read; tap anew.", "times") from None


class Swing:
    """What a valid form comes to; ``error`` says why it comes to nothing."""

    def __init__(self, frame: Frame, method: str, form: SwingForm, instrument: Instrument | None):
        self.frame, self.method, self.form, self.instrument = frame, method, form, instrument
        self.cleaned = form.cleaned_data
        self.error = ""
        self.timing: Timing | None = None
        self.fit: SwingFit | None = None
        self.answer: Estimate | None = None
        self.recoil: Estimate | None = None
        try:
            self._time()
            if self.period is not None:
                self._compute(self.period)
        except KentrobarError as error:
            self.error = error.message
            if error.code == "period_too_short":
                self.error = f"{error.message} {self._miscount()}".strip()

    @property
    def measured(self) -> MeasuredSpecs:
        return self.frame.measured

    @property
    def is_twist(self) -> bool:
        return self.method != "pendulum"

    @property
    def axis_cm(self) -> float:
        axis = self.cleaned.get("axis")
        return axis.base if axis else self.measured.axis_cm

    @property
    def period(self) -> Estimate | None:
        found = self.timing or self.fit
        return found.period_s if found else None

    def _time(self) -> None:
        if self.cleaned.get("recording"):
            found = swing_in(
                read_recording(self.cleaned["recording"].read()), self.cleaned["passes"]
            )
            self.cleaned["recording"].seek(0)
            if isinstance(found, SwingFit):
                self.fit = found
            else:
                self.timing = found
        elif self.cleaned["times"]:
            by_gate = self.cleaned["timed_by"] == "gate"
            passes = 2 if by_gate else self.cleaned["passes"]
            usual = GATE_SCATTER_S if by_gate else TAP_SCATTER_S
            scatter = self.instrument.repeatability if self.instrument else usual
            self.timing = period_of(self.cleaned["times"], passes, scatter)

    def _compute(self, period: Estimate) -> None:
        if not self.is_twist:
            found = pendulum(self._hanging(period), self.axis_cm)
            self.answer, self.recoil = found.swingweight_kgcm2, found.recoil_kgcm2
        else:
            self.answer = twistweight(self._twisting(period))

    @property
    def _gravity(self) -> Estimate:
        return Estimate(self.frame.shop.gravity_cms2, GRAVITY_U_CMS2)

    def _mass(self) -> Estimate:
        mass = self.measured.mass_g
        if not isinstance(mass, Estimate):
            raise KentrobarError("Weigh the frame first.", code="no_mass", field="mass_g")
        return mass

    def _of(self, name: str) -> Estimate:
        typed = self.cleaned[name]
        return Estimate(typed.base, HANG_U_CM if typed.u_base is None else typed.u_base)

    def _hanging(self, period: Estimate) -> PendulumReading:
        balance = self.measured.balance_cm
        if not isinstance(balance, Estimate):
            raise KentrobarError("Find the balance first.", code="no_balance", field="balance_cm")
        amplitude = self.cleaned["amplitude"]
        reading = PendulumReading(
            self._mass(), balance, self._of("hang"), period, self._gravity,
            Estimate(amplitude, min(AMPLITUDE_U_DEG, amplitude / 2)),
        )  # fmt: skip
        return replace(reading, holder=self.instrument.holder) if self.instrument else reading

    def _twisting(self, period: Estimate) -> SidewaysReading | TwoCordsReading:
        if self.method == "sideways":
            return SidewaysReading(self._mass(), self._of("drop"), period, self._gravity)
        return TwoCordsReading(
            self._mass(), self._of("cord"), self._of("apart"), period, self._gravity
        )

    # -- advice --------------------------------------------------------------------------

    @cached_property
    def more_swings(self) -> int:
        """How many swings more are worth it, 0 where none are."""
        if self.timing is None or self.answer is None or self.period is None:
            return 0
        step = 1e-4
        at = self._answer_for(Estimate(self.period.value))
        shifted = self._answer_for(Estimate(self.period.value + step))
        return swings_worth_it(self.timing, at.u, abs(shifted.value - at.value) / step)

    @cached_property
    def suspicion(self) -> str:
        """A sentence where the answer does not fit the frame, with the likely slip."""
        if self.answer is None or not self._is_odd(self.answer.value):
            return ""
        noun = "twist weight" if self.is_twist else "swing weight"
        return self._miscount() or (
            f"This {noun} does not fit the frame; check where it hangs, weight, balance and count."
        )

    def _miscount(self) -> str:
        """The slip of counting, where twice or half the period fits the frame."""
        for factor, slip in _MISCOUNTS:
            assert self.period is not None  # noqa: S101 - there is something timed
            try:
                other = self._answer_for(Estimate(self.period.value * factor, self.period.u))
            except KentrobarError:
                continue
            if not self._is_odd(other.value):
                return slip
        return ""

    def _answer_for(self, period: Estimate) -> Estimate:
        if self.is_twist:
            return twistweight(self._twisting(period))
        return pendulum(self._hanging(period), self.axis_cm).swingweight_kgcm2

    def _is_odd(self, value: float) -> bool:
        typed = {"length": TypedNumber(f"{self.frame.length_cm}", "cm", True)}
        known = {"mass": self.measured.mass_g, "balance": self.measured.balance_cm}
        units = {"mass": "g", "balance": "cm"}
        typed |= {
            n: TypedNumber(f"{q.value:.4f}", units[n], True)
            for n, q in known.items() if isinstance(q, Estimate)
        }  # fmt: skip
        name = "twistweight" if self.is_twist else "swingweight"
        typed[name] = TypedNumber(f"{value:.4f}", "kg·cm²", True)
        typed["axis"] = TypedNumber(f"{self.axis_cm}", "cm")
        entry = Entry(Sport(self.frame.sport), typed, "")
        before = (
            self.measured.twistweight_kgcm2 if self.is_twist else self.measured.swingweight_kgcm2
        )
        reference = (
            expect_earlier("the last reading", self.measured)
            if isinstance(before, Estimate)
            else None
        )
        return judge(entry, reference).is_odd

    # -- what is kept -----------------------------------------------------------------------

    def new_specs(self) -> MeasuredSpecs:
        assert self.answer is not None  # noqa: S101 - asked by the caller
        if self.is_twist:
            return replace(self.measured, twistweight_kgcm2=self.answer)
        return replace(self.measured, swingweight_kgcm2=self.answer, axis_cm=self.axis_cm)

    def typed(self) -> dict[str, Any]:
        assert self.answer is not None  # noqa: S101 - asked by the caller
        kept = dict(self.frame.specs.typed) if self.frame.specs else {}
        spec = "twistweight" if self.is_twist else "swingweight"
        kept[spec] = {
            "text": f"{self.answer.value:.10g}", "unit": "kg·cm²", "spread": f"{self.answer.u:.4g}",
            "readings": [f"{self.period.value:.4f} s" if self.period else ""],
        }  # fmt: skip
        if not self.is_twist:
            kept["axis"] = {"text": f"{self.axis_cm:.10g}", "unit": "cm"}
        return kept

    def reading(self) -> TakenReading:
        assert self.answer is not None  # noqa: S101 - asked by the caller
        assert self.period is not None  # noqa: S101 - asked by the caller
        names = SwingForm.of_method[self.method]
        detail: dict[str, Any] = {"method": self.method, "period_u_s": self.period.u}
        for name in names:
            value = self.cleaned[name]
            detail[name] = value if isinstance(value, float) else value.record()
        if self.timing:
            detail |= {"times_s": self.cleaned["times"], "left_out": list(self.timing.left_out)}
        spec = "twistweight" if self.is_twist else "swingweight"
        return TakenReading(spec, f"{self.period.value:.5f}", "s", self.answer.value, False,
                            self.instrument, detail)  # fmt: skip
