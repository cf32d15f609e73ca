"""How a trial is led: what is asked in which order, when it stops, whether what it then says holds."""

import itertools
from collections import Counter

import numpy as np
import pytest

from kentrobar.core.editing.plan import Baseline
from kentrobar.core.play.trial_design import (
    COMPARISONS,
    LEAST_BEFORE_ENOUGH,
    RATINGS,
    AnsweredQuestion,
    Ask,
    Purpose,
    found_of,
    is_careless,
    is_settled,
    next_ask,
    next_rating,
    order_of_purposes,
    ratings_of,
)
from kentrobar.core.play.trial_setups import HELD, MOST_OF_ONE, NEAR, Steps, make_setups, usual_steps
from kentrobar.core.play.trials import Design, Preference
from kentrobar.core.quantities.errors import SpecError
from kentrobar.core.solving.supply import SOME_PUTTY, SOME_TAPE, Supply, Workpiece
from tests.core.frames import RACKET, REED, plan
from tests.core.play.players import Player, a_player
from tests.samples import margin, sample

LADDER = Design(tuple((312.0 + 2.0 * i,) for i in range(9)))


def led(player, random, *, is_blind=True, design=LADDER, seed=0):
    """A trial led to its end with a simulated player."""
    asked, fitted = [], None
    while True:
        ask = next_ask(found_of(design, asked), asked, is_blind=is_blind, fitted=fitted, seed=seed)
        if ask is None:
            return asked
        asked.append(AnsweredQuestion(ask, player.says(random, design, ask.first, ask.second)))
        fitted = ask.second


def rated(player, random, design=LADDER):
    """A trial by ratings led to its end: a slope and scatter of the player's own, rounded to 1 to 7."""
    asked = []
    while ask := next_rating(found_of(design, asked), asked):
        (value,) = design.setups[ask.first]
        worth = 6.5 - ((value - player.best) / player.width) ** 2 + random.normal(0, 0.6)
        asked.append(AnsweredQuestion(ask, rated=int(np.clip(round(worth), 1, 7))))
    return asked


# -- what is asked ----------------------------------------------------------------------------


def test_a_whole_trial_asks_for_the_best_slips_in_checks_and_to_the_blind_blanks():
    assert Counter(order_of_purposes(True)) == {Purpose.BEST: COMPARISONS, Purpose.CHECK: 6, Purpose.BLANK: 3}
    assert Purpose.BLANK not in order_of_purposes(False)


def test_a_player_who_guesses_is_asked_to_the_end_and_named():
    random = np.random.default_rng(1)
    asked = led(Player(320.0, 4.0, 0.4, 1.0), random)
    assert [each.ask.purpose for each in asked] == order_of_purposes(True)
    assert found_of(LADDER, asked).is_careless


def test_a_blank_is_what_was_just_played_and_nothing_else_is_asked_of_itself():
    asked = led(Player(320.0, 6.0, 0.8, 0.9), np.random.default_rng(2))
    for before, each in itertools.pairwise(asked):
        if each.ask.purpose is Purpose.BLANK:
            assert each.ask.first == each.ask.second == before.ask.second
        else:
            assert each.ask.first != each.ask.second


def test_what_lies_on_the_frame_is_played_first_and_else_the_order_is_drawn():
    found = found_of(LADDER, [])
    pair = {*next_ask(found, [], is_blind=True)[1:]}
    for fitted in pair:
        assert next_ask(found, [], is_blind=True, fitted=fitted).first == fitted
    firsts = {next_ask(found, [], is_blind=True, seed=seed).first for seed in range(20)}
    assert firsts == pair
    assert next_ask(found, [], is_blind=True, seed=3) == next_ask(found, [], is_blind=True, seed=3)


def test_a_careful_player_is_hardly_ever_called_careless_at_any_time():
    """However often one looks in the course of a trial."""
    random, called = np.random.default_rng(21), 0
    for seed in range(sample(40)):
        asked = led(a_player(random, LADDER, 0), random, seed=seed)
        called += any(is_careless(found_of(LADDER, asked[:n]), asked[:n]) for n in range(len(asked) + 1))
    assert called <= sample(4) + 1


def test_what_is_said_where_a_trial_stops_early_holds():
    """Stopping when it looks settled must not make the interval a promise that breaks."""
    random = np.random.default_rng(14)
    held, lengths = [], []
    for seed in range(sample(100)):
        player = a_player(random, LADDER)
        asked = led(player, random, seed=seed)
        found = found_of(LADDER, asked)
        best = found.best()[0]
        if 314 < player.best < 326 and player.careless < 0.1:
            lengths.append(len(asked))
        if not found.is_careless:
            held.append(best.low <= player.best <= best.high)
        if len(asked) < len(order_of_purposes(True)):
            assert is_settled(found, asked)
    assert min(lengths) >= LEAST_BEFORE_ENOUGH
    assert np.mean(np.array(lengths) < 21) > 0.2  # it does stop early, where the best was tried
    assert abs(np.mean(held) - 0.9) <= margin(0.075)


class Set:
    """Somebody who answers in a way of their own, whatever they play."""

    def __init__(self, way):
        self.way, self.count = way, 0

    def says(self, random, _design, _first, _second):
        self.count += 1
        a, b, same = Preference
        return {
            "random": (a, b, same)[random.integers(3)],
            "always first": a,
            "never same": (a, b)[random.integers(2)],
            "alternating": (a, b)[self.count % 2],
            "always same": same,
        }[self.way]


class Unmoved:
    """Somebody careful to whom all setups are alike: what is felt is scatter, against a band."""

    def __init__(self, band):
        self.band = band

    def says(self, random, _design, _first, _second):
        felt = random.normal()
        a, b, same = Preference
        return a if felt > self.band else b if felt < -self.band else same


def told_of(players, seed):
    """Of trials led to their end: which part is called careless, and which part ends in enough."""
    random, named, enough = np.random.default_rng(seed), [], []
    for i, player in enumerate(players):
        asked = led(player, random, seed=i)
        found = found_of(LADDER, asked)
        named.append(is_careless(found, asked))
        enough.append(is_settled(found, asked))
    return np.mean(named), np.mean(enough)


@pytest.mark.parametrize("way", ["random", "always first", "never same", "alternating", "always same"])
def test_every_way_of_not_taking_care_is_named_and_never_enough(way):
    named, enough = told_of([Set(way) for _ in range(sample(60))], 3)
    assert named >= 0.8 - margin(0.08)
    assert enough == 0


def test_careful_players_are_hardly_ever_named_whether_or_not_they_say_same():
    random = np.random.default_rng(4)
    players = [
        Player(random.uniform(314, 326), random.uniform(2, 6), band, 0.02)
        for band in (0.01, 0.4, 1.4)
        for _ in range(sample(24))
    ]
    named, enough = told_of(players, 5)
    assert named <= 0.05 + margin(0.04)
    assert enough > 0.25


@pytest.mark.parametrize("band", [0.15, 0.8])
def test_of_who_has_no_preference_it_is_never_enough(band):
    _, enough = told_of([Unmoved(band) for _ in range(sample(40))], 6)
    assert enough <= 0.05 + margin(0.04)


@pytest.mark.parametrize("best", [332.0, 345.0, 300.0])
def test_a_best_beyond_what_was_tried_is_never_enough(best):
    """The more the better, as far as it was tried; just so by ratings, where it is told."""
    _, enough = told_of([Player(best, 6.0, 0.4, 0.02) for _ in range(sample(24))], 7)
    assert enough == 0
    asked = rated(Player(best, 8.0, 0.4, 0.0), np.random.default_rng(8))
    assert found_of(LADDER, asked).within_tried() < 0.9


def test_ratings_find_the_best_and_their_interval_holds():
    random, held, wide = np.random.default_rng(6), [], []
    for _ in range(sample(100)):
        player = Player(random.uniform(313, 327), random.uniform(3, 7), 0.4, 0.0)
        asked = rated(player, random)
        best = found_of(LADDER, asked).best()[0]
        held.append(best.low <= player.best <= best.high)
        wide.append(best.half_width)
    assert np.mean(held) >= 0.9 - margin(0.06)
    assert np.median(wide) < 4.0  # of a range of 16


def test_ratings_are_asked_again_hidden_and_never_twice_running():
    asked = rated(Player(320.0, 30.0, 0.4, 0.0), np.random.default_rng(3))  # hardly feels anything
    assert len(asked) == RATINGS == len(ratings_of(asked))
    assert sum(each.ask.purpose is Purpose.CHECK for each in asked) == 3
    for before, each in itertools.pairwise(asked):
        assert each.ask.first != before.ask.first
    assert len({each.ask.first for each in asked}) > 5


def test_two_specs_are_led_too():
    design = Design(tuple((312.0 + 5 * i, 32.0 + 0.3 * j) for i in range(3) for j in range(3)))
    asked = [AnsweredQuestion(Ask(Purpose.BEST, 0, 8), Preference.SECOND)]
    ask = next_ask(found_of(design, asked), asked, is_blind=True)
    assert ask.first != ask.second


# -- the setups ---------------------------------------------------------------------------------

SUPPLY = Supply(tape=SOME_TAPE, putty=SOME_PUTTY, most_layers=3)
WORK = Workpiece(Baseline(RACKET, REED), SUPPLY)


def after(pieces):
    """What pieces come to, worked out from the plan of a board."""
    return plan(pieces).prediction.after


def test_setups_come_to_the_values_they_are_tried_for_and_hold_what_they_are_to_hold():
    steps = Steps("swingweight_kgcm2", 318.0, 330.0, 4.0)
    made = make_setups(WORK, [steps], ["balance_cm"], 10.0)
    assert made.missed == ()
    assert made.setups[0].pieces == ()
    for setup, wanted in zip(made.setups, (318.0, 322.0, 326.0, 330.0), strict=True):
        specs = after(setup.pieces)
        assert specs.swingweight_kgcm2.value == pytest.approx(wanted, abs=NEAR["swingweight_kgcm2"])
        assert setup.value("swingweight_kgcm2") == pytest.approx(specs.swingweight_kgcm2.value)
        assert specs.balance_cm.value == pytest.approx(32.4, abs=HELD["balance_cm"] + 1e-6)


def test_two_specs_make_a_grid():
    steps = [Steps("swingweight_kgcm2", 318.0, 326.0, 4.0), Steps("balance_cm", 32.2, 32.6, 0.2)]
    made = make_setups(WORK, steps, [], 10.0)
    assert len(made.setups) + len(made.missed) == 9
    assert len({round(s.value("balance_cm"), 1) for s in made.setups}) == 3


def test_values_below_the_frame_are_missed_and_said():
    made = make_setups(WORK, [Steps("swingweight_kgcm2", 310.0, 330.0, 4.0)], [], 10.0)
    assert made.missed == ((310.0,), (314.0,))


@pytest.mark.parametrize(
    ("steps", "code"),
    [
        (("swingweight_kgcm2", 330.0, 318.0, 2.0), "no_range"),
        (("swingweight_kgcm2", 318.0, 330.0, 0.0), "no_range"),
        (("swingweight_kgcm2", 318.0, 330.0, 20.0), "step"),
        (("swingweight_kgcm2", 318.0, 330.0, 0.5), "too_many"),
        (("swingweight_kgcm2", 290.0, 316.0, 3.0), "too_few"),
    ],
)
def test_a_range_that_makes_no_trial_is_refused(steps, code):
    with pytest.raises(SpecError) as caught:
        make_setups(WORK, [Steps(*steps)], [], 10.0)
    assert (caught.value.code, caught.value.field) == (code, "swingweight_kgcm2")


@pytest.mark.parametrize("has_strain", [False, True])
@pytest.mark.parametrize("key", HELD)
@pytest.mark.parametrize(
    ("is_racket", "specs"),
    [(True, (318.0, 32.4, 13.6)), (True, (240.0, 31.6, 11.4)), (False, (112.0, 23.8, 6.1))],
)
def test_the_usual_range_is_one_that_a_trial_takes(key, is_racket, specs, has_strain):
    now = dict(zip(("swingweight_kgcm2", "balance_cm", "twistweight_kgcm2"), specs, strict=True))[key]
    usual = usual_steps(key, now, is_racket, has_strain)
    values = usual.values()
    assert 3 <= len(values) <= MOST_OF_ONE
    assert usual.step > 2 * NEAR[key]  # neighbours are not the same setup
    if has_strain and key == "swingweight_kgcm2":
        assert values[-1] / now < 1.045
