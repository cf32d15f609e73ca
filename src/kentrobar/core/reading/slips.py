"""Slips of the hand in typed specs: noticing them, and offering the fix.

Specs are judged together, in coordinates that are nearly independent from frame to frame: length,
weight, balance, spread k (radius of gyration) and twist weight. With what is known beforehand (an
earlier reading, siblings of the model, the maker's figures, or rackets and paddles at large) each has
an expected value with ±; the sum of the squared deviations follows a χ² distribution for correct
entries, so its 99.5 % quantile asks about one correct entry in two hundred.

A fix is a single slip turned back: digits exchanged, doubled or dropped, a unit, two fields
exchanged, another axis, another build. It is offered where the fixed entry fits.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from itertools import pairwise
from types import MappingProxyType
from typing import Final, NamedTuple

from kentrobar.core.body.limits import require_possible
from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.moments import swingweight_at_axis
from kentrobar.core.body.ranges import plausible_ranges
from kentrobar.core.body.specs import BALANCE, READ, STATIC_WEIGHT, TWIST_WEIGHT
from kentrobar.core.body.sport import Sport
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.estimates import NOT_MEASURED, Amount, Estimate, NotMeasured, Quantity
from kentrobar.core.quantities.units import (
    GCM2_PER_KGCM2,
    LENGTH,
    POINTS_UNIT,
    Dimension,
    parse_balance,
    parse_number,
    parse_quantity,
)
from kentrobar.core.reading.calibration import NO_CORRECTION, Correction
from kentrobar.core.reading.checks import Question, band_questions
from kentrobar.core.reading.reference_population import nearest_kind
from kentrobar.core.reading.series import Series

# 99.5 % quantiles of χ² for 0 to 6 degrees of freedom.
_CHI2_995: Final = (0.0, 7.88, 10.60, 12.84, 14.86, 16.75, 18.55)
# Frames at large fill a range more evenly than a normal distribution and have thinner tails.
_AT_LARGE: Final = 0.7
_MUCH_BETTER: Final = 6.0  # by which a fix must lower the sum
_MOST_FIXES: Final = 3

DIMENSIONS: Final[Mapping[str, Dimension]] = MappingProxyType(
    {"length": LENGTH, "axis": LENGTH} | {spec.field: spec.dimension for spec in READ}
)
NOUNS: Final[Mapping[str, str]] = MappingProxyType(
    {"length": "length", "axis": "swing axis"} | {spec.field: spec.noun for spec in READ}
)
MOST_POINTS: Final = 20.0  # head-light or head-heavy
USUAL_AXES_CM: Final = (5.0, 10.0, 10.16)
_FIELDS: Final = (
    {"length_cm": "length"}
    | {spec.key: spec.field for spec in READ}
    | {name: name for name in (*DIMENSIONS, "build")}
)  # a question names its quantity by key, or by field
_EXCHANGES: Final = (
    ("mass", "balance"),
    ("mass", "swingweight"),
    ("balance", "swingweight"),
    ("swingweight", "twistweight"),
    ("length", "balance"),
    ("mass", "length"),
)


class TypedNumber(NamedTuple):
    """What was typed and the unit meant. ``repeated``: other readings beside it say the same.

    ``correction`` makes of what the instrument shows, in the base unit, what it measures.
    """

    text: str
    unit: str
    repeated: bool = False
    correction: Correction = NO_CORRECTION


@dataclass(frozen=True)
class TypedSpecs:
    """Specs as typed, by field name, and the build they are said to be of."""

    sport: Sport
    typed: Mapping[str, TypedNumber]
    build: str = ""

    def values(self) -> Values:
        """The specs meant, in base units; what cannot be read counts as not typed."""
        axis = self._base("axis")
        return Values(
            self._base("length") or NOT_MEASURED,
            self._base("mass"),
            self._balance_cm(),
            self._base("swingweight"),
            10.0 if isinstance(axis, NotMeasured) else axis,
            self._base("twistweight"),
        )

    def _base(self, name: str) -> Amount:
        """What was typed into a field, in its base unit."""
        typed = self.typed.get(name)
        if typed is None:
            return NOT_MEASURED
        try:
            value, unit = parse_quantity(typed.text, DIMENSIONS[name], typed.unit)
        except KentrobarError:
            return NOT_MEASURED
        return typed.correction.truth(DIMENSIONS[name].to_base(value, unit))

    def _balance_cm(self) -> Amount:
        typed = self.typed.get("balance")
        if typed is None:
            return NOT_MEASURED
        length = self._base("length")
        length_cm = 0.0 if isinstance(length, NotMeasured) else length
        try:
            return typed.correction.truth(parse_balance(typed.text, typed.unit, length_cm)[2])
        except KentrobarError:
            return NOT_MEASURED


class Values(NamedTuple):
    """The specs of an entry as bare numbers in base units."""

    length_cm: Amount
    mass_g: Amount
    balance_cm: Amount
    swingweight_kgcm2: Amount
    axis_cm: float
    twistweight_kgcm2: Amount

    def measured(self) -> MeasuredSpecs:
        """The same as measured specs without ±."""

        def known(value: Amount) -> Quantity:
            return value if isinstance(value, NotMeasured) else Estimate(value)

        return MeasuredSpecs(
            known(self.mass_g),
            known(self.balance_cm),
            known(self.swingweight_kgcm2),
            self.axis_cm,
            known(self.twistweight_kgcm2),
        )

    def gyration_cm(self) -> Amount:
        """Spread of the mass, cm; 0 where the swing weight is below what the lever alone makes."""
        mass, balance, swing = self.mass_g, self.balance_cm, self.swingweight_kgcm2
        if (
            isinstance(mass, NotMeasured)
            or isinstance(balance, NotMeasured)
            or isinstance(swing, NotMeasured)
        ):
            return NOT_MEASURED
        if mass <= 0:
            return 0.0
        lever = mass * (balance - self.axis_cm) ** 2
        return math.sqrt(max(GCM2_PER_KGCM2 * swing - lever, 0.0) / mass)


@dataclass(frozen=True)
class EntryFix:
    """One slip turned back: new texts and units by field, or another build."""

    sentence: str
    changes: Mapping[str, TypedNumber] = field(default_factory=dict)
    build: str = ""


# -- what is known beforehand -------------------------------------------------------------


@dataclass(frozen=True)
class Reference:
    """Specs expected of a frame, with ± over all that may differ between it and the entry.

    ``source`` ends the sentence "… does not fit …". ``swingweight`` is about ``axis_cm``.
    ``builds`` are the same expectations for other builds, by name.
    """

    source: str
    mass_g: Quantity
    balance_cm: Quantity = NOT_MEASURED
    swingweight_kgcm2: Quantity = NOT_MEASURED
    axis_cm: float = 10.0
    twistweight_kgcm2: Quantity = NOT_MEASURED
    gyration_u_cm: float = 0.3
    builds: Mapping[str, Reference] = field(default_factory=dict)

    def deviations(self, values: Values) -> dict[str, float]:
        """How far each coordinate of an entry is from what is expected, in its own ±."""
        found: dict[str, float] = {}
        for spec in (STATIC_WEIGHT, BALANCE, TWIST_WEIGHT):
            expected, value = getattr(self, spec.key), getattr(values, spec.key)
            if expected and not isinstance(value, NotMeasured):
                found[spec.field] = (value - expected.value) / expected.u
        swing, typed = self.swingweight_kgcm2, values.swingweight_kgcm2
        if isinstance(swing, NotMeasured) or isinstance(typed, NotMeasured):
            return found
        k, of_frame = values.gyration_cm(), self._gyration_cm()
        if isinstance(k, NotMeasured) or isinstance(of_frame, NotMeasured):
            found["swingweight"] = (typed - swing.value) / max(swing.u, 5.0)
        else:
            found["swingweight"] = (k - of_frame) / self.gyration_u_cm
        return found

    def _gyration_cm(self) -> Amount:
        mass, balance, swing = (
            quantity.or_else(NOT_MEASURED)
            for quantity in (self.mass_g, self.balance_cm, self.swingweight_kgcm2)
        )
        unknown = NOT_MEASURED
        return Values(unknown, mass, balance, swing, self.axis_cm, unknown).gyration_cm()


# What differs between two readings of one frame besides the instruments: a new overgrip, wear,
# another hand; and between two frames of one model (makers' tolerances).
SAME_FRAME_U: Final = MappingProxyType(
    {"mass_g": 2.0, "balance_cm": 0.22, "swingweight_kgcm2": 2.5, "twistweight_kgcm2": 0.3}
)
SAME_MODEL_U: Final = MappingProxyType(
    {"mass_g": 4.2, "balance_cm": 0.42, "swingweight_kgcm2": 6.0, "twistweight_kgcm2": 0.6}
)
_SAME_FRAME_K_CM, _SAME_MODEL_K_CM = 0.2, 0.32


def expect_earlier(source: str, earlier: MeasuredSpecs) -> Reference:
    """What an earlier reading of the same frame lets one expect."""
    return _expect(source, earlier, SAME_FRAME_U, _SAME_FRAME_K_CM)


def expect_model(source: str, figures: MeasuredSpecs) -> Reference:
    """What the maker's figures, or the mean of its siblings, let one expect of a frame."""
    return _expect(source, figures, SAME_MODEL_U, _SAME_MODEL_K_CM)


def _expect(
    source: str, known: MeasuredSpecs, variation: Mapping[str, float], gyration_u_cm: float
) -> Reference:
    widened = {
        name: Estimate(quantity.value, math.hypot(quantity.u, u))
        for name, u in variation.items()
        if (quantity := getattr(known, name))
    }
    values = {"mass_g": NOT_MEASURED} | widened
    return Reference(source, axis_cm=known.axis_cm, gyration_u_cm=gyration_u_cm, **values)  # type: ignore[arg-type]


def mean_of_siblings(siblings: Sequence[MeasuredSpecs], axis_cm: float) -> MeasuredSpecs:
    """The mean specs of frames of one model; a spec that none has stays unknown."""

    def mean(values: list[float]) -> Quantity:
        return Estimate(sum(values) / len(values), 0.0) if values else NOT_MEASURED

    def of(name: str) -> list[float]:
        found = (getattr(s, name) for s in siblings)
        return [q.value for q in found if q]

    swings = [
        swingweight_at_axis(s.swingweight_kgcm2.value, s.axis_cm, s.mass_g.value, s.balance_cm.value, axis_cm)
        for s in siblings
        if s.swingweight_kgcm2 and s.mass_g and s.balance_cm
    ]
    return MeasuredSpecs(
        mean(of("mass_g")), mean(of("balance_cm")), mean(swings), axis_cm, mean(of("twistweight_kgcm2"))
    )


# -- asking ---------------------------------------------------------------------------------


class Judgement(NamedTuple):
    """The sum of squared deviations, the degrees of freedom, and the worst coordinate."""

    square: float
    freedom: int
    worst: str
    strictness: float = 1.0

    @property
    def is_odd(self) -> bool:
        """Whether it fits worse than one right entry in two hundred does."""
        limit = _CHI2_995[min(self.freedom, len(_CHI2_995) - 1)]
        return self.square > self.strictness * limit


def judge(entry: TypedSpecs, reference: Reference | None) -> Judgement:
    """How well an entry fits what is known, or frames at large where nothing is."""
    values, strictness, rarity = entry.values(), 1.0, 0.0
    deviations = reference.deviations(values) if reference is not None else {}
    if not deviations:
        strictness = _AT_LARGE
        rarity, deviations = nearest_kind(
            entry.sport,
            values.length_cm,
            values.mass_g,
            values.balance_cm,
            values.gyration_cm(),
            values.twistweight_kgcm2,
        )
    if not _is_possible(values):
        deviations["swingweight"] = 99.0
    if not deviations:
        return Judgement(0.0, 0, "")
    square = rarity + sum(d * d for d in deviations.values())
    worst = max(deviations, key=lambda name: abs(deviations[name]))
    return Judgement(square, len(deviations), worst, strictness)


def _is_possible(values: Values) -> bool:
    """Whether such a frame can be; without its length nothing speaks against it."""
    if not values.length_cm:
        return True
    try:
        require_possible(values.measured(), values.length_cm)
    except KentrobarError:
        return False
    return True


def questions(entry: TypedSpecs, reference: Reference | None = None) -> list[Question]:
    """What is unusual about an entry, each with its fixes; nothing where all fits."""
    judged = judge(entry, reference)
    values = entry.values()
    found = band_questions(values.measured(), entry.sport, values.length_cm)
    if not judged.is_odd and not found:
        return []
    fixes = tuple(find_fixes(entry, reference))
    if judged.is_odd:
        # Where one fix makes all fit, its field is where the slip sits.
        at = next(iter(fixes[0].changes), "build") if fixes else judged.worst
        if not any(_FIELDS[q.field] == at for q in found):
            found.insert(0, Question(at, _sentence(entry, reference, judged)))
    return [replace(found[0], fixes=fixes), *found[1:]]


def _sentence(entry: TypedSpecs, reference: Reference | None, judged: Judgement) -> str:
    named = [spec.noun for spec in READ if spec.field in entry.typed]
    together = " and ".join(filter(None, [", ".join(named[:-1]), named[-1]])) if named else "This"
    fits = (
        reference.source
        if reference is not None
        else ("rackets" if entry.sport is Sport.TENNIS else "paddles")
    )
    verb = "does not fit" if len(named) == 1 else "together do not fit"
    worst = NOUNS.get(judged.worst, judged.worst)
    if len(named) < 2 or reference is None:
        return f"{together[:1].upper()}{together[1:]} {verb} {fits}; check it, or keep it."
    return f"{together[:1].upper()}{together[1:]} {verb} {fits}, the {worst} least of all. Check, or keep."


def fits_as_shown(entry: TypedSpecs, name: str, shown: float, reference: Reference | None) -> bool:
    """Whether an entry fits once one field, cm, is taken as its instrument showed it, uncorrected.

    So a balance that was read from the butt is found out which a board's own offset was added to.
    """
    plain = {**entry.typed, name: TypedNumber(f"{shown:.4f}", "cm", True)}
    return not judge(replace(entry, typed=plain), reference).is_odd


# -- fixing --------------------------------------------------------------------------------


def find_fixes(entry: TypedSpecs, reference: Reference | None = None) -> list[EntryFix]:
    """The likeliest single slips that, turned back, make the entry fit; at most three."""
    now, questioned_now = judge(entry, reference), _questioned_fields(entry)
    scored: list[tuple[float, EntryFix]] = []
    for cost, fix in _candidates(entry, reference):
        fixed = replace(entry, typed={**entry.typed, **fix.changes})
        against = reference.builds[fix.build] if fix.build and reference is not None else reference
        judged = judge(fixed, against)
        fits = not judged.is_odd and now.square - judged.square > _MUCH_BETTER
        # What moves to its own field says less of a frame than what stood in the wrong one seemed to.
        is_moved = any(not typed.text for typed in fix.changes.values())
        if not (fits and (is_moved or judged.freedom >= max(now.freedom, 1))):
            continue
        questioned = _questioned_fields(fixed)
        # Else it would be asked about next.
        if questioned <= questioned_now and not questioned & fix.changes.keys():
            scored.append((judged.square + 2 * cost, fix))
    scored.sort(key=lambda pair: pair[0])
    best: list[EntryFix] = []
    for _, fix in scored:
        if fix.sentence not in {m.sentence for m in best}:
            best.append(fix)
    return best[:_MOST_FIXES]


def _questioned_fields(entry: TypedSpecs) -> set[str]:
    """The fields of an entry that are unusual by themselves."""
    values = entry.values()
    questions = band_questions(values.measured(), entry.sport, values.length_cm)
    return {_FIELDS[question.field] for question in questions}


def _candidates(entry: TypedSpecs, reference: Reference | None) -> Iterator[tuple[float, EntryFix]]:
    """All single slips turned back, each with how unlikely it is."""
    for name, typed in entry.typed.items():
        for unit in _other_units(name, typed):
            number = re.match(r"[\d\s.,/+−-]*", typed.text)
            text = number.group().strip() if number else typed.text
            yield 1.0, _one(name, typed._replace(text=text, unit=unit), f"in {unit}")
        if not typed.repeated and name != "axis":
            for cost, text in edited_digits(typed.text, known=reference is not None):
                yield cost, _one(name, typed._replace(text=text), f"instead of {typed.text}")
    for one, other in _EXCHANGES:
        if one in entry.typed and other in entry.typed:
            yield from _exchanged(entry, one, other)
    yield from _from_the_tip(entry)
    yield from _moved_field(entry)
    if "swingweight" in entry.typed:
        axis_now = entry.values().axis_cm
        for axis in USUAL_AXES_CM:
            if abs(axis - axis_now) > 1e-6:
                meant = TypedNumber("4", "in") if axis == 10.16 else TypedNumber(f"{axis:g}", "cm")
                yield 1.0, _one("axis", meant, "from the butt", f"{meant.text} {meant.unit}")
    for build in reference.builds if reference is not None else ():
        if build != entry.build:
            yield 1.0, EntryFix(f"Measured in another setup: {build}", {}, build)


def _exchanged(entry: TypedSpecs, one: str, other: str) -> Iterator[tuple[float, EntryFix]]:
    """Two fields exchanged; a length may also have been meant in another unit than its box has."""
    first, second = entry.typed[one], entry.typed[other]
    sentence = f"Exchange {NOUNS[one]} and {NOUNS[other]}"
    there = second._replace(text=first.text, repeated=first.repeated)
    back = first._replace(text=second.text, repeated=second.repeated)
    yield 0.5, EntryFix(sentence, {one: back, other: there})
    for name, typed in ((one, back), (other, there)):
        for unit in _other_units(name, typed) if DIMENSIONS[name] is LENGTH else ():
            changed = {one: back, other: there} | {name: typed._replace(unit=unit)}
            yield 1.0, EntryFix(f"{sentence}, in {unit}", changed)


def _from_the_tip(entry: TypedSpecs) -> Iterator[tuple[float, EntryFix]]:
    """A balance that was measured from the tip instead of the butt."""
    values, typed = entry.values(), entry.typed.get("balance")
    if typed is None or typed.unit == POINTS_UNIT or typed.repeated:
        return
    if isinstance(values.length_cm, NotMeasured) or isinstance(values.balance_cm, NotMeasured):
        return
    shown_cm = typed.correction.shown(values.length_cm - values.balance_cm)
    shown = LENGTH.from_base(shown_cm, typed.unit)
    text = f"{shown:.{0 if typed.unit == 'mm' else 2}f}"
    yield (1.5, _one("balance", typed._replace(text=text), "from the butt, if it was measured from the tip"))


def _moved_field(entry: TypedSpecs) -> Iterator[tuple[float, EntryFix]]:
    """A number typed into the field of another spec that was left empty."""
    specs = {spec.field: spec for spec in READ}
    bands = plausible_ranges(entry.sport, entry.values().length_cm)
    for name in specs:
        typed = entry.typed.get(name)
        if typed is None:
            continue
        for other, spec in specs.items():
            if other in entry.typed:
                continue
            moved = TypedNumber(typed.text, spec.unit, typed.repeated)
            value = replace(entry, typed={other: moved}).values()
            meant = getattr(value, spec.key)
            if not isinstance(meant, NotMeasured) and bands[spec.key].holds(meant):
                sentence = f"{typed.text} is the {spec.noun}: move it there"
                yield 0.5, EntryFix(sentence, {name: typed._replace(text=""), other: moved})


def _one(name: str, typed: TypedNumber, remark: str, shown: str = "") -> EntryFix:
    noun = NOUNS[name]
    return EntryFix(f"{noun[:1].upper()}{noun[1:]} {shown or typed.text} {remark}", {name: typed})


def _other_units(name: str, typed: TypedNumber) -> list[str]:
    if name == "axis":
        return []
    units = [u for u in DIMENSIONS[name].factors if u not in ("kg", typed.unit)]
    is_of_points = name == "balance" and typed.unit != POINTS_UNIT and _is_of_points(typed.text)
    return [*units, POINTS_UNIT] if is_of_points else units


def _is_of_points(text: str) -> bool:
    """Whether a number may be a balance in points at all."""
    try:
        return abs(parse_number(text)[0]) <= MOST_POINTS
    except KentrobarError:
        return False


def edited_digits(text: str, known: bool) -> Iterator[tuple[float, str]]:
    """``text`` with one slip of the digits turned back: exchanged, doubled, point, dropped.

    A dropped or mistaken digit may be any, so it is guessed only where something is ``known``.
    """
    number = re.match(r"\s*(\d*[.,]?\d*)", text)
    digits = number.group(1) if number else ""
    rest = text[number.end() :] if number else ""
    if len(digits) < 2:
        return
    places = [i for i, digit in enumerate(digits) if digit.isdigit()]
    for i, j in pairwise(places):  # neighbours, over the point too
        if digits[i] != digits[j]:
            yield (0.5, digits[:i] + digits[j] + digits[i + 1 : j] + digits[i] + digits[j + 1 :] + rest)
    for i, digit in enumerate(digits):
        if digit.isdigit() and i and digits[i - 1] == digit:
            yield 0.5, digits[:i] + digits[i + 1 :] + rest
    for cost, moved in _moved_point(digits):
        yield cost, moved + rest
    if not known:
        return
    for i in range(len(digits) + 1):
        for digit in "0123456789":
            yield 2.5, digits[:i] + digit + digits[i:] + rest
            if i < len(digits) and digits[i].isdigit() and digits[i] != digit:
                yield 3.5, digits[:i] + digit + digits[i + 1 :] + rest


def _moved_point(digits: str) -> Iterator[tuple[float, str]]:
    """The point moved or put in; where there was none it may have stood anywhere."""
    plain = digits.replace(",", ".")
    at = plain.find(".")
    bare = plain.replace(".", "")
    end = len(bare) if at < 0 else at
    for place in range(1, len(bare) + 1):
        if place != end:
            cost = 1.0 if at < 0 or abs(place - end) == 1 else 1.5
            yield cost, (bare[:place] + "." + bare[place:]).rstrip(".")


def fix_outlier(
    texts: Sequence[str], index: int, unit: str, dimension: Dimension, series: Series, u: float
) -> str | None:
    """The text that one reading likely meant, judged by the others beside it, or None."""
    others = [v for i, v in enumerate(series.values) if i != index and i not in series.left_out]
    if not others:
        return None
    expected = sum(others) / len(others)
    best: tuple[float, str] | None = None
    for cost, text in edited_digits(texts[index], known=True):
        try:
            value, meant = parse_quantity(text, dimension, unit)
        except KentrobarError:
            continue
        off = abs(dimension.to_base(value, meant) - expected) / u
        if off < 3 and (best is None or off + cost < best[0]):
            best = (off + cost, text)
    return best[1] if best else None
