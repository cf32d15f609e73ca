"""What a trial is to find and with what, as a person asks for it."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Final

from django import forms

from kentrobar.core.body.specs import AIMED_BY_KEY, BALANCE, SWING_WEIGHT, TWIST_WEIGHT
from kentrobar.core.editing.shelf import Shelf, Stock
from kentrobar.core.play.trial_setups import Steps, usual_steps, values_of_steps
from kentrobar.core.quantities.errors import KentrobarError, UnitError
from kentrobar.core.quantities.units import parse_quantity
from kentrobar.core.solving.supply import Workpiece, supply_for
from kentrobar.core.weight.materials import Form
from kentrobar.core.weight.prediction import predict
from kentrobar.web.frames.baselines import baseline_of, strains_of
from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.queries import frames_with_fittings
from kentrobar.web.kit.archive import IN_USE
from kentrobar.web.kit.numbers import written
from kentrobar.web.kit.quantities import offer, style_fields
from kentrobar.web.kit.requests import Sent
from kentrobar.web.play.models import Trial
from kentrobar.web.play.trials.services import TrialRequest
from kentrobar.web.shops.models import User

SEARCHES: Final = {
    "swingweight": ("Swing weight", (SWING_WEIGHT,)),
    "swingweight_balance": ("Swing weight and balance", (SWING_WEIGHT, BALANCE)),
    "swingweight_twistweight": ("Swing weight and twist weight", (SWING_WEIGHT, TWIST_WEIGHT)),
    "balance": ("Balance", (BALANCE,)),
    "twistweight": ("Twist weight", (TWIST_WEIGHT,)),
}
ENDS: Final = ("low", "high", "step")
MOST_LAYERS: Final = 3


class TrialForm(forms.Form):
    """A trial on one frame. Ranges left empty are the usual ones."""

    search = forms.ChoiceField(
        label="What to find", choices=[(key, title) for key, (title, _) in SEARCHES.items()]
    )
    way = forms.ChoiceField(label="The player answers", choices=Trial.Way.choices, initial=Trial.Way.COMPARE)
    is_blind = forms.BooleanField(label="Blind: somebody else fits the weights", required=False, initial=True)
    holds_balance = forms.BooleanField(label="Keep the balance in all setups", required=False)
    holds_twist = forms.BooleanField(label="Keep the twist weight in all setups", required=False)
    twin = forms.ChoiceField(label="Second, matched frame", required=False)
    tape = forms.ChoiceField(label="Tape for rim, throat and bevels", required=False)
    putty = forms.ChoiceField(label="Putty for cavity and cap", required=False)

    def __init__(self, data: Sent, *, frame: Frame, shelf: Shelf, user: User) -> None:
        super().__init__(data)
        self.frame, self.shelf, self.user, self.units = frame, shelf, user, user.units
        self.now = predict(
            frame.measured, [], length_cm=frame.length_cm, axis_cm=frame.measured.axis_cm
        ).before
        for spec in (SWING_WEIGHT, BALANCE, TWIST_WEIGHT):
            for end in ENDS:
                name = f"{spec.field}_{end}"
                self.fields[name] = forms.CharField(
                    label=f"{spec.title}: {_END_NAMES[end]}",
                    max_length=20,
                    required=False,
                    widget=forms.TextInput(
                        {
                            "placeholder": self._usual(spec.key, end),
                            "inputmode": "decimal",
                            "autocomplete": "off",
                        }
                    ),
                )
        for name, form in (("tape", Form.TAPE), ("putty", Form.PUTTY)):
            offer(self, name, [(str(s.key), s.name) for s in shelf.offered if s.form is form])
        offer(self, "twin", [("", "none: change one frame in between"), *self._twins()])
        style_fields(self)

    def _twins(self) -> Iterator[tuple[str, str]]:
        """Other frames of the player, or else of the model, that were read."""
        alike = frames_with_fittings(self.user).filter(IN_USE, sport=self.frame.sport, specs__isnull=False)
        mine = {"client": self.frame.client} if self.frame.client else {"model": self.frame.model}
        for each in alike.filter(**mine).exclude(pk=self.frame.pk)[:40]:
            yield str(each.pk), each.label

    # -- ranges -----------------------------------------------------------------------------

    @property
    def strain(self) -> str:
        """What stands above a range for a player who told of strain; empty for others."""
        if not (self.frame.client and self.frame.client.strain):
            return ""
        return (
            f"{self.frame.player} reported pain ({self.frame.client.strain_text}): the range reaches less "
            "far. Keep it anyway, play fewer balls with each, stop where it hurts. Pain is for a clinician."
        )

    @property
    def range_rows(self) -> list[tuple[str, str, list[forms.BoundField]]]:
        """For each spec: its key, its name with its unit, and the fields of its range."""
        return [
            (
                spec.field,
                f"{spec.title}, {self.units.typed_unit(spec)}",
                [self[f"{spec.field}_{end}"] for end in ENDS],
            )
            for spec in (SWING_WEIGHT, BALANCE, TWIST_WEIGHT)
        ]

    def _usual_steps(self, key: str) -> Steps | None:
        now = self.now.of(AIMED_BY_KEY[key])
        if not now:
            return None
        return usual_steps(key, now.value, self.frame.is_racket, bool(strains_of(self.frame)))

    def _usual(self, key: str, end: str) -> str:
        usual, spec = self._usual_steps(key), AIMED_BY_KEY[key]
        if usual is None:
            return "not read"
        value = spec.dimension.from_base(getattr(usual, end), self.units.typed_unit(spec))
        return written(value, spec.decimals)

    def _steps(self, key: str) -> Steps | None:
        """The range of a spec as typed, the usual where nothing was; None with an error at its field."""
        spec, usual = AIMED_BY_KEY[key], self._usual_steps(key)
        if usual is None:
            self.add_error("search", f"The {spec.noun} of this frame is not measured. Measure it first.")
            return None
        values = {}
        for end in ENDS:
            name = f"{spec.field}_{end}"
            text = self.cleaned_data.get(name, "")
            try:
                values[end] = (
                    spec.dimension.to_base(*parse_quantity(text, spec.dimension, self.units.typed_unit(spec)))
                    if text
                    else getattr(usual, end)
                )
            except UnitError as error:
                self.add_error(name, error.message)
                return None
        return Steps(key, **values)

    # -- what is asked ------------------------------------------------------------------------

    def trial_request(self) -> TrialRequest | None:
        """What the trial is to be; None where something cannot be read, which then stands at its field."""
        if not self.is_valid():
            return None
        _, specs = SEARCHES[self.cleaned_data["search"]]
        steps = [self._steps(spec.key) for spec in specs]
        if self.errors:
            return None
        try:
            values_of_steps([each for each in steps if each])
        except KentrobarError as error:
            self.refuse(error)
            return None
        keys = [spec.key for spec in specs]
        held = [
            key
            for name, key in (("holds_balance", BALANCE.key), ("holds_twist", TWIST_WEIGHT.key))
            if self.cleaned_data[name] and key not in keys
        ]
        twin = self._twin()
        return TrialRequest(
            self.frame,
            self._work(self.frame),
            [each for each in steps if each],
            held,
            twin,
            self._work(twin) if twin else None,
            self.cleaned_data["way"],
            self.cleaned_data["is_blind"],
        )

    def _twin(self) -> Frame | None:
        key = self.cleaned_data["twin"]
        return frames_with_fittings(self.user).get(pk=key) if key else None

    def _work(self, frame: Frame) -> Workpiece:
        baseline = baseline_of(frame, frame.specs)
        supply = supply_for(
            self.shelf, baseline, tape=self._stock("tape"), putty=self._stock("putty"), layers=MOST_LAYERS
        )
        return Workpiece(baseline, supply, allowed=frame.allowed)

    def _stock(self, name: str) -> Stock | None:
        key = self.cleaned_data.get(name)
        return self.shelf.find(int(key)) if key else None

    def refuse(self, error: KentrobarError) -> None:
        """Show what speaks against the trial at the field that it names."""
        spec = AIMED_BY_KEY.get(error.field or "")
        name = f"{spec.field}_low" if spec else error.field
        self.add_error(name if name in self.fields else None, error.message)


_END_NAMES: Final = {"low": "from", "high": "to", "step": "in steps of"}
