"""Sentences that compare, shown on screens: each computed for a racket and a paddle, by sums written out here."""

import math

import numpy as np
import pytest

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.ranges import Range
from kentrobar.core.editing.removal import COSTS
from kentrobar.core.frame.sites import sites_of
from kentrobar.core.play.advice import ADVICE
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.reading.reference_ranges import Strip
from kentrobar.core.solving.goals import GOALS
from kentrobar.core.solving.set_targets import PRESETS
from kentrobar.core.weight.grip import SIZE_MM, USUAL_MM
from tests.core.frames import PADDLE, RACKET, REED

MATE = MeasuredSpecs(Estimate(225), Estimate(23.8), Estimate(112), 5.0, Estimate(6.1))
FRAMES = [(RACKET, REED), (PADDLE, MATE)]


class Body:
    """A frame as sums: mass, first and second moment about the butt, and about the long axis."""

    def __init__(self, measured, outline):
        self.mass, self.axis = measured.mass_g.value, measured.axis_cm
        self.balance = measured.balance_cm.value
        about_centre = 1000 * measured.swingweight_kgcm2.value - self.mass * (self.balance - self.axis) ** 2
        self.first, self.second = self.mass * self.balance, about_centre + self.mass * self.balance**2
        self.across = 1000 * measured.twistweight_kgcm2.value
        self.outline = outline

    def with_weight(self, *doses):
        other = object.__new__(Body)
        other.__dict__ |= self.__dict__
        for grams, x, y in doses:
            other.mass += grams
            other.first += grams * y
            other.second += grams * y * y
            other.across += grams * x * x
        return other

    def swing(self, axis=None):
        axis = self.axis if axis is None else axis
        return (self.second - 2 * axis * self.first + axis**2 * self.mass) / 1000

    @property
    def centre(self):
        return self.first / self.mass

    @property
    def recoil(self):
        return (self.second - self.first**2 / self.mass) / 1000


def bodies():
    return [Body(measured, outline) for outline, measured in FRAMES]


def at(body, key, grams):
    site = next(s for s in sites_of(body.outline) if s.key == key)
    return grams, abs(site.x_cm), site.y_cm


@pytest.mark.parametrize("body", bodies())
def test_with_the_balance_held_polarized_gives_more_swing_weight_than_the_sides(body):
    """Each pair of a place above the balance point and one below it, in the shares that hold it."""
    assert "than the sides give" in " ".join(ADVICE["polarized"].says)
    per_gram = {}
    sites = [(s.key, s.y_cm) for s in sites_of(body.outline)]
    for high, y_high in sites:
        for low, y_low in sites:
            if y_low < body.centre < y_high:
                up, down = body.centre - y_low, y_high - body.centre
                laden = body.with_weight((up, 0, y_high), (down, 0, y_low))
                assert laden.centre == pytest.approx(body.centre)
                per_gram[high, low] = (laden.swing() - body.swing()) / (up + down)
    side = "three_nine" if "three_nine" in dict(sites) else "sides"
    assert per_gram[sites[0][0], "butt_cap"] > 1.1 * per_gram[side, "butt_cap"]


@pytest.mark.parametrize("body", bodies())
def test_weight_at_the_balance_point_raises_the_swing_weight_far_less_than_at_the_tip(body):
    rise = body.with_weight((1, 0, body.centre)).swing() - body.swing()
    tip = body.with_weight((1, 0, body.outline.length_cm)).swing() - body.swing()
    assert body.with_weight((6, 0, body.centre)).centre == pytest.approx(body.centre)
    assert 0 < rise < tip / 3


@pytest.mark.parametrize("body", bodies())
def test_no_inertia_falls_by_weight_in_the_handle(body):
    assert "No inertia falls" in GOALS["quicker"].reason
    laden = body.with_weight(at(body, "butt_cap", 5.0))
    assert laden.centre < body.centre
    assert 0 <= laden.swing() - body.swing() < 0.01 * body.swing()
    assert laden.recoil > body.recoil
    assert laden.across >= body.across


@pytest.mark.parametrize(("body", "site"), list(zip(bodies(), ("three_nine", "sides"), strict=True)))
def test_weight_at_the_sides_moves_the_balance_toward_the_tip(body, site):
    laden = body.with_weight(at(body, site, 4.0))
    assert laden.centre > body.centre
    others = [s.key for s in sites_of(body.outline)]
    assert laden.across == max(body.with_weight(at(body, key, 4.0)).across for key in others)


@pytest.mark.parametrize("body", bodies())
def test_frames_alike_by_inertia_differ_at_most_threefold_about_the_axis(body):
    """At the edges of the tolerances, in every combination."""
    give = PRESETS["inertia"].tolerances
    worst = 0.0
    for signs in np.ndindex(2, 2, 2):
        s = 2 * np.array(signs) - 1
        mass, centre = body.mass + s[0] * give["mass_g"], body.centre + s[1] * give["balance_cm"]
        swing = body.recoil + s[2] * give["recoil_kgcm2"] + mass * (centre - body.axis) ** 2 / 1000
        worst = max(worst, abs(swing - body.swing()))
    assert give["recoil_kgcm2"] < worst <= 3 * give["recoil_kgcm2"]


@pytest.mark.parametrize("body", bodies())
def test_what_a_hit_does_to_the_hand_depends_on_where_it_lands(body):
    """Weight near the hand lessens the hand's jolt for some hits and raises it for others."""
    assert "depends on where it lands" in GOALS["gentler"].reason

    def jolt(of, y, hand=8.0, ball=58.0):
        apart, inertia = y - of.centre, 1000 * of.recoil
        mass = 1 / (1 / of.mass + apart**2 / inertia)
        return abs(mass / (ball + mass) * (1 / of.mass - apart * (of.centre - hand) / inertia))

    top = body.outline.handle_length_cm - 1
    laden = body.with_weight((5.0, 0.0, top))
    heights = np.linspace(body.centre + 6, body.outline.length_cm - 5, 40)
    changes = [jolt(laden, y) - jolt(body, y) for y in heights]
    assert min(changes) < 0 < max(changes)


def test_an_overgrip_is_told_by_its_own_sum():
    """No text gives a number of sizes that the plan beside it does not come to."""
    sizes = 2 * math.pi * USUAL_MM["overgrip"].value / SIZE_MM
    assert sizes == pytest.approx(1.19, abs=0.01)
    assert not any("half a size" in text for text in COSTS.values())


# -- 10 and 2, 6, turning the face over ----------------------------------------------------------------


def test_ten_and_two_lie_between_tip_and_sides():
    assert "less twist weight than at 3 and 9" in " ".join(ADVICE["ten_two"].reason.split())
    body = Body(REED, RACKET)
    sites = ("three_nine", "ten_two", "twelve")
    swing = [body.with_weight(at(body, key, 1)).swing() for key in sites]
    twist = [body.with_weight(at(body, key, 1)).across for key in sites]
    assert swing == sorted(swing)
    assert twist == sorted(twist, reverse=True)
    assert len(set(swing)) == len(set(twist)) == 3


def test_a_gram_at_6_is_weight_alone():
    body = Body(REED, RACKET)
    assert "little swing weight" in ADVICE["six"].reason
    swing = {key: body.with_weight(at(body, key, 1)).swing() - body.swing() for key in ("six", "twelve")}
    assert swing["six"] < swing["twelve"] / 3
    twist = {key: body.with_weight(at(body, key, 1)).across - body.across for key in ("six", "three_nine")}
    assert twist["six"] < twist["three_nine"] / 20


@pytest.mark.parametrize("body", bodies())
def test_weight_on_the_long_axis_hardly_resists_turning_the_face_over(body):
    assert "hardly resists" in ADVICE["pronation"].reason
    tip, side = ("twelve", "three_nine") if body.outline is RACKET else ("top_edge", "sides")
    for key in (tip, "butt_cap"):
        assert body.with_weight(at(body, key, 4)).across - body.across < 0.01 * body.across
    assert body.with_weight(at(body, side, 4)).across - body.across > 0.03 * body.across


def test_the_thirds_of_a_range_have_their_words():
    strip = Strip(Range(300.0, 330.0), (), (280.0, 350.0))
    words = [
        strip.tier_words("swingweight_kgcm2", value) for value in (250, 300, 309.9, 310, 319.9, 320, 330, 400)
    ]
    quick, slow = "quick to swing", "slow to swing"
    assert words == [quick, quick, quick, "", "", slow, slow, slow]
    assert strip.tier_words("recoil_kgcm2", 310.0) == ""
