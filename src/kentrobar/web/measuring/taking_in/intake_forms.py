"""Taking frames in: one client, one model, one or several frames of it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any, NamedTuple

from django import forms
from django.forms.boundfield import BoundField

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.ranges import USUAL_AXIS_CM
from kentrobar.core.body.specs import READ, READ_BY_KEY, STATIC_WEIGHT, SWING_WEIGHT, ReadSpec
from kentrobar.core.body.sport import Sport
from kentrobar.core.frame.blocked import parse_blocked, with_unit
from kentrobar.core.frame.outline import Dimensions, outline_of
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.estimates import NOT_MEASURED, Estimate, Quantity
from kentrobar.core.quantities.units import INERTIA, LENGTH, MASS
from kentrobar.core.reading.entry import Entry, TypedAxis, TypedSpec, read_entry
from kentrobar.core.reading.slips import EntryFix, Reference, expect_model
from kentrobar.core.weight.builds import FittingKind
from kentrobar.core.weight.strings import STRING_DENSITIES
from kentrobar.web.frames.builds import build_name, builds_for
from kentrobar.web.frames.forms import (
    HandedIn,
    PaddleOutlineForm,
    RacketOutlineForm,
    require_one_client,
    require_one_model,
    typed_dimensions,
    typed_dimensions_of,
)
from kentrobar.web.frames.models import Frame, SpecSheet
from kentrobar.web.kit.quantities import BalanceField, QuantityField, offer, style_fields
from kentrobar.web.kit.records import Json
from kentrobar.web.kit.requests import Sent
from kentrobar.web.materials.models import Accessory
from kentrobar.web.measuring.boxes import USUAL_LENGTH_CM, Readers, readers_chosen, taken_readings
from kentrobar.web.measuring.fixes import Fill, FixButton, buttons, quantity_fill
from kentrobar.web.measuring.services import Taking
from kentrobar.web.shops.models import User

MOST_FRAMES = 24
SHOWN_ROWS = 3
ROW_FIELDS = ("mark", "colour", "used", *(spec.field for spec in READ))
_FITTED = {
    "tennis": ("bumper", "bumper_guard", "grommet_strip", "butt_cap", "grip", "overgrip", "dampener"),
    "pickleball": ("butt_cap", "grip", "overgrip", "edge_tape"),
}
_NOT_ON_MOST = frozenset({"dampener", "edge_tape", "bumper_guard", "grommet_strip"})


@dataclass
class FrameRow:
    """One frame of the table as typed, and what it was read as."""

    number: int
    texts: dict[str, str]
    errors: dict[str, str] = field(default_factory=dict)
    unusual: str = ""
    fixes: list[FixButton] = field(default_factory=list)
    entry: Entry | None = None

    @property
    def is_read(self) -> bool:
        """Whether anything was read of it, and can be."""
        return self.entry is not None and not self.entry.is_empty and not self.errors

    @property
    def is_empty(self) -> bool:
        return not any(text for name, text in self.texts.items() if name != "used")

    def fill(self, fix: EntryFix) -> Fill:
        """The boxes of this row that a fix fills; a shared axis has its own."""
        fill: dict[str, str] = {}
        for name, typed in fix.changes.items():
            if name == "axis":
                fill |= quantity_fill({name: typed})
            elif name in ROW_FIELDS:
                fill[f"{name}_{self.number}"] = f"{typed.text} {typed.unit}"
        return fill

    def cells(self) -> list[tuple[str, str, str]]:
        return [(name, self.texts[name], self.errors.get(name, "")) for name in ROW_FIELDS]


class SpecColumn(NamedTuple):
    """The head of a column of readings: its spec, the unit of a bare number, what it was read with."""

    name: str
    title: str
    unit: str
    readers: Readers


class IntakeForm(HandedIn):
    """What several frames of one model share; the frames themselves are rows of a table."""

    dimensions: Dimensions
    dimension_keys: dict[str, str] = {}
    starting_dimensions: dict[str, tuple[str, str]] = {}

    player = forms.CharField(max_length=80, required=False, label="Client")
    model_name = forms.CharField(max_length=80, label="Model")
    string_material = forms.ChoiceField(
        choices=[("", "none or not known"), *((m, m) for m in STRING_DENSITIES)],
        required=False,
        label="Strings",
    )
    gauge = QuantityField(LENGTH, ["mm"], required=False, label="Gauge")
    fitted = forms.MultipleChoiceField(
        required=False, widget=forms.CheckboxSelectMultiple, label="Also fitted"
    )
    build = forms.ChoiceField(choices=SpecSheet.SheetBuild.choices[:3], initial="playing", label="Read in")
    axis = QuantityField(LENGTH, ["cm", "mm", "in"], positive=False, label="Swing axis")
    stated_mass = QuantityField(MASS, ["g", "oz"], required=False, label="Stated weight")
    stated_balance = BalanceField(required=False, label="Stated balance")
    stated_swingweight = QuantityField(
        INERTIA, ["kg·cm²", "oz·in²"], required=False, label="Stated swing weight"
    )
    stated_build = forms.ChoiceField(
        choices=SpecSheet.SheetBuild.choices[:3], initial="bare", label="Stated for"
    )
    keep = forms.BooleanField(required=False, widget=forms.HiddenInput)

    def __init__(
        self,
        data: Sent = None,
        *,
        user: User,
        accessories: Sequence[Accessory],
        like: Frame | None = None,
        model_name: str = "",
    ) -> None:
        super().__init__(data)
        self.user, self.units = user, user.units
        kinds = _FITTED[self.sport.value]
        offered = [each for kind in kinds for each in accessories if each.kind == kind]
        self.accessories = {str(each.pk): each for each in offered}
        offer(self, "fitted", [(pk, each.name) for pk, each in self.accessories.items()])
        self.initial.update(dict(self.starting_dimensions))
        self.initial.update(
            {
                **{
                    f"stated_{s.field}": ("", self.units.of(s))
                    for s in READ
                    if f"stated_{s.field}" in self.fields
                },
                "axis": (f"{self.usual_axis_cm:g}", "cm"),
                "gauge": ("1.25", "mm"),
                "fitted": self._usually_fitted(),
                "model_name": model_name,
                "pattern": "16 x 19",
            }
        )
        if like:
            self.initial.update(typed_dimensions_of(like, self.dimension_keys))
            self.initial.update(self._as_of(like))
        choices = [(b.value, build_name(b, self.sport)) for b in builds_for(self.sport.value)]
        offer(self, "build", choices)
        offer(self, "stated_build", choices)
        self.readers = readers_chosen(data, user)
        self.rows = self._rows()
        style_fields(self)

    def _usually_fitted(self) -> list[str]:
        """The first of each kind that is on most frames."""
        first: dict[str, str] = {}
        for pk, each in self.accessories.items():
            first.setdefault(each.kind, pk)
        return [pk for kind, pk in first.items() if kind not in _NOT_ON_MOST]

    def _as_of(self, like: Frame) -> dict[str, Any]:
        """How a frame of the model was set up and read, and what its maker states."""
        on = [each for each in like.fittings.all() if each.is_on]
        names = {(each.kind, each.label) for each in on}
        strings: Json = next((each.typed for each in on if each.kind == FittingKind.STRINGS), {})
        found: dict[str, Any] = {
            "handle_build": like.handle_build,
            "pallet": like.pallet,
            "post_hold": like.post_hold,
            "blocked": like.blocked,
            "pattern": f"{like.mains} x {like.crosses}" if like.mains else "",
            "string_material": strings.get("material", ""),
            "fitted": [pk for pk, each in self.accessories.items() if (each.kind, each.name) in names],
        }
        if "gauge" in strings:
            found["gauge"] = strings["gauge"]["text"], strings["gauge"]["unit"]
        if like.specs and like.specs.build in builds_for(self.sport.value):
            found["build"] = like.specs.build
            found["axis"] = self.units.axis_typed(like.specs.axis_cm)
        if like.model:
            found |= {name: (typed["text"], typed["unit"]) for name, typed in like.model.typed.items()}
            found["stated_build"] = like.model.stated_build
        return found

    def clean_player(self) -> str:
        return require_one_client(self.user, self.cleaned_data["player"])

    def clean_model_name(self) -> str:
        return require_one_model(self.user, self.sport.value, self.cleaned_data["model_name"])

    def clean_fitted(self) -> list[Accessory]:
        chosen = [self.accessories[pk] for pk in self.cleaned_data["fitted"]]
        kinds = {each.kind for each in chosen}
        if FittingKind.BUMPER in kinds and kinds & {FittingKind.GUARD, FittingKind.GROMMETS}:
            raise forms.ValidationError(
                "Tick bumper guard and grommets together, or each alone, not both.", "twice"
            )
        return chosen

    def _rows(self) -> list[FrameRow]:
        count = MOST_FRAMES if self.is_bound else SHOWN_ROWS
        rows = [
            FrameRow(i, {n: str(self.data.get(f"{n}_{i}", "")).strip() for n in ROW_FIELDS})
            for i in range(1, count + 1)
        ]
        last = max([SHOWN_ROWS, *(row.number for row in rows if not row.is_empty)])
        return rows[:last]

    @property
    def filled(self) -> list[FrameRow]:
        """The frames that are taken in: the rows with anything in them, or one without marks."""
        return [row for row in self.rows if not row.is_empty] or self.rows[:1]

    @property
    def read_columns(self) -> list[SpecColumn]:
        """The heads of what was read."""
        return [
            SpecColumn(spec.field, spec.title, self.units.of(spec), self.readers[spec.field]) for spec in READ
        ]

    def dimension_rows(self) -> list[BoundField]:
        return [self[name] for name in self.dimension_keys]

    like: Frame | None = None  # the frame that the dimensions were taken from

    def _named(self, *names: str) -> list[BoundField]:
        return [self[name] for name in names]

    @property
    def named_read(self) -> list[BoundField]:
        return self._named("build", "axis")

    @property
    def named_built(self) -> list[BoundField]:
        racket = ("pattern", "string_material", "gauge", "post_hold", "bumper_reach")
        only = racket if self.sport.value == "tennis" else ()
        return self._named(*only, "handle_build", "grip_size", "pallet", "blocked", "stiffness", "fitted")

    @property
    def named_wishes(self) -> list[BoundField]:
        return self._named("complaint", "wishes", "must_keep", "ceiling", "strain")

    @property
    def named_stated(self) -> list[BoundField]:
        return self._named("stated_mass", "stated_balance", "stated_swingweight", "stated_build")

    # -- cleaning ----------------------------------------------------------------------

    def clean(self) -> None:
        """Everything that is wrong at once: outline, blocked stretches and every row of the table."""
        super().clean()
        cleaned = self.cleaned_data
        if not any(name in self.errors for name in self.dimension_keys):
            self._clean_outline(cleaned)
        for row in self.filled:
            self._clean_row(row)
        if any(row.errors for row in self.rows):
            self.add_error(None, "Fix the marked boxes of the table.")

    def _clean_outline(self, cleaned: dict[str, Any]) -> None:
        try:
            self.dimensions = self.read_dimensions(cleaned)
            outline = outline_of(self.dimensions)
            cleaned["blocked"] = with_unit(cleaned.get("blocked") or "", self.units.length)
            parse_blocked(cleaned["blocked"], outline, (cleaned.get("pattern") or (0,))[0])
        except KentrobarError as error:
            by_key = {key: name for name, key in self.dimension_keys.items()}
            name = by_key.get(error.field, error.field)
            self.add_error(name if name in self.fields else None, error.message)

    @property
    def length_cm(self) -> float:
        """The frames' length; a usual one while that is not read."""
        known = getattr(self, "dimensions", None)
        return known.length_cm if known else USUAL_LENGTH_CM[self.sport]

    def read_dimensions(self, cleaned: dict[str, Any]) -> Dimensions:
        raise NotImplementedError

    def _clean_row(self, row: FrameRow) -> None:
        if not row.texts["mark"] and len(self.filled) > 1:
            row.errors["mark"] = "Give each frame a mark or its last digits."
        for name, most in (("mark", 40), ("colour", 40)):
            if len(row.texts[name]) > most:
                row.errors[name] = f"At most {most} characters."
        row.entry = self._read(row)
        for name, each in row.entry.specs.items():
            if each.errors:
                row.errors[name] = each.errors[0]
        if row.errors:
            return
        problem = row.entry.problem()
        if problem is not None:
            spec = READ_BY_KEY.get(problem.field, STATIC_WEIGHT)
            row.errors[spec.field] = problem.message
            row.fixes = buttons(row.entry.fixes(), row.fill)

    def _read(self, row: FrameRow) -> Entry:
        """What was typed of one frame, one reading a spec, about the axis that all share."""
        axis = self.cleaned_data.get("axis")
        typed = {
            spec.field: TypedSpec(
                (row.texts[spec.field],), self.units.of(spec), reader=self.readers[spec.field].chosen
            )
            for spec in READ
        }
        return read_entry(
            typed,
            sport=self.sport,
            length_cm=self.length_cm,
            axis=TypedAxis(axis.text, axis.unit) if axis else TypedAxis(f"{self.usual_axis_cm:g}"),
            build=self.cleaned_data.get("build", ""),
        )

    @property
    def usual_axis_cm(self) -> float:
        return USUAL_AXIS_CM[self.sport]

    # -- slips ----------------------------------------------------------------------------

    def ask(self, known: MeasuredSpecs | None) -> bool:
        """Mark rows whose readings look like slips; whether there are any that are not kept."""
        if self.cleaned_data.get("keep"):
            return False
        for row in self.filled:
            if row.entry is not None and row.is_read:
                questions = row.entry.questions(self._reference(known))
                if questions:
                    row.unusual = " ".join(question.message for question in questions)
                    fixes = [fix for question in questions for fix in question.fixes]
                    row.fixes = buttons(fixes, row.fill)
        return any(row.unusual for row in self.filled)

    def _reference(self, known: MeasuredSpecs | None) -> Reference | None:
        if known is None or not known.knows_mass:
            return None
        return expect_model("the other frames of this model", known)

    # -- what is kept ----------------------------------------------------------------------

    def taking(self, row: FrameRow, fitted: list[int]) -> Taking:
        """What is to be recorded of one frame of the table."""
        assert row.entry is not None  # noqa: S101 - only what was read is recorded
        readings = taken_readings(row.entry, self._detail)
        return Taking(row.entry.measured, self.cleaned_data["build"], readings, fitted)

    def _detail(self, spec: ReadSpec) -> Json:
        return {"axis": self.cleaned_data["axis"].record()} if spec is SWING_WEIGHT else {}

    def about(self, row: FrameRow) -> dict[str, Any]:
        cleaned = self.cleaned_data
        mains, crosses = cleaned["pattern"] or (None, None)
        shared = ("player", "blocked", "stiffness", "complaint", "wishes", "must_keep", "strain")
        reach = cleaned["bumper_reach"]
        label = " ".join(filter(None, [cleaned["model_name"], row.texts["mark"]]))[:80]
        return (
            {name: cleaned[name] for name in shared}
            | self.handle_and_ceiling
            | {
                "label": label,
                "mark": row.texts["mark"],
                "colour": row.texts["colour"],
                "is_used": row.texts["used"].lower() in ("used", "yes", "y", "x", "1", "on"),
                "handle_build": cleaned["handle_build"] or "unknown",
                "post_hold": cleaned["post_hold"] or "unknown",
                "mains": mains if self.sport.value == "tennis" else None,
                "crosses": crosses if self.sport.value == "tennis" else None,
                "notes": "",
                "bumper_reach_cm": reach.base if reach and self.sport is Sport.TENNIS else None,
            }
        )

    def typed_dimensions(self) -> Json:
        return typed_dimensions(self.cleaned_data, self.dimension_keys)

    def stated(self) -> MeasuredSpecs | None:
        """The maker's figures, where any were typed."""
        cleaned = self.cleaned_data

        def of(name: str) -> Quantity:
            return Estimate(cleaned[name].base) if cleaned[name] else NOT_MEASURED

        balance: Quantity = NOT_MEASURED
        if cleaned["stated_balance"]:
            stated = BalanceField.in_cm(cleaned["stated_balance"], self.dimensions.length_cm)
            balance = Estimate(stated)
        found = MeasuredSpecs(of("stated_mass"), balance, of("stated_swingweight"), cleaned["axis"].base)
        return None if len(found.missing()) == 4 else found

    def typed_figures(self) -> Json:
        names = ("stated_mass", "stated_balance", "stated_swingweight")
        return {n: self.cleaned_data[n].record() for n in names if self.cleaned_data[n]}


class RacketIntake(RacketOutlineForm, IntakeForm):
    pass


class PaddleIntake(PaddleOutlineForm, IntakeForm):
    pass


INTAKE_OF: dict[str, type[IntakeForm]] = {"tennis": RacketIntake, "pickleball": PaddleIntake}
