"""A spec is told in one way on every page: value, ±, change, percent, gap, target."""

from dataclasses import replace

import pytest

from kentrobar.core.body.specs import Specs
from kentrobar.core.quantities.estimates import NOT_MEASURED, Estimate
from kentrobar.core.reading.comparing import FeltRule, gap
from kentrobar.web.kit.numbers import Units, shown_specs
from kentrobar.web.kit.spec_rows import TargetText, cell_of, gap_text, row_of


def specs(mass, balance, swing, u=0.1):
    return Specs(
        Estimate(mass, u),
        Estimate(balance, u),
        Estimate((68.58 / 2 - balance) / 0.3175, u),
        Estimate(swing, u),
        NOT_MEASURED,
        NOT_MEASURED,
        NOT_MEASURED,
        10.0,
    )


def rows(units, in_percent=True):
    units = replace(units, percent=in_percent)
    before, after = specs(305, 32.1, 300), specs(310, 32.4, 309)
    change = specs(5, 0.3, 9)._replace(points_headlight=Estimate(-0.3 / 0.3175, 0.1))
    return {
        spec.key: row_of(spec, cell_of(spec, before, after, change, units), axis="10 cm")
        for spec in shown_specs(units)
    }


def test_a_change_is_that_of_the_two_values_beside_it_and_percent_is_of_the_first():
    shown = rows(Units())
    for key in ("mass_g", "balance_cm", "swingweight_kgcm2"):
        cell = shown[key].cell
        assert float(cell.now.value) - float(cell.before.value) == pytest.approx(float(cell.change.value))
    swing = shown["swingweight_kgcm2"]
    assert swing.cell.percent == f"+{100 * 9 / 300:.1f} %"
    assert (swing.axis, shown["mass_g"].axis) == ("10 cm", "")
    assert rows(Units(), in_percent=False)["swingweight_kgcm2"].cell.percent == ""


def test_a_balance_is_told_both_ways_and_nothing_else_is():
    metric = rows(Units())
    assert metric["balance_cm"].cell.now.beside == f"{(34.29 - 32.4) / 0.3175:.1f} pt HL"
    assert rows(Units(balance="pt"))["points_headlight"].cell.now.beside == "324.0 mm"
    assert not any(row.cell.now.beside for key, row in metric.items() if key != "balance_cm")


def test_what_is_not_known_says_so_and_has_no_spread():
    twist = rows(Units())["twistweight_kgcm2"].cell
    assert (twist.now.value, twist.now.u, twist.percent) == ("unknown", "", "")
    alone = [cell_of(spec, None, specs(305, 32.1, 300), None, Units()) for spec in shown_specs(Units())]
    assert all(cell.change.value == "" for cell in alone)


def test_a_gap_says_whether_it_is_real_and_felt():
    swing = next(s for s in shown_specs(Units()) if s.key == "swingweight_kgcm2")
    for by, words, is_real in ((0.1, "within the noise", False), (3.0, "real", True)):
        told = gap_text(swing, gap(swing.key, Estimate(300, 0.5), Estimate(300 + by, 0.5), FeltRule()))
        assert (told.words, told.is_real) == (words, is_real)
    felt = gap_text(swing, gap(swing.key, Estimate(300, 0.5), Estimate(330, 0.5), FeltRule()))
    assert felt.words == "real, likely felt"
    assert felt.by.value == "+30.0"


def test_a_target_says_whether_it_is_met_or_by_how_much_it_is_missed():
    assert (str(TargetText("305 g", "1.0", True)), TargetText("305 g", "1.0", True).words) == (
        "305 g ± 1.0",
        "within",
    )
    assert TargetText("305 g", "1.0", False, "+2.0").words == "+2.0 off"
    assert TargetText("at most 320 g").words == ""


def test_points_that_are_told_with_their_side_have_no_unit_beside_their_name():
    points = next(s for s in shown_specs(Units(balance="pt")) if s.key == "points_headlight")
    assert row_of(points, has_sides=True).unit == ""
    assert row_of(points).unit == "pt HL"
