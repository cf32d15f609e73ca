"""Simulated entries, right and with one slip, for the tests and the bench."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.moments import swingweight_at_axis
from kentrobar.core.frame.outline import Sport
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.reading.slips import (
    Entry,
    Reference,
    TypedNumber,
    expect_earlier,
    expect_model,
    judge,
)

MATTERS = 0.03  # a slip that changes any spec by more than this part
_STRUNG_G, _GRIP_G = 16.8, 5.5


class Bench:
    """Frames at large, drawn afresh: adults, juniors, long bodies and paddles."""

    def __init__(self, seed: int) -> None:
        self.random = np.random.default_rng(seed)

    def frame(self) -> tuple[Sport, float, MeasuredSpecs]:
        """Sport, length and true specs of a frame in playing form."""
        u, kind = self.random.uniform, self.random.uniform()
        if kind < 0.2:
            length = u(39.5, 43.0)
            mass, b, k = u(205, 248), length * u(0.548, 0.588), length * u(0.272, 0.303)
            return (
                Sport.PICKLEBALL,
                length,
                self._specs(mass, b, k, 5.0, 0.027 * mass + u(-1.2, 1.2)),
            )
        length = 68.58 if kind < 0.85 else (69.2 if kind < 0.9 else u(62, 67))
        if length > 68:
            mass = u(268, 348)
            b = 32.5 - 0.03 * (mass - 307) + u(-1.0, 1.0)
        else:
            mass, b = u(225, 275), length * u(0.462, 0.495)
        k = length * u(0.318, 0.345)
        return Sport.TENNIS, length, self._specs(mass, b, k, 10.0, 0.044 * mass + u(-2, 2))

    def _specs(self, mass: float, b: float, k: float, p: float, twist: float) -> MeasuredSpecs:
        swing = mass * (k**2 + (b - p) ** 2) / 1000
        return MeasuredSpecs(Estimate(mass), Estimate(b), Estimate(swing), p, Estimate(twist))

    def reading(self, true: MeasuredSpecs, *, wear: float = 1.0) -> MeasuredSpecs:
        """The frame read on another day: instruments, a new overgrip, wear."""
        normal = self.random.normal
        mass = true.mass_g.value + normal(0, 1.2 * wear)
        b = true.balance_cm.value + normal(0, 0.12 * wear)
        # Swing weight follows weight and balance; the rest is the machine and the new grip.
        k = math.sqrt(true.moments().recoil_kgcm2 * 1000 / true.mass_g.value)
        swing = mass * (k**2 + (b - true.axis_cm) ** 2) / 1000 + normal(0, 1.0 * wear)
        twist = true.twistweight_kgcm2.value + normal(0, 0.15)
        return MeasuredSpecs(
            Estimate(mass, 0.1), Estimate(b, 0.05), Estimate(swing, 0.8), true.axis_cm,
            Estimate(twist, 0.1),
        )  # fmt: skip

    def sibling(self, true: MeasuredSpecs) -> MeasuredSpecs:
        """What the maker states of the model: the frame lies within ±7 g and ±7 mm of it."""
        u = self.random.uniform
        mass, b = true.mass_g.value + u(-7, 7), true.balance_cm.value + u(-0.7, 0.7)
        k = math.sqrt(true.moments().recoil_kgcm2 * 1000 / true.mass_g.value) + u(-0.35, 0.35)
        return self._specs(mass, b, k, true.axis_cm, true.twistweight_kgcm2.value + u(-0.6, 0.6))

    def entry(
        self, sport: Sport, length: float, read: MeasuredSpecs, build: str = "playing"
    ) -> Entry:
        typed = {
            "length": TypedNumber(f"{length:g}", "cm"),
            "mass": TypedNumber(f"{read.mass_g.value:.1f}", "g"),
            "balance": TypedNumber(f"{read.balance_cm.value:.2f}", "cm"),
            "swingweight": TypedNumber(f"{read.swingweight_kgcm2.value:.1f}", "kg·cm²"),
            "axis": TypedNumber(f"{read.axis_cm:g}", "cm"),
        }
        if self.random.uniform() < 0.4:
            typed["twistweight"] = TypedNumber(f"{read.twistweight_kgcm2.value:.2f}", "kg·cm²")
        return Entry(sport, typed, build)

    def slipped(self, entry: Entry, read: MeasuredSpecs) -> Entry:
        """The entry with one slip of a size that matters."""
        while True:
            wrong = self._slip(entry, read)
            if wrong is not None and matters(entry, wrong):
                return wrong

    def _slip(self, entry: Entry, read: MeasuredSpecs) -> Entry | None:
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
            swapped = {
                name: replace_text(number, theirs.text),
                other: replace_text(theirs, number.text),
            }
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

    def _other_build(self, entry: Entry, read: MeasuredSpecs) -> Entry | None:
        """Read bare, called playing form (or a paddle without its grip and tape)."""
        tennis = entry.sport is Sport.TENNIS
        off = [(_STRUNG_G, 51.5), (_GRIP_G, 9.0)] if tennis else [(14.0, 6.8), (3.5, 28.0)]
        m, b, p = read.mass_g.value, read.balance_cm.value, read.axis_cm
        mass = m - sum(g for g, _ in off)
        balance = (m * b - sum(g * y for g, y in off)) / mass
        swing = read.swingweight_kgcm2.value - sum(g * (y - p) ** 2 for g, y in off) / 1000
        texts = {"mass": f"{mass:.1f}", "balance": f"{balance:.2f}", "swingweight": f"{swing:.1f}"}
        typed = {n: replace_text(entry.typed[n], text) for n, text in texts.items()}
        return replace(entry, typed={**entry.typed, **typed})


def replace_text(number: TypedNumber, text: str) -> TypedNumber:
    return number._replace(text=text)


def _with(entry: Entry, name: str, number: TypedNumber) -> Entry:
    return replace(entry, typed={**entry.typed, name: number})


def matters(right: Entry, wrong: Entry) -> bool:
    """Whether a slip changes any spec by more than three parts in a hundred."""
    one, other = right.values(), wrong.values()

    def at(values, axis):
        return swingweight_at_axis(values.swingweight_kgcm2 or 0.0, values.axis_cm,
                                   values.mass_g or 0.0, values.balance_cm or 0.0, axis)  # fmt: skip

    pairs = [(getattr(one, n), getattr(other, n))
             for n in ("mass_g", "balance_cm", "twistweight_kgcm2") if getattr(one, n)]  # fmt: skip
    pairs.append((at(one, one.axis_cm), at(other, one.axis_cm)))
    return any(b is None or abs(b - a) > MATTERS * abs(a) for a, b in pairs)


def references(bench: Bench, true: MeasuredSpecs) -> dict[str, Reference | None]:
    return {
        "an earlier reading": expect_earlier("the reading of last month", bench.reading(true)),
        "a stated spec": expect_model("the maker's figures", bench.sibling(true)),
        "nothing": None,
    }


def rates(seed: int, slips: int, correct: int) -> dict[str, tuple[float, float]]:
    """By what is known: the share of slips that are questioned, and of right entries too."""
    bench = Bench(seed)
    caught: dict[str, int] = {}
    alarms: dict[str, int] = {}
    for i in range(max(slips, correct)):
        sport, length, true = bench.frame()
        known = references(bench, true)
        read = bench.reading(true)
        right = bench.entry(sport, length, read)
        wrong = bench.slipped(right, read) if i < slips else None
        for name, reference in known.items():
            if wrong is not None:
                caught[name] = caught.get(name, 0) + judge(wrong, reference).is_odd
            if i < correct:
                alarms[name] = alarms.get(name, 0) + judge(right, reference).is_odd
    return {name: (caught[name] / slips, alarms[name] / correct) for name in caught}
