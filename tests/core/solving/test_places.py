"""Where a plan may lie, how near it comes to the middle of its bands, and how surely."""

from dataclasses import replace
from itertools import product

import numpy as np
import pytest

from kentrobar.core.body.target import Target
from kentrobar.core.editing.plan import Baseline
from kentrobar.core.frame.rim import Face
from kentrobar.core.solving.allowed import Allowed, Hoop, presets, site_names
from kentrobar.core.solving.candidates import PointSlot, candidates
from kentrobar.core.solving.centring import Pull, centred
from kentrobar.core.solving.chance import chance_within
from kentrobar.core.solving.goals import GOALS
from kentrobar.core.solving.matching import match
from kentrobar.core.solving.proposals import SCHOOLS, propose_by, too_coarse
from kentrobar.core.solving.supply import Workpiece
from kentrobar.core.weight.pieces import RimStrip
from kentrobar.core.weight.prediction import predict
from tests.core.aiming import SETTING, SITES, is_met, random_aim, random_plan
from tests.core.frames import PADDLE, RACKET, REED
from tests.core.solving.test_proposals import MUDLARK, RACKET_WORK, SUPPLY, target_for

PADDLE_WORK = Workpiece(Baseline(PADDLE, MUDLARK), SUPPLY)


def steadier(work):
    axis = 10.0 if work is RACKET_WORK else 5.0
    return target_for("steadier", work.measured, work.outline, axis)


@pytest.mark.parametrize("work", [RACKET_WORK, PADDLE_WORK])
def test_no_school_lays_where_it_may_not(work):
    """Every piece lies at a ticked place, on a face that is allowed."""
    labels = dict(site_names(work.outline, work.measured.balance_cm))
    laid = 0
    for preset, key in product(presets(work.outline), SCHOOLS):
        proposal, _ = propose_by(key, replace(work, allowed=preset.allowed), steadier(work))
        if proposal is None:
            continue
        laid += len(proposal.pieces)
        allowed = {labels[site] for site in preset.allowed.sites}
        assert {piece.label for piece in proposal.pieces} <= allowed
        for strip in (p for p in proposal.pieces if isinstance(p, RimStrip)):
            is_hidden = strip.face is Face.BUMPER
            assert preset.allowed.lets_lie(is_hidden=is_hidden)
    assert laid > 3


def test_where_nothing_reaches_it_the_refusal_is_that_of_the_places_ticked():
    only_butt = replace(RACKET_WORK, allowed=Allowed(frozenset({"butt_cap"})))
    proposal, found = propose_by("least", only_butt, steadier(RACKET_WORK))
    assert proposal is None
    assert found.reason.names == ("twistweight_kgcm2",)


def test_open_strips_alone_leave_the_hidden_school_out():
    work = replace(RACKET_WORK, allowed=Allowed(hoop=Hoop.OPEN))
    assert propose_by("hidden", work, steadier(RACKET_WORK))[0] is None
    assert propose_by("least", work, steadier(RACKET_WORK))[0] is not None


def test_a_plan_is_named_after_what_it_holds():
    """Polarized needs weight at both ends, counterbalanced some in the butt; else the places are named."""
    for wish, key in product(GOALS, ("polarized", "counter", "depolarized")):
        proposal, _ = propose_by(key, RACKET_WORK, target_for(wish, REED, RACKET, 10.0))
        if proposal is None:
            continue
        labels = {piece.label for piece in proposal.pieces}
        is_whole = {
            "polarized": {"12", "inside the butt cap"} <= labels,
            "counter": "inside the butt cap" in labels and labels != {"inside the butt cap"},
            "depolarized": bool(labels & {"3 and 9", "throat"}),
        }[key]
        assert (proposal.title == SCHOOLS[key].title) == is_whole
        assert is_whole or proposal.title.startswith("Only at ")


def test_the_middle_is_sought_at_the_same_weight():
    """Never heavier, never out of its bands, no piece more; nearer the middle than where it was put."""
    random, nearer = np.random.default_rng(8), 0
    for _ in range(12):
        aim = random_aim(random, random_plan(random))
        found = match(REED, SITES, aim, **SETTING)
        if not found.is_feasible:
            continue
        assert is_met(aim, found.pieces)
        away = _away(found.pieces, aim)
        columns = candidates(SITES, RACKET)
        x = _as_columns(found.pieces, columns)
        edge = _edgeward(x, columns, aim)
        if edge is None:
            continue
        back = tuple(columns.pieces(centred(edge, columns, Pull(REED.moments(), aim.bands, 10.0))))
        assert _away(back, aim) < _away(tuple(columns.pieces(edge)), aim)
        assert _away(back, aim) == pytest.approx(away, abs=1.0)
        assert len(back) <= len(found.pieces)
        nearer += 1
    assert nearer >= 3


def _away(pieces, aim):
    """How far the specs lie from the middle of their bands, squared, by the prediction of the board."""
    after = predict(REED, pieces, axis_cm=10.0, **SETTING).after
    return sum(
        ((getattr(after, name).value - (low + high) / 2) / ((high - low) / 2)) ** 2
        for name, (low, high) in aim.bands.items()
        if name != "mass_g"
    )


def _as_columns(pieces, columns):
    """Units of each column for pieces that were found among them."""
    x = np.zeros(len(columns.columns))
    by_label = {piece.label: piece for piece in pieces}
    for slot, span in zip(columns.slots, columns.spans, strict=True):
        piece = by_label.get(slot.label)
        if piece is None:
            continue
        if isinstance(slot, PointSlot):
            x[span.first] = round(piece.one_mass_g / slot.step_g)
            continue
        count = round(piece.length_cm.value / slot.step_cm)
        for first in range(span.first, span.last - count + 1):
            trial = np.zeros(len(x))
            trial[first : first + count] = 1.0
            (laid,) = columns.pieces(trial)
            if laid.at == piece.at:
                x += trial
    return x


def _edgeward(x, columns, aim):
    """The same with one strip slid as far from the middle as the bands let it."""
    worst, best = None, -1.0
    for slot, span in zip(columns.slots, columns.spans, strict=True):
        own = x[span.first : span.last]
        if isinstance(slot, PointSlot) or not own.any():
            continue
        for by in range(-6, 7):
            trial = x.copy()
            trial[span.first : span.last] = np.roll(own, by)
            pieces = tuple(columns.pieces(trial))
            if trial.sum() == x.sum() and is_met(aim, pieces) and _away(pieces, aim) > best + 0.05:
                worst, best = trial, _away(pieces, aim)
    return worst


def test_a_chance_is_stated_and_the_surest_plan_has_more_of_it():
    """Beside draws of the frame as it was read: the share of them that lies within."""
    aim = target_for("power", REED, RACKET, 10.0)
    least, sure = (propose_by(key, RACKET_WORK, aim)[0] for key in ("least", "surest"))
    assert sure.chance >= least.chance
    assert least.found.added_g <= sure.found.added_g + 1e-9
    random = np.random.default_rng(2)
    low, high = aim.bands["swingweight_kgcm2"]
    after = sure.prediction.after.swingweight_kgcm2
    drawn = random.normal(after.value, after.u, 40_000)
    assert sure.chance == pytest.approx(((drawn >= low) & (drawn <= high)).mean(), abs=0.01)


def test_readings_wider_than_their_band_are_named():
    now = predict(REED, [], axis_cm=10.0, **SETTING)
    u = REED.swingweight_kgcm2.u
    middle = REED.swingweight_kgcm2.value
    for half, names in ((0.9 * u, ("swingweight_kgcm2",)), (1.1 * u, ())):
        bounds = {"swingweight_kgcm2": (middle - half, middle + half)}
        assert too_coarse(now, bounds) == names
        if names:
            assert chance_within(now, bounds) < 0.69
    assert Target(bounds).bands == bounds
