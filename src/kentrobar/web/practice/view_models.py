"""An exercise as its page shows it, what it was worth, and what would have been better."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from statistics import fmean
from typing import Final

from kentrobar.core.bench.practice.finding_slips import SLIP_NAMES, Slip
from kentrobar.core.bench.practice.hidden import AXIS_CM, SPECS
from kentrobar.core.bench.practice.predicting import RIGHT
from kentrobar.core.bench.practice.weighing import BANDS
from kentrobar.core.body.specs import READ_BY_KEY, SWING_WEIGHT, TWIST_WEIGHT
from kentrobar.web.kit.numbers import Units
from kentrobar.web.practice.exercises import OFFERED, Offered, Task, find_slip, predict, read_well, weighing
from kentrobar.web.practice.models import PracticeRun
from kentrobar.web.practice.queries import Record

CHART: Final = (150.0, 36.0)  # of the picture of a record, its units


@dataclass(frozen=True, slots=True)
class ExerciseView:
    """What the page of every exercise shows beside its form; ``better`` once it is over."""

    run: PracticeRun
    offered: Offered
    adds: str
    seen: int
    axis: str
    better: list[str]
    of_task: TaskView


def exercise_view(run: PracticeRun, units: Units) -> ExerciseView:
    """An exercise as its page shows it."""
    task = Task(run.task)
    view_of_task: dict[Task, Callable[[PracticeRun, Units], TaskView]] = {
        Task.READ: _reading,
        Task.SLIP: _slip,
        Task.PREDICT: _predicting,
        Task.MATCH: _weighing,
        Task.FINISH: _weighing,
    }
    return ExerciseView(
        run=run,
        offered=OFFERED[task],
        adds=OFFERED[task].levels[run.level - 1],
        seen=len(run.moves),
        axis=units.axis_text(AXIS_CM[read_well(run).sport]),
        better=list(better(run, units)) if run.finished_at else [],
        of_task=view_of_task[task](run, units),
    )


# -- reading well -------------------------------------------------------------------------------


def readings_of(run: PracticeRun) -> dict[str, list[float]]:
    """What was read so far, by spec, in order."""
    exercise, found = read_well(run), {spec.key: list[float]() for spec in SPECS}
    for move in run.moves:
        if "read" in move:
            key = move["read"]
            found[key].append(exercise.reading(key, len(found[key])))
    return found


def left_out(run: PracticeRun) -> set[tuple[str, int]]:
    """The readings that are left out of the means now; a second click takes one in again."""
    found: set[tuple[str, int]] = set()
    for move in run.moves:
        if "out" in move:
            found ^= {(move["out"][0], move["out"][1])}
    return found


def means_of(run: PracticeRun) -> dict[str, float]:
    """The mean of what was read and not left out, by spec."""
    out = left_out(run)
    kept = {
        key: [value for i, value in enumerate(values) if (key, i) not in out]
        for key, values in readings_of(run).items()
    }
    return {key: fmean(values) for key, values in kept.items() if values}


@dataclass(frozen=True, slots=True)
class ReadColumn:
    """The readings of one spec: number, text, whether it is left out; and their mean."""

    key: str
    title: str
    required: str
    readings: list[tuple[int, str, bool]]
    mean: str


@dataclass(frozen=True, slots=True)
class ReadWellView:
    """What was read so far, a column a spec."""

    columns: list[ReadColumn]


def _reading(run: PracticeRun, units: Units) -> ReadWellView:
    exercise, out, means = read_well(run), left_out(run), means_of(run)
    read = readings_of(run)
    return ReadWellView(
        [
            ReadColumn(
                key=spec.key,
                title=spec.title,
                required=f"±{_spread(spec.key, exercise.required_u(spec.key), units)}",
                readings=[
                    (i, units.spec_text(spec, value), (spec.key, i) in out)
                    for i, value in enumerate(read[spec.key])
                ],
                mean=units.spec_text(spec, means[spec.key]) if spec.key in means else "",
            )
            for spec in SPECS
        ]
    )


def _spread(key: str, u: float, units: Units) -> str:
    """A ± with its unit, finer than a value."""
    spec = READ_BY_KEY[key]
    unit = units.typed_unit(spec)
    return f"{spec.dimension.from_base(u, unit):.2g} {unit}"


# -- the others ---------------------------------------------------------------------------------


@dataclass(frozen=True, slots=True)
class SlipView:
    """A sheet of readings; each entry with whether it is the slip, told once it is over."""

    rows: list[list[tuple[str, bool]]]
    titles: list[str]


def _slip(run: PracticeRun, units: Units) -> SlipView:
    exercise = find_slip(run)
    entry, slip = exercise.truth
    rows = [
        [
            (
                units.spec_text(spec, row[spec.key]),
                bool(run.finished_at) and slip is not Slip.NONE and entry == (i, spec.key),
            )
            for spec in SPECS
        ]
        for i, row in enumerate(exercise.sheet())
    ]
    return SlipView(rows, [spec.title for spec in SPECS])


@dataclass(frozen=True, slots=True)
class PredictingView:
    """A known frame, and doses: weight, site, from the butt, from the long axis."""

    known: list[tuple[str, str]]
    doses: list[tuple[str, str, str, str]]


def _predicting(run: PracticeRun, units: Units) -> PredictingView:
    exercise = predict(run)
    specs = [READ_BY_KEY[key] for key in RIGHT]
    known = [(spec.title, units.spec_text(spec, exercise.frame.true(spec))) for spec in specs]
    doses = [
        (
            f"{units.mass_text(grams)} {units.mass}",
            site.label,
            units.lengths.text(site.y_cm),
            units.lengths.text(abs(site.x_cm)) if site.x_cm else "",
        )
        for site, grams in exercise.doses
    ]
    return PredictingView(known, doses)


@dataclass(frozen=True, slots=True)
class TryView:
    """What was laid, and each spec that it came to with whether that is within."""

    number: int
    placed: str
    specs: list[tuple[str, bool]]


@dataclass(frozen=True, slots=True)
class WeighingView:
    """A frame to be brought to a target, and the tries so far; ``errs``: readings scatter."""

    tries: list[TryView]
    titles: list[str]
    errs: bool
    start: list[str]
    target: list[str]
    bands: list[str]
    is_within: bool


TaskView = ReadWellView | SlipView | PredictingView | WeighingView


def _weighing(run: PracticeRun, units: Units) -> WeighingView:
    exercise = weighing(run)
    tries = []
    for number, move in enumerate(run.moves):
        doses = move["doses"]
        specs = exercise.read(doses, number) if exercise.errs else exercise.specs(doses)
        placed = ", ".join(
            f"{units.piece_mass_text(doses[site.key])} {units.mass} ({site.label})"
            for site in exercise.sites
            if doses.get(site.key)
        )
        texts = [
            (units.spec_text(spec, specs[spec.key]), exercise.meets(spec.key, specs[spec.key]))
            for spec in SPECS
        ]
        tries.append(TryView(number + 1, placed or "nothing", texts))
    start = exercise.specs({})
    return WeighingView(
        tries=tries,
        titles=[spec.title for spec in SPECS],
        errs=exercise.errs,
        start=[units.spec_text(spec, start[spec.key]) for spec in SPECS],
        target=[units.spec_text(spec, exercise.target[spec.key]) for spec in SPECS],
        bands=[f"±{_spread(spec.key, BANDS[spec.key], units)}" for spec in SPECS],
        is_within=bool(tries) and all(ok for _, ok in tries[-1].specs),
    )


# -- afterwards ---------------------------------------------------------------------------------


def better(run: PracticeRun, units: Units) -> Iterator[str]:
    """What was true, and what would have been better."""
    match run.task:
        case Task.READ:
            yield from _read_better(run, units)
        case Task.SLIP:
            entry, slip = find_slip(run).truth
            if slip is Slip.NONE:
                yield "Nothing slipped: the entries of each spec lie together, as its instrument scatters."
            else:
                noun = READ_BY_KEY[entry.key].noun
                yield f"Row {entry.row + 1}, {noun}: {SLIP_NAMES[slip]}."
                yield "It lies apart from its column; what brings it among the others tells what it was."
        case Task.PREDICT:
            yield from _predicted_better(run, units)
        case _:
            yield from _weighed_better(run, units)


def _read_better(run: PracticeRun, units: Units) -> Iterator[str]:
    exercise = read_well(run)
    truth = ", ".join(f"{s.noun} {units.spec_text(s, exercise.frame.true(s))}" for s in SPECS)
    yield f"Truly: {truth}."
    counts = ", ".join(f"{s.noun} {exercise.enough(s.key)}" for s in SPECS)
    yield f"Enough readings: {counts}. The ± of a mean falls with the root of the number of readings."
    if exercise.slip:
        key, number = exercise.slip
        yield (
            f"Reading {number + 1} of the {READ_BY_KEY[key].noun} slipped, if you took it: it lay far from "
            "the others and had to be left out."
        )


def _predicted_better(run: PracticeRun, units: Units) -> Iterator[str]:
    exercise = predict(run)
    truth = exercise.truth()
    texts = ", ".join(
        f"{spec.noun} {units.spec_text(spec, truth[spec.key], signed=True)}"
        for spec in (READ_BY_KEY[key] for key in RIGHT)
    )
    yield f"It does: {texts}."
    for site, grams, arm_cm, swing_kgcm2, twist_kgcm2 in exercise.levers():
        mass, lever = f"{units.mass_text(grams)} {units.mass}", units.lengths.text(arm_cm)
        swing = units.spec_text(SWING_WEIGHT, swing_kgcm2, signed=True)
        place = site.label.capitalize()
        yield f"{place}: swing weight is weight times lever squared, {mass} × ({lever})², {swing}."
        if site.x_cm:
            aside = units.lengths.text(abs(site.x_cm))
            twist = units.spec_text(TWIST_WEIGHT, twist_kgcm2, signed=True)
            yield f"Twist weight the same about the long axis: {mass} × ({aside})², {twist}."


def _weighed_better(run: PracticeRun, units: Units) -> Iterator[str]:
    exercise = weighing(run)
    best = ", ".join(
        f"{units.piece_mass_text(exercise.best[site.key])} {units.mass} ({site.label})"
        for site in exercise.sites
        if exercise.best.get(site.key)
    )
    least = f"{units.piece_mass_text(sum(exercise.best.values()))} {units.mass}"
    yield f"The least that does it: {best or 'nothing'}; {least} in all."
    if run.moves:
        true = exercise.true(run.moves[-1]["doses"])
        texts = ", ".join(f"{spec.noun} {units.spec_text(spec, true[spec.key])}" for spec in SPECS)
        yield f"Your last one truly comes to {texts}."
    yield (
        "Static weight tells how much in all, the balance at which end; what is left of the swing weight "
        "tells how much of it lies far out."
    )
    if exercise.errs:
        yield "After the first reading, add exactly what is missing, once."


@dataclass(frozen=True, slots=True)
class RecordChart:
    """The points of somebody's last exercises as a line, with its last end."""

    line: str
    last_x: float
    last_y: float
    label: str
    width: float = CHART[0]
    height: float = CHART[1]


def record_chart(record: Record) -> RecordChart:
    """A record as it is drawn."""
    width, height = CHART
    points = record.points
    step = width / max(len(points) - 1, 1)
    return RecordChart(
        line=" ".join(f"{step * i:.1f} {height * (1 - p / 100):.1f}" for i, p in enumerate(points)),
        last_x=step * (len(points) - 1),
        last_y=height * (1 - points[-1] / 100),
        label=f"Points of the last {len(points)}: {', '.join(map(str, points))}",
    )
