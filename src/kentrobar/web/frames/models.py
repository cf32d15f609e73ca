"""Rackets and paddles, and what was measured of them."""

from __future__ import annotations

from django.contrib.postgres.fields import ArrayField
from django.db import models
from django.db.models import Q, Value
from django.db.models.functions import Concat, Lower
from simple_history.models import HistoricalRecords

from kentrobar.core.body.measured import INDEPENDENT, SPEC_PAIRS, MeasuredSpecs
from kentrobar.core.body.specs import READ, ReadSpec
from kentrobar.core.body.sport import Sport
from kentrobar.core.frame.blocked import parse_blocked
from kentrobar.core.frame.circumstances import Circumstances, HandleBuild, PostHold
from kentrobar.core.frame.outline import Dimensions, Outline, PaddleDimensions, RacketDimensions, outline_of
from kentrobar.core.quantities.estimates import NOT_MEASURED, Estimate, Quantity
from kentrobar.core.solving.allowed import Hoop
from kentrobar.core.weight.builds import Build, Fitting, FittingKind
from kentrobar.web.kit.archive import Archivable
from kentrobar.web.kit.fields import AllowedField
from kentrobar.web.kit.records import WrittenOnce
from kentrobar.web.materials.models import FittingKinds, thickness


def column_parts(spec: ReadSpec) -> tuple[str, str]:
    """How the columns of a spec are called: its field, and its unit as column names have it."""
    return spec.field, spec.key.removeprefix(f"{spec.field}_")


def spread_columns(spec: ReadSpec) -> tuple[str, str]:
    """The columns of a spec's value and of its ±."""
    name, unit = column_parts(spec)
    return f"{name}_{unit}", f"{name}_u_{unit}"


def spread_constraint(prefix: str, name: str, unit: str) -> models.CheckConstraint:
    """A spec is known with its ± or not at all."""
    return models.CheckConstraint(
        name=f"{prefix}_{name}_with_spread",
        condition=Q(**{f"{name}_{unit}": None, f"{name}_u_{unit}": None})
        | Q(**{f"{name}_{unit}__gt": 0, f"{name}_u_{unit}__gte": 0}),
    )


class FrameModel(models.Model):
    """A maker's model as the shop names it, with what the maker states of it."""

    shop = models.ForeignKey("shops.Shop", on_delete=models.PROTECT, related_name="frame_models")
    sport = models.CharField(max_length=10, choices=[("tennis", "racket"), ("pickleball", "paddle")])
    name = models.CharField(max_length=80)
    stated_mass_g = models.FloatField(null=True, blank=True)
    stated_balance_cm = models.FloatField(null=True, blank=True)
    stated_swingweight_kgcm2 = models.FloatField(null=True, blank=True)
    stated_axis_cm = models.FloatField(default=10.0)
    stated_build = models.CharField(max_length=7, default=Build.BARE.value)
    typed = models.JSONField("figures as typed", default=dict)

    class Meta:
        ordering = ["name"]
        constraints = [
            models.UniqueConstraint(fields=["shop", "sport", "name"], name="frame_model_name_once_a_shop")
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def stated(self) -> MeasuredSpecs:
        """What the maker states, without ±: makers' tolerances come with the comparison."""
        return MeasuredSpecs(
            _quantity(self.stated_mass_g, 0.0),
            _quantity(self.stated_balance_cm, 0.0),
            _quantity(self.stated_swingweight_kgcm2, 0.0),
            self.stated_axis_cm,
        )


class Frame(Archivable):
    """One racket or paddle: whose it is, how to tell it, its dimensions.

    ``specs`` points at the readings that count now; older ones stay as they were.
    """

    class SportChoice(models.TextChoices):
        TENNIS = Sport.TENNIS.value, "racket"
        PICKLEBALL = Sport.PICKLEBALL.value, "paddle"

    class HandleChoice(models.TextChoices):
        UNKNOWN = HandleBuild.UNKNOWN.value, "not looked at"
        HOLLOW = HandleBuild.HOLLOW.value, "hollow"
        TRAP_DOOR = HandleBuild.TRAP_DOOR.value, "hollow, with a trap door"
        FOAM = HandleBuild.FOAM.value, "foam-filled"
        FOAM_TRAP_DOOR = HandleBuild.FOAM_TRAP_DOOR.value, "foam-filled, with a trap door"

    class PostChoice(models.TextChoices):
        UNKNOWN = PostHold.UNKNOWN.value, "not known"
        CENTRE = PostHold.CENTRE.value, "centre post"
        OFFSET = PostHold.OFFSET.value, "two offset retainers"

    class HoopChoice(models.TextChoices):
        EITHER = Hoop.EITHER.value, "open or hidden"
        OPEN = Hoop.OPEN.value, "open, on the inner face"
        HIDDEN = Hoop.HIDDEN.value, "hidden, under bumper and grommets"

    shop = models.ForeignKey("shops.Shop", on_delete=models.PROTECT, related_name="frames")
    sport = models.CharField(max_length=10, choices=SportChoice)
    label = models.CharField(max_length=80)
    client = models.ForeignKey(
        "shops.Client", null=True, blank=True, on_delete=models.PROTECT, related_name="frames"
    )
    model = models.ForeignKey(
        FrameModel, null=True, blank=True, on_delete=models.PROTECT, related_name="frames"
    )
    mark = models.CharField("own mark or last digits", max_length=40, blank=True)
    colour = models.CharField(max_length=40, blank=True)
    is_used = models.BooleanField("used", default=False)
    mains = models.PositiveSmallIntegerField(null=True, blank=True)
    crosses = models.PositiveSmallIntegerField(null=True, blank=True)
    handle_build = models.CharField(
        "handle", max_length=14, choices=HandleChoice, default=HandleChoice.UNKNOWN
    )
    post_hold = models.CharField(
        "held by the stringing machine", max_length=7, choices=PostChoice, default=PostChoice.UNKNOWN
    )
    blocked = models.CharField("blocked stretches of the rim", max_length=200, blank=True)
    stiffness = models.FloatField("stiffness, as its instrument tells it", null=True, blank=True)
    bumper_reach_cm = models.FloatField(
        "bumper and grommet strip reach down to, from the butt", null=True, blank=True
    )
    grip_mm = models.FloatField("circumference of the grip, mm", null=True, blank=True)
    pallet = models.CharField(max_length=60, blank=True)
    ceiling_g = models.FloatField("no heavier than, ready to play, g", null=True, blank=True)
    allowed = AllowedField("places that plans may use")
    complaint = models.TextField(max_length=2000, blank=True)
    wishes = models.TextField(max_length=2000, blank=True)
    must_keep = models.TextField("what must not change", max_length=2000, blank=True)
    notes = models.TextField(max_length=2000, blank=True)

    length_cm = models.FloatField()
    handle_length_cm = models.FloatField()
    head_length_cm = models.FloatField(null=True, blank=True)
    head_width_cm = models.FloatField(null=True, blank=True)
    head_size_cm2 = models.FloatField(null=True, blank=True)
    beam_mm = models.FloatField(null=True, blank=True)
    width_cm = models.FloatField(null=True, blank=True)
    corner_radius_cm = models.FloatField(null=True, blank=True)
    shoulder_cm = models.FloatField(null=True, blank=True)
    thickness_mm = models.FloatField(null=True, blank=True)
    typed = models.JSONField("dimensions as typed", default=dict)

    specs = models.ForeignKey("SpecSheet", null=True, blank=True, on_delete=models.PROTECT, related_name="+")
    created_at = models.DateTimeField(auto_now_add=True)
    changed_at = models.DateTimeField(auto_now=True)
    # What a search looks through, in small letters: no joined table, no function for each row.
    search_text = models.GeneratedField(
        expression=Lower(
            Concat(
                "label",
                Value(" "),
                "mark",
                Value(" "),
                "colour",
                Value(" "),
                "notes",
                Value(" "),
                "complaint",
                Value(" "),
                "wishes",
                output_field=models.TextField(),
            )
        ),
        output_field=models.TextField(),
        db_persist=True,
    )
    history = HistoricalRecords(excluded_fields=["search_text"])

    class Meta:
        ordering = ["label", "pk"]
        indexes = [models.Index(fields=["shop", "label"], name="frame_by_shop_and_label")]
        constraints = [
            models.CheckConstraint(
                name="frame_has_its_sports_dimensions",
                condition=Q(sport="tennis", head_length_cm__gt=0, head_width_cm__gt=0, beam_mm__gt=0)
                | Q(
                    sport="pickleball",
                    width_cm__gt=0,
                    corner_radius_cm__gt=0,
                    shoulder_cm__gt=0,
                    thickness_mm__gt=0,
                ),
            )
        ]

    def __str__(self) -> str:
        return self.label

    @property
    def player(self) -> str:
        return self.client.name if self.client else ""

    @property
    def is_racket(self) -> bool:
        return self.sport == self.SportChoice.TENNIS

    @property
    def dimensions(self) -> Dimensions:
        kind = RacketDimensions if self.is_racket else PaddleDimensions
        return kind(**{name: getattr(self, name) for name in kind.__dataclass_fields__})

    @property
    def outline(self) -> Outline:
        return outline_of(self.dimensions)

    @property
    def measured(self) -> MeasuredSpecs:
        return self.specs.measured if self.specs else MeasuredSpecs()

    USUAL_HEAD = "usual_head"  # noted beside the dimensions as typed

    @property
    def has_usual_head(self) -> bool:
        """Whether nobody gave its head, so that a usual one was taken."""
        return bool(self.typed.get(self.USUAL_HEAD))

    @property
    def circumstances(self) -> Circumstances:
        """What bears on where weight can lie; asks the frame's fittings."""
        return Circumstances(
            handle=HandleBuild(self.handle_build),
            is_used=self.is_used,
            post=PostHold(self.post_hold),
            blocked=tuple(parse_blocked(self.blocked, self.outline, self.mains or 0)),
            bumper_reach_cm=self.bumper_reach_cm,
            grip_mm=self.grip_mm,
            has_edge_tape=any(
                fitting.kind == FittingKind.EDGE_TAPE and fitting.is_on for fitting in self.fittings.all()
            ),
        )


class FrameFitting(models.Model):
    """One thing on a frame: strings, a grip, a cap. What comes off is kept, with its date.

    ``mass_g`` is of all of it; places left empty are the usual ones of its kind. What was noted late was on
    already when ``noted_for`` was read.
    """

    class WeightSource(models.TextChoices):
        USUAL = "usual", "usual weight"
        SHOP = "shop", "as this shop weighed its kind"
        WEIGHED = "weighed", "weighed itself"
        COMPUTED = "computed", "from gauge, material and pattern"
        PACKAGE = "package", "package less offcuts"

    frame = models.ForeignKey(Frame, on_delete=models.PROTECT, related_name="fittings")
    kind = models.CharField(max_length=14, choices=FittingKinds)
    label = models.CharField(max_length=60)
    mass_g = models.FloatField()
    mass_u_g = models.FloatField()
    source = models.CharField(max_length=8, choices=WeightSource, default=WeightSource.USUAL)
    typed = models.JSONField("as typed", default=dict)
    y_cm = models.FloatField(null=True, blank=True)
    x_cm = models.FloatField(default=0.0)
    from_cm = models.FloatField(null=True, blank=True)
    to_cm = models.FloatField(null=True, blank=True)
    thickness_mm = models.FloatField("thickness, mm", null=True, blank=True)
    note = models.CharField("what tells it apart", max_length=80, blank=True)
    is_on = models.BooleanField("on the frame", default=True)
    noted_for = models.ForeignKey(
        "SpecSheet", null=True, blank=True, on_delete=models.PROTECT, related_name="+"
    )
    fitted_at = models.DateTimeField(auto_now_add=True)
    taken_off_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["pk"]
        constraints = [
            models.CheckConstraint(
                name="fitting_weighs_something", condition=Q(mass_g__gt=0, mass_u_g__gte=0)
            )
        ]

    def __str__(self) -> str:
        return self.label

    def fitting(self, frame: Frame) -> Fitting:
        """The rules' value of it; strings take the frame's pattern."""
        is_strings = self.kind == FittingKind.STRINGS
        return Fitting(
            key=self.pk,
            kind=FittingKind(self.kind),
            label=self.label,
            mass_g=Estimate(self.mass_g, self.mass_u_g),
            y_cm=self.y_cm,
            x_cm=self.x_cm,
            mirrored=bool(self.x_cm),
            from_cm=self.from_cm,
            to_cm=self.to_cm,
            mains=(frame.mains or 0) if is_strings else 0,
            crosses=(frame.crosses or 0) if is_strings else 0,
            thickness_mm=thickness(self.thickness_mm),
        )


def independent() -> list[float]:
    """Correlations of readings that were taken apart."""
    return list(INDEPENDENT)


BARE_PADDLE = "bare"  # what is called unstrung of a racket


class SpecSheet(WrittenOnce):
    """Readings of one frame in one build. Never changed: a correction is a new sheet.

    ``fitting_ids`` are the fittings that were on it then; None where nobody noted them, and the
    build's name tells.
    """

    class SheetBuild(models.TextChoices):
        BARE = "bare", "unstrung"
        STRUNG = "strung", "strung"
        PLAYING = "playing", "ready to play"
        MIX = "mix", "another mix of fittings"

    frame = models.ForeignKey(Frame, on_delete=models.PROTECT, related_name="spec_sheets")
    build = models.CharField(max_length=7, choices=SheetBuild, default=SheetBuild.PLAYING)
    mass_g = models.FloatField(null=True)
    mass_u_g = models.FloatField(null=True)
    balance_cm = models.FloatField(null=True)
    balance_u_cm = models.FloatField(null=True)
    swingweight_kgcm2 = models.FloatField(null=True)
    swingweight_u_kgcm2 = models.FloatField(null=True)
    axis_cm = models.FloatField(default=10.0)
    twistweight_kgcm2 = models.FloatField(null=True)
    twistweight_u_kgcm2 = models.FloatField(null=True)
    correlations = ArrayField(models.FloatField(), size=len(SPEC_PAIRS), default=independent)
    fitting_ids = ArrayField(models.BigIntegerField(), null=True)
    replaces = models.ForeignKey("self", null=True, on_delete=models.PROTECT, related_name="+")
    taken_at = models.DateTimeField(auto_now_add=True)
    taken_by = models.ForeignKey("shops.User", null=True, on_delete=models.PROTECT)

    class Meta:
        ordering = ["-taken_at"]
        constraints = [spread_constraint("spec_sheet", *column_parts(spec)) for spec in READ]

    @property
    def setup_text(self) -> str:
        """The setup as one says it of the frame's sport."""
        is_bare_paddle = self.build == self.SheetBuild.BARE and not self.frame.is_racket
        return BARE_PADDLE if is_bare_paddle else str(self.SheetBuild(self.build).label)

    def __str__(self) -> str:
        return f"{self.frame_id} on {self.taken_at:%Y-%m-%d}"

    @property
    def measured(self) -> MeasuredSpecs:
        known = {
            spec.key: _quantity(*(getattr(self, column) for column in spread_columns(spec))) for spec in READ
        }
        return MeasuredSpecs(axis_cm=self.axis_cm, correlations=tuple(self.correlations), **known)


class SetAside(models.Model):
    """A sheet of readings that does not count, and why; lifted, it counts again. Nothing is deleted."""

    sheet = models.ForeignKey(SpecSheet, on_delete=models.PROTECT, related_name="set_asides")
    reason = models.CharField(max_length=200)
    made_at = models.DateTimeField(auto_now_add=True)
    made_by = models.ForeignKey("shops.User", null=True, on_delete=models.PROTECT, related_name="+")
    lifted_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-made_at"]
        constraints = [
            models.UniqueConstraint(
                fields=["sheet"], condition=Q(lifted_at=None), name="set_aside_once_at_a_time"
            )
        ]

    def __str__(self) -> str:
        return self.reason


def _quantity(value: float | None, u: float | None) -> Quantity:
    return NOT_MEASURED if value is None else Estimate(value, u or 0.0)
