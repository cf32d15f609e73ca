"""Simulated players before the trials: a best of their own, a width, a band; some do not take care."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from kentrobar.core.play.trials import BEYOND, WIDEST, Answer, Design, Posterior, Preference, SetupPair

PARTS = ((0.0, 0.08), (0.15, 0.35), (0.75, 1.0))  # of answers that say nothing, by kind of player
HOW_USUAL = (0.55, 0.3, 0.15)
CHECKS = (2, 4, 6, 8, 10, 12)  # after so many comparisons one is slipped in
BLANKS = (3, 7, 11)


class Player(NamedTuple):
    """What is true of somebody; nobody knows it."""

    best: float
    width: float
    band: float
    careless: float

    def says(self, random: np.random.Generator, design: Design, first: int, second: int) -> Preference:
        if random.random() < self.careless:
            return (Preference.FIRST, Preference.SECOND, Preference.SAME)[random.integers(3)]
        (a,), (b,) = design.setups[first], design.setups[second]
        better = (-((a - self.best) ** 2) + (b - self.best) ** 2) / (2 * self.width**2)
        felt = better + random.normal()
        return (
            Preference.FIRST
            if felt > self.band
            else Preference.SECOND
            if felt < -self.band
            else Preference.SAME
        )


def a_player(random: np.random.Generator, design: Design, kind: int | None = None) -> Player:
    """One drawn as the trial takes players to be; of one kind of carelessness, where that is given."""
    values, (span,) = [row[0] for row in design.setups], design.ranges
    kind = int(random.choice(3, p=HOW_USUAL)) if kind is None else kind
    return Player(
        random.uniform(min(values) - BEYOND * span, max(values) + BEYOND * span),
        span * np.exp(random.uniform(*np.log(WIDEST))),
        float(random.choice([0.15, 0.4, 0.8, 1.4])),
        random.uniform(*PARTS[kind]),
    )


def asked(
    player: Player,
    design: Design,
    random: np.random.Generator,
    comparisons: int = 12,
    *,
    with_checks: bool = False,
) -> Posterior:
    """A trial as it is led: each next pair the one that tells most, checks slipped in where wished."""
    found = Posterior(design)

    def answer(pair: SetupPair | tuple[int, int]) -> None:
        first, second = pair[:2]
        if random.random() < 0.5:
            first, second = second, first
        found.take(Answer(first, second, player.says(random, design, first, second)))

    for count in range(1, comparisons + 1):
        answer(found.next_pair()[0])
        if with_checks and count in CHECKS:
            answer(found.check())
        if with_checks and count in BLANKS:
            answer((0, 0))
    return found


def ladder(player: Player, design: Design, random: np.random.Generator) -> Posterior:
    """Each neighbour once, from the least to the greatest."""
    found = Posterior(design)
    for first in range(len(design.setups) - 1):
        said = player.says(random, design, first, first + 1)
        found.take(Answer(first, first + 1, said))
    return found
