"""The documents of kentrobar/1. Every quantity is a bare number or ``{"value", "u"}``."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import (
    AfterValidator,
    BaseModel,
    ConfigDict,
    Field,
    SerializerFunctionWrapHandler,
    model_serializer,
    model_validator,
)

FORMAT = "kentrobar/1"

# Strict: a text or a boolean is no number, and no number is a boolean. What is outside of all that a frame
# can be is refused by the rules of ``core``, which say why; these bounds only keep arithmetic in its range.
Number = Annotated[float, Field(strict=True, allow_inf_nan=False, ge=-1e4, le=1e4)]
Positive = Annotated[float, Field(strict=True, allow_inf_nan=False, gt=0, le=1e4)]
Spread = Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0, le=1e4)]
Layers = Annotated[int, Field(strict=True, ge=1, le=6)]
Flag = Annotated[bool, Field(strict=True)]


def _without_nul(text: str) -> str:
    if "\x00" in text:
        raise ValueError("This holds a character that no text has; type it again")
    return text


Text = Annotated[str, Field(max_length=200), AfterValidator(_without_nul)]


class _Document(BaseModel):
    # A model is built when it is first read: most starts of the command line and the web never read one.
    model_config = ConfigDict(extra="forbid", frozen=True, defer_build=True)


class Measured(_Document):
    """A number with its standard uncertainty ``u``; without ``u`` a usual one is taken.

    ``shared_u`` is the part of ``u`` that all readings of one ``instrument`` have together: its step and its
    calibration. Readings in rounds then never become surer than it.
    """

    value: Number
    u: Spread | None = None
    shared_u: Spread | None = None
    instrument: Text | None = None

    @model_validator(mode="after")
    def _shared_is_a_part(self) -> Measured:
        if self.shared_u is not None and (self.u is None or self.shared_u > self.u):
            raise ValueError("shared_u is a part of u: state u too, at least as large")
        return self


class MeasuredAtAxis(Measured):
    """A swing weight with the distance of its axis from the butt."""

    axis_cm: Number


Quantity = Number | Measured


class MeasuredBlock(_Document):
    """Readings of one frame in one build; what was not measured is left out."""

    build: Literal["bare", "strung", "playing", "mix"] = "playing"
    mass_g: Quantity | None = None
    balance_cm: Quantity | None = None
    swingweight_kgcm2: MeasuredAtAxis | None = None
    twistweight_kgcm2: Quantity | None = None


class RacketOutline(_Document):
    """Outline of a racket; the head is measured over its outside."""

    head_length_cm: Positive
    head_width_cm: Positive
    beam_mm: Positive = 23.0
    handle_length_cm: Positive = 18.0
    head_size_cm2: Positive | None = None


class PaddleOutline(_Document):
    """Outline of a paddle."""

    width_cm: Positive
    corner_radius_cm: Positive = 4.0
    shoulder_cm: Positive = 5.0
    handle_length_cm: Positive = 13.0
    thickness_mm: Positive = 16.0


class FrameDocument(_Document):
    """A racket or a paddle. Without an outline, pieces give their own x and y."""

    label: Text = ""
    sport: Literal["tennis", "pickleball"]
    length_cm: Annotated[float, Field(strict=True, allow_inf_nan=False, ge=20, le=100)]
    outline: RacketOutline | PaddleOutline | None = None
    measured: MeasuredBlock = MeasuredBlock()

    @model_validator(mode="after")
    def _outline_fits_sport(self) -> FrameDocument:
        racket = isinstance(self.outline, RacketOutline)
        if self.outline is not None and racket != (self.sport == "tennis"):
            kind = "head_length_cm and head_width_cm" if self.sport == "tennis" else "width_cm"
            raise ValueError(f"the outline of a {self.sport} frame gives {kind}")
        return self


class AtClock(_Document):
    """A place on the rim by clock position: "3:00", "10:30", "2:31.25"."""

    clock: Annotated[str, Field(pattern=r"^\d{1,2}(:\d{1,2}(\.\d{1,6})?)?$")]


class AtHeight(_Document):
    """A place on the right side of the rim by its distance from the butt."""

    y_cm: Number


class _PieceDocument(_Document):
    label: Text = ""
    material: Text = ""
    removed: Flag = False


class Point(_PieceDocument):
    """A compact piece; mirrored means one at +x and one at -x, ``mass_g`` each."""

    kind: Literal["point"] = "point"
    mass_g: Quantity
    y_cm: Number
    x_cm: Number = 0.0
    z_cm: Number = 0.0
    mirrored: Flag = False


class Rim(_PieceDocument):
    """A strip along the rim; length and mass are of one strip, centred on its place."""

    kind: Literal["rim"] = "rim"
    at: AtClock | AtHeight
    length_cm: Quantity
    g_per_cm: Quantity | None = None
    mass_g: Quantity | None = None
    mirrored: Flag = False
    both_faces: Flag = False
    face: Literal["inner", "outer", "bumper"] = "inner"
    gap_cm: Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0, le=1e3)] = 0.0
    layers: Layers = 1


class _SpanDocument(_PieceDocument):
    mass_g: Quantity
    from_cm: Number
    to_cm: Number


class SleevePiece(_SpanDocument):
    """A layer round the handle, or strips along its flat bevels, or along its corner bevels."""

    kind: Literal["sleeve"] = "sleeve"
    radius_cm: Positive = 1.6
    on_corners: Flag = False

    @model_serializer(mode="wrap")
    def _without_usual(self, written: SerializerFunctionWrapHandler) -> dict[str, Any]:
        return {name: value for name, value in written(self).items() if name != "on_corners" or value}


class PlugPiece(_SpanDocument):
    """A full cylinder in the handle's cavity."""

    kind: Literal["plug"] = "plug"
    radius_cm: Positive = 1.0


class Strings(_PieceDocument):
    """Strings over a racket's opening; without ``mains`` and ``crosses`` an even ellipse."""

    kind: Literal["strings"] = "strings"
    mass_g: Quantity
    mains: Annotated[int, Field(strict=True, ge=0, le=40)] = 0
    crosses: Annotated[int, Field(strict=True, ge=0, le=40)] = 0


AnyPiece = Annotated[Point | Rim | SleevePiece | PlugPiece | Strings, Field(discriminator="kind")]
Pieces = Annotated[list[AnyPiece], Field(max_length=500)]


class PredictRequest(_Document):
    """What ``predict`` reads: a frame with pieces on it, and the axis of the answer."""

    format: Literal["kentrobar/1"]
    frame: FrameDocument
    pieces: Pieces = []
    axis_cm: Number = 10.0


class Value(_Document):
    value: float
    u: float


class ValueAtAxis(Value):
    axis_cm: float


class SpecsDocument(_Document):
    """Specs or their change; null where the readings do not give them."""

    mass_g: Value | None
    balance_cm: Value | None
    points_headlight: Value | None
    swingweight_kgcm2: ValueAtAxis | None
    twistweight_kgcm2: Value | None
    recoil_kgcm2: Value | None
    gyration_cm: Value | None


class PieceChange(_Document):
    label: str
    change: SpecsDocument


class PredictAnswer(_Document):
    """What ``predict`` prints."""

    format: Literal["kentrobar/1"] = "kentrobar/1"
    before: SpecsDocument
    after: SpecsDocument
    change: SpecsDocument
    pieces: list[PieceChange]
    warnings: list[str]


class HolderBlock(_Document):
    """What swings with the frame; its centre counts from the axle toward the balance point.

    ``beside_cm`` is how far the axle lies off the frame's middle plane.
    """

    mass_g: Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0, le=1e5)]
    centre_cm: Number
    inertia_kgcm2: Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0, le=1e5)]
    beside_cm: Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0, le=20)] = 0.0


class PendulumRequest(_Document):
    """What ``pendulum`` reads: a frame that hung at ``hang_cm`` from its butt, and its period.

    Give ``periods_s`` (several readings) or ``period_s``, and at most one of ``gravity_cms2`` and
    ``latitude_deg``; without either, that of sea level at any latitude is taken, with its ±.
    """

    format: Literal["kentrobar/1"]
    mass_g: Quantity
    balance_cm: Quantity
    hang_cm: Quantity
    periods_s: Annotated[list[Positive], Field(min_length=1, max_length=1000)] | None = None
    period_s: Quantity | None = None
    amplitude_deg: Quantity = 0.0
    gravity_cms2: Quantity | None = None
    latitude_deg: Number | None = None
    altitude_m: Number | None = None
    holder: HolderBlock | None = None
    axis_cm: Number = 10.0

    @model_validator(mode="after")
    def _says_each_thing_once(self) -> PendulumRequest:
        if (self.periods_s is None) == (self.period_s is None):
            raise ValueError("give either period_s or periods_s")
        if self.gravity_cms2 is not None and self.latitude_deg is not None:
            raise ValueError("give either gravity_cms2 or latitude_deg, not both")
        if self.altitude_m is not None and self.latitude_deg is None:
            raise ValueError("altitude_m needs latitude_deg beside it")
        return self


class PendulumAnswer(_Document):
    """What ``pendulum`` prints; ``period_s`` is that of small swings."""

    format: Literal["kentrobar/1"] = "kentrobar/1"
    swingweight_kgcm2: ValueAtAxis
    recoil_kgcm2: Value
    period_s: Value
    warnings: list[str] = []


class RecordingAnswer(_Document):
    """What ``recording`` prints; ``signal`` is the column that the swing was found in, or "passes"."""

    format: Literal["kentrobar/1"] = "kentrobar/1"
    period_s: Value
    amplitude_deg: Value | None
    damping_per_s: float | None
    swings: float
    signal: str
    notes: list[str]


# -- matching ---------------------------------------------------------------------------


class TargetFrame(_Document):
    """A target that is one of the frames, by its label."""

    label: Text


class TargetSpecs(_Document):
    """A target as specs, any subset of them; the swing weight with its axis."""

    mass_g: Positive | None = None
    balance_cm: Positive | None = None
    swingweight_kgcm2: MeasuredAtAxis | None = None
    twistweight_kgcm2: Positive | None = None
    recoil_kgcm2: Positive | None = None


class Tolerance(_Document):
    """How far from the target each spec may lie, to either side; null where the target leaves it free.

    A recoil weight needs a tolerance of the balance beside it.
    """

    mass_g: Spread | None = 1.0
    balance_cm: Spread | None = 0.1
    swingweight_kgcm2: Spread | None = 1.0
    twistweight_kgcm2: Spread | None = None
    recoil_kgcm2: Spread | None = None


class PointSiteDocument(_Document):
    """Where a compact piece may lie, in steps of ``step_g`` (0: any weight), ``max_g`` each."""

    label: Text
    kind: Literal["point"]
    y_cm: Number
    x_cm: Number = 0.0
    mirrored: Flag = False
    step_g: Spread = 0.1
    max_g: Annotated[float, Field(strict=True, allow_inf_nan=False, gt=0, le=200)] = 15.0


class RimSiteDocument(_Document):
    """A stretch of rim, clockwise, where one strip may lie, cut in steps of ``step_cm``."""

    model_config = ConfigDict(populate_by_name=True)

    label: Text
    kind: Literal["rim"]
    start: Annotated[AtClock | AtHeight, Field(alias="from")]
    end: Annotated[AtClock | AtHeight, Field(alias="to")]
    g_per_cm: Positive
    mirrored: Flag = False
    face: Literal["inner", "outer", "bumper"] = "inner"
    step_cm: Positive = 0.5
    layers: Layers = 1


SiteDocument = Annotated[PointSiteDocument | RimSiteDocument, Field(discriminator="kind")]
Sites = Annotated[list[SiteDocument], Field(max_length=50)]
Removals = Annotated[list[AnyPiece], Field(max_length=50)]


class FrameToMatch(FrameDocument):
    """A frame that is to meet a target; its own ``sites`` and ``removals`` replace the common ones."""

    sites: Sites | None = None
    removals: Removals | None = None


class MatchRequest(_Document):
    """What ``match`` reads: frames, the target they are to meet, where weight may go and what may come off.

    ``removals`` are taken away wholly or left; ``seconds`` is what the whole search may take. Without a
    target it is chosen too; ``within`` each other all frames lie within the tolerance of one another.
    """

    format: Literal["kentrobar/1"]
    frames: Annotated[list[FrameToMatch], Field(min_length=1, max_length=100)]
    target: TargetFrame | TargetSpecs | None = None
    tolerance: Tolerance = Tolerance()
    within: Literal["target", "each_other"] = "target"
    objective: Literal["lightest", "surest"] = "lightest"
    chance: Annotated[float, Field(strict=True, allow_inf_nan=False, gt=0, lt=1)] = 0.95
    sites: Sites = []
    removals: Removals = []
    axis_cm: Number = 10.0
    seconds: Annotated[float, Field(strict=True, allow_inf_nan=False, gt=0, le=3600)] = 60.0


class MatchedFrame(_Document):
    """What one frame comes to: ``pieces`` are laid, ``removed`` are taken away.

    ``chance`` is that of its true specs to lie within the tolerance of the target, by the ± of its readings
    and of what is laid; null where there is no target to lie within.
    """

    label: str
    pieces: list[AnyPiece]
    removed: list[AnyPiece]
    before: SpecsDocument
    after: SpecsDocument
    chance: float | None


class TargetAtAxis(_Document):
    value: float
    axis_cm: float


class TargetAnswer(_Document):
    """The target that was aimed at; null where a spec was left free."""

    mass_g: float | None
    balance_cm: float | None
    swingweight_kgcm2: TargetAtAxis | None
    twistweight_kgcm2: float | None
    recoil_kgcm2: float | None


class MatchAnswer(_Document):
    """What ``match`` prints. Where it is infeasible the pieces are those that come nearest.

    ``optimal``: proven; ``feasible``: time ran out with a plan, its bound beside it; ``undecided``: time ran
    out with neither plan nor proof.
    """

    format: Literal["kentrobar/1"] = "kentrobar/1"
    status: Literal["optimal", "feasible", "infeasible", "undecided"]
    reasons: list[str]
    target: TargetAnswer
    added_mass_g: float
    proven_lower_bound_g: float
    chance: float | None
    frames: list[MatchedFrame]
    warnings: list[str] = []


# -- rounds -----------------------------------------------------------------------------

Key = Annotated[str, Field(min_length=1, max_length=60), AfterValidator(_without_nul)]


class AppliedDocument(_Document):
    """A piece that is laid, under a key that later events tell it by."""

    id: Key
    piece: AnyPiece


class Trimmed(_Document):
    """A piece cut anew: the length of one strip, or the weight of one strip or body; 0 takes it off."""

    id: Key
    length_cm: Positive | None = None
    mass_g: Spread | None = None

    @model_validator(mode="after")
    def _says_one(self) -> Trimmed:
        if (self.length_cm is None) == (self.mass_g is None):
            raise ValueError("give either length_cm or mass_g")
        return self


class Event(_Document):
    """One thing that was done or read."""

    laid: Annotated[list[AppliedDocument], Field(min_length=1, max_length=100)] | None = None
    trimmed: Trimmed | None = None
    taken_off: Key | None = None
    read: MeasuredBlock | None = None

    @model_validator(mode="after")
    def _says_one(self) -> Event:
        if sum(each is not None for each in (self.laid, self.trimmed, self.taken_off, self.read)) != 1:
            raise ValueError("an event is one of laid, trimmed, taken_off and read")
        return self


class WorkErrors(_Document):
    """How surely the work is done, one standard deviation: of what a piece does not state itself."""

    density_rel: Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0, le=0.5)] = 0.02
    place_cm: Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0, le=5)] = 0.2
    length_cm: Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0, le=5)] = 0.1


class RoundsRequest(_Document):
    """What ``rounds`` reads: a frame as it came, what it is to become, what was done and read in order."""

    format: Literal["kentrobar/1"]
    frame: FrameDocument
    target: TargetSpecs
    tolerance: Tolerance = Tolerance()
    axis_cm: Number = 10.0
    chance: Annotated[float, Field(strict=True, allow_inf_nan=False, gt=0, lt=1)] = 0.95
    errors: WorkErrors = WorkErrors()
    events: Annotated[list[Event], Field(max_length=500)] = []


class RollAnswer(_Document):
    """By which the density of a roll turned out to differ from what it was taken for; 1 where it does not."""

    material: str
    factor: Value


class Change(_Document):
    """One piece as it is to be cut: the length of one strip, or the weight of one body; 0 takes it off."""

    id: str
    length_cm: float | None = None
    mass_g: float | None = None

    @model_serializer(mode="wrap")
    def _what_it_says(self, written: SerializerFunctionWrapHandler) -> dict[str, Any]:
        return {name: value for name, value in written(self).items() if value is not None}


class NextAnswer(_Document):
    """The next trim, the specs that are expected of it and the chance that all then lie within."""

    changes: list[Change]
    expect: SpecsDocument
    chance: float


class RoundsAnswer(_Document):
    """What ``rounds`` prints. ``questioned`` are the positions among the events of readings not believed."""

    format: Literal["kentrobar/1"] = "kentrobar/1"
    now: SpecsDocument
    chance: float
    rolls: list[RollAnswer]
    questioned: list[int]
    next: NextAnswer | None
    advice: str
    warnings: list[str] = []


# -- impact -----------------------------------------------------------------------------

Speed = Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0, le=150)]


class BallBlock(_Document):
    """What comes: its restitution is that off a face held still, its speed that toward the face."""

    mass_g: Annotated[float, Field(strict=True, allow_inf_nan=False, gt=0, le=600)]
    restitution: Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0, le=1)]
    speed_ms: Speed


class SwingBlock(_Document):
    """How the frame comes: the speed of its balance point, turning about an axis so far from the butt."""

    speed_ms: Speed
    axis_cm: Number = 10.0


HitPoint = Annotated[list[Number], Field(min_length=2, max_length=2)]


class ImpactRequest(_Document):
    """What ``impact`` reads: a frame, what is laid on it, a ball, a swing, and points [x_cm, y_cm]."""

    format: Literal["kentrobar/1"]
    frame: FrameDocument
    pieces: Annotated[list[AnyPiece], Field(max_length=1000)] = []
    ball: BallBlock
    swing: SwingBlock
    points: Annotated[list[HitPoint], Field(max_length=10_000)] = []


class PointAnswer(_Document):
    """What a hit at one point does; the twist is positive where x is."""

    effective_mass_g: float
    apparent_restitution: float
    ball_speed_ms: float
    twist_rad_s: float


class ZoneAnswer(_Document):
    """Where the rebound is at least nine tenths of the best on the face: its centroid and extent."""

    y_cm: float
    height_cm: float
    width_cm: float


class ImpactOfFrame(_Document):
    """One frame under the hits; ``sweet_zone`` is null without an outline, or where no ball comes back."""

    points: list[PointAnswer]
    percussion_cm: float
    sweet_zone: ZoneAnswer | None


class ImpactAnswer(_Document):
    """What ``impact`` prints; the swing has its speed at each frame's own balance point."""

    format: Literal["kentrobar/1"] = "kentrobar/1"
    before: ImpactOfFrame
    after: ImpactOfFrame
    warnings: list[str] = []


# -- trials -----------------------------------------------------------------------------

Label = Annotated[str, Field(min_length=1, max_length=200), AfterValidator(_without_nul)]
TriedSpec = Literal["mass_g", "balance_cm", "swingweight_kgcm2", "twistweight_kgcm2", "recoil_kgcm2"]


class SetupBlock(_Document):
    """One setup that was played with; the swing weights of all are about one axis."""

    label: Label
    mass_g: Positive | None = None
    balance_cm: Positive | None = None
    swingweight_kgcm2: Positive | None = None
    twistweight_kgcm2: Positive | None = None
    recoil_kgcm2: Positive | None = None


class Comparison(_Document):
    """What was said of setup ``a`` beside ``b``, by their labels; the same setup twice is a blank."""

    a: Label
    b: Label
    said: Literal["a", "b", "same"]


class Rated(_Document):
    """How well a setup suits, 1 to 7."""

    setup: Label
    rated: Annotated[float, Field(strict=True, allow_inf_nan=False, ge=1, le=7)]


class TrialsRequest(_Document):
    """What ``trials`` reads: the setups, which one or two specs are sought, what was said, in order."""

    format: Literal["kentrobar/1"]
    setups: Annotated[list[SetupBlock], Field(min_length=2, max_length=40)]
    of: Annotated[list[TriedSpec], Field(min_length=1, max_length=2)]
    answers: Annotated[list[Comparison], Field(max_length=1000)] = []
    ratings: Annotated[list[Rated], Field(max_length=1000)] = []


class IntervalAnswer(_Document):
    """A value with its standard deviation and the ends of the middle nine tenths of what is likely."""

    value: float
    u: float
    low: float
    high: float


class ConsistencyAnswer(_Document):
    """How many of the repeats and blanks agree, and the chance that guessing does as well."""

    agree: int
    of: int
    chance: float


class PairAnswer(_Document):
    """Two setups, by their labels."""

    a: str
    b: str


class TrialsAnswer(_Document):
    """What ``trials`` prints; ``next`` is null where more trials would tell nothing."""

    format: Literal["kentrobar/1"] = "kentrobar/1"
    best: dict[TriedSpec, IntervalAnswer]
    felt: dict[TriedSpec, IntervalAnswer]
    consistency: ConsistencyAnswer
    careless: float
    next: PairAnswer | None
    advice: str
