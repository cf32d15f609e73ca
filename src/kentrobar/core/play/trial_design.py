"""How a trial is led: what is asked next, what is slipped in, in which order two are played, when it ends.

Twelve comparisons are asked for what they tell of the best. Six checks among them are asked for what they
tell of whether the player takes care, and three blanks, a setup against itself, which only somebody who does
not see the weights can be asked. Where setups are rated one by one, that one is next whose worth is least
known, and three are asked again.
"""

from __future__ import annotations

import random
from collections.abc import Sequence
from enum import StrEnum
from typing import Final, NamedTuple

from kentrobar.core.play.trials import Answer, Design, Posterior, Preference, Rating, posterior

COMPARISONS: Final = 12
CHECKS_AFTER: Final = (2, 4, 6, 8, 10, 12)  # so many comparisons
BLANKS_AFTER: Final = (3, 7, 11)
RATINGS: Final = 16
LEAST_CHECKS: Final = 6  # checks and blanks before anybody is called careless: each look could be a false one
LEAST_BEFORE_ENOUGH: Final = 17  # answers, seven of them checks and blanks: sooner, guessing passes for care
REPEATED_AFTER: Final = (5, 9, 13)  # so many ratings one is asked again


class Purpose(StrEnum):
    """Why something is asked."""

    BEST = "best"
    CHECK = "check"
    BLANK = "blank"


class Ask(NamedTuple):
    """Two setups to play one after the other, by their numbers; of a rating both are the same."""

    purpose: Purpose
    first: int
    second: int


class AnsweredQuestion(NamedTuple):
    """What was asked and answered: by a choice of two, or by 1 to 7."""

    ask: Ask
    said: Preference | None = None
    rated: int | None = None


def found_of(design: Design, answered: Sequence[AnsweredQuestion]) -> Posterior:
    """What the answers so far tell."""
    return posterior(design, answers_of(answered), ratings_of(answered))


def answers_of(answered: Sequence[AnsweredQuestion]) -> list[Answer]:
    """The comparisons among what was asked."""
    return [Answer(each.ask.first, each.ask.second, each.said) for each in answered if each.said]


def ratings_of(answered: Sequence[AnsweredQuestion]) -> list[Rating]:
    """The ratings among what was asked."""
    return [Rating(each.ask.first, float(each.rated)) for each in answered if each.rated]


def order_of_purposes(is_blind: bool) -> list[Purpose]:
    """What a whole trial by comparisons asks for, in order."""
    found = []
    for count in range(1, COMPARISONS + 1):
        found.append(Purpose.BEST)
        if count in CHECKS_AFTER:
            found.append(Purpose.CHECK)
        if is_blind and count in BLANKS_AFTER:
            found.append(Purpose.BLANK)
    return found


def is_settled(found: Posterior, answered: Sequence[AnsweredQuestion]) -> bool:
    """Whether more would tell nothing that the player feels: the best is known more closely than that."""
    return len(answered) >= LEAST_BEFORE_ENOUGH and found.is_enough and not found.is_careless


def is_careless(found: Posterior, answered: Sequence[AnsweredQuestion]) -> bool:
    """Whether to tell that the answers do not hang together."""
    checks = sum(each.ask.purpose is not Purpose.BEST for each in answered)
    return checks >= LEAST_CHECKS and found.is_careless


def next_ask(
    found: Posterior,
    answered: Sequence[AnsweredQuestion],
    *,
    is_blind: bool,
    fitted: int | None = None,
    seed: int = 0,
) -> Ask | None:
    """What to ask next by comparison; None where the trial is over.

    ``fitted`` is the setup that lies on the frame now, which is played first where it is one of the two, to
    save a change; else the order is drawn by ``seed``, so that nobody learns it.
    """
    purposes = order_of_purposes(is_blind)
    if len(answered) >= len(purposes) or is_settled(found, answered):
        return None
    purpose = purposes[len(answered)]
    match purpose:
        case Purpose.BLANK:
            again = answered[-1].ask.second
            return Ask(purpose, again, again)
        case Purpose.CHECK:
            first, second, _ = found.check()
        case _:
            (first, second, _), _ = found.next_pair()
    drawn = random.Random(f"{seed}/{len(answered)}").random() < 0.5  # noqa: S311 - no secret
    is_turned = fitted == second if fitted in (first, second) else drawn
    return Ask(purpose, second, first) if is_turned else Ask(purpose, first, second)


def next_rating(found: Posterior, answered: Sequence[AnsweredQuestion]) -> Ask | None:
    """Which setup to rate next; None where the trial is over.

    All are asked: ratings tell little of what the player feels, which would say that it is enough.
    """
    if len(answered) >= RATINGS:
        return None
    if len(answered) in REPEATED_AFTER:
        again = answered[len(answered) - 4].ask.first
        return Ask(Purpose.CHECK, again, again)
    counts = [0] * len(found.design.setups)
    for each in answered:
        counts[each.ask.first] += 1
    unsure = [spread / (1 + count) for spread, count in zip(found.worth_spreads(), counts, strict=True)]
    if answered:
        unsure[answered[-1].ask.first] = -1.0  # the same twice running tells little
    best = unsure.index(max(unsure))
    return Ask(Purpose.BEST, best, best)
