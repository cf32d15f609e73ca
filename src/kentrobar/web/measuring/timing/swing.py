"""A timed swing of one frame: from taps, a gate or a recording to swing weight or twist weight."""

from __future__ import annotations

import json
from dataclasses import dataclass, replace
from typing import Any, Final

from django import forms

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import TWIST_WEIGHT
from kentrobar.core.body.sport import Sport
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.quantities.units import LENGTH, MASS, parse_number
from kentrobar.core.reading.columns import LARGEST_RECORDING_BYTES, read_recording
from kentrobar.core.reading.pendulum import HANG_U_CM, NO_HOLDER
from kentrobar.core.reading.recordings import GATE_SCATTER_S, SwingFit, swing_in
from kentrobar.core.reading.swinging import CordsRig, HangingRig, Rig, SidewaysRig, SwingDirection
from kentrobar.core.reading.timing import TAP_SCATTER_S, Timing, period_of
from kentrobar.core.reading.totals import Total, period_of_totals, read_totals
from kentrobar.web.frames.builds import fitted_at
from kentrobar.web.frames.models import Frame, SpecSheet
from kentrobar.web.kit.quantities import LENGTH_UNITS, QuantityField, Typed, style_fields
from kentrobar.web.kit.records import Json
from kentrobar.web.kit.requests import Sent
from kentrobar.web.measuring.models import Instrument
from kentrobar.web.measuring.services import TakenReading, Taking

MOST_PASSES = 400
LEAST_AIR_KGCM2 = 0.05  # less does not show in a swing weight
METHODS = {
    "pendulum": "Swing weight by pendulum",
    "sideways": "Twist weight by pendulum",
    "cords": "Twist weight by two cords",
}


def _length(label: str, help_text: str = "") -> QuantityField:
    return QuantityField(LENGTH, LENGTH_UNITS, with_spread=True, label=label, help_text=help_text)


@dataclass(frozen=True, slots=True)
class TimedFrame:
    """A frame as it hangs there: what is known of it now, and the sheet in whose build it is."""

    frame: Frame
    measured: MeasuredSpecs
    sheet: SpecSheet | None

    @classmethod
    def as_read(cls, frame: Frame) -> TimedFrame:
        """As its last readings tell it."""
        return cls(frame, frame.measured, frame.specs)


PERIOD_REFUSED: Final = ("period_too_short", "period_too_long")  # a slip of counting may be why


class SwingForm(forms.Form):
    """Where the frame hangs and how its swings were timed; the fields depend on the method."""

    hang = _length("Axle or string from the butt")
    amplitude = forms.CharField(
        max_length=20, required=False, initial="5", label="Swings to either side, degrees"
    )
    way = forms.TypedChoiceField(
        choices=[
            (SwingDirection.FACE_ON.value, "face on: front to back, as it hangs by its top string"),
            (SwingDirection.EDGE_ON.value, "edge on: side to side"),
        ],
        coerce=SwingDirection,
        initial=SwingDirection.FACE_ON.value,
        label="Direction of swing",
        widget=forms.RadioSelect({"class": "form-check-input"}),
    )
    drop = _length("Long axis below the line it hangs from")
    cord = _length("Length of the cords")
    apart = _length("Distance of the cords")
    axis = QuantityField(LENGTH, LENGTH_UNITS, positive=False, label="Swing axis of the result")
    passes = forms.TypedChoiceField(
        choices=[(1, "once a swing, always in the same direction"), (2, "at every pass, both ways")],
        coerce=int,
        initial=1,
        label="Counting",
    )
    phone_mass = QuantityField(
        MASS,
        ("g", "oz"),
        required=False,
        label="Weight of a phone or sensor tied on",
        help_text="Left empty: nothing is tied on.",
    )
    phone_at = QuantityField(LENGTH, LENGTH_UNITS, required=False, label="Its middle from the butt")
    totals = forms.CharField(
        required=False,
        max_length=600,
        label="Or stopwatch totals, one per line",
        help_text="Swings and seconds. Several totals give a smaller ± than one.",
        widget=forms.Textarea({"rows": 2, "placeholder": "16 in 22.4 s"}),
    )
    scatter = forms.CharField(
        required=False,
        max_length=12,
        label="Your scatter at one press, s",
        help_text="Left empty: learnt from your taps, else 0.03.",
    )
    times = forms.CharField(required=False, max_length=20_000, widget=forms.HiddenInput)
    timed_by = forms.CharField(required=False, max_length=10, widget=forms.HiddenInput)
    recording = forms.FileField(
        required=False,
        label="A recording (CSV)",
        help_text="Of a phone's motion sensor, or the times of passes from a light gate or a video.",
        widget=forms.FileInput({"class": "form-control", "accept": ".csv,text/csv,text/plain,.txt"}),
    )

    of_method = {
        "pendulum": ("way", "hang", "amplitude", "axis", "phone_mass", "phone_at"),
        "sideways": ("drop",),
        "cords": ("cord", "apart"),
    }

    def __init__(
        self,
        data: Sent,
        files: Any,
        method: str,
        of: TimedFrame,
        instrument: Instrument | None,
        learnt: Estimate | None = None,
    ) -> None:
        super().__init__(data, files)
        self.learnt = learnt
        if learnt:
            self.fields["scatter"].widget.attrs["placeholder"] = f"{learnt.value:.3f}, learnt"
        for other, names in self.of_method.items():
            if other != method:
                for name in names:
                    self.fields.pop(name, None)
        self.initial["axis"] = (f"{of.measured.axis_cm:g}", "cm")
        if instrument:
            for name in ("hang", "drop", "cord", "apart"):
                value = getattr(instrument, f"{name}_cm")
                if value is not None:
                    self.initial[name] = (f"{value:g}", "cm", f"{HANG_U_CM:g}")
        style_fields(self)

    def rig(self, method: str, of: TimedFrame, instrument: Instrument | None) -> Rig:
        """The frame hung as typed, for the rules."""
        axis, frame = self.cleaned_data.get("axis"), of.frame
        about: dict[str, Any] = {
            "sport": Sport(frame.sport),
            "length_cm": frame.length_cm,
            "measured": of.measured,
            "gravity_cms2": frame.shop.gravity_cms2,
            "axis_cm": axis.base if axis else of.measured.axis_cm,
        }
        if method == "sideways":
            return SidewaysRig(drop_cm=self._of("drop"), **about)
        if method == "cords":
            return CordsRig(cord_cm=self._of("cord"), apart_cm=self._of("apart"), **about)
        rig = HangingRig(
            hang_cm=self._of("hang"),
            way=self.cleaned_data["way"],
            outline=frame.outline,
            amplitude_deg=self.cleaned_data["amplitude"],
            holder=instrument.holder if instrument else NO_HOLDER,
            **about,
        )
        mass, at = self.cleaned_data["phone_mass"], self.cleaned_data["phone_at"]
        return rig.with_phone(mass.base, at.base) if mass and at else rig

    def _of(self, name: str) -> Estimate:
        typed = self.cleaned_data[name]
        return Estimate(typed.base, HANG_U_CM if typed.u_base is None else typed.u_base)

    def clean(self) -> None:
        cleaned = self.cleaned_data
        if cleaned.get("phone_mass") and not cleaned.get("phone_at"):
            self.add_error("phone_at", "Type how far from the butt its middle is.")

    def clean_amplitude(self) -> float:
        text = self.cleaned_data["amplitude"].strip()
        try:
            return parse_number(text)[0] if text else 0.0
        except KentrobarError as error:
            raise forms.ValidationError(error.message, error.code) from None

    def clean_totals(self) -> list[Total]:
        try:
            return read_totals(self.cleaned_data["totals"])
        except KentrobarError as error:
            raise forms.ValidationError(error.message, error.code) from None

    def clean_scatter(self) -> float | None:
        """What was typed, s; None where nothing was."""
        text = self.cleaned_data["scatter"].strip().removesuffix("s")
        if not text:
            return None
        try:
            seconds, _ = parse_number(text)
        except KentrobarError as error:
            raise forms.ValidationError(error.message, error.code) from None
        if not 0.001 <= seconds <= 0.5:
            raise forms.ValidationError("A hand misses by 0.001 to 0.5 s.", "no_scatter")
        return seconds

    def scatter_s(self, instrument: Instrument | None) -> float:
        """What one press by hand scatters by: as typed, as learnt, of the instrument, or usual."""
        typed: float | None = self.cleaned_data.get("scatter")
        if typed is not None:
            return typed
        if self.learnt:
            return self.learnt.value
        return instrument.repeatability if instrument else TAP_SCATTER_S

    def clean_times(self) -> list[float]:
        text = self.cleaned_data["times"]
        try:
            times = json.loads(text) if text else []
            return [float(t) for t in times[:MOST_PASSES]]
        except (ValueError, TypeError, RecursionError, OverflowError):
            raise forms.ValidationError("The taps could not be read. Tap again.", "times") from None


class TimedSwing:
    """What a valid form comes to; ``error`` says why it comes to nothing."""

    def __init__(self, of: TimedFrame, method: str, form: SwingForm, instrument: Instrument | None):
        self.of, self.form, self.instrument = of, form, instrument
        self.cleaned = form.cleaned_data
        self.rig = form.rig(method, of, instrument)
        self.method, self.error, self.suspicion = method, "", ""
        self.timing: Timing | None = None
        self.fit: SwingFit | None = None
        self.answer: Estimate | None = None
        self.recoil: Estimate | None = None
        self.more_swings = 0
        try:
            self._time()
            if self.period is not None:
                self._judge(self.period)
        except KentrobarError as error:
            self.error = error.message
            if error.code in PERIOD_REFUSED and self.period is not None:
                self.error = f"{error.message} {self.rig.miscount(self.period)}".strip()

    @property
    def noun(self) -> str:
        return self.rig.spec.noun

    @property
    def is_twist(self) -> bool:
        return self.rig.spec is TWIST_WEIGHT

    @property
    def period(self) -> Estimate | None:
        found = self.timing or self.fit
        return found.period_s if found else None

    @property
    def air(self) -> Estimate | None:
        """The air that is added to what was swung, where there is any to speak of."""
        air = self.rig.air_kgcm2() if isinstance(self.rig, HangingRig) else Estimate(0.0)
        return air if abs(air.value) >= LEAST_AIR_KGCM2 else None

    @property
    def drawn(self) -> dict[str, object] | None:
        """The recording with the fitted wave, for a chart; None where nothing was fitted."""
        if self.fit is None:
            return None
        times, signal, fitted = zip(*self.fit.drawn, strict=True)
        return {"t": [round(t, 4) for t in times], "signal": signal, "fit": fitted, "name": self.fit.signal}

    def _time(self) -> None:
        """The period from the recording, or from the taps."""
        if self.cleaned.get("recording"):
            data = self.cleaned["recording"].read(LARGEST_RECORDING_BYTES + 1)
            found = swing_in(read_recording(data), self.cleaned["passes"])
            self.fit, self.timing = (found, None) if isinstance(found, SwingFit) else (None, found)
            amplitude = self.fit.amplitude_deg if self.fit else None
            if isinstance(self.rig, HangingRig) and amplitude:
                self.rig = replace(self.rig, amplitude_deg=amplitude.value)
        elif self.cleaned["times"]:
            by_gate = self.cleaned["timed_by"] == "gate"
            passes = 2 if by_gate else self.cleaned["passes"]
            by_hand = self.form.scatter_s(self.instrument)
            of_gate = self.instrument.repeatability if self.instrument else GATE_SCATTER_S
            self.timing = period_of(self.cleaned["times"], passes, of_gate if by_gate else by_hand)
        elif self.cleaned["totals"]:
            scatter = self.form.scatter_s(self.instrument)
            self.timing = period_of_totals(self.cleaned["totals"], scatter)

    def _judge(self, period: Estimate) -> None:
        self.answer = self.rig.answer(period)
        if isinstance(self.rig, HangingRig):
            self.recoil = self.rig.recoil(period)
        self.suspicion = self.rig.suspicion(self.answer, period)
        if self.timing:
            self.more_swings = self.rig.more_swings(self.timing)

    # -- what is kept -----------------------------------------------------------------------

    def taking(self) -> Taking:
        """The answer beside what else was read of the frame, to be recorded. Only where there is one."""
        assert self.answer is not None and self.period is not None  # noqa: S101, PT018
        sheet = self.of.sheet
        assert sheet is not None  # noqa: S101 - its weight is known
        measured = self.rig.measured_with(self.period)
        keys = [fitting.key for fitting in fitted_at(self.of.frame, sheet)]
        return Taking(measured, sheet.build, [self.reading(self.answer)], keys)

    def reading(self, answer: Estimate) -> TakenReading:
        """The swing as it was timed, with what it comes to. Only where there is an answer."""
        assert self.period is not None  # noqa: S101 - there is an answer
        detail: Json = {"method": self.method, "period_u_s": self.period.u}
        for name in SwingForm.of_method[self.method]:
            value = self.cleaned[name]
            if value is not None:
                detail[name] = value.record() if isinstance(value, Typed) else value
        if self.timing:
            detail |= {"times_s": self.cleaned["times"], "left_out": list(self.timing.left_out)}
            by_hand = not self.cleaned.get("recording") and self.cleaned["timed_by"] != "gate"
            if by_hand and self.timing.freedom:
                own = {"square_s2": self.timing.own_square_s2, "freedom": self.timing.freedom}
                detail["by_hand"] = own
            if self.cleaned["totals"]:
                detail["totals"] = [list(each) for each in self.cleaned["totals"]]
        text = f"{self.period.value:.5f}"
        return TakenReading(
            self.rig.spec.field, text, "s", answer.value, instrument=self.instrument, detail=detail
        )
