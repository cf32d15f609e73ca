"""Simulated entries, right and with one slip, for the tests and the bench."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.moments import swingweight_at_axis
from kentrobar.core.body.sport import Sport
from kentrobar.core.quantities.estimates import Estimate, NotMeasured
from kentrobar.core.reading.slips import (
    Reference,
    TypedNumber,
    TypedSpecs,
    expect_earlier,
    expect_model,
    judge,
)
from tests.core.population import Built, Reading, paddle, racket

MATTERS = 0.03  # a slip that changes any spec by more than this part


def usual_axis_cm(frame: Built) -> float:
    return 10.0 if frame.sport is Sport.TENNIS else 5.0


def _measured(read: Reading) -> MeasuredSpecs:
    """With the ± that a person would give it."""
    return MeasuredSpecs(
        Estimate(read.mass_g, 0.1),
        Estimate(read.balance_cm, 0.05),
        Estimate(read.swingweight_kgcm2, 0.8),
        read.axis_cm,
        Estimate(read.twistweight_kgcm2, 0.1),
    )


class Bench:
    """Frames at large, drawn afresh: adults, juniors, long bodies and paddles, and how they are read."""

    def __init__(self, seed: int) -> None:
        self.random = np.random.default_rng(seed)

    def frame(self) -> Built:
        """A frame ready to play."""
        kind = self.random.uniform()
        if kind < 0.2:
            return paddle(self.random, self.random.uniform(39.5, 43.0))
        length = 68.58 if kind < 0.85 else (69.2 if kind < 0.9 else self.random.uniform(62, 67))
        return racket(self.random, length)

    def reading(self, frame: Built) -> MeasuredSpecs:
        """The frame read on another day: a new overgrip, some wear at the tip, the instruments."""
        normal = self.random.normal
        tip = frame.length_cm - 0.5
        read = frame.with_grains((normal(0, 0.8), 9.0, 1.3), (normal(0, 0.4), tip, 0.0))
        found = read.read(usual_axis_cm(frame))
        return _measured(
            found._replace(
                mass_g=found.mass_g + normal(0, 0.1),
                balance_cm=found.balance_cm + normal(0, 0.05),
                swingweight_kgcm2=found.swingweight_kgcm2 + normal(0, 0.8),
                twistweight_kgcm2=found.twistweight_kgcm2 + normal(0, 0.12),
            )
        )

    def stated(self, frame: Built) -> MeasuredSpecs:
        """What the maker states of the model, whose frames differ by some grams here and there."""
        u, length = self.random.uniform, frame.length_cm
        strayed = [(u(-3, 3), part * length, 1.2) for part in (0.08, 0.35, 0.75, 0.97)]
        return _measured(frame.with_grains(*strayed).read(usual_axis_cm(frame)))

    def entry(self, frame: Built, read: MeasuredSpecs) -> TypedSpecs:
        """A reading as a person types it."""
        typed = {
            "length": TypedNumber(f"{frame.length_cm:g}", "cm"),
            "mass": TypedNumber(f"{read.mass_g.value:.1f}", "g"),
            "balance": TypedNumber(f"{read.balance_cm.value:.2f}", "cm"),
            "swingweight": TypedNumber(f"{read.swingweight_kgcm2.value:.1f}", "kg·cm²"),
            "axis": TypedNumber(f"{read.axis_cm:g}", "cm"),
        }
        if self.random.uniform() < 0.4:
            typed["twistweight"] = TypedNumber(f"{read.twistweight_kgcm2.value:.2f}", "kg·cm²")
        return TypedSpecs(frame.sport, typed, "playing")

    def slipped(self, entry: TypedSpecs, read: MeasuredSpecs) -> TypedSpecs:
        """The entry with one slip of a size that matters."""
        while True:
            wrong = self._slip(entry, read)
            if wrong is not None and matters(entry, wrong):
                return wrong

    def _slip(self, entry: TypedSpecs, read: MeasuredSpecs) -> TypedSpecs | None:
        pick = self.random.choice
        specs = [n for n in ("mass", "balance", "swingweight", "twistweight") if n in entry.typed]
        name = str(pick(specs))
        number = entry.typed[name]
        kind = pick(["swap", "drop", "double", "fields", "oz", "inch", "axis", "build"])
        if kind in ("swap", "drop", "double"):
            text = self._digit_slip(number.text, str(kind))
            return _with(entry, name, replace_text(number, text)) if text else None
        if kind == "fields":
            other = str(pick([n for n in specs if n != name]))
            theirs = entry.typed[other]
            swapped = {name: replace_text(number, theirs.text), other: replace_text(theirs, number.text)}
            return replace(entry, typed={**entry.typed, **swapped})
        if kind == "oz":
            ounces = read.mass_g.value / 28.349523125
            return _with(entry, "mass", TypedNumber(f"{ounces:.2f}", "g"))
        if kind == "inch":
            inches = read.balance_cm.value / 2.54
            return _with(entry, "balance", TypedNumber(f"{inches:.2f}", "cm"))
        if kind == "axis":
            axis = float(pick([a for a in (5.0, 10.0, 10.16) if a != read.axis_cm]))
            return _with(entry, "axis", TypedNumber(f"{axis:g}", "cm"))
        return self._other_build(entry, read)

    def _digit_slip(self, text: str, kind: str) -> str | None:
        at = int(self.random.integers(0, len(text) - (kind == "swap")))
        if not text[at].isdigit():
            return None
        if kind == "drop":
            return text[:at] + text[at + 1 :]
        if kind == "double":
            return text[:at] + text[at] + text[at:]
        if not text[at + 1].isdigit():
            return None
        return text[:at] + text[at + 1] + text[at] + text[at + 2 :]

    def _fitted(self, sport: Sport) -> list[tuple[float, float]]:
        """What comes off to read a frame bare, g at cm: strings and overgrip, or a paddle's grip and tape."""
        u = self.random.uniform
        if sport is Sport.TENNIS:
            return [(u(15.5, 18.0), u(50.5, 52.5)), (u(4.5, 7.0), u(8.0, 11.0))]
        return [(u(10, 16), u(6, 8)), (u(2.5, 4.5), u(26, 30))]

    def bare(self, frame: Built) -> MeasuredSpecs:
        """What a shop expects of the frame read bare: its own fittings are of the usual weight, not these."""
        return _without(self.reading(frame), self._fitted(frame.sport))

    def _other_build(self, entry: TypedSpecs, read: MeasuredSpecs) -> TypedSpecs | None:
        """Read bare, called ready to play."""
        bare = _without(read, self._fitted(entry.sport))
        texts = {
            "mass": f"{bare.mass_g.value:.1f}",
            "balance": f"{bare.balance_cm.value:.2f}",
            "swingweight": f"{bare.swingweight_kgcm2.value:.1f}",
        }
        typed = {n: replace_text(entry.typed[n], text) for n, text in texts.items()}
        return replace(entry, typed={**entry.typed, **typed})


def _without(read: MeasuredSpecs, off: list[tuple[float, float]]) -> MeasuredSpecs:
    m, b, p = read.mass_g.value, read.balance_cm.value, read.axis_cm
    mass = m - sum(g for g, _ in off)
    balance = (m * b - sum(g * y for g, y in off)) / mass
    swing = read.swingweight_kgcm2.value - sum(g * (y - p) ** 2 for g, y in off) / 1000
    return replace(
        read,
        mass_g=Estimate(mass, 0.1),
        balance_cm=Estimate(balance, 0.05),
        swingweight_kgcm2=Estimate(swing, 0.8),
    )


def replace_text(number: TypedNumber, text: str) -> TypedNumber:
    return number._replace(text=text)


def _with(entry: TypedSpecs, name: str, number: TypedNumber) -> TypedSpecs:
    return replace(entry, typed={**entry.typed, name: number})


def matters(right: TypedSpecs, wrong: TypedSpecs) -> bool:
    """Whether a slip changes any spec by more than three parts in a hundred."""
    one, other = right.values(), wrong.values()

    def at(values, axis):
        return swingweight_at_axis(
            values.swingweight_kgcm2 or 0.0,
            values.axis_cm,
            values.mass_g or 0.0,
            values.balance_cm or 0.0,
            axis,
        )

    pairs = [
        (getattr(one, n), getattr(other, n))
        for n in ("mass_g", "balance_cm", "twistweight_kgcm2")
        if getattr(one, n)
    ]
    pairs.append((at(one, one.axis_cm), at(other, one.axis_cm)))
    return any(isinstance(b, NotMeasured) or abs(b - a) > MATTERS * abs(a) for a, b in pairs)


def references(bench: Bench, frame: Built) -> dict[str, Reference | None]:
    return {
        "an earlier reading": expect_earlier("the reading of last month", bench.reading(frame)),
        "a stated spec": expect_model("the maker's figures", bench.stated(frame)),
        "nothing": None,
    }


def rates(seed: int, slips: int, correct: int) -> dict[str, tuple[float, float]]:
    """By what is known: the share of slips that are questioned, and of right entries too."""
    bench = Bench(seed)
    caught: dict[str, int] = {}
    alarms: dict[str, int] = {}
    for i in range(max(slips, correct)):
        frame = bench.frame()
        known, read = references(bench, frame), bench.reading(frame)
        right = bench.entry(frame, read)
        wrong = bench.slipped(right, read) if i < slips else None
        for name, reference in known.items():
            if wrong is not None:
                caught[name] = caught.get(name, 0) + judge(wrong, reference).is_odd
            if i < correct:
                alarms[name] = alarms.get(name, 0) + judge(right, reference).is_odd
    return {name: (caught[name] / slips, alarms[name] / correct) for name in caught}
